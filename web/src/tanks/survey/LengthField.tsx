import { useEffect, useId, useState } from "react";

import { useUnits } from "../../frame/units";
import type { Entries, FieldRead } from "./form";

interface Props {
  path: string;
  label: string;
  hint?: string;
  entries: Entries;
  read: FieldRead | undefined;
  /** What was made of the half-width, where the field may have one. */
  readHalfWidth?: FieldRead;
  halfWidthPath?: string;
  optional?: boolean;
  onChange: (path: string, text: string) => void;
}

/**
 * Write the unit behind a bare number once its field is left and the answer is there, so that switching units
 * later cannot change what it means.
 */
function useUnitOnLeaving(
  left: boolean,
  typed: string,
  read: FieldRead | undefined,
  onChange: (text: string) => void,
): void {
  const kept = read?.state === "read" ? read.kept : "";
  const bare = typed.trim();
  const named =
    left && bare !== "" && kept.startsWith(`${bare} `) && /^ [^\d\s]+$/.test(kept.slice(bare.length));
  useEffect(() => {
    if (named) onChange(kept);
  });
}

/** A length typed as people write it, with what was understood and its ± beside it. */
export function LengthField(props: Props) {
  const { path, label, hint, entries, read, readHalfWidth, halfWidthPath, optional, onChange } = props;
  const id = useId();
  const units = useUnits();
  const [left, setLeft] = useState("");
  const typed = entries[path] ?? "";
  const wrong = read?.state === "wrong" ? read.problem : "";
  const wrongHalf = readHalfWidth?.state === "wrong" ? readHalfWidth.problem : "";
  const understood =
    read?.state === "read" && read.value_mm !== null && read.value_mm !== undefined
      ? `${units.text("length", read.value_mm, units.unitByKey("mm"))} · ${units.text("length", read.value_mm, units.unitByKey("in"))}`
      : "";

  useUnitOnLeaving(left === path, typed, read, (text) => onChange(path, text));
  useUnitOnLeaving(left === halfWidthPath, entries[halfWidthPath ?? ""] ?? "", readHalfWidth, (text) =>
    onChange(halfWidthPath ?? "", text),
  );

  return (
    <div className="length-field">
      <label htmlFor={id}>
        {label} {optional && <span className="text-quiet">(if any)</span>}
      </label>
      <input
        id={id}
        className="form-control mono"
        inputMode="text"
        autoComplete="off"
        value={typed}
        aria-invalid={wrong ? true : undefined}
        aria-describedby={`${id}-says`}
        onChange={(event) => onChange(path, event.target.value)}
        onFocus={() => setLeft("")}
        onBlur={() => setLeft(path)}
      />
      {halfWidthPath ? (
        <span className="half-width">
          <span aria-hidden="true">±</span>
          <input
            className="form-control mono"
            autoComplete="off"
            aria-label={`${label}: ± half-width, k = 2`}
            title="Half-width of what it may be off by (k = 2)"
            value={entries[halfWidthPath] ?? ""}
            onChange={(event) => onChange(halfWidthPath, event.target.value)}
            onFocus={() => setLeft("")}
            onBlur={() => setLeft(halfWidthPath)}
          />
        </span>
      ) : (
        <span />
      )}
      <div id={`${id}-says`} className="field-says">
        {wrong ? <span className="problem">{wrong}</span> : understood || <span>{hint}</span>}
        {wrongHalf && <span className="problem">±: {wrongHalf}</span>}
      </div>
    </div>
  );
}
