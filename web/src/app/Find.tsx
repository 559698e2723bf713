import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { useNavigate } from "react-router";

import { keys } from "../api/keys";
import { api, ask, wordsOf } from "../api/client";
import { STATIONS } from "../board/stations";
import { Dialog } from "../frame/Dialog";

interface Place {
  to: string;
  label: string;
  where: string;
}

interface Props {
  show: boolean;
  /** What was typed before it was there. */
  start: string;
  onHide: () => void;
}

/** Find a tank, a station of it, or a place by a few letters. */
export function Find({ show, start, onHide }: Props) {
  const [text, setText] = useState(start);
  const [chosen, setChosen] = useState(0);
  const [looking, setLooking] = useState(false);
  /** Counts what is entered, typed or left: only the newest is gone to. */
  const turn = useRef(0);
  const queries = useQueryClient();
  const navigate = useNavigate();
  const words = text.trim().toLowerCase().split(/\s+/).filter(Boolean);
  const station = STATIONS.find(({ label }) =>
    words.some((w) => w.length > 2 && label.toLowerCase().startsWith(w)),
  );
  const search = words
    .filter((w) => !(station && w.length > 2 && station.label.toLowerCase().startsWith(w)))
    .join(" ");
  const asked = {
    queryKey: keys.tanksFound("find", search),
    queryFn: () => ask(api.GET("/api/tanks/", { params: { query: { search, page_size: 8 } } })),
  };
  const { data, failureReason, isPlaceholderData } = useQuery({
    ...asked,
    enabled: show,
    placeholderData: (old) => old,
    throwOnError: false,
  });
  const placesOf = (found: typeof data): Place[] =>
    (found?.results ?? []).map((tank) => ({
      to: `/tanks/${tank.id}/${station?.key ?? ""}`,
      label: station ? `${tank.facts.name}: ${station.label}` : tank.facts.name,
      where: tank.site_name,
    }));
  const places = placesOf(data);
  const at = Math.min(chosen, Math.max(places.length - 1, 0));
  /** Whether what is listed answers what is typed now, and not a letter before it. */
  const current = data !== undefined && !isPlaceholderData;

  /** What was entered before is not waited for any more. */
  function turnAway() {
    turn.current += 1;
    setLooking(false);
  }
  function leave() {
    turnAway();
    onHide();
  }
  function go(place: Place | undefined) {
    if (!place) return;
    leave();
    setText("");
    void navigate(place.to);
  }
  /** Goes to what is chosen, or to the first of what answers the words as they are typed. */
  async function enter() {
    if (current || chosen > 0) {
      go(places[at]);
      return;
    }
    const mine = (turn.current += 1);
    setLooking(true);
    // What is refused is told below the words.
    const found = await queries.query(asked).catch(() => undefined);
    if (turn.current !== mine) return;
    setLooking(false);
    go(placesOf(found)[0]);
  }

  return (
    <Dialog title="Find" show={show} onHide={leave}>
      <input
        className="form-control"
        aria-label="Tank, product or site; add a station to go straight there"
        placeholder="Tank, product or site; add “table” or “prove” to go straight there"
        value={text}
        autoFocus
        onChange={(event) => {
          setText(event.target.value);
          turnAway();
          setChosen(0);
        }}
        onKeyDown={(event) => {
          if (event.key === "ArrowDown") setChosen(Math.min(at + 1, places.length - 1));
          else if (event.key === "ArrowUp") setChosen(Math.max(at - 1, 0));
          else if (event.key !== "Enter") return;
          else void enter();
          event.preventDefault();
        }}
      />
      {failureReason && (
        <p role="alert" className="problem">
          {wordsOf(failureReason)}
        </p>
      )}
      {looking && <p className="text-quiet">Looking for it…</p>}
      {failureReason && !current && places.length > 0 && (
        <p className="text-quiet">Found before, by other letters:</p>
      )}
      <ul className="find-list">
        {places.map((place, index) => (
          <li key={place.to}>
            <button
              type="button"
              aria-current={index === at && (current || chosen > 0)}
              onClick={() => go(place)}
            >
              <strong>{place.label}</strong> <span className="text-quiet">{place.where}</span>
            </button>
          </li>
        ))}
      </ul>
      {current && places.length === 0 && <p>No tank goes by these letters: try fewer of them.</p>}
    </Dialog>
  );
}
