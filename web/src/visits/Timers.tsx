import { useEffect, useState } from "react";

import type { Visit } from "./visit";

/** The seconds of a span, as on a clock. */
function clockOf(seconds: number): string {
  const whole = Math.max(Math.round(seconds), 0);
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, "0")}`;
}

/** Waits that run, in a strip that stands over every step; what is over asks to be looked at. */
export function Timers({ visit, onOpen }: { visit: Visit; onOpen: (key: string) => void }) {
  const running = visit.steps.filter((step) => step.state === "running");
  const [now, setNow] = useState(() => Date.now());
  const ticks = running.length > 0;
  useEffect(() => {
    if (!ticks) return;
    const timer = setInterval(() => setNow(Date.now()), 1000);
    return () => clearInterval(timer);
  }, [ticks]);
  if (!ticks) return null;
  return (
    <div className="timers" role="group" aria-label="Waits that run">
      {running.map((step) => {
        const left = (Date.parse(step.ends ?? "") - now) / 1000;
        return (
          <button
            key={step.key}
            type="button"
            className={left > 0 ? "timer" : "timer over"}
            onClick={() => onOpen(step.key)}
          >
            <span aria-hidden="true">{left > 0 ? "◔" : "●"}</span> {step.title}{" "}
            <strong>{left > 0 ? clockOf(left) : "over: look"}</strong>
          </button>
        );
      })}
    </div>
  );
}
