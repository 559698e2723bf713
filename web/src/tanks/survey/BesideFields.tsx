import { useId, useState } from "react";

import { useUnitOnLeaving } from "../../frame/unitOnLeaving";
import { useUnits } from "../../frame/units";
import type { Entries, Reading, Words } from "./form";
import { LengthField } from "./LengthField";
import { Choice } from "../../frame/Choice";
import { fieldAt } from "./useSurvey";

interface Props {
  words: Words;
  entries: Entries;
  reading: Reading | undefined;
  onChange: (changes: Entries) => void;
}

/** Where levels are read from, and the heights that bound the tank's use. */
export function HeightFields({ words, entries, reading, onChange }: Props) {
  const length = (path: string, label: string, hint: string) => (
    <LengthField
      words={words}
      path={path}
      label={label}
      hint={hint}
      optional
      entries={entries}
      reading={reading}
      onChange={onChange}
    />
  );
  // Only what stands under pressure has a filling limit: its field says so.
  const usual = fieldAt(reading, "filling_limit_pct")?.says;
  return (
    <>
      <fieldset>
        <legend>Where it is read</legend>
        {length(
          "reference_height_mm",
          "Reference height",
          "From the inside bottom to the threads or flange that ullage is taken from; without it, from the inside top",
        )}
        {length(
          "gauge_position_mm",
          "Gauge position",
          "Along the tank from the left tangent line; the middle if empty",
        )}
      </fieldset>
      <fieldset>
        <legend>What can be used</legend>
        {length("overflow_height_mm", "Overflow", "Innage of the overflow's lip: brim is there")}
        <TextField
          path="safe_fill_pct"
          label="Safe fill"
          hint="Per cent of the brim volume, by the owner or the code in force; 95 or 97 % is usual for fuel"
          entries={entries}
          reading={reading}
          onChange={onChange}
        />
        {(usual || entries["filling_limit_pct"]) && (
          <>
            <TextField
              path="filling_limit_pct"
              label="Filling limit"
              hint={`Per cent of its capacity, by the code in force for this product, size and place${usual ? `; ${usual}` : ""}`}
              entries={entries}
              reading={reading}
              onChange={onChange}
            />
            <TextField
              path="filling_limit_source"
              label="Filling limit, by"
              hint="Which code gives that figure"
              entries={entries}
              reading={reading}
              onChange={onChange}
            />
          </>
        )}
        {length(
          "outlet_height_mm",
          "Suction",
          "Innage at which the pump draws air; below 0 if it stands in the sump",
        )}
      </fieldset>
      <fieldset>
        <legend>Below the floor</legend>
        <TextField
          path="floor_heel_l"
          label="Floor heel"
          hint="What lies below the dip point on an uneven floor"
          entries={entries}
          reading={reading}
          onChange={onChange}
        />
        {length("sump.depth_mm", "Sump, depth", "From the floor down")}
        <TextField
          path="sump.volume_l"
          label="Sump, volume"
          hint="What the pit holds"
          entries={entries}
          reading={reading}
          onChange={onChange}
        />
      </fieldset>
    </>
  );
}

/** Half-widths of what has no field of its own above: slope, gauge, straps, traced sections, points. */
export function OtherTolerances({ entries, reading, onChange }: Props) {
  const own = new Set((reading?.fields_read ?? []).map((field) => field.path.replace(/^shape\./, "")));
  const others = (reading?.tolerances ?? []).filter(
    (one) => !own.has(one.key) || one.key === "slope_mm_per_m" || one.key === "gauge_position_mm",
  );
  const unsaid = (reading?.tolerances ?? []).filter((one) => one.half_width === null);
  if (!reading?.tolerances.length) return null;
  return (
    <fieldset>
      <legend>What else may be off</legend>
      {others.map((one) => (
        <TextField
          key={one.key}
          path={`uncertainty.${one.key}`}
          label={`${one.label}, ±`}
          hint={
            one.half_width === null
              ? `Half-width (k = 2), ${one.unit}; counts as exact while nothing is said`
              : `Half-width (k = 2): ${one.half_width} ${one.unit}${one.stated ? "" : ", by how it was measured"}`
          }
          entries={entries}
          reading={reading}
          onChange={onChange}
        />
      ))}
      {unsaid.length > 0 && (
        <p className="text-quiet">
          Counted as exact: {unsaid.map((one) => one.label.toLowerCase()).join(", ")}. Say how they were
          measured, and the table carries an honest ±.
        </p>
      )}
    </fieldset>
  );
}

/** The day's dip by tape and paste: what it stands for in this tank. */
export function DipFields({ words, entries, reading, onChange }: Props) {
  const units = useUnits();
  const dip = reading?.dip;
  return (
    <fieldset>
      <legend>Dip on the day</legend>
      <Choice
        label="Tape is read"
        value={entries["dip.read"] ?? "innage"}
        options={Object.entries(words.dip_read)}
        onChange={(chosen) => onChange({ "dip.read": chosen })}
      />
      <TextField
        path="dip.product"
        label="Product cut"
        hint="Where the product's paste changed"
        entries={entries}
        reading={reading}
        onChange={onChange}
      />
      <TextField
        path="dip.water"
        label="Water cut"
        hint="Where the water's paste changed; empty if it did not"
        entries={entries}
        reading={reading}
        onChange={onChange}
      />
      {dip && (
        <p className="capacity" role="status">
          Liquid to <b className="mono">{units.text("length", dip.level_mm)}</b>:{" "}
          <b className="mono">{units.text("volume", dip.product_l)}</b> of product
          {dip.water_mm > 0 && (
            <>
              {" "}
              over <b className="mono">{units.text("volume", dip.water_l)}</b> of water (
              {units.text("length", dip.water_mm)})
            </>
          )}
          .
        </p>
      )}
    </fieldset>
  );
}

interface TextProps {
  path: string;
  label: string;
  hint: string;
  entries: Entries;
  reading: Reading | undefined;
  onChange: (changes: Entries) => void;
}

/** A quantity of one field, with what is wrong with it or where to take it. */
function TextField({ path, label, hint, entries, reading, onChange }: TextProps) {
  const id = useId();
  const [left, setLeft] = useState(false);
  const typed = entries[path] ?? "";
  const read = fieldAt(reading, path);
  useUnitOnLeaving(left, typed, read, (text) => onChange({ [path]: text }));
  return (
    <div className="length-field">
      <label htmlFor={id}>{label}</label>
      <input
        id={id}
        className="form-control mono"
        autoComplete="off"
        value={typed}
        aria-invalid={read?.state === "wrong" ? true : undefined}
        onChange={(event) => onChange({ [path]: event.target.value })}
        onFocus={() => setLeft(false)}
        onBlur={() => setLeft(true)}
      />
      <span />
      <div className="field-says">
        {read?.state === "wrong" ? <span className="problem">{read.problem}</span> : hint}
      </div>
    </div>
  );
}
