import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";

import { keys, refresh } from "../api/keys";
import { api, ask, type Schema, wordsOf } from "../api/client";
import { day } from "../frame/times";
import type { Tank } from "../tanks/tank";

interface Props {
  tank: Tank;
  rescaling: Schema["Rescaling"];
}

/** The check list of a rescaling that is under way. */
export function RescaleList({ tank, rescaling }: Props) {
  const queries = useQueryClient();
  // What was just ticked shows so at once; the list follows.
  const [doing, setDoing] = useState<{ index: number; done: boolean } | null>(null);
  const [asking, setAsking] = useState(false);
  const path = { params: { path: { id: rescaling.id } } };
  const renew = async () => {
    await refresh(queries, keys.tank(tank.id), keys.board);
  };
  const tick = useMutation({
    mutationFn: (body: { index: number; done: boolean }) =>
      ask(api.POST("/api/rescalings/{id}/tick/", { ...path, body: { ...body, kept: rescaling.kept } })),
    onSettled: async () => {
      await renew();
      setDoing(null);
    },
  });
  const close = useMutation({
    mutationFn: () =>
      ask(api.POST("/api/rescalings/{id}/close/", { ...path, body: { kept: rescaling.kept } })),
    onSuccess: renew,
  });
  const drop = useMutation({
    mutationFn: () =>
      ask(api.POST("/api/rescalings/{id}/drop/", { ...path, body: { kept: rescaling.kept } })),
    onSuccess: renew,
  });
  const left = rescaling.tasks.filter((task) => !task.done).length;
  const error = tick.error ?? close.error ?? drop.error;
  return (
    <>
      <h2>
        {rescaling.why}: {left ? `${left} of ${rescaling.tasks.length} to do` : "all is ticked"}
      </h2>
      <p className="text-quiet pane-words">
        Begun {day(rescaling.made_at)} by {rescaling.made_by}. Until all is done the screen shows{" "}
        <span className="mono">{rescaling.forgotten}</span> for{" "}
        <span className="mono">{rescaling.right}</span>: put control in manual and tell the operator first.
      </p>
      <ol className="rescale-list">
        {rescaling.tasks.map((task, index) => (
          <li key={task.path}>
            <label className="tick">
              <input
                type="checkbox"
                checked={doing?.index === index ? doing.done : task.done}
                disabled={doing !== null}
                onChange={(event) => {
                  const done = event.target.checked;
                  setDoing({ index, done });
                  tick.mutate({ index, done });
                }}
              />
              <span>
                {task.hop}: {task.label.toLowerCase()}{" "}
                <b className="mono">
                  {task.old} → {task.new}
                </b>
                {!task.chosen && (
                  <span className="form-says">
                    Forgotten, the screen shows {task.forgotten} at that level.
                  </span>
                )}
              </span>
            </label>
          </li>
        ))}
      </ol>
      <p>
        <Button disabled={left > 0 || close.isPending} onClick={() => close.mutate()}>
          Close it, and keep the chain so
        </Button>{" "}
        <Button variant="outline-secondary" onClick={() => setAsking(true)}>
          Drop it: nothing was changed
        </Button>
      </p>
      {asking && (
        <p role="alertdialog" aria-label="Drop it?">
          {rescaling.made_by} began this on {day(rescaling.made_at)}, with {rescaling.tasks.length - left} of{" "}
          {rescaling.tasks.length} lines ticked. Settings that were typed into devices stay as they are; your
          name is noted, and it can be taken up again.{" "}
          <Button variant="outline-danger" disabled={drop.isPending} onClick={() => drop.mutate()}>
            Drop this list
          </Button>{" "}
          <Button variant="outline-secondary" onClick={() => setAsking(false)}>
            Leave it
          </Button>
        </p>
      )}
      {error && (
        <p role="alert" className="problem">
          {wordsOf(error)}
        </p>
      )}
    </>
  );
}
