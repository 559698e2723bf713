import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import Button from "react-bootstrap/Button";

import { keys, refresh } from "../api/keys";
import { api, ask, wordsOf } from "../api/client";
import { ConfirmDelete } from "../people/ConfirmDelete";
import { day } from "../frame/times";
import type { FormState } from "../frame/FormField";

/** Sets of marks, saved under a name and applied to other tanks of the kind. */
export function MarkSets({ form }: { form: FormState }) {
  const id = useId();
  const queries = useQueryClient();
  const [name, setName] = useState("");
  const { data: sets = [] } = useQuery({
    queryKey: keys.markSets,
    queryFn: () => ask(api.GET("/api/mark-sets/")),
  });
  const renew = () => refresh(queries, keys.markSets);
  const save = useMutation({
    mutationFn: (revision: number) =>
      ask(api.POST("/api/mark-sets/", { body: { name, entries: form.entries, revision } })),
    onSuccess: async () => {
      setName("");
      await renew();
    },
    // Another may have saved one of the name meanwhile: it is shown before it is saved over.
    onError: renew,
  });
  const undo = useMutation({
    mutationFn: ({ id: of, revision }: { id: number; revision: number }) =>
      ask(api.POST("/api/mark-sets/{id}/undo/", { params: { path: { id: of } }, body: { revision } })),
    onSuccess: renew,
  });
  const taken = sets.find((set) => set.name === name.trim());
  const apply = (entries: Record<string, string>) =>
    form.change({
      ...Object.fromEntries(Object.keys(form.entries).map((path) => [path, ""])),
      ...entries,
    });
  return (
    <>
      <h2>Saved sets</h2>
      {sets.length === 0 && <p className="empty">None yet: save these marks for other tanks of the kind.</p>}
      <ul className="records">
        {sets.map((set) => (
          <li key={set.id}>
            <b>{set.name}</b>{" "}
            <span className="text-quiet">
              {Object.keys(set.entries).filter((path) => path.startsWith("marks.")).length} marks,{" "}
              {day(set.made_at)}, {set.made_by}
            </span>{" "}
            <Button size="sm" variant="outline-secondary" onClick={() => apply(set.entries)}>
              Apply {set.name}
            </Button>{" "}
            {set.revision > 1 && (
              <Button
                size="sm"
                variant="outline-secondary"
                disabled={undo.isPending}
                onClick={() => undo.mutate(set)}
              >
                Back to what was saved over
              </Button>
            )}{" "}
            <ConfirmDelete
              label={`Delete ${set.name}`}
              name={set.name}
              remove={() => ask(api.DELETE("/api/mark-sets/{id}/", { params: { path: { id: set.id } } }))}
              onDone={renew}
            >
              The set goes; tanks that it was applied to keep their marks.
            </ConfirmDelete>
          </li>
        ))}
      </ul>
      <div className="save-set">
        <label htmlFor={id}>Save these marks as</label>
        <input
          id={id}
          className="form-control"
          maxLength={80}
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        <Button
          variant={taken ? "outline-danger" : "outline-secondary"}
          disabled={save.isPending}
          onClick={() => save.mutate(taken?.revision ?? 0)}
        >
          {taken ? `Save over ${taken.name}` : "Save as a set"}
        </Button>
      </div>
      {taken && (
        <p className="problem">
          {taken.name} was saved by {taken.made_by} on {day(taken.made_at)}: another name keeps both.
        </p>
      )}
      {undo.error && <p className="problem">{wordsOf(undo.error)}</p>}
      {save.error && (
        <p role="alert" className="problem">
          {wordsOf(save.error)}
        </p>
      )}
    </>
  );
}
