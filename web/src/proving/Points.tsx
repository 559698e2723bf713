import type { Schema } from "../api/client";
import { places } from "../frame/numbers";
import { type Quantity, type System, useUnits } from "../frame/units";
import { CELLS, type Entries, type PointEntries, type Result } from "./proof";

interface Props {
  entries: Entries;
  result: Result | null;
  /** What a bare number means in this proof. */
  system: System;
  onChange: (changes: Partial<Entries>) => void;
}

/** What a bare number means for displays that have a unit of their own; the rest are read as the chain has them. */
const QUANTITY: Record<string, Quantity> = {
  innage: "length",
  ullage: "length",
  span_pct: "ratio",
  volume: "volume",
  volume_pct: "ratio",
};

/** The five points: what is applied, what should read, what reads, and by how much it is off. */
export function Points({ entries, result, system, onChange }: Props) {
  const units = useUnits();
  const quantity = QUANTITY[entries.read_as];
  const unit = quantity ? units.bareUnit(quantity, system).name : "";
  const set = (index: number, changes: Partial<PointEntries>) =>
    onChange({ points: entries.points.map((point, i) => (i === index ? { ...point, ...changes } : point)) });
  return (
    <div className="points" role="group" aria-label="Five points">
      <div className="points-head">
        <span>Applied</span>
        <span>Should read</span>
        {CELLS.map((cell) => (
          <span key={cell.name}>
            {cell.run} {cell.arrow} <small>{unit}</small>
          </span>
        ))}
      </div>
      {entries.points.map((point, index) => (
        <Point
          key={index}
          index={index}
          point={point}
          result={result}
          onChange={(changes) => set(index, changes)}
        />
      ))}
    </div>
  );
}

interface PointProps {
  index: number;
  point: PointEntries;
  result: Result | null;
  onChange: (changes: Partial<PointEntries>) => void;
}

function Point({ index, point, result, onChange }: PointProps) {
  const where = `points[${index}]`;
  const made = result?.points[index];
  const problemAt = (key: string) => result?.problems.find((p) => p.where === `${where}.${key}`)?.what;
  return (
    <div className="point" role="group" aria-label={`Point ${index + 1}`}>
      <div className="point-applied">
        <input
          className="form-control mono"
          aria-label={`Point ${index + 1}: applied`}
          value={point.applied ?? ""}
          aria-invalid={problemAt("applied") ? true : undefined}
          onChange={(event) => onChange({ applied: event.target.value })}
        />
        {problemAt("applied") && <span className="problem">{problemAt("applied")}</span>}
      </div>
      <span className="should-read mono">{made?.should_read}</span>
      {CELLS.map((cell) => (
        <Reading
          key={cell.name}
          label={`Point ${index + 1}, ${cell.run.toLowerCase()}, ${cell.way}`}
          short={`${cell.run} ${cell.arrow}`}
          text={point[cell.name] ?? ""}
          made={made?.cells[cell.name]}
          problem={problemAt(cell.name)}
          onChange={(text) => onChange({ [cell.name]: text })}
        />
      ))}
    </div>
  );
}

interface ReadingProps {
  label: string;
  short: string;
  text: string;
  made: Schema["Cell"] | undefined;
  problem: string | undefined;
  onChange: (text: string) => void;
}

function Reading({ label, short, text, made, problem, onChange }: ReadingProps) {
  const units = useUnits();
  const sign = (made?.error_mm ?? 0) > 0 ? "+" : "";
  return (
    <div className={`reading ${made ? (made.passes ? "passes" : "fails") : ""}`}>
      <span className="reading-short" aria-hidden="true">
        {short}
      </span>
      <input
        className="form-control mono"
        aria-label={label}
        inputMode="text"
        autoComplete="off"
        value={text}
        aria-invalid={problem ? true : undefined}
        onChange={(event) => onChange(event.target.value)}
      />
      {made && text.trim() && (
        <span className="reading-error mono">
          <span aria-hidden="true">{made.passes ? "●" : "▲"}</span> {sign}
          {units.text("length", made.error_mm)}
          <br />
          {sign}
          {places(made.error_pct, 2)} % {made.passes ? "" : "out"}
          {made.split && <Split split={made.split} />}
        </span>
      )}
      {problem && <span className="problem">{problem}</span>}
    </div>
  );
}

/** Where a volume's difference from the tank's own comes from; the instrument's part alone is judged. */
function Split({ split }: { split: Schema["Split"] }) {
  const units = useUnits();
  const parts = [
    ["from the table", split.table_l],
    ["from the points", split.points_l],
  ] as const;
  const there = parts.filter(([, litres]) => Math.abs(litres) > 0.05);
  if (there.length === 0) return null;
  return (
    <small className="reading-split">
      {there.map(([name, litres]) => (
        <span key={name}>
          {name} {litres > 0 ? "+" : ""}
          {units.text("volume", litres)}
        </span>
      ))}
    </small>
  );
}
