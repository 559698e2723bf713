import { extent, pathOf } from "../drawing/geometry";
import { useWidth } from "../frame/useSize";
import { useUnits } from "../frame/units";
import type { Tank } from "../tanks/tank";
import type { GaugeReading } from "./gauge";

const EDGE = 18;

/** The long section with the gauge in it: beam and blanking of what looks down, foot of what hangs, pad below. */
export function SpotSection({ tank, reading }: { tank: Tank; reading: GaugeReading }) {
  const units = useUnits();
  const [box, width] = useWidth<HTMLDivElement>();
  const { drawing } = tank.facts;
  const { situation: there, drawn } = reading;
  const mount = drawn?.mount ?? "";
  const reach = extent(drawing.along_mm);
  const tall = Math.max(reach.top, there.face_mm, drawing.reference_height_mm);
  const scale = Math.min((width - 2 * EDGE) / (reach.right - reach.left), 150 / (tall - reach.bottom));
  const start = (width - (reach.right - reach.left) * scale) / 2;
  const x = (mm: number) => start + (mm - reach.left) * scale;
  const y = (mm: number) => EDGE + (tall - mm) * scale;
  const height = (tall - reach.bottom) * scale + 2 * EDGE;
  // A sloped tank is drawn as it stands: what is at the spot rises with it.
  const lift = ((there.x_mm - drawing.gauge_position_mm) * drawing.slope_mm_per_m) / 1000;
  const [face, floor] = [there.face_mm + lift, (drawn?.floor_mm ?? 0) + lift];
  const blank = face - (drawn?.blanking_mm ?? 0);
  const wide = reading.beam_reach_mm;
  const high = there.highest_mm;
  const foot = drawn?.foot_mm === null || drawn === null ? null : drawn.foot_mm + lift;
  return (
    <div ref={box} className="plan-box">
      {width > 0 && (
        <svg
          width={width}
          height={height}
          role="img"
          aria-label="The gauge in the long section"
          className="plan"
        >
          <path d={pathOf(drawing.along_mm, x, y)} className="shell-inside" />
          <line x1={x(reach.left)} x2={x(reach.right)} y1={y(high)} y2={y(high)} className="spot-highest" />
          {mount === "top" && foot === null && (
            <>
              <path
                className="beam"
                d={`M${x(there.x_mm)} ${y(face)}L${x(there.x_mm - wide)} ${y(floor)}L${x(there.x_mm + wide)} ${y(floor)}Z`}
              />
              <path className="blanking" d={`M${x(there.x_mm) - 12} ${y(face)}h24V${y(blank)}h-24Z`} />
            </>
          )}
          {mount !== "below" && (mount !== "top" || foot !== null) && (
            <line
              x1={x(there.x_mm)}
              x2={x(there.x_mm)}
              y1={y(face)}
              y2={y(foot ?? floor)}
              className={mount ? "gauge-body" : "gauge-body unknown"}
            />
          )}
          {mount === "below" && (
            <rect x={x(there.x_mm) - 12} y={y(floor)} width={24} height={8} className="gauge-pad" />
          )}
          <path d={pathOf(drawing.along_mm, x, y)} className="shell" />
          {mount !== "below" && <path d={`M${x(there.x_mm) - 10} ${y(face)}h20`} className="gauge-face" />}
          <text x={x(reach.right) - 4} y={y(high) + 15} textAnchor="end">
            highest {units.tape(high)}
          </text>
        </svg>
      )}
    </div>
  );
}
