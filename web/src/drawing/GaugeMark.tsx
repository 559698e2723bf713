import type { Schema } from "../api/client";

interface Props {
  gauge: Schema["DrawnGauge"];
  x: (mm: number) => number;
  y: (mm: number) => number;
  /** How much the tank has risen at the gauge where it is sloped [mm]. */
  lift: number;
}

/** The gauge in the long section: its body, what it cannot read hatched, or its pad below. */
export function GaugeMark({ gauge, x, y, lift }: Props) {
  const at = x(gauge.x_mm);
  const face = y(gauge.face_mm + lift);
  const blank = y(gauge.face_mm - gauge.blanking_mm + lift);
  if (gauge.mount === "below")
    return (
      <g className="gauge-mark">
        <title>Sonar pad, from outside</title>
        <rect x={at - 9} y={y(gauge.floor_mm + lift)} width={18} height={6} className="gauge-solid" />
        <rect
          x={at - 9}
          y={y(gauge.floor_mm + gauge.blanking_mm + lift)}
          width={18}
          height={Math.max(y(gauge.floor_mm + lift) - y(gauge.floor_mm + gauge.blanking_mm + lift), 0)}
          className="gauge-blind"
        />
      </g>
    );
  return (
    <g className="gauge-mark">
      <title>The gauge as it is kept</title>
      {gauge.foot_mm === null ? (
        <rect x={at - 6} y={face} width={12} height={Math.max(blank - face, 0)} className="gauge-blind" />
      ) : (
        <line x1={at} x2={at} y1={face} y2={y(gauge.foot_mm + lift)} className="gauge-stem" />
      )}
      <rect x={at - 6} y={face - 7} width={12} height={7} className="gauge-solid" />
    </g>
  );
}
