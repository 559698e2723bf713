import "./prove.css";

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link } from "react-router";

import { keys, refresh } from "../api/keys";
import { api, ask, Refused, wordsOf } from "../api/client";
import { Cautions } from "../frame/Cautions";
import { clock, day } from "../frame/times";
import { More, type Pages } from "../frame/pages";
import { useUnits } from "../frame/units";
import type { Tank } from "../tanks/tank";
import { useLine } from "../line/line";
import { DraftProof } from "./DraftProof";
import { type Proof, useProofs } from "./proof";
import { SignedProof } from "./SignedProof";
import { Opening } from "../frame/Opening";

/** Station Prove: five points up and down, as found and as left, one dip, and a signature. */
export function ProveStation({ tank }: { tank: Tank }) {
  const pages = useProofs(tank.id);
  const proofs = pages.all;
  const { curve } = useLine();
  const [open, setOpen] = useState<number | null>(null);
  const begin = useBegin(tank.id, setOpen);
  if (!proofs) return <Opening />;
  const shown = proofs.find((proof) => proof.id === open) ?? proofs[0];
  return (
    <section aria-label="Prove" className="prove">
      <Cautions list={tank.facts.cautions} station="prove" />
      {curve.stations.length === 0 && !shown ? (
        <p>
          No chain is kept of this tank yet: look at it at <Link to={`/tanks/${tank.id}/scale`}>Scale</Link>{" "}
          and keep it, then prove it here.
        </p>
      ) : (
        <ProofList pages={pages} proofs={proofs} shown={shown} begin={begin} onOpen={setOpen} />
      )}
      {shown?.state === "draft" && !begin.isPending && (
        <DraftProof key={shown.id} initial={shown} tank={tank} />
      )}
      {shown?.state === "signed" && <SignedProof key={shown.id} proof={shown} />}
    </section>
  );
}

interface ListProps {
  pages: Pages<Proof>;
  proofs: Proof[];
  shown: Proof | undefined;
  begin: ReturnType<typeof useBegin>;
  onOpen: (id: number) => void;
}

/** Begins another proof; meanwhile nothing is typed into the one that was open. */
function useBegin(tank: number, onOpen: (id: number) => void) {
  const queries = useQueryClient();
  const { system } = useUnits();
  return useMutation({
    mutationFn: () =>
      ask(api.POST("/api/tanks/{id}/proofs/", { params: { path: { id: tank } }, body: { system } })),
    onSuccess: async (proof) => {
      await refresh(queries, keys.tank(tank), keys.board);
      onOpen(proof.id);
    },
  });
}

function ProofList({ pages, proofs, shown, begin, onOpen }: ListProps) {
  return (
    <div className="proof-list">
      <ul aria-label="Proofs">
        {proofs.map((proof) => (
          <li key={proof.id}>
            <button type="button" aria-current={proof.id === shown?.id} onClick={() => onOpen(proof.id)}>
              {proof.state === "signed" ? (
                <>
                  {day(proof.signed_at ?? proof.made_at)}, {proof.result.says.toLowerCase()}
                </>
              ) : (
                <>
                  Draft of {day(proof.made_at)}, {clock(proof.made_at)}
                </>
              )}
            </button>
          </li>
        ))}
      </ul>
      <More pages={pages} what="proofs" />
      <Button
        variant={proofs.length ? "outline-secondary" : "primary"}
        onClick={() => begin.mutate()}
        disabled={begin.isPending}
      >
        {begin.isPending ? "Beginning…" : "Begin a proof"}
      </Button>
      {begin.isError && (
        <p role="alert" className="problem">
          {begin.error instanceof Refused ? begin.error.problems[0]?.what : wordsOf(begin.error)}
        </p>
      )}
    </div>
  );
}
