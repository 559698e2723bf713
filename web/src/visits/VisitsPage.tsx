import "../frame/lists.css";
import "./visits.css";

import { Link, useSearchParams } from "react-router";

import { api, ask } from "../api/client";
import { keys } from "../api/keys";
import { Opening } from "../frame/Opening";
import { More, usePages } from "../frame/pages";
import { clock, day } from "../frame/times";
import { useTitle } from "../frame/title";
import { usePerson } from "../people/session";
import type { VisitInList } from "./visit";

const STATES = [
  ["", "All"],
  ["open", "Open"],
  ["signed", "Signed"],
  ["dropped", "Dropped"],
] as const;
const WORDS: Record<VisitInList["state"], string> = {
  open: "◐ open",
  signed: "● signed",
  dropped: "– dropped",
};

/** All visits, those opened last first. */
export function VisitsPage() {
  const [params, setParams] = useSearchParams();
  const person = usePerson();
  const state = params.get("state") ?? "";
  const tank = Number(params.get("tank")) || 0;
  const pages = usePages(keys.visitsOf(state, tank), (page) =>
    ask(
      api.GET("/api/visits/", {
        params: {
          query: {
            page,
            ...(state && { state: state as VisitInList["state"] }),
            ...(tank && { tank }),
          },
        },
      }),
    ),
  );
  useTitle("Visits");
  return (
    <main className="page">
      <div className="page-head">
        <h1>Visits</h1>
        <Link to={tank ? `/visits/new?tank=${tank}` : "/tanks"} className="btn btn-primary">
          {tank ? "New visit" : "Choose a tank to visit"}
        </Link>
        {person?.role === "lead" && (
          <Link to="/visits/steps" className="btn btn-outline-secondary">
            Our own steps
          </Link>
        )}
        <Link to="/mail" className="btn btn-outline-secondary">
          Mail
        </Link>
      </div>
      <div className="switch" role="group" aria-label="Which visits">
        {STATES.map(([key, label]) => (
          <button
            key={key}
            type="button"
            aria-pressed={state === key}
            onClick={() =>
              setParams((old) => {
                if (key) old.set("state", key);
                else old.delete("state");
                return old;
              })
            }
          >
            {label}
          </button>
        ))}
      </div>
      {!pages.all && <Opening />}
      {pages.all?.length === 0 && (
        <p className="empty">
          No visit yet. Open a tank, then “Visit it”: its steps are composed from what it is.
        </p>
      )}
      <ul className="visit-list">
        {pages.all?.map((visit) => (
          <li key={visit.id}>
            <Link to={visit.state === "open" ? `/visits/${visit.id}` : `/visits/${visit.id}/record`}>
              <strong>{visit.tank_name}</strong>
              <span className="text-quiet">{visit.site_name}</span>
              <span>
                {visit.job}, visit {visit.number}
              </span>
              <span>{WORDS[visit.state]}</span>
              <span className="text-quiet">
                {visit.planned_at && visit.state === "open"
                  ? `for ${day(visit.planned_at)} ${clock(visit.planned_at)}`
                  : day(visit.opened_at)}
                , {visit.opened_by}
              </span>
            </Link>
          </li>
        ))}
      </ul>
      <More pages={pages} what="visits" />
    </main>
  );
}
