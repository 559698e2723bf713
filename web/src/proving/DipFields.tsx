import { useId } from "react";

import { places } from "../frame/numbers";
import { useUnits } from "../frame/units";
import type { Entries, Result } from "./proof";

interface Props {
  entries: Entries;
  result: Result | null;
  problemAt: (where: string) => string | undefined;
  onChange: (changes: Partial<Entries>) => void;
}

/** One dip beside what is indicated at the same moment. */
export function DipFields({ entries, result, problemAt, onChange }: Props) {
  const units = useUnits();
  const { dip } = entries;
  const set = (changes: Partial<Entries["dip"]>) => onChange({ dip: { ...dip, ...changes } });
  const made = result?.dip;
  const sign = (made?.difference_mm ?? 0) > 0 ? "+" : "";
  return (
    <fieldset className="dip">
      <legend>Dip and compare</legend>
      <div className="dip-row">
        <div>
          <div className="switch" role="group" aria-label="Dipped as">
            {(["innage", "ullage"] as const).map((kind) => (
              <button key={kind} type="button" aria-pressed={dip.kind === kind} onClick={() => set({ kind })}>
                {kind === "innage" ? "Innage" : "Ullage"}
              </button>
            ))}
          </div>
        </div>
        <DipField
          label="Dipped"
          value={dip.measured}
          problem={problemAt("dip.measured")}
          onChange={(measured) => set({ measured })}
        />
        <DipField
          label="Indicated"
          value={dip.indicated}
          problem={problemAt("dip.indicated")}
          onChange={(indicated) => set({ indicated })}
        />
        <DipField
          label="Allowed"
          value={dip.tolerance}
          problem={problemAt("dip.tolerance")}
          onChange={(tolerance) => set({ tolerance })}
        />
      </div>
      {made && (
        <p className={made.passes ? "dip-made passes" : "dip-made fails"}>
          <span aria-hidden="true">{made.passes ? "●" : "▲"}</span>{" "}
          {made.passes ? "Agrees" : "Does not agree"}: {sign}
          {units.text("length", made.difference_mm)}, {sign}
          {units.text("volume", made.difference_l)}, {sign}
          {places(made.difference_pct, 2)} % of capacity.
        </p>
      )}
    </fieldset>
  );
}

interface FieldProps {
  label: string;
  value: string;
  problem: string | undefined;
  onChange: (text: string) => void;
}

function DipField({ label, value, problem, onChange }: FieldProps) {
  const id = useId();
  return (
    <div>
      <label htmlFor={id}>{label}</label>
      <input
        id={id}
        className="form-control mono"
        autoComplete="off"
        value={value}
        aria-invalid={problem ? true : undefined}
        onChange={(event) => onChange(event.target.value)}
      />
      {problem && <span className="problem">{problem}</span>}
    </div>
  );
}
