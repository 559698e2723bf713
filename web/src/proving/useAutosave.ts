import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";

import { api, ask, Refused, wordsOf } from "../api/client";
import type { Entries, Proof } from "./proof";

interface Local {
  entries: Entries;
  /** The count of keepings of the server's copy that these entries follow. */
  kept: number;
}

export interface Autosave {
  entries: Entries;
  proof: Proof;
  state: "saved" | "saving" | "retrying" | "refused" | "conflict";
  savedAt: number | null;
  problem: string;
  change: (entries: Entries) => void;
  /** Take the server's copy in place of what is on this device. */
  takeTheirs: () => Promise<void>;
  /** Put what is on this device over the server's copy. */
  takeOurs: () => Promise<void>;
  /** A newer copy from the server, after an import or a signature. */
  replace: (proof: Proof) => void;
  /** Drop what this device holds of it: the draft is gone. */
  forget: () => void;
}

const WAIT = 350;
const RETRY = 2000;

function load(key: string): Local | null {
  try {
    return JSON.parse(localStorage.getItem(key) ?? "null") as Local | null;
  } catch {
    return null;
  }
}

/** Whether two sets of entries say the same, in whatever order their keys stand. */
function same(a: unknown, b: unknown): boolean {
  if (typeof a !== "object" || typeof b !== "object" || a === null || b === null) return a === b;
  const keys = new Set([...Object.keys(a), ...Object.keys(b)]);
  return [...keys].every((key) =>
    same((a as Record<string, unknown>)[key] ?? "", (b as Record<string, unknown>)[key] ?? ""),
  );
}

/**
 * Keep a draft on every change: at once on this device, then on the server, again and again until the server has
 * it. What was not yet on the server when the page was left is taken up when it is opened again.
 */
export function useAutosave(initial: Proof): Autosave {
  const key = `rasante:proof:${initial.id}`;
  const [start] = useState(() => {
    const local = load(key);
    const pending = local !== null && !same(local.entries, initial.entries);
    return {
      entries: local?.entries ?? initial.entries,
      pending,
      conflict: pending && local.kept !== initial.kept,
    };
  });
  const [proof, setProof] = useState(initial);
  const [entries, setEntries] = useState(start.entries);
  const [state, setState] = useState<Autosave["state"]>(
    start.conflict ? "conflict" : start.pending ? "saving" : "saved",
  );
  const [savedAt, setSavedAt] = useState<number | null>(null);
  const [problem, setProblem] = useState("");
  const work = useRef({ kept: initial.kept, next: null as Entries | null, busy: false, gone: false });

  const queries = useQueryClient();
  // What the server answers stands in the list too: going away and coming back begins from the newest.
  const renew = useCallback(
    (newer: Proof) => {
      setProof(newer);
      queries.setQueryData<Proof[]>(["tank", newer.tank, "proofs"], (all) =>
        all?.map((one) => (one.id === newer.id ? newer : one)),
      );
    },
    [queries],
  );

  const fetchTheirs = useCallback(
    () => ask(api.GET("/api/proofs/{id}/", { params: { path: { id: initial.id } } })),
    [initial.id],
  );

  const run = useCallback(async () => {
    const w = work.current;
    if (w.busy) return;
    w.busy = true;
    while (w.next && !w.gone) {
      const sent = w.next;
      w.next = null;
      try {
        const saved = await ask(
          api.PUT("/api/proofs/{id}/", {
            params: { path: { id: initial.id } },
            body: { entries: sent, kept: w.kept },
          }),
        );
        w.kept = saved.kept;
        renew(saved);
        if (w.next) localStorage.setItem(key, JSON.stringify({ entries: w.next, kept: w.kept }));
        else {
          localStorage.removeItem(key);
          setState("saved");
          setSavedAt(Date.now());
          setProblem("");
        }
      } catch (error) {
        if (error instanceof Refused && error.status < 500) {
          if (error.status === 409) {
            // The server may have kept this very copy and died before it could say so.
            const theirs = await fetchTheirs().catch(() => null);
            if (theirs && same(theirs.entries, sent)) {
              w.kept = theirs.kept;
              w.next ??= sent;
              continue;
            }
          }
          setState(error.status === 409 ? "conflict" : "refused");
          setProblem(wordsOf(error));
          break;
        }
        w.next ??= sent;
        setState("retrying");
        await new Promise((resolve) => setTimeout(resolve, RETRY));
      }
    }
    w.busy = false;
  }, [fetchTheirs, initial.id, key, renew]);

  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const change = useCallback(
    (next: Entries) => {
      setEntries(next);
      work.current.next = next;
      localStorage.setItem(key, JSON.stringify({ entries: next, kept: work.current.kept }));
      setState((old) => (old === "retrying" || old === "conflict" ? old : "saving"));
      clearTimeout(timer.current);
      timer.current = setTimeout(() => void run(), WAIT);
    },
    [key, run],
  );

  useEffect(() => {
    const w = work.current;
    w.gone = false;
    if (start.pending && !start.conflict) {
      w.next = start.entries;
      void run();
    }
    return () => {
      w.gone = true;
      clearTimeout(timer.current);
    };
  }, [run, start]);

  const replace = useCallback(
    (newer: Proof) => {
      localStorage.removeItem(key);
      work.current.kept = newer.kept;
      work.current.next = null;
      renew(newer);
      setEntries(newer.entries);
      setState("saved");
      setSavedAt(Date.now());
      setProblem("");
    },
    [key, renew],
  );
  const forget = useCallback(() => localStorage.removeItem(key), [key]);
  const takeTheirs = useCallback(async () => replace(await fetchTheirs()), [fetchTheirs, replace]);
  const takeOurs = useCallback(async () => {
    work.current.kept = (await fetchTheirs()).kept;
    work.current.next = entries;
    setState("saving");
    setProblem("");
    await run();
  }, [entries, fetchTheirs, run]);

  return { entries, proof, state, savedAt, problem, change, takeTheirs, takeOurs, replace, forget };
}
