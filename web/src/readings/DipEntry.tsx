import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useId } from "react";
import Button from "react-bootstrap/Button";

import { api, ask, Refused, wordsOf } from "../api/client";
import { keys, refresh } from "../api/keys";
import { useDraft } from "../frame/draft";
import { SYSTEM_NAMES, useUnits } from "../frame/units";
import type { Tank } from "../tanks/tank";

interface Typed {
  what: "level" | "shown";
  text: string;
  at: string;
}

const BLANK: Typed = { what: "level", text: "", at: "" };

/** A dip, or what the display shows, typed beside the readings that arrive. */
export function DipEntry({ tank }: { tank: Tank }) {
  const id = useId();
  const { system, unit } = useUnits();
  const queries = useQueryClient();
  const draft = useDraft<Typed>(`dip:${tank.id}`, {
    name: `Dip of ${tank.facts.name}`,
    page: `/tanks/${tank.id}/watch`,
  });
  const typed = draft.value ?? BLANK;
  const { what, text, at } = typed;
  const keep = useMutation({
    mutationFn: ({ what, text, at }: Typed) =>
      ask(
        api.POST("/api/tanks/{id}/typed/", {
          params: { path: { id: tank.id } },
          body: { what, text, system: draft.system, at: at ? new Date(at).toISOString() : "" },
        }),
      ),
    onSuccess: async (_, sent) => {
      draft.used(sent);
      await refresh(queries, keys.tank(tank.id));
    },
  });
  const refused = keep.error instanceof Refused ? keep.error : null;
  return (
    <section aria-label="By hand">
      <h2>By hand</h2>
      <form
        className="dip-entry"
        onSubmit={(submit) => {
          submit.preventDefault();
          keep.mutate(typed);
        }}
      >
        <div className="switch" role="group" aria-label="What was read">
          {(["level", "shown"] as const).map((key) => (
            <button
              key={key}
              type="button"
              aria-pressed={what === key}
              onClick={() => draft.change({ ...typed, what: key })}
            >
              {key === "level" ? "Dip" : "Display"}
            </button>
          ))}
        </div>
        <div className="form-field">
          <label htmlFor={`${id}-text`}>
            {what === "level" ? `Innage, ${unit("length").name}` : "What it shows"}
          </label>
          <input
            id={`${id}-text`}
            className="form-control mono"
            autoComplete="off"
            value={text}
            aria-invalid={refused?.at("text") ? true : undefined}
            onChange={(change) => draft.change({ ...typed, text: change.target.value })}
          />
        </div>
        <div className="form-field">
          <label htmlFor={`${id}-at`}>When (now, if empty)</label>
          <input
            id={`${id}-at`}
            className="form-control mono"
            type="datetime-local"
            value={at}
            onChange={(change) => draft.change({ ...typed, at: change.target.value })}
          />
        </div>
        <Button type="submit" disabled={keep.isPending || !text.trim()}>
          Keep it
        </Button>
      </form>
      {draft.value && draft.system !== system && (
        <p className="text-quiet">Bare numbers in it are {SYSTEM_NAMES[draft.system]} units.</p>
      )}
      {keep.isError && (
        <p role="alert" className="problem">
          {refused ? refused.problems.map((one) => one.what).join("\n") : wordsOf(keep.error)}
        </p>
      )}
      {keep.isSuccess && !text && <p role="status">Kept: it stands in the chart.</p>}
    </section>
  );
}
