import "./readings.css";
import "../frame/fields.css";

import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { Link } from "react-router";

import { api, ask, type Schema, wordsOf } from "../api/client";
import { keys } from "../api/keys";
import { useTold } from "../frame/asking";
import { Opening } from "../frame/Opening";
import { useUnits } from "../frame/units";
import type { Tank } from "../tanks/tank";
import { Beside } from "./Beside";
import { DipEntry } from "./DipEntry";
import { EventList } from "./EventList";
import { Moves } from "./Moves";
import { NowBlock } from "./NowBlock";
import { SPANS, type Span, spanOf, WatchChart } from "./WatchChart";

export type Watch = Schema["Watch"];

/** How often the chart is drawn anew while it ends now [ms]. */
const AGAIN = 15_000;

/** Station Watch: contents over time, what came and went, what is told of, and now. */
export function WatchStation({ tank }: { tank: Tank }) {
  const { system } = useUnits();
  const [span, setSpan] = useState<Span>(() => spanOf("week"));
  const live = span.end === null;
  const asked = useMemo(() => asQuery(span), [span]);
  const query = useQuery({
    queryKey: keys.tank(tank.id, "watch", asked.from, asked.to, span.length, system),
    queryFn: () => {
      const now = asQuery(span);
      return ask(
        api.GET("/api/tanks/{id}/watch/", { params: { path: { id: tank.id }, query: { ...now, system } } }),
      );
    },
    refetchInterval: live ? AGAIN : false,
    placeholderData: keepPreviousData,
    staleTime: 0,
    throwOnError: false,
  });
  const { data } = query;
  const told = useTold(query);
  if (!data && !told) return <Opening />;
  return (
    <>
      {told && <p className="problem">{wordsOf(told)}</p>}
      {data && <Seen tank={tank} watch={data} span={span} onSpan={setSpan} />}
      <div className="watch-lists">
        {data && (
          <>
            <Moves watch={data} />
            <EventList list={data.events} tank={tank.id} />
            <Beside list={data.series} />
          </>
        )}
        {/* A dip can be typed whatever becomes of the readings. */}
        <DipEntry tank={tank} />
      </div>
    </>
  );
}

interface SeenProps {
  tank: Tank;
  watch: Watch;
  span: Span;
  onSpan: (span: Span) => void;
}

/** What reads now, and the chart with what is shown of it. */
function Seen({ tank, watch, span, onSpan }: SeenProps) {
  const [shows, setShows] = useState<"volume" | "level">("volume");
  const live = span.end === null;
  const levels = watch.series.filter((one) => one.volume_l.length > 0);
  return (
    <>
      {watch.now ? <NowBlock now={watch.now} /> : <NothingYet />}
      <div className="watch-bar">
        <div className="switch" role="group" aria-label="Span">
          {SPANS.map((one) => (
            <button
              key={one.key}
              type="button"
              aria-pressed={span.key === one.key && live}
              onClick={() => onSpan(spanOf(one.key))}
            >
              {one.label}
            </button>
          ))}
        </div>
        <div className="switch" role="group" aria-label="Shown as">
          {(["volume", "level"] as const).map((key) => (
            <button key={key} type="button" aria-pressed={shows === key} onClick={() => setShows(key)}>
              {key === "volume" ? "Volume" : "Level"}
            </button>
          ))}
        </div>
        {!live && (
          <button
            type="button"
            className="btn btn-outline-secondary btn-sm"
            onClick={() => onSpan({ ...span, end: null })}
          >
            Back to now
          </button>
        )}
        <span className="watch-files">
          {(["csv", "xlsx", "json"] as const).map((ending) => (
            <a key={ending} href={fileOf(tank.id, ending, span)} download>
              {ending.toUpperCase()}
            </a>
          ))}
        </span>
      </div>
      {levels.length > 0 && (
        <WatchChart watch={watch} tank={tank} shows={shows} span={span} onSpan={onSpan} />
      )}
    </>
  );
}

function asQuery({ end, length }: Span): { from: string; to?: string } {
  const to = end ?? Date.now() / 1000;
  const from = new Date((to - length) * 1000).toISOString();
  // While it ends now the address stays the same for a minute, and so does the answer's place in the cache.
  return end === null
    ? { from: `${from.slice(0, 16)}:00Z` }
    : { from, to: new Date(to * 1000).toISOString() };
}

function fileOf(tank: number, ending: string, span: Span): string {
  const query = new URLSearchParams({ ...asQuery(span), size: span.length <= 86_400 ? "raw" : "hour" });
  return `/api/tanks/${tank}/readings.${ending}/?${query.toString()}`;
}

function NothingYet() {
  return (
    <p className="empty">
      Nothing sends this tank&apos;s level yet. Make a source at <Link to="/sources">Sources</Link>: a
      controller that is asked, a unit that sends, a logger&apos;s file; or type a dip below.
    </p>
  );
}
