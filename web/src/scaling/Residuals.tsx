import type { Schema } from "../api/client";
import { useUnits } from "../frame/units";

const WIDE = 600;
const TALL = 150;
const EDGE = 46;

interface Props {
  reading: Schema["Slopes"];
  school: string;
  unit: string;
}

/** What each reading is off one school's line, over the signal; the one that does not fit is marked. */
export function Residuals({ reading, school, unit }: Props) {
  const units = useUnits();
  const slope = reading.slopes.find((one) => one.school === school) ?? reading.slopes.at(-1);
  if (!slope || reading.readings.length === 0) return null;
  const signals = reading.readings.map(([signal = 0]) => signal);
  const low = Math.min(reading.zero, ...signals);
  const high = Math.max(reading.full, ...signals);
  const most = Math.max(slope.worst_mm, 1);
  const x = (signal: number) => EDGE + ((signal - low) / (high - low || 1)) * (WIDE - 2 * EDGE);
  const y = (mm: number) => TALL / 2 - (mm / most) * (TALL / 2 - 24);
  return (
    <figure className="residuals">
      <figcaption>
        Measured less {slope.label.toLowerCase()}, at most {units.text("length", slope.worst_mm)}
      </figcaption>
      <svg
        viewBox={`0 0 ${WIDE} ${TALL}`}
        role="img"
        aria-label={`Residuals of ${slope.label.toLowerCase()}`}
      >
        <line x1={EDGE} x2={WIDE - EDGE} y1={TALL / 2} y2={TALL / 2} className="scale-rule" />
        {reading.readings.map(([signal = 0], index) => {
          const off = slope.residuals_mm[index] ?? 0;
          const odd = index === reading.outlier;
          return (
            <g key={index} className={odd ? "residual odd" : "residual"}>
              <line x1={x(signal)} x2={x(signal)} y1={TALL / 2} y2={y(off)} />
              {odd ? (
                <path d={`M${x(signal)} ${y(off) - 8}l7 13h-14z`} />
              ) : (
                <circle cx={x(signal)} cy={y(off)} r={4.5} />
              )}
              <text x={x(signal)} y={off < 0 ? y(off) + 18 : y(off) - 9} textAnchor="middle">
                {index + 1}
              </text>
            </g>
          );
        })}
        <text x={EDGE} y={TALL - 2}>
          {low} {unit}
        </text>
        <text x={WIDE - EDGE} y={TALL - 2} textAnchor="end">
          {high} {unit}
        </text>
      </svg>
    </figure>
  );
}
