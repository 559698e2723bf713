import { type QueryClient, useQueryClient } from "@tanstack/react-query";
import { useCallback, useMemo } from "react";

import { keys } from "../api/keys";
import { api, ask } from "../api/client";
import { putNewest } from "../frame/cache";
import { type Typed, useTyped } from "../frame/draft";
import { registerSender } from "../frame/outbox";
import { type CachedPages, inPages } from "../frame/pages";
import { useReach } from "../api/reach";
import type { Named } from "../frame/plan";
import type { Entries, Proof } from "./proof";

export interface DraftProofState {
  proof: Proof;
  /** As they are typed. */
  entries: Entries;
  state: "saved" | "saving" | "retrying" | "refused" | "conflict";
  problem: string;
  typed: Typed<Entries>;
  change: (entries: Entries) => void;
  /** A newer copy from the server, after an import into what stood there before. */
  replace: (before: Entries, proof: Proof) => void;
  /** Drop what this device holds of it: the draft is gone. */
  forget: () => void;
}

function keptProof({ entries, kept }: Proof) {
  return { value: entries, revision: kept };
}

/** What the server answers stands in the list too: going away and coming back begins from the newest. */
function renew(queries: QueryClient, newer: Proof): Promise<void> {
  return putNewest<CachedPages<Proof>>(queries, keys.tank(newer.tank, "proofs"), (cached) =>
    inPages(cached, (one) => (one.id === newer.id ? newer : one)),
  );
}

/** Say how a draft's readings go to the server, and what is renewed then. */
export function registerProof(queries: QueryClient): void {
  const path = (id: number) => ({ params: { path: { id } } });
  registerSender<Entries>("proof", {
    read: async (id) => {
      const proof = await ask(api.GET("/api/proofs/{id}/", path(id)));
      await renew(queries, proof);
      return keptProof(proof);
    },
    send: async (id, { asked, base }) => {
      const body = { entries: asked.value, kept: base };
      const proof = await ask(api.PUT("/api/proofs/{id}/", { ...path(id), body }));
      await renew(queries, proof);
      return keptProof(proof);
    },
  });
}

/** A draft whose every keystroke is kept, here at once and then on the server. */
export function useDraftProof(proof: Proof, tank: Named): DraftProofState {
  const queries = useQueryClient();
  const { since } = useReach();
  const kept = useMemo(() => keptProof(proof), [proof]);
  const about = { name: `Proof, ${tank.facts.name}`, page: `/tanks/${tank.id}/prove` };
  const typed = useTyped(`proof:${proof.id}`, kept, about, { byItself: true });
  const { entry, clear, done } = typed;
  const replace = useCallback(
    (before: Entries, newer: Proof) => {
      done(before, keptProof(newer));
      void renew(queries, newer);
    },
    [done, queries],
  );
  const now = typed.kept ?? kept;
  // What the readings come to is shown with them: until then nothing of it is signed.
  const state = typed.conflict
    ? "conflict"
    : !entry && now.revision === kept.revision
      ? "saved"
      : entry?.state === "refused"
        ? "refused"
        : since === null
          ? "saving"
          : "retrying";
  return {
    proof,
    entries: typed.value ?? now.value,
    state,
    problem: entry?.problem ?? "",
    typed,
    change: typed.change,
    replace,
    forget: clear,
  };
}
