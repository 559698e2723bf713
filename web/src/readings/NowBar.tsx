import "./readings.css";

import { useEffect } from "react";

import { useLine } from "../line/line";
import type { Tank } from "../tanks/tank";
import { shapeOf, useNow } from "./now";

/** The newest reading beside the line: its age and what it is doing; the line follows it when asked. */
export function NowBar({ tank }: { tank: Tank }) {
  const { data: now } = useNow(tank.id);
  const { following, follow, bring } = useLine();
  const level = now?.level_mm ?? null;
  useEffect(() => {
    if (following && level !== null) bring(level);
  }, [following, level, bring]);
  if (!now) return null;
  return (
    <div className={`now-bar ${now.live ? "live" : "old"}`}>
      <span className="now-shape" aria-hidden="true">
        {shapeOf(now.condition)}
      </span>
      <span className="now-words">
        <strong>{now.live ? `${now.age} ago` : `${now.age} old: not live`}</strong>, {now.words}
        {now.quality !== "good" && `; ${now.quality}`}
      </span>
      <button
        type="button"
        className="btn btn-outline-secondary btn-sm"
        aria-pressed={following}
        disabled={level === null}
        onClick={() => follow(!following)}
      >
        {following ? "Follows the reading" : "Follow the reading"}
      </button>
    </div>
  );
}
