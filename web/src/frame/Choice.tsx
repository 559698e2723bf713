import { useId } from "react";

interface ChoiceProps {
  label: string;
  value: string;
  options: [string, string][];
  onChange: (value: string) => void;
}

/** One choice of a few, with its label. */
export function Choice({ label, value, options, onChange }: ChoiceProps) {
  const id = useId();
  return (
    <div className="choice-field">
      <label htmlFor={id}>{label}</label>
      <select
        id={id}
        className="form-select"
        value={value}
        onChange={(event) => onChange(event.target.value)}
      >
        {!options.some(([key]) => key === value) && <option value={value}>choose…</option>}
        {options.map(([key, text]) => (
          <option key={key} value={key}>
            {text}
          </option>
        ))}
      </select>
    </div>
  );
}
