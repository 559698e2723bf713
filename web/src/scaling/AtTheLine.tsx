import { useId } from "react";

import type { Schema } from "../api/client";
import { useUnits } from "../frame/units";
import { useLine } from "./line";

/** The kept scale drawn as two rulers, level against current, with the line through both. */
export function AtTheLine({ marks, unsaved }: { marks: Schema["ScaleMark"][]; unsaved: boolean }) {
  const { line } = useLine();
  const units = useUnits();
  const id = useId();
  if (line.current_ma === null || line.sensed_mm === null) return null;
  const share = Math.min(Math.max((line.current_ma - 4) / 16, -0.05), 1.05);
  const x = (ratio: number) => 62 + ratio * 476;
  return (
    <figure className="at-the-line" aria-labelledby={id}>
      <figcaption id={id}>
        At the line: innage <b className="mono">{units.text("length", line.innage_mm)}</b>, sensed{" "}
        <b className="mono">{units.text("length", line.sensed_mm)}</b>, loop{" "}
        <b className="mono">{units.text("current", line.current_ma)}</b>
        {unsaved && <span className="save-state waiting"> by the kept scale, not the one being typed</span>}
      </figcaption>
      <svg
        viewBox="0 0 600 96"
        role="img"
        aria-label="4 to 20 mA with the level that each current stands for"
      >
        <line x1={x(0)} x2={x(1)} y1="48" y2="48" className="scale-rule" />
        {marks.map(({ current_ma: ma, innage_mm }) => {
          const place = x((ma - 4) / 16);
          return (
            <g key={ma} className="scale-tick">
              <line x1={place} x2={place} y1="40" y2="56" />
              <text x={place} y="76" textAnchor="middle">
                {ma} mA
              </text>
              <text x={place} y="30" textAnchor="middle">
                {units.text("length", innage_mm)}
              </text>
            </g>
          );
        })}
        <line x1={x(share)} x2={x(share)} y1="8" y2="88" className="scale-line" />
      </svg>
    </figure>
  );
}
