import type { ReactNode } from "react";

import { places } from "../frame/numbers";
import { useUnits } from "../frame/units";
import { type Now, shapeOf, spanWords } from "./now";

/** What the tank has now, with its ±, its rate, and when marks will be reached. */
export function NowBlock({ now }: { now: Now }) {
  const units = useUnits();
  const sure = now.volume_u95_l;
  return (
    <div className={`now-block ${now.live ? "live" : "old"}`} role="group" aria-label="Now">
      <Fact label={now.live ? "Now" : `${now.age} old`}>
        {now.volume_l === null
          ? "no reading"
          : units.worth("volume", now.volume_l, sure ?? now.volume_l / 100)}{" "}
        <small>{units.unit("volume").name}</small>
        <Note>
          {sure ? units.half("volume", sure) : ""}
          {now.volume_pct !== null && ` · ${places(now.volume_pct, 1)} %`}
        </Note>
      </Fact>
      <Fact label="Level">
        {now.level_mm === null ? "–" : units.tape(now.level_mm)}
        <Note>{now.level_u95_mm ? `± ${units.tape(now.level_u95_mm)}` : ""}</Note>
      </Fact>
      <Fact label="Rate">
        {now.rate === null
          ? "–"
          : now.rate.moves
            ? rateText(units.toShown("volume", now.rate.l_min))
            : "stands still"}{" "}
        {now.rate?.moves && <small>{units.unit("volume").name}/min</small>}
        <Note>
          {now.rate
            ? `± ${rateText(units.toShown("volume", now.rate.u95_l_min))} over ${spanWords(now.rate.over_s)}`
            : now.live
              ? "too few readings yet"
              : "not live"}
        </Note>
      </Fact>
      <Fact label="It is">
        <span className="now-words-value">
          <span aria-hidden="true">{shapeOf(now.condition)}</span> {now.words}
        </span>
        <Note>
          {now.channel.source}, {now.channel.label.toLowerCase()} {now.raw} · {now.age} ago
        </Note>
      </Fact>
      {now.reached.map((one) => (
        <Fact key={one.key} label={`${one.label} in`}>
          {spanWords(one.in_s)}
          <Note>
            {spanWords(one.soonest_s)} at the soonest
            {one.latest_s === null ? "" : `, ${spanWords(one.latest_s)} at the latest`}
          </Note>
        </Fact>
      ))}
    </div>
  );
}

function Fact({ label, children }: { label: string; children: ReactNode }) {
  return (
    <div className="now-fact">
      <span className="readout-label">{label}</span>
      <span className="now-value mono">{children}</span>
    </div>
  );
}

function Note({ children }: { children: ReactNode }) {
  return <span className="readout-note">{children}</span>;
}

function rateText(value: number): string {
  return places(value, Math.abs(value) >= 100 ? 0 : Math.abs(value) >= 1 ? 1 : 2);
}
