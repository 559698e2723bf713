import { useCallback, useMemo, useState } from "react";

import { api, ask, type Schema } from "../api/client";
import type { Entries, FormState } from "../frame/FormField";
import { useLatest } from "../frame/latest";
import { type System, useUnits } from "../frame/units";

export type BareLine = Schema["BareLine"];

interface Kept {
  entries: Entries;
  /** What a bare number meant when it was typed. */
  system: System;
}

const KEY = "rasante:line";

function load(): Kept | null {
  try {
    return JSON.parse(localStorage.getItem(KEY) ?? "null") as Kept | null;
  } catch {
    return null;
  }
}

export interface BareState {
  form: FormState;
  reading: BareLine | undefined;
  system: System;
  /** Whether anything is typed. */
  typed: boolean;
  clear: () => void;
}

/** The line without a tank: kept on this device until it is cleared, in the units that it was typed in. */
export function useBareLine(): BareState {
  const units = useUnits();
  const [kept, setKept] = useState<Kept | null>(load);
  const entries = useMemo(() => kept?.entries ?? {}, [kept]);
  const system = kept?.system ?? units.system;
  const reading = useLatest({ entries, system }, (body) => ask(api.POST("/api/line/", { body })));
  const change = useCallback(
    (changes: Entries) =>
      setKept((old) => {
        const all = { ...(old?.entries ?? {}), ...changes };
        const filled = Object.fromEntries(Object.entries(all).filter(([, text]) => text !== ""));
        const next = Object.keys(filled).length
          ? { entries: filled, system: old?.system ?? units.system }
          : null;
        if (next) localStorage.setItem(KEY, JSON.stringify(next));
        else localStorage.removeItem(KEY);
        return next;
      }),
    [units.system],
  );
  const clear = () => {
    localStorage.removeItem(KEY);
    setKept(null);
  };
  const fields = useMemo(
    () => new Map((reading?.fields_read ?? []).map((field) => [field.path, field])),
    [reading],
  );
  return { form: { entries, fields, change }, reading, system, typed: kept !== null, clear };
}
