import { useId } from "react";

import { useUnits } from "../../frame/units";
import type { Mapping } from "./chart";

interface Props {
  mapping: Mapping;
  columns: number;
  head: string[][];
  referenceMm: number | null;
  onChange: (mapping: Mapping) => void;
  onReference: (mm: number | null) => void;
}

/** What the columns of a file mean: guessed first, then as a person says. */
export function MappingFields({ mapping, columns, head, referenceMm, onChange, onReference }: Props) {
  const units = useUnits();
  const set = (changes: Partial<Mapping>) => onChange({ ...mapping, ...changes });
  const names = Array.from({ length: columns }, (_, i): [string, string] => [
    String(i),
    `${i + 1}${mapping.header && head[0]?.[i] ? `: ${head[0][i]}` : ""}`,
  ]);
  return (
    <div className="pane-fields mt-2" role="group" aria-label="What the columns mean">
      <Pick
        label="Level in column"
        value={String(mapping.level_column)}
        options={names}
        onChange={(value) => set({ level_column: Number(value) })}
      />
      <Pick
        label="Level is"
        value={mapping.measured}
        options={[
          ["innage", "innage, up"],
          ["ullage", "ullage, down"],
        ]}
        onChange={(value) => set({ measured: value as Mapping["measured"] })}
      />
      <Pick
        label="Unit of level"
        value={mapping.level_unit}
        options={["mm", "cm", "m", "in", "ft"].map((unit): [string, string] => [unit, unit])}
        onChange={(value) => set({ level_unit: value as Mapping["level_unit"] })}
      />
      <Pick
        label="Volume in column"
        value={String(mapping.volume_column)}
        options={names}
        onChange={(value) => set({ volume_column: Number(value) })}
      />
      <Pick
        label="Unit of volume"
        value={mapping.volume_unit}
        options={["l", "m3", "usgal", "impgal"].map((key): [string, string] => [
          key,
          units.unitByKey(key).name,
        ])}
        onChange={(value) => set({ volume_unit: value as Mapping["volume_unit"] })}
      />
      <Pick
        label="Decimal mark"
        value={mapping.decimal}
        options={[
          [".", "point 1.5"],
          [",", "comma 1,5"],
        ]}
        onChange={(value) => set({ decimal: value as Mapping["decimal"] })}
      />
      <label className="tick">
        <input
          type="checkbox"
          checked={mapping.header}
          onChange={(event) => set({ header: event.target.checked })}
        />{" "}
        First row holds names
      </label>
      {mapping.measured === "ullage" && (
        <div className="pane-field">
          <label htmlFor="chart-reference">Reference height, mm</label>
          <input
            id="chart-reference"
            className="form-control mono"
            inputMode="decimal"
            value={referenceMm ?? ""}
            onChange={(event) => onReference(Number(event.target.value) || null)}
          />
        </div>
      )}
    </div>
  );
}

interface PickProps {
  label: string;
  value: string;
  options: [string, string][];
  onChange: (value: string) => void;
}

function Pick({ label, value, options, onChange }: PickProps) {
  const id = useId();
  return (
    <div className="pane-field">
      <label htmlFor={id}>{label}</label>
      <select
        id={id}
        className="form-select"
        value={value}
        aria-invalid={value === "" ? true : undefined}
        onChange={(event) => onChange(event.target.value)}
      >
        {value === "" && <option value="">choose…</option>}
        {options.map(([key, name]) => (
          <option key={key} value={key}>
            {name}
          </option>
        ))}
      </select>
    </div>
  );
}
