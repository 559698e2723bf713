import { type HTMLInputTypeAttribute, useId } from "react";

import { Refused, wordsOf } from "../api/client";

interface Props {
  label: string;
  value: string;
  onChange: (value: string) => void;
  type?: HTMLInputTypeAttribute;
  autoComplete?: string;
  problem?: string | undefined;
  hint?: string;
}

/** A field of a person's account, with what is wrong with it below. */
export function PersonField({
  label,
  value,
  onChange,
  type = "text",
  autoComplete = "off",
  problem,
  hint,
}: Props) {
  const id = useId();
  return (
    <div className="form-field">
      <label htmlFor={id}>{label}</label>
      <input
        id={id}
        type={type}
        className="form-control"
        autoComplete={autoComplete}
        autoCapitalize="none"
        value={value}
        aria-invalid={problem ? true : undefined}
        aria-describedby={`${id}-says`}
        onChange={(event) => onChange(event.target.value)}
      />
      <div id={`${id}-says`} className="form-says">
        {problem ? <span className="problem">{problem}</span> : hint}
      </div>
    </div>
  );
}

/** What was refused at one place. */
export function problemAt(error: Error | null, where: string): string | undefined {
  return error instanceof Refused ? error.at(where) : undefined;
}

/** What went wrong at no field, or at none of those named. */
export function ProblemLine({ error, but = [] }: { error: Error | null; but?: string[] }) {
  if (!error) return null;
  if (error instanceof Refused && error.problems.every((one) => but.includes(one.where))) return null;
  return (
    <p role="alert" className="problem">
      {error instanceof Refused ? error.problems.map((one) => one.what).join("\n") : wordsOf(error)}
    </p>
  );
}
