import type { Schema } from "../api/client";
import { useUnits } from "../frame/units";
import { Scroll } from "../frame/Scroll";

type Watch = Schema["Watch"];

const MOST = 12;

/** What came and went in the span that is shown, with its ±; and what went from one tank to another. */
export function Moves({ watch }: { watch: Watch }) {
  const units = useUnits();
  const unit = units.unit("volume").name;
  const all = [...watch.moves.deliveries, ...watch.moves.draws].sort((a, b) =>
    b.start.localeCompare(a.start),
  );
  const shown = (litres: number, sure: number) =>
    `${litres > 0 ? "+" : ""}${units.worth("volume", litres, sure)}`;
  return (
    <section aria-label="Came and went">
      <h2>Came and went</h2>
      {all.length === 0 && <p className="empty">{watch.moves.words}</p>}
      {all.length > 0 && (
        <Scroll label="Deliveries and draws">
          <table className="plain-table">
            <thead>
              <tr>
                <th>When</th>
                <th>{unit}</th>
                <th>±</th>
                <th>
                  <span className="visually-hidden">What it is</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {all.slice(0, MOST).map((one) => (
                <tr key={one.start + String(one.volume_l)}>
                  <td>{when(one.start)}</td>
                  <td className="mono">{shown(one.volume_l, one.u95_l)}</td>
                  <td className="mono">{units.worth("volume", one.u95_l, one.u95_l)}</td>
                  <td>{one.volume_l > 0 ? "delivery" : "draw"}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </Scroll>
      )}
      {all.length > MOST && (
        <p className="text-quiet">
          The newest {MOST} of {all.length}.
        </p>
      )}
      {watch.transfers.length > 0 && (
        <ul className="transfers">
          {watch.transfers
            .slice(-6)
            .reverse()
            .map((one) => (
              <li key={one.start}>
                {when(one.start)}: {one.source} → {one.target},{" "}
                <span className="mono">
                  {units.worth("volume", one.left_l, one.u95_l)} {unit}
                </span>{" "}
                left, <span className="mono">{shown(one.differs_l, one.u95_l)}</span> more came
              </li>
            ))}
        </ul>
      )}
    </section>
  );
}

/** A day and time, short. */
export function when(at: string): string {
  return new Date(at).toLocaleString(undefined, {
    weekday: "short",
    day: "numeric",
    month: "short",
    hour: "2-digit",
    minute: "2-digit",
    hourCycle: "h23",
  });
}
