import "../drawing/drawing.css";
import "./board.css";

import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link } from "react-router";

import { keys } from "../api/keys";
import { api, ask, type Schema, wordsOf } from "../api/client";
import { extent } from "../drawing/geometry";
import { SmallSection } from "../drawing/SmallSection";
import { STATE_SHAPES, STATIONS } from "./stations";
import { Pager } from "../frame/pages";
import { clock, day } from "../frame/times";
import { places } from "../frame/numbers";
import { useUnits } from "../frame/units";
import { spanWords } from "../readings/now";
import { useTold } from "../frame/asking";
import { Opening } from "../frame/Opening";

type Card = Schema["Card"];

/** How often what needs a person, and the levels, are asked for anew [ms]. */
const AGAIN = 10_000;

/** The board: what needs a person now, and every tank as a small section to one scale. */
export function BoardPage() {
  const [page, setPage] = useState(1);
  const [callsPage, setCallsPage] = useState(1);
  const query = useQuery({
    queryKey: keys.onBoard(page, callsPage),
    queryFn: () => ask(api.GET("/api/board/", { params: { query: { page, calls_page: callsPage } } })),
    placeholderData: (old) => old,
    refetchInterval: AGAIN,
    throwOnError: false,
  });
  useEffect(() => {
    document.title = "Board · Rasante";
  }, []);
  const { data } = query;
  const told = useTold(query);
  if (!data) return told ? <p className="page problem">{wordsOf(told)}</p> : <Opening className="page" />;
  if (data.tank_count === 0)
    return (
      <main className="page">
        <h1>Board</h1>
        <p>
          There is no tank yet. <Link to="/tanks/new">Survey the first one</Link>, or import a tank file at{" "}
          <Link to="/tanks">Tanks</Link>.
        </p>
      </main>
    );
  const widest = Math.max(
    ...data.tanks.map(({ facts }) => {
      const reach = extent(facts.drawing.along_mm);
      return Math.max(reach.right - reach.left, (reach.top - reach.bottom) * 1.7);
    }),
  );
  return (
    <main className="board">
      <section aria-labelledby="needs" className="needs">
        <h1 id="needs">Needs a person</h1>
        {told && <p className="problem">{wordsOf(told)}</p>}
        {data.attention.length === 0 && <p>Nothing waits: every tank is surveyed, scaled and proven.</p>}
        <ul>
          {data.attention.map((entry) => (
            <li key={`${entry.tank} ${entry.station}`} className={entry.state.replace(" ", "-")}>
              <Link to={`/tanks/${entry.tank}/${entry.station}`}>
                <span className="needs-mark" aria-hidden="true">
                  {STATE_SHAPES[entry.state]}
                </span>{" "}
                <strong>{entry.name}</strong>, {STATIONS.find(({ key }) => key === entry.station)?.label}
              </Link>
              <span className="needs-words">{entry.words}</span>
            </li>
          ))}
        </ul>
        <OpenVisits />
        {data.backup && (
          <p className={data.backup.pressing ? "save-state waiting" : "save-state"}>
            {data.backup.age_days === null
              ? "No backup was made yet: see docs/running.md, or leave rasante serve running over a night."
              : `The last backup is ${ageWords(data.backup.age_days)} old.`}
          </p>
        )}
        <Pager
          page={callsPage}
          pages={Math.ceil(data.attention_count / data.calls_a_page)}
          label="Pages of what needs a person"
          onPage={setCallsPage}
        />
      </section>
      <section aria-labelledby="sections" className="cards">
        <h2 id="sections">Tanks, to one scale</h2>
        <ul>
          {data.tanks.map((card) => (
            <TankCard key={card.id} card={card} scaleMm={widest * 1.04} />
          ))}
        </ul>
        <Pager
          page={page}
          pages={Math.ceil(data.tank_count / data.tanks_a_page)}
          label="Pages of tanks"
          onPage={setPage}
        />
      </section>
    </main>
  );
}

/** Visits that are under way, each to go on with. */
function OpenVisits() {
  const { data } = useQuery({
    queryKey: keys.visitsOf("board"),
    queryFn: () => ask(api.GET("/api/visits/", { params: { query: { state: "open", page_size: 8 } } })),
    throwOnError: false,
  });
  if (!data || data.count === 0) return null;
  return (
    <section aria-labelledby="open-visits">
      <h2 id="open-visits">Visits under way</h2>
      <ul>
        {data.results.map((visit) => (
          <li key={visit.id}>
            <Link to={`/visits/${visit.id}`}>
              <span className="needs-mark" aria-hidden="true">
                ◐
              </span>{" "}
              <strong>{visit.tank_name}</strong>, {visit.job}
            </Link>
            <span className="needs-words">
              {visit.opened_by},{" "}
              {visit.planned_at
                ? `for ${day(visit.planned_at)} ${clock(visit.planned_at)}`
                : `since ${clock(visit.opened_at)}`}
            </span>
          </li>
        ))}
      </ul>
      {data.count > data.results.length && <Link to="/visits?state=open">All {data.count}</Link>}
    </section>
  );
}

function TankCard({ card, scaleMm }: { card: Card; scaleMm: number }) {
  const units = useUnits();
  const { facts, level } = card;
  const volume =
    level && `${places(units.toShown("volume", level.volume_l), 0)} ${units.unit("volume").name}`;
  const words = level ? `${volume}, ${level.volume_pct.toFixed(0)} % full, ${ageOf(level)}` : "no dip yet";
  return (
    <li className="card-tank">
      <Link to={`/tanks/${card.id}/${level?.read ? "watch" : "survey"}`}>
        <SmallSection
          drawing={facts.drawing}
          pattern={facts.pattern}
          levelMm={level?.innage_mm ?? null}
          scaleMm={scaleMm}
          width={260}
          height={156}
          label={`${facts.name}, ${words}`}
        />
        <strong>{facts.name}</strong>
      </Link>
      <span className="card-site">
        {card.site_name} · {facts.product || "product not stated"}
      </span>
      <span className="card-level">{words}</span>
      <ul className="card-stations" aria-label="Stations">
        {card.stations.map((station) => (
          <li
            key={station.key}
            className={station.state.replace(" ", "-")}
            title={`${station.label}: ${station.words}`}
          >
            <span aria-hidden="true">{STATE_SHAPES[station.state]}</span> {station.label}
            <span className="visually-hidden">: {station.state}</span>
          </li>
        ))}
      </ul>
    </li>
  );
}

/** How old a level is, and whether it was dipped or read. */
function ageOf(level: NonNullable<Card["level"]>): string {
  if (level.read) {
    const span = spanWords(level.age_days * 86_400);
    return level.live ? `${span} ago` : `${span} old: not live`;
  }
  return `dipped ${level.age_days < 1 ? "today" : `${Math.floor(level.age_days)} days ago`}`;
}

function ageWords(days: number): string {
  const hours = Math.floor(days * 24);
  if (hours < 1) return "less than an hour";
  return hours < 48 ? `${hours} h` : `${Math.floor(days)} days`;
}
