import { useId, useState } from "react";

import type { Schema } from "../api/client";
import { useUnitOnLeaving } from "./unitOnLeaving";

export type Entries = Record<string, string>;

/** Fields as they are typed, with what was made of each. */
export interface FormState {
  entries: Entries;
  fields: Map<string, Schema["FormField"]>;
  change: (changes: Entries) => void;
}

interface FieldProps {
  form: FormState;
  path: string;
  label: string;
  /** What is taken where nothing is typed, if the server does not say. */
  usual?: string | undefined;
  hint?: string | undefined;
}

/** A quantity or a word typed as people write it; below it what was understood, or what is wrong. */
export function TextField({ form, path, label, usual, hint }: FieldProps) {
  const id = useId();
  const [left, setLeft] = useState(false);
  const typed = form.entries[path] ?? "";
  const read = form.fields.get(path);
  const problem = read?.state === "wrong" ? read.problem : "";
  useUnitOnLeaving(left, typed, read, (text) => form.change({ [path]: text }));
  const says = read?.state === "read" && typed !== "" && read.says !== typed ? read.says : "";
  return (
    <div className="form-field">
      <label htmlFor={id}>{label}</label>
      <input
        id={id}
        className="form-control mono"
        autoComplete="off"
        value={typed}
        placeholder={usual ?? read?.usual}
        aria-invalid={problem ? true : undefined}
        aria-describedby={`${id}-says`}
        onChange={(event) => form.change({ [path]: event.target.value })}
        onFocus={() => setLeft(false)}
        onBlur={() => setLeft(true)}
      />
      <div id={`${id}-says`} className="form-says">
        {problem ? <span className="problem">{problem}</span> : says || hint}
      </div>
    </div>
  );
}

interface ChoiceProps extends FieldProps {
  options: Record<string, string>;
  /** The words of the empty choice; without them there is none. */
  empty?: string;
  /** What is chosen where nothing was, if the server does not say. */
  otherwise?: string;
}

/** One of a few words. */
export function ChoiceField({ form, path, label, options, empty, otherwise, hint }: ChoiceProps) {
  const id = useId();
  const read = form.fields.get(path);
  const problem = read?.state === "wrong" ? read.problem : "";
  return (
    <div className="form-field">
      <label htmlFor={id}>{label}</label>
      <select
        id={id}
        className="form-select"
        value={form.entries[path] || (otherwise ?? read?.usual ?? "")}
        aria-describedby={`${id}-says`}
        onChange={(event) => form.change({ [path]: event.target.value })}
      >
        {empty !== undefined && <option value="">{empty}</option>}
        {Object.entries(options).map(([key, name]) => (
          <option key={key} value={key}>
            {name}
          </option>
        ))}
      </select>
      <div id={`${id}-says`} className="form-says">
        {problem ? <span className="problem">{problem}</span> : hint}
      </div>
    </div>
  );
}

interface TickProps {
  form: FormState;
  path: string;
  label: string;
}

/** A yes or no; where nothing was chosen, what the server says holds. */
export function TickField({ form, path, label }: TickProps) {
  const id = useId();
  const on = (form.entries[path] || form.fields.get(path)?.usual) === "yes";
  return (
    <label className="tick" htmlFor={id}>
      <input
        id={id}
        type="checkbox"
        checked={on}
        onChange={(event) => form.change({ [path]: event.target.checked ? "yes" : "no" })}
      />
      {label}
    </label>
  );
}
