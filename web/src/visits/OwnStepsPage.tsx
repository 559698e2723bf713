import "../frame/fields.css";
import "./visits.css";

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useId } from "react";
import Button from "react-bootstrap/Button";

import { api, ask } from "../api/client";
import { keys, refresh } from "../api/keys";
import { useDraft } from "../frame/draft";
import { Opening } from "../frame/Opening";
import { useTitle } from "../frame/title";
import { ProblemLine } from "../people/fields";

interface Typed {
  text: string;
  revision: number;
}

/** The steps that this shop adds to Rasante's own, as a file that is read and judged. */
export function OwnStepsPage() {
  const id = useId();
  const queries = useQueryClient();
  const { data } = useQuery({ queryKey: keys.ownSteps, queryFn: () => ask(api.GET("/api/own-steps/")) });
  const draft = useDraft<Typed>("own-steps:0", { name: "Our own steps", page: "/visits/steps" });
  useTitle("Our own steps");
  const keep = useMutation({
    mutationFn: (typed: Typed) => ask(api.PUT("/api/own-steps/", { body: typed })),
    onSuccess: async () => {
      draft.clear();
      await refresh(queries, keys.ownSteps);
    },
  });
  if (!data) return <Opening className="page" />;
  const typed = draft.value ?? { text: data.text, revision: data.revision };
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
        value={typed.text}
        onChange={(event) => draft.change({ ...typed, text: event.target.value })}
      />
      <ProblemLine error={keep.error} />
      <Button disabled={!draft.value || keep.isPending} onClick={() => keep.mutate(typed)}>
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
