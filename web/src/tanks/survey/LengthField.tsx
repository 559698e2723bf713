import { useId, useState } from "react";

import { useUnitOnLeaving } from "../../frame/unitOnLeaving";
import { useUnits } from "../../frame/units";
import { HowField } from "./HowField";
import type { Entries, Reading, Words } from "./form";
import { fieldAt } from "./useSurvey";

interface Props {
  words: Words;
  path: string;
  label: string;
  hint?: string;
  entries: Entries;
  reading: Reading | undefined;
  /** Whether it may have a half-width, and a way of measuring. */
  toleranced?: boolean;
  optional?: boolean;
  onChange: (changes: Entries) => void;
}

/** A dimension typed as people write it, or worked out from what was measured; with its ± beside it. */
export function LengthField(props: Props) {
  const { words, path, label, hint, entries, reading, toleranced = false, optional, onChange } = props;
  const id = useId();
  const units = useUnits();
  const [left, setLeft] = useState("");
  const [open, setOpen] = useState(false);
  const read = fieldAt(reading, path);
  const key = path.replace(/^shape\./, "");
  const halfPath = `uncertainty.${key}`;
  const half = fieldAt(reading, halfPath);
  const tolerance = reading?.tolerances.find((one) => one.key === key);
  const typed = entries[path] ?? "";
  const way = entries[`how.${path}`] ?? "";
  const solved = way === "capacity";
  const helpers = words.helpers.filter((helper) => helper.fields_filled.includes(path));
  const solvable = path.startsWith("shape.") && !path.includes("[") && toleranced;
  const wrong = read?.state === "wrong" ? read.problem : "";
  const wrongHalf = half?.state === "wrong" ? half.problem : "";
  const both = (mm: number) =>
    `${units.text("length", mm, units.unitByKey("mm"))} · ${units.text("length", mm, units.unitByKey("in"))}`;
  const length = read?.state === "read" ? (read.value_mm ?? null) : null;
  const understood = [length === null ? "" : both(length), read?.state === "read" ? read.says : ""].filter(
    Boolean,
  );

  useUnitOnLeaving(left === path, typed, read, (text) => onChange({ [path]: text }));
  useUnitOnLeaving(left === halfPath, entries[halfPath] ?? "", half, (text) =>
    onChange({ [halfPath]: text }),
  );

  return (
    <div className="length-field">
      <label htmlFor={id}>
        {label} {optional && <span className="text-quiet">(if any)</span>}
      </label>
      <span className="length-typed">
        <input
          id={id}
          className="form-control mono"
          inputMode="text"
          autoComplete="off"
          value={way ? (length === null ? "" : units.text("length", length)) : typed}
          placeholder={way ? "worked out below" : undefined}
          readOnly={way !== ""}
          aria-invalid={wrong ? true : undefined}
          aria-describedby={`${id}-says`}
          onChange={(event) => onChange({ [path]: event.target.value })}
          onFocus={() => setLeft("")}
          onBlur={() => setLeft(path)}
        />
        {(helpers.length > 0 || solvable) && (
          <button
            type="button"
            className="how-open"
            aria-expanded={open || way !== ""}
            aria-label={`${label}: how it was measured`}
            title="How it was measured: work it out, name the tape"
            onClick={() => setOpen(!open)}
          >
            how
          </button>
        )}
      </span>
      {toleranced ? (
        <span className="half-width">
          <span aria-hidden="true">±</span>
          <input
            className="form-control mono"
            autoComplete="off"
            aria-label={`${label}: ± half-width, k = 2`}
            title="Half-width of what it may be off by (k = 2)"
            value={solved ? "" : (entries[halfPath] ?? "")}
            readOnly={solved}
            placeholder={
              tolerance && (solved || !tolerance.stated) && tolerance.half_width !== null
                ? units.text("length", tolerance.half_width)
                : undefined
            }
            onChange={(event) => onChange({ [halfPath]: event.target.value })}
            onFocus={() => setLeft("")}
            onBlur={() => setLeft(halfPath)}
          />
        </span>
      ) : (
        <span />
      )}
      <div id={`${id}-says`} className="field-says">
        {wrong ? (
          <span className="problem">{wrong}</span>
        ) : (
          understood.join(" = ") || <span>{way && read?.problem ? read.problem : hint}</span>
        )}
        {wrongHalf && <span className="problem">±: {wrongHalf}</span>}
      </div>
      {(open || way !== "") && (helpers.length > 0 || solvable) && (
        <HowField
          words={words}
          path={path}
          label={label}
          helpers={helpers}
          solvable={solvable}
          entries={entries}
          reading={reading}
          onChange={onChange}
          onClose={() => setOpen(false)}
        />
      )}
    </div>
  );
}
