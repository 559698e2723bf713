import { useId } from "react";

import { useUnits } from "../../frame/units";
import type { Words } from "../../frame/words";
import type { Entries, Reading } from "./form";
import { LengthField } from "./LengthField";
import { fieldAt } from "./useSurvey";

interface Props {
  words: Words;
  entries: Entries;
  reading: Reading | undefined;
  onChange: (changes: Entries) => void;
}

/** The shape: its kind, its lengths and its heads, as the core lists them. */
export function ShapeFields({ words, entries, reading, onChange }: Props) {
  const units = useUnits();
  const kind = words.shapes.find((shape) => shape.kind === entries["shape.kind"]);
  const height = reading?.facts?.inside_height_mm;

  function chooseKind(chosen: string) {
    const shape = words.shapes.find((one) => one.kind === chosen);
    const heads = Object.fromEntries(
      (shape?.heads ?? []).map((head) => {
        const path = `shape.${head.key}.kind`;
        const old = entries[path];
        return [path, old && head.kinds.includes(old) ? old : (head.kinds[0] ?? "")];
      }),
    );
    onChange({ "shape.kind": chosen, ...heads });
  }

  const length = (where: string, dimension: Words["shapes"][number]["dimensions"][number]) => {
    const path = `${where}.${dimension.key}`;
    const halfWidth = `uncertainty.${path.replace(/^shape\./, "")}`;
    return (
      <LengthField
        key={path}
        path={path}
        label={dimension.label}
        hint={dimension.hint}
        optional={dimension.optional}
        entries={entries}
        read={fieldAt(reading, path)}
        halfWidthPath={halfWidth}
        readHalfWidth={fieldAt(reading, halfWidth)}
        onChange={(at, text) => onChange({ [at]: text })}
      />
    );
  };

  return (
    <fieldset>
      <legend>Shape</legend>
      <Choice
        label="Kind"
        value={entries["shape.kind"] ?? ""}
        options={words.shapes.map((shape) => [shape.kind, shape.label])}
        onChange={chooseKind}
      />
      <p className="column-names" aria-hidden="true">
        <span />
        <span>inside, as measured</span>
        <span>± (k = 2)</span>
      </p>
      {kind?.dimensions.map((dimension) => length("shape", dimension))}
      {kind?.heads.map((head) => {
        const path = `shape.${head.key}.kind`;
        const chosen = words.heads.find((one) => one.kind === entries[path]);
        return (
          <div key={head.key} className="head-fields">
            <HeadChoice words={words} head={head} entries={entries} onChange={onChange} />
            {chosen?.dimensions.map((dimension) => length(`shape.${head.key}`, dimension))}
          </div>
        );
      })}
      {height !== undefined && (
        <p className="capacity">
          Holds <strong className="mono">{units.text("volume", reading?.facts?.capacity_l ?? 0)}</strong> to
          an inside height of <strong className="mono">{units.text("length", height)}</strong>.
        </p>
      )}
    </fieldset>
  );
}

interface HeadProps {
  words: Words;
  head: Words["shapes"][number]["heads"][number];
  entries: Entries;
  onChange: (changes: Entries) => void;
}

function HeadChoice({ words, head, entries, onChange }: HeadProps) {
  const path = `shape.${head.key}.kind`;
  const kinds = words.heads.filter((kind) => head.kinds.includes(kind.kind));
  const patterns = words.patterns.filter((pattern) => head.kinds.includes(pattern.kind));
  const options: [string, string][] = [
    ...kinds.map((kind): [string, string] => [kind.kind, kind.label]),
    ...patterns.map((pattern, index): [string, string] => [
      `pattern ${index}`,
      `${pattern.label} (fills in)`,
    ]),
  ];
  function choose(chosen: string) {
    const pattern = chosen.startsWith("pattern ") ? patterns[Number(chosen.slice(8))] : undefined;
    if (!pattern) return onChange({ [path]: chosen });
    const filled = Object.entries(pattern.entries).map(([key, text]) => [`shape.${head.key}.${key}`, text]);
    onChange({ [path]: pattern.kind, ...Object.fromEntries(filled) });
  }
  return <Choice label={head.label} value={entries[path] ?? ""} options={options} onChange={choose} />;
}

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
