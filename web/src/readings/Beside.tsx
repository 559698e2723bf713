import type { Schema } from "../api/client";
import { places } from "../frame/numbers";

/** What else is told of the tank: pumps, flows, temperature, tilt, battery, each with its newest value. */
export function Beside({ list }: { list: Schema["Series"][] }) {
  const rest = list.filter((one) => one.volume_l.length === 0 && one.value.length > 0);
  if (rest.length === 0) return null;
  return (
    <section aria-label="Beside the level">
      <h2>Beside the level</h2>
      <dl className="beside">
        {rest.map((one) => (
          <div key={one.channel.id}>
            <dt>
              {one.channel.label} <small>{one.channel.name}</small>
            </dt>
            <dd className="mono">{newest(one)}</dd>
          </div>
        ))}
      </dl>
    </section>
  );
}

function newest(one: Schema["Series"]): string {
  const value = one.value.at(-1) ?? null;
  if (value === null) return "no value";
  if (one.channel.kind === "pump") return value > 0.5 ? "● runs" : "○ stands";
  if (one.channel.kind === "fault") return value > 0.5 ? "▲ set" : "○ not set";
  return `${places(value, Math.abs(value) < 100 ? 1 : 0)} ${one.unit}`.trim();
}
