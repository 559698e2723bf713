import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import Modal from "react-bootstrap/Modal";
import { useNavigate } from "react-router";

import { keys } from "../api/keys";
import { api, ask } from "../api/client";
import { STATIONS } from "../board/stations";

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
  const navigate = useNavigate();
  const words = text.trim().toLowerCase().split(/\s+/).filter(Boolean);
  const station = STATIONS.find(({ label }) =>
    words.some((w) => w.length > 2 && label.toLowerCase().startsWith(w)),
  );
  const search = words
    .filter((w) => !(station && w.length > 2 && station.label.toLowerCase().startsWith(w)))
    .join(" ");
  const { data } = useQuery({
    queryKey: keys.tanksFound("find", search),
    queryFn: () => ask(api.GET("/api/tanks/", { params: { query: { search, page_size: 8 } } })),
    enabled: show,
    placeholderData: (old) => old,
    throwOnError: false,
  });
  const places: Place[] = (data?.results ?? []).map((tank) => ({
    to: `/tanks/${tank.id}/${station?.key ?? ""}`,
    label: station ? `${tank.facts.name}: ${station.label}` : tank.facts.name,
    where: tank.site_name,
  }));
  const at = Math.min(chosen, Math.max(places.length - 1, 0));

  function go(place: Place | undefined) {
    if (!place) return;
    onHide();
    setText("");
    void navigate(place.to);
  }

  return (
    <Modal show={show} onHide={onHide} aria-labelledby="find-title" className="find">
      <Modal.Header closeButton>
        <Modal.Title id="find-title" as="h2">
          Find
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <input
          className="form-control"
          aria-label="Tank, product or site; add a station to go straight there"
          placeholder="Tank, product or site; add “table” or “prove” to go straight there"
          value={text}
          autoFocus
          onChange={(event) => {
            setText(event.target.value);
            setChosen(0);
          }}
          onKeyDown={(event) => {
            if (event.key === "ArrowDown") setChosen(Math.min(at + 1, places.length - 1));
            else if (event.key === "ArrowUp") setChosen(Math.max(at - 1, 0));
            else if (event.key === "Enter") go(places[at]);
            else return;
            event.preventDefault();
          }}
        />
        <ul className="find-list">
          {places.map((place, index) => (
            <li key={place.to}>
              <button type="button" aria-current={index === at} onClick={() => go(place)}>
                <strong>{place.label}</strong> <span className="text-quiet">{place.where}</span>
              </button>
            </li>
          ))}
        </ul>
        {data && places.length === 0 && <p>No tank goes by these letters: try fewer of them.</p>}
      </Modal.Body>
    </Modal>
  );
}
