import { useMutation } from "@tanstack/react-query";
import { useId, useState } from "react";
import Button from "react-bootstrap/Button";

import { api, ask, Refused, wordsOf } from "../api/client";
import type { Entries, Proof } from "./proof";
import type { DraftProofState } from "./useDraftProof";

interface Props {
  proof: Proof;
  kept: number;
  /** Whether all that was typed is on the server, so that nothing is overwritten unseen. */
  ready: boolean;
  before: Entries;
  save: DraftProofState;
}

/** Readings from a CSV file in place of the points; the old ones can be had back. */
export function ImportReadings({ proof, kept, ready, before, save }: Props) {
  const id = useId();
  const [old, setOld] = useState<Entries | null>(null);
  const take = useMutation({
    mutationFn: (text: string) =>
      ask(api.POST("/api/proofs/{id}/import/", { params: { path: { id: proof.id } }, body: { text, kept } })),
    onSuccess: (newer) => {
      setOld(before);
      save.replace(before, newer);
    },
  });
  return (
    <div className="import-readings">
      <label htmlFor={id}>
        Readings from a CSV file{" "}
        <span className="text-quiet">
          with the columns <code>run, direction, applied_ma, read_mm</code>
        </span>
      </label>
      <input
        id={id}
        type="file"
        className="form-control"
        accept=".csv,text/csv,text/plain"
        disabled={!ready || take.isPending}
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) void file.text().then((text) => take.mutate(text.slice(0, 4_000_000)));
          event.target.value = "";
        }}
      />
      {take.isError && (
        <p role="alert" className="problem">
          {take.error instanceof Refused
            ? take.error.problems.map((p) => p.what).join("\n")
            : wordsOf(take.error)}{" "}
          Nothing was changed.
        </p>
      )}
      {old && (
        <p role="status">
          The points were replaced by the file's.{" "}
          <Button
            size="sm"
            variant="outline-secondary"
            onClick={() => {
              save.change(old);
              setOld(null);
            }}
          >
            Undo
          </Button>
        </p>
      )}
    </div>
  );
}
