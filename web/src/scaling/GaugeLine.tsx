import { places } from "../frame/numbers";
import { type System } from "../frame/units";
import type { BareLine } from "./bareLine";

const WIDTH = 230;
const HEIGHT = 420;
const TOP = 18;
const LOW = HEIGHT - 18;
const LEFT = 78;
const RIGHT = 152;

/** Steps that a ruler is read by [m, ft]. */
const STEPS = [0.1, 0.2, 0.5, 1, 2, 5, 10, 20];
const FOOT_MM = 304.8;

/** A plain upright gauge line: the level up the left, the signal up the right, the line across. */
export function GaugeLine({ reading, system }: { reading: BareLine; system: System }) {
  const unit = system === "us" ? { name: "ft", mm: FOOT_MM } : { name: "m", mm: 1000 };
  const top = reading.height_mm / unit.mm;
  const step = STEPS.find((one) => top / one <= 8) ?? 50;
  const y = (mm: number) => LOW - (mm / reading.height_mm) * (LOW - TOP);
  const ticks = Array.from({ length: Math.floor(top / step + 1e-9) + 1 }, (_, i) => i * step);
  const marks = reading.signal_marks.filter(
    (mark) => mark.innage_mm >= -1e-6 && mark.innage_mm <= reading.height_mm * (1 + 1e-9),
  );
  const level = reading.level_mm;
  return (
    <svg
      className="gauge-line"
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      role="img"
      aria-label={
        level === null
          ? "The gauge line, nothing typed yet"
          : `The line at ${places(level / unit.mm, 2)} ${unit.name}`
      }
    >
      {level !== null && (
        <rect x={LEFT} y={y(level)} width={RIGHT - LEFT} height={LOW - y(level)} className="gauge-liquid" />
      )}
      <rect x={LEFT} y={TOP} width={RIGHT - LEFT} height={LOW - TOP} className="gauge-shell" />
      {ticks.map((tick) => (
        <g key={tick} className="gauge-tick">
          <path d={`M${LEFT - 8} ${y(tick * unit.mm)}h8`} />
          <text x={LEFT - 12} y={y(tick * unit.mm) + 4} textAnchor="end">
            {places(tick, step < 1 ? 1 : 0)}
          </text>
        </g>
      ))}
      <text x={LEFT - 12} y={10} textAnchor="end" className="gauge-unit">
        {unit.name}
      </text>
      {marks.map((mark) => (
        <g key={mark.text} className="gauge-tick">
          <path d={`M${RIGHT} ${y(mark.innage_mm)}h8`} />
          <text x={RIGHT + 12} y={y(mark.innage_mm) + 4}>
            {mark.text}
          </text>
        </g>
      ))}
      {level !== null && (
        <g className="gauge-at">
          <path d={`M${LEFT - 16} ${y(level)}H${RIGHT + 16}`} />
        </g>
      )}
    </svg>
  );
}
