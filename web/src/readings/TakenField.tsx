import { type FormState, TextField } from "../frame/FormField";
import type { Take } from "./now";
import { TakeButton, takenWords } from "./TakeButton";

interface Props {
  form: FormState;
  path: string;
  label: string;
  take: Take | undefined;
  usual?: string | undefined;
}

/** A field that can be typed, or take the live value; where it was taken from stands beside it and is kept. */
export function TakenField({ form, path, label, take, usual }: Props) {
  return (
    <div className="taken-field">
      <TextField form={typedOver(form, path)} path={path} label={label} usual={usual} />
      <TakenFrom form={form} path={path} take={take} label={label} />
    </div>
  );
}

/** The button below a field, and where its value was taken from. */
export function TakenFrom({ form, path, take, label }: Omit<Props, "usual">) {
  const from = form.entries[fromPath(path)];
  return (
    <>
      <TakeButton
        take={take}
        label={label}
        onTake={(text, taken) => form.change({ [path]: text, [fromPath(path)]: takenWords(taken) })}
      />
      {from && <span className="form-says">taken from {from}</span>}
    </>
  );
}

function fromPath(path: string): string {
  return `${path}.from`;
}

/** What is typed over was not taken any more. */
export function typedOver(form: FormState, path: string): FormState {
  return {
    ...form,
    change: (changes) =>
      form.change(
        path in changes && form.entries[fromPath(path)] ? { ...changes, [fromPath(path)]: "" } : changes,
      ),
  };
}
