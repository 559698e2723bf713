import type { Schema } from "../api/client";
import { useUnits } from "../frame/units";

interface Props {
  marks: Schema["Mark"][];
  x: number;
  y: (mm: number) => number;
  /** A label closer than this to the line goes without words [px]. */
  line?: number | undefined;
}

/** The tank's own marks, as flags inside the shell's right side; those that stand close share a label. */
export function MarkFlags({ marks, x, y, line }: Props) {
  const units = useUnits();
  const labels: { at: number; names: string[] }[] = [];
  for (const mark of marks) {
    const last = labels.at(-1);
    if (last && Math.abs(last.at - y(mark.level_mm)) < 15) last.names.push(mark.label.toLowerCase());
    else labels.push({ at: y(mark.level_mm), names: [mark.label.toLowerCase()] });
  }
  return (
    <g className="mark-flags">
      {marks.map((mark) => (
        <g key={mark.key}>
          <title>{`${mark.label} at ${units.tape(mark.level_mm)}`}</title>
          <path d={`M${x} ${y(mark.level_mm)}h-16M${x - 16} ${y(mark.level_mm) - 4}v8`} />
        </g>
      ))}
      {labels
        .filter(({ at }) => line === undefined || Math.abs(at - line) >= 12)
        .map(({ at, names }) => (
          <text key={at} x={x - 20} y={at + 4} textAnchor="end">
            {names.join(" / ")}
          </text>
        ))}
    </g>
  );
}
