import type { Schema } from "../api/client";
import { ChoiceField, type FormState, TextField } from "./FormField";

/** A setting that the server names: one of its options, or what is typed. */
export function SettingField({ form, setting }: { form: FormState; setting: Schema["Setting"] }) {
  const hint = setting.follows ? "follows from the rest" : undefined;
  if (setting.kind === "choice")
    return (
      <ChoiceField
        form={form}
        path={setting.path}
        label={setting.label}
        options={setting.options}
        otherwise={setting.usual}
        hint={hint}
      />
    );
  return (
    <TextField form={form} path={setting.path} label={setting.label} usual={setting.usual} hint={hint} />
  );
}
