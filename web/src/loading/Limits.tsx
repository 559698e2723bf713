import { Scroll } from "../frame/Scroll";
import { places } from "../frame/numbers";
import { useUnits } from "../frame/units";
import type { LoadReading } from "./load";

/** Both limits side by side, which of them rules and why, and what a float gauge would have cost. */
export function Limits({ reading }: { reading: LoadReading }) {
  const units = useUnits();
  const { targets } = reading;
  if (!targets) return null;
  const volume = (litres: number) =>
    `${places(units.toShown("volume", litres), 0)} ${units.unit("volume").name}`;
  const share = (litres: number) => `${places((litres / reading.capacity_l) * 100, 1)} %`;
  const rows = [
    ["By weight alone", targets.by_weight_l, false],
    ["By weight, the vapour above weighed too", targets.with_vapour_l, targets.rule === "weight"],
    [
      `By the filling limit, ${places(reading.filling_pct, 1)} %`,
      targets.by_filling_l,
      targets.rule === "filling",
    ],
  ] as const;
  const [low = 0, high = 0] = reading.float_short_l;
  return (
    <section aria-label="Which limit rules">
      <h2>Which limit rules</h2>
      <Scroll label="Limits">
        <table className="plain-table">
          <tbody>
            {rows.map(([label, litres, rules]) => (
              <tr key={label} aria-current={rules ? "true" : undefined}>
                <td>
                  {rules ? "● " : ""}
                  {label}
                </td>
                <td className="mono">{litres === null ? "no weight limits it" : volume(litres)}</td>
                <td className="mono">{litres === null ? "" : share(litres)}</td>
                <td>{rules ? "the smaller: it rules" : ""}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Scroll>
      <p className="pane-words">
        {reading.table_pct !== null &&
          `The table gives ${places(reading.table_pct, 1)} % for this gas at this temperature. `}
        {targets.full_at
          ? `This load would fill the vessel with liquid at ${targets.full_at}. `
          : "No temperature that is met would fill the vessel with liquid. "}
        A float gauge, 5 to 10 % out, would have had it filled short by {volume(low)} to {volume(high)} beside
        a sensor of ± 1 %.
      </p>
      <p className="text-quiet pane-words">{reading.source}.</p>
    </section>
  );
}
