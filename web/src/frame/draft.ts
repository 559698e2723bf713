import { useCallback, useEffect, useState } from "react";

import { alike, type Difference, merged, same } from "./merge";
import {
  dropEntry,
  type Entry,
  entryAt,
  type Kept,
  putEntry,
  putKept,
  show,
  shownSince,
  useAnswered,
  useEntry,
  useOutbox,
} from "./outbox";
import { type System, useUnits } from "./units";

/** How a draft is called, and the page on which it is typed. */
export interface About {
  name: string;
  page: string;
}

export interface Draft<T> {
  /** What was typed here and is not kept by the server, if anything. */
  value: T | null;
  /** What a bare number in it means: the units that it was typed in, else those of the screen. */
  system: System;
  /** When it was last changed. */
  at: number | null;
  change: (value: T) => void;
  /** Forget it. */
  clear: () => void;
  /** What was sent of it has served: it goes, unless something else was typed since. */
  used: (sent: T) => void;
  /** Put it away, to be had back while the page is open. */
  discard: () => void;
  /** Have back what was put away, if anything was. */
  undo: (() => void) | null;
  /** Put what means the same in the units of the screen, and go on in those. */
  adopt: (value: T) => void;
}

interface Start<T> {
  /** What is kept now; nothing is begun from it before it is known. */
  kept: Kept<T>;
  about: About;
}

/** How long after the last keystroke something that is kept by itself is sent [ms]. */
const SETTLE = 350;

function begun<T>(what: string, person: string, system: System, { kept, about }: Start<T>): Entry<T> {
  const { value, revision } = kept;
  return {
    ...about,
    what,
    person,
    system,
    base: revision,
    from: value,
    value,
    at: Date.now(),
    asked: null,
    state: "typed",
    problem: "",
  };
}

const NOTHING = { value: null, revision: 0 };

/** Keep what is being typed on this device, on every change, until it is cleared. */
export function useDraft<T>(what: string, about: About): Draft<T> {
  return useTyped<T | null>(what, NOTHING, about);
}

export interface Typed<T> extends Draft<T> {
  /** What is kept now: never less than the server has answered here already. */
  kept: Kept<T> | undefined;
  entry: Entry<T> | undefined;
  /** Ask for it to be kept: as it stands now, or as given. */
  keep: (value?: T) => void;
  /** The server has kept what was sent, and answered it: what was typed since stays. */
  done: (sent: T, kept: Kept<T>) => void;
  /** Whether it is on its way, or waits to be. */
  waiting: boolean;
  sending: boolean;
  /** Whether somebody has kept a newer one since the typing began. */
  conflict: boolean;
  /** Go on from the newer one, with what was typed here at the places that were chosen. */
  settle: (chosen: Difference[]) => void;
}

/**
 * What is kept, as the page has it or, where that is not shown yet, as the server has just answered: the typing goes on
 * from that at once.
 */
function useNewest<T>(what: string, shown: Kept<T> | undefined): Kept<T> | undefined {
  const answered = useAnswered<T>(what);
  const revision = shown?.revision;
  useEffect(() => show(what), [what]);
  useEffect(() => {
    if (revision !== undefined) shownSince(what, revision);
  }, [what, revision, answered]);
  return shown && answered && answered.revision > shown.revision ? answered : shown;
}

/** What is being typed of something that the server keeps: with the revision that it follows. */
export function useTyped<T>(
  what: string,
  shown: Kept<T> | undefined,
  about: About,
  { byItself = false }: { byItself?: boolean } = {},
): Typed<T> {
  const units = useUnits();
  const { person, sending } = useOutbox();
  const entry = useEntry<T>(what);
  const kept = useNewest(what, shown);
  const [away, setAway] = useState<{ what: string; entry: Entry<T> } | null>(null);
  const name = about.name;
  const page = about.page;
  const change = useCallback(
    (value: T) => {
      if (!kept || person === null) return;
      const old = entryAt<T>(what) ?? begun(what, person, units.system, { kept, about: { name, page } });
      setAway(null);
      // Typed back to what is kept: nothing is left to be kept. A row that is still empty is something typed.
      if (alike(value, kept.value) && old.state !== "waiting") dropEntry(what);
      else {
        const asked = byItself ? { value, at: Date.now() + SETTLE } : old.asked;
        const state = old.state === "conflict" ? "conflict" : asked ? "waiting" : "typed";
        putEntry({ ...old, name, page, value, at: Date.now(), asked, state, problem: "" });
      }
    },
    [what, kept, person, units.system, name, page, byItself],
  );
  const keep = useCallback(
    (value?: T) => {
      if (!kept || person === null) return;
      const old = entryAt<T>(what) ?? begun(what, person, units.system, { kept, about: { name, page } });
      const now = value ?? old.value;
      putEntry({ ...old, value: now, asked: { value: now, at: Date.now() }, state: "waiting", problem: "" });
    },
    [what, kept, person, units.system, name, page],
  );
  const done = useCallback((sent: T, now: Kept<T>) => putKept(what, sent, now), [what]);
  const clear = useCallback(() => dropEntry(what), [what]);
  const used = useCallback(
    (sent: T) => {
      if (same(entryAt<T>(what)?.value, sent)) dropEntry(what);
    },
    [what],
  );
  const discard = useCallback(() => {
    const old = entryAt<T>(what);
    dropEntry(what);
    setAway(old ? { what, entry: old } : null);
  }, [what]);
  const settle = useCallback(
    (chosen: Difference[]) => {
      const old = entryAt<T>(what);
      if (!kept || !old) return;
      const value = merged(kept.value, chosen);
      if (same(value, kept.value)) dropEntry(what);
      else
        putEntry({
          ...old,
          base: kept.revision,
          from: kept.value,
          value,
          at: Date.now(),
          asked: byItself ? { value, at: Date.now() } : null,
          state: byItself ? "waiting" : "typed",
          problem: "",
        });
    },
    [what, kept, byItself],
  );
  const adopt = useCallback(
    (value: T) => {
      const old = entryAt<T>(what);
      if (old) putEntry({ ...old, value, system: units.system });
    },
    [what, units.system],
  );
  const newer = entry !== undefined && kept !== undefined && kept.revision > entry.base;
  return {
    kept,
    entry,
    value: entry?.value ?? null,
    system: entry?.system ?? units.system,
    at: entry?.at ?? null,
    change,
    keep,
    done,
    clear,
    used,
    discard,
    undo: away?.what === what && !entry ? () => putEntry(away.entry) : null,
    waiting: entry?.state === "waiting",
    sending: sending === what,
    conflict: newer && !same(entry.value, kept.value),
    adopt,
    settle,
  };
}
