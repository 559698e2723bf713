import { places } from "../frame/numbers";
import { useUnits } from "../frame/units";
import { litres, offBy, type Run } from "./pour";

/** What was poured beside the tank's own geometry: the pattern named, and the shape that both tell. */
export function BesideSurvey({ shape }: { shape: NonNullable<Run["shape"]> }) {
  const units = useUnits();
  const { joined } = shape;
  return (
    <section aria-label="Beside the survey">
      <h2>Beside the survey</h2>
      <p>
        <span aria-hidden="true">{shape.agrees ? "●" : "▲"}</span> Poured and surveyed are at most{" "}
        {litres(units, shape.worst_l)} apart{shape.agrees ? ", less than either may be off by." : "."}
      </p>
      {shape.patterns.length > 0 && (
        <ul>
          {shape.patterns.map((one) => (
            <li key={one.label}>
              as if {one.label.toLowerCase()} were off by{" "}
              <span className="mono">
                {one.value > 0 ? "+" : ""}
                {places(one.value, one.half < 1 ? 1 : 0)} ± {places(one.half, one.half < 1 ? 1 : 0)}{" "}
                {one.unit}
              </span>
            </li>
          ))}
        </ul>
      )}
      {joined && (
        <p>
          {joined.fits
            ? `Survey and pours together tell a shape that is off by at most ${offBy(units, joined.worst_l)}: it can be taken instead.`
            : "No shape near the survey goes with these pours: take the pours themselves."}
        </p>
      )}
    </section>
  );
}
