import "../frame/fields.css";
import "./visits.css";

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useId, useMemo } from "react";
import Button from "react-bootstrap/Button";

import { api, ask, type Schema } from "../api/client";
import { keys, refresh } from "../api/keys";
import { Conflict } from "../frame/Conflict";
import { useTyped } from "../frame/draft";
import { Opening } from "../frame/Opening";
import { useTitle } from "../frame/title";
import { ProblemLine } from "../people/fields";

function keptOf({ text, revision }: Schema["OwnSteps"]) {
  return { value: { text }, revision };
}

/** The steps that this shop adds to Rasante's own, as a file that is read and judged. */
export function OwnStepsPage() {
  const id = useId();
  const queries = useQueryClient();
  const { data } = useQuery({ queryKey: keys.ownSteps, queryFn: () => ask(api.GET("/api/own-steps/")) });
  const kept = useMemo(() => data && keptOf(data), [data]);
  const draft = useTyped("own-steps:0", kept, { name: "Our own steps", page: "/visits/steps" });
  useTitle("Our own steps");
  const keep = useMutation({
    mutationFn: (text: string) =>
      ask(api.PUT("/api/own-steps/", { body: { text, revision: draft.entry?.base ?? kept?.revision ?? 0 } })),
    onSuccess: async (answer, sent) => {
      draft.done({ text: sent }, keptOf(answer));
      await refresh(queries, keys.ownSteps);
    },
  });
  if (!data) return <Opening className="page" />;
  const { text } = draft.value ?? draft.kept?.value ?? data;
  return (
    <main className="page">
      <h1>Our own steps</h1>
      <p className="pane-words">
        Steps of this shop, in the form of <code>rasante.procedures/1</code> (docs/formats/procedures.md).
        They join the visits that are opened from now on; what must hold is given by Rasante&apos;s own steps
        alone.
      </p>
      <label htmlFor={id} className="form-label-like">
        The file
      </label>
      <textarea
        id={id}
        className="form-control mono own-steps"
        spellCheck={false}
        value={text}
        onChange={(event) => draft.change({ text: event.target.value })}
      />
      {draft.conflict ? <Conflict typed={draft} /> : <ProblemLine error={keep.error} />}
      <Button disabled={!draft.value || draft.conflict || keep.isPending} onClick={() => keep.mutate(text)}>
        Keep them
      </Button>{" "}
      {draft.value && (
        <Button variant="outline-secondary" onClick={draft.discard}>
          Put away what was typed
        </Button>
      )}
    </main>
  );
}
