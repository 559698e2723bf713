import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo, useRef } from "react";

import type { Schema } from "../api/client";
import { type Draft, useDraft } from "./draft";
import type { Entries, FormState } from "./FormField";
import { useLatest } from "./latest";
import { useUnits } from "./units";

export type Planned = { entries: Entries; system: "metric" | "us" };

/** How something that is planned for a tank is read, judged and kept. */
export interface Calls<R> {
  read: (id: number) => Promise<Schema["KeptPlan"]>;
  check: (id: number, body: Planned) => Promise<R>;
  keep: (id: number, body: Planned & { revision: number }) => Promise<Schema["KeptPlan"]>;
}

export interface Plan<R> {
  kept: Schema["KeptPlan"];
  form: FormState;
  reading: R | undefined;
  changed: boolean;
  draft: Draft<Entries>;
  keep: { run: () => void; pending: boolean; error: Error | null };
}

/** What is planned for a tank: as kept, as it is being typed, and as the server reads it. */
export function usePlan<R extends { fields_read: Schema["FormField"][] }>(
  tank: number,
  kind: string,
  calls: Calls<R>,
): Plan<R> | null {
  const { system } = useUnits();
  const queries = useQueryClient();
  const { data: kept } = useQuery({ queryKey: ["tank", tank, kind], queryFn: () => calls.read(tank) });
  const draft = useDraft<Entries>(`rasante:${kind}:${tank}`);
  const entries = draft.value ?? kept?.entries ?? {};
  // What was kept may change the answer to the same fields: a new revision asks again.
  const reading = useLatest(
    kept ? { body: { entries, system }, revision: kept.revision } : null,
    ({ body }) => calls.check(tank, body),
  );
  const typed = useRef(entries);
  useEffect(() => {
    typed.current = entries;
  });
  const keep = useMutation({
    mutationFn: (sent: Entries) => calls.keep(tank, { entries: sent, system, revision: kept?.revision ?? 0 }),
    onSuccess: async (answer, sent) => {
      // The answer stands in the cache before the draft goes, so that nothing older is seen in between; what was
      // typed while it was being kept stays, and follows the new revision.
      queries.setQueryData(["tank", tank, kind], answer);
      if (!typedOn(typed.current, sent, answer.entries)) draft.clear();
      await queries.invalidateQueries({ queryKey: ["tank", tank] });
      await queries.invalidateQueries({ queryKey: ["board"] });
    },
  });
  const fields = useMemo(
    () => new Map((reading?.fields_read ?? []).map((field) => [field.path, field])),
    [reading],
  );
  if (!kept) return null;
  const change = (changes: Entries) => {
    keep.reset();
    draft.change(filled({ ...entries, ...changes }));
  };
  return {
    kept,
    form: { entries, fields, change },
    reading,
    changed: draft.value !== null && text(filled(entries)) !== text(kept.entries),
    draft,
    keep: { run: () => keep.mutate(entries), pending: keep.isPending, error: keep.error },
  };
}

/** Puts fields into the draft of another plan of the tank; null until what is kept of it is known. */
export function useHandOver(
  tank: number,
  kind: string,
  read: (id: number) => Promise<Schema["KeptPlan"]>,
): ((changes: Entries) => void) | null {
  const { data: kept } = useQuery({ queryKey: ["tank", tank, kind], queryFn: () => read(tank) });
  const draft = useDraft<Entries>(`rasante:${kind}:${tank}`);
  if (!kept) return null;
  return (changes) => draft.change(filled({ ...(draft.value ?? kept.entries), ...changes }));
}

/** Whether something was typed while what was sent was being kept; a unit that a field writes behind its number on
 * leaving is not: what was kept says the same. */
export function typedOn(typed: Entries, sent: Entries, kept: Entries): boolean {
  return [...new Set([...Object.keys(typed), ...Object.keys(sent)])].some((path) => {
    const now = typed[path] ?? "";
    return now !== (sent[path] ?? "") && now !== (kept[path] ?? "");
  });
}

/** Without the fields that are empty. */
function filled(entries: Entries): Entries {
  return Object.fromEntries(Object.entries(entries).filter(([, value]) => value !== ""));
}

function text(entries: Entries): string {
  return JSON.stringify(Object.entries(entries).sort(([a], [b]) => a.localeCompare(b)));
}

/** Rows typed under ``path[i].column``: their numbers. */
export function rowNumbers(entries: Entries, path: string): number[] {
  const found = new Set<number>();
  for (const key of Object.keys(entries)) {
    const match = key.match(new RegExp(`^${path}\\[(\\d+)\\]\\.`));
    if (match) found.add(Number(match[1]));
  }
  return [...found].sort((a, b) => a - b);
}

/** The changes that take one row out and move those after it up. */
export function withoutRow(entries: Entries, path: string, row: number): Entries {
  const changes: Entries = {};
  const rows = rowNumbers(entries, path);
  const parts = (index: number) => Object.keys(entries).filter((key) => key.startsWith(`${path}[${index}].`));
  for (const index of rows) if (index >= row) for (const key of parts(index)) changes[key] = "";
  for (const index of rows)
    if (index > row)
      for (const key of parts(index))
        changes[key.replace(`${path}[${index}]`, `${path}[${index - 1}]`)] = entries[key] ?? "";
  return changes;
}
