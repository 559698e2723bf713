import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import Button from "react-bootstrap/Button";

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
    queryKey: ["mark-sets"],
    queryFn: () => ask(api.GET("/api/mark-sets/")),
  });
  const renew = () => queries.invalidateQueries({ queryKey: ["mark-sets"] });
  const save = useMutation({
    mutationFn: () => ask(api.POST("/api/mark-sets/", { body: { name, entries: form.entries } })),
    onSuccess: async () => {
      setName("");
      await renew();
    },
  });
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
        <Button variant="outline-secondary" disabled={save.isPending} onClick={() => save.mutate()}>
          Save as a set
        </Button>
      </div>
      {save.error && (
        <p role="alert" className="problem">
          {wordsOf(save.error)}
        </p>
      )}
    </>
  );
}
