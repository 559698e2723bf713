import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import Button from "react-bootstrap/Button";

import { keys, refresh } from "../api/keys";
import { api, ask, Refused, wordsOf } from "../api/client";
import { usePerson } from "../people/session";
import type { DraftProofState } from "./useDraftProof";

/** The signature: what is still missing, then the signer's own name. */
export function Signature({ save, tank }: { save: DraftProofState; tank: number }) {
  const id = useId();
  const person = usePerson();
  const queries = useQueryClient();
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const { proof, state } = save;
  const missing = proof.result.missing;
  const wrong = proof.result.problems.length;
  const sign = useMutation({
    mutationFn: () => {
      const { id, kept, basis } = proof;
      if (!basis) throw new Error("This proof is signed already.");
      const body = { signature: name, password, kept, basis };
      return ask(api.POST("/api/proofs/{id}/sign/", { params: { path: { id } }, body }));
    },
    onSettled: () => setPassword(""),
    onSuccess: async () => {
      await refresh(queries, keys.tank(tank), keys.board);
    },
  });
  const ready = missing.length === 0 && wrong === 0 && state === "saved";
  return (
    <fieldset className="signature">
      <legend>Sign</legend>
      {missing.length > 0 && (
        <div>
          Still needed:
          <ul>
            {missing.map((what) => (
              <li key={what}>{what}</li>
            ))}
          </ul>
        </div>
      )}
      {wrong > 0 && <p className="problem">{wrong} entries cannot be read: put them right above.</p>}
      <div className="signature-row">
        <label htmlFor={id}>Your name</label>
        <input
          id={id}
          className="form-control"
          autoComplete="off"
          placeholder={person?.name}
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        <label htmlFor={`${id}-p`}>Your password</label>
        <input
          id={`${id}-p`}
          type="password"
          className="form-control"
          autoComplete="current-password"
          value={password}
          onChange={(event) => setPassword(event.target.value)}
        />
        <Button
          disabled={!ready || !name.trim() || !password || sign.isPending}
          onClick={() => sign.mutate()}
        >
          Sign
        </Button>
      </div>
      <p className="text-quiet">Once signed it never changes; a new proof follows it.</p>
      {sign.isError && (
        <p role="alert" className="problem">
          {sign.error instanceof Refused
            ? sign.error.problems.map((p) => p.what).join("\n")
            : wordsOf(sign.error)}
        </p>
      )}
    </fieldset>
  );
}
