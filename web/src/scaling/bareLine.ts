import { useMemo } from "react";

import { api, ask, type Schema } from "../api/client";
import { useAsking } from "../frame/asking";
import { useDraft } from "../frame/draft";
import type { Entries, FormState } from "../frame/FormField";
import type { System } from "../frame/units";

export type BareLine = Schema["BareLine"];

export interface BareState {
  form: FormState;
  reading: BareLine | undefined;
  /** What the server said instead of reading it. */
  refused: Error | null;
  system: System;
  /** Whether anything is typed. */
  typed: boolean;
  clear: () => void;
}

const ABOUT = { name: "Line without a tank", page: "/line" };
const NOTHING: Entries = {};

/** The line without a tank: kept on this device until it is cleared, in the units that it was typed in. */
export function useBareLine(): BareState {
  const { value, system, change, clear } = useDraft<Entries>("line:0", ABOUT);
  const entries = value ?? NOTHING;
  const { answer, error } = useAsking(["bare-line"], { entries, system }, (body, signal) =>
    ask(api.POST("/api/line/", { body, signal })),
  );
  const fields = useMemo(
    () => new Map((answer?.fields_read ?? []).map((field) => [field.path, field])),
    [answer],
  );
  const put = (changes: Entries) => {
    const all = Object.entries({ ...entries, ...changes }).filter(([, text]) => text !== "");
    if (all.length === 0) clear();
    else change(Object.fromEntries(all));
  };
  return {
    form: { entries, fields, change: put },
    reading: answer,
    refused: error,
    system,
    typed: value !== null,
    clear,
  };
}
