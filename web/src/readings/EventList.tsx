import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import Button from "react-bootstrap/Button";

import { api, ask, wordsOf } from "../api/client";
import { keys, refresh } from "../api/keys";
import { useUnits } from "../frame/units";
import { when } from "./Moves";
import type { RecordedEvent } from "./now";

const MOST = 10;

/** What the readings told of: open first; acknowledged by a person with a word, closed by themselves. */
export function EventList({ list, tank }: { list: RecordedEvent[]; tank: number }) {
  const sorted = [...list].sort(
    (a, b) =>
      Number(b.closed_at === null) - Number(a.closed_at === null) || b.opened_at.localeCompare(a.opened_at),
  );
  return (
    <section aria-label="Events">
      <h2>Events</h2>
      {sorted.length === 0 && <p className="empty">Nothing to tell of.</p>}
      <ul className="events">
        {sorted.slice(0, MOST).map((event) => (
          <EventRow key={event.id} event={event} tank={tank} />
        ))}
      </ul>
    </section>
  );
}

function EventRow({ event, tank }: { event: RecordedEvent; tank: number }) {
  const { system } = useUnits();
  const queries = useQueryClient();
  const id = useId();
  const [word, setWord] = useState("");
  const open = event.closed_at === null;
  const keep = useMutation({
    mutationFn: () =>
      ask(
        api.POST("/api/events/{id}/acknowledge/", {
          params: { path: { id: event.id }, query: { system } },
          body: { word },
        }),
      ),
    onSuccess: () => refresh(queries, keys.tank(tank), keys.board, keys.events),
  });
  return (
    <li className={open ? (event.pressing ? "open pressing" : "open") : "over"}>
      <span aria-hidden="true">{open ? (event.pressing ? "▲" : "◐") : "○"}</span>{" "}
      <strong>{event.words}</strong>
      <span className="form-says">
        {when(event.opened_at)}
        {event.closed_at ? `, over ${when(event.closed_at)}` : ", still so"}
        {event.acknowledged_at && `; ${event.acknowledged_by}: ${event.word}`}
      </span>
      {event.acknowledged_at === null && event.pressing && (
        <form
          className="acknowledge"
          onSubmit={(submit) => {
            submit.preventDefault();
            keep.mutate();
          }}
        >
          <label className="visually-hidden" htmlFor={id}>
            A word on it
          </label>
          <input
            id={id}
            className="form-control"
            placeholder="a word on it"
            value={word}
            onChange={(change) => setWord(change.target.value)}
          />
          <Button type="submit" size="sm" variant="outline-secondary" disabled={keep.isPending}>
            Acknowledge
          </Button>
        </form>
      )}
      {keep.isError && <p className="problem">{wordsOf(keep.error)}</p>}
    </li>
  );
}
