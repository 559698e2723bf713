import { useUnits } from "../../frame/units";
import type { Entries, Reading } from "./form";
import { countRows } from "./form";
import { RowsFields } from "./RowsFields";
import { fieldAt } from "./useSurvey";

interface Props {
  /** The section's path, ``shape.section``. */
  path: string;
  entries: Entries;
  reading: Reading | undefined;
  onReplace: (entries: Entries) => void;
}

const WAYS = [
  ["widths", "Widths at heights"],
  ["corners", "Corner points"],
] as const;

/** Traces an odd section: by its widths at heights, alike on both sides, or corner by corner. */
export function Tracer({ path, entries, reading, onReplace }: Props) {
  const units = useUnits();
  const way = entries[`${path}.traced`] === "widths" ? "widths" : "corners";
  const outline = reading?.facts?.drawing.across_mm ?? null;
  const corners = typedCorners(path, way, entries, reading);
  const crossing = fieldAt(reading, `${path}.points_mm`);
  const name = units.unit("length").name;
  return (
    <div className="tracer">
      <div>
        <div className="switch" role="group" aria-label="Traced by">
          {WAYS.map(([key, label]) => (
            <button
              key={key}
              type="button"
              aria-pressed={way === key}
              onClick={() => onReplace({ ...entries, [`${path}.traced`]: key })}
            >
              {label}
            </button>
          ))}
        </div>
        {way === "widths" ? (
          <RowsFields
            path={`${path}.widths`}
            label="Widths at heights"
            one="width"
            columns={[
              { key: "at_mm", label: "at height" },
              { key: "width_mm", label: "inside width" },
            ]}
            entries={entries}
            reading={reading}
            onReplace={onReplace}
          />
        ) : (
          <RowsFields
            path={`${path}.points_mm`}
            label="Corner points"
            one="corner"
            columns={[
              { key: "x_mm", label: "across" },
              { key: "z_mm", label: "up" },
            ]}
            entries={entries}
            reading={reading}
            onReplace={onReplace}
          />
        )}
        {way === "widths" && crossing?.state === "wrong" && <p className="problem">{crossing.problem}</p>}
      </div>
      <Outline outline={outline} corners={corners} crossing={reading?.crossing_mm ?? null} unit={name} />
    </div>
  );
}

/** The corners as far as they are typed, good or bad, in millimetres. */
function typedCorners(path: string, way: string, entries: Entries, reading: Reading | undefined): number[][] {
  const value = (at: string) => fieldAt(reading, at)?.value_mm ?? null;
  if (way === "widths") {
    const rows = Array.from({ length: countRows(entries, `${path}.widths`, "at_mm") }, (_, i) => [
      value(`${path}.widths[${i}].width_mm`),
      value(`${path}.widths[${i}].at_mm`),
    ]).filter((row): row is number[] => row.every((v) => v !== null));
    return [
      ...rows.map(([w = 0, z = 0]) => [w / 2, z]),
      ...rows.toReversed().map(([w = 0, z = 0]) => [-w / 2, z]),
    ];
  }
  return Array.from({ length: countRows(entries, `${path}.points_mm`, "x_mm") }, (_, i) => [
    value(`${path}.points_mm[${i}].x_mm`),
    value(`${path}.points_mm[${i}].z_mm`),
  ]).filter((row): row is number[] => row.every((v) => v !== null));
}

interface OutlineProps {
  /** The section as the server made it of the corners, if it could. */
  outline: number[][] | null;
  corners: number[][];
  /** Where the corners' sides cross, if they do. */
  crossing: number[] | null;
  unit: string;
}

/** The section to scale as it is typed: the outline that was understood, or the corners that make none yet. */
function Outline({ outline, corners, crossing, unit }: OutlineProps) {
  const units = useUnits();
  const shown = outline ?? corners;
  if (shown.length < 2)
    return (
      <p className="empty-drawing tracer-empty">The outline is drawn here, true to scale, row by row.</p>
    );
  const xs = shown.map(([x = 0]) => x);
  const zs = shown.map(([, z = 0]) => z);
  const [left, right, low, high] = [Math.min(...xs), Math.max(...xs), Math.min(...zs), Math.max(...zs)];
  const [wide, tall] = [Math.max(right - left, 1), Math.max(high - low, 1)];
  const scale = Math.min(230 / wide, 190 / tall);
  const x = (mm: number) => 130 + (mm - (left + right) / 2) * scale;
  const y = (mm: number) => 212 - (mm - low) * scale;
  const path = `M${shown.map(([px = 0, pz = 0]) => `${x(px).toFixed(1)} ${y(pz).toFixed(1)}`).join("L")}Z`;
  // Corners are numbered in their own frame; the outline's is moved to its middle and lowest point.
  const frame = {
    x: (Math.min(...corners.map(([cx = 0]) => cx)) + Math.max(...corners.map(([cx = 0]) => cx))) / 2,
    z: Math.min(...corners.map(([, cz = 0]) => cz)),
  };
  return (
    <svg
      viewBox="0 0 260 240"
      className="tracer-outline"
      role="img"
      aria-label="The section as typed, to scale"
    >
      <path d={path} className={outline ? "shell traced" : "shell untraced"} />
      {corners.map(([cx = 0, cz = 0], index) => {
        const [px, py] = outline ? [x(cx - frame.x), y(cz - frame.z)] : [x(cx), y(cz)];
        return (
          <g key={index}>
            <circle cx={px} cy={py} r="3" />
            <text x={px + (px > 130 ? 7 : -7)} y={py - 4} textAnchor={px > 130 ? "start" : "end"}>
              {index + 1}
            </text>
          </g>
        );
      })}
      {!outline && crossing && (
        <path
          className="tracer-crossing"
          d={`M${x(crossing[0] ?? 0) - 9} ${y(crossing[1] ?? 0)}a9 9 0 1 0 18 0a9 9 0 1 0 -18 0`}
        >
          <title>Sides cross here</title>
        </path>
      )}
      <text x="130" y="234" textAnchor="middle" className="tracer-size">
        {units.number("length", wide)} × {units.number("length", tall)} {unit}
      </text>
    </svg>
  );
}
