import type { Schema } from "../api/client";
import { useUnits } from "../frame/units";

interface Props {
  limits: Schema["Limits"];
  /** The inside height: a limit that stands there says nothing. */
  topMm: number;
  x: number;
  y: (mm: number) => number;
  /** A label closer than this to one above it goes without words [px]. */
  line?: number | undefined;
}

/** The levels that bound the tank's use, as flags inside the shell's left side. */
export function LimitFlags({ limits, topMm, x, y, line }: Props) {
  const units = useUnits();
  const flags: [string, number][] = [];
  if (limits.brim_level_mm < topMm - 0.5) flags.push(["overflow", limits.brim_level_mm]);
  const filling = limits.filling_level_mm;
  if (filling !== null) flags.push(["filling limit", filling]);
  const bounds = Math.min(limits.brim_level_mm, filling ?? Infinity);
  if (limits.safe_level_mm < bounds - 0.5) flags.push(["safe fill", limits.safe_level_mm]);
  if (limits.outlet_level_mm !== null) flags.push(["suction", limits.outlet_level_mm]);
  // Flags closer together than a line of text share one, and the line itself takes its place.
  const labels: { at: number; names: string[] }[] = [];
  for (const [name, level] of flags) {
    const last = labels.at(-1);
    if (last && Math.abs(last.at - y(level)) < 15) last.names.push(name);
    else labels.push({ at: y(level), names: [name] });
  }
  return (
    <g className="limit-flags">
      {flags.map(([name, level]) => (
        <g key={name}>
          <title>{`${name} at ${units.tape(level)}`}</title>
          <path d={`M${x} ${y(level)}h22M${x} ${y(level)}l8 -4v8z`} />
        </g>
      ))}
      {labels
        .filter(({ at }) => line === undefined || Math.abs(at - line) >= 12)
        .map(({ at, names }) => (
          <text key={at} x={x + 26} y={at + 4}>
            {names.join(" / ")}
          </text>
        ))}
    </g>
  );
}
