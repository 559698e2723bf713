import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";

import { api, ask, type Schema } from "../api/client";
import { type Draft, useDraft } from "../frame/draft";
import type { Entries, FormState } from "../frame/FormField";
import { useLatest } from "../frame/latest";
import { useUnits } from "../frame/units";

export type GaugeReading = Schema["GaugeReading"];
export type WiringReading = Schema["WiringReading"];
export type Verdict = Schema["Verdict"];
export type GaugeWords = Schema["GaugeWords"];

/** The words that the gauges' screens are built from; fetched once. */
export function useGaugeWords(): GaugeWords | undefined {
  const { data } = useQuery({
    queryKey: ["gauge-words"],
    queryFn: () => ask(api.GET("/api/gauge-words/")),
    staleTime: Infinity,
  });
  return data;
}

/** The library of gauge models. */
export function useLibrary() {
  return useQuery({ queryKey: ["gauge-models"], queryFn: () => ask(api.GET("/api/gauge-models/")) });
}

type Planned = { entries: Entries; system: "metric" | "us" };

interface Readings {
  gauge: GaugeReading;
  wiring: WiringReading;
}

interface Calls<R> {
  read: (id: number) => Promise<Schema["KeptPlan"]>;
  check: (id: number, body: Planned) => Promise<R>;
  keep: (id: number, body: Planned & { revision: number }) => Promise<Schema["KeptPlan"]>;
}

const CALLS: { [K in keyof Readings]: Calls<Readings[K]> } = {
  gauge: {
    read: (id: number) => ask(api.GET("/api/tanks/{id}/gauge/", { params: { path: { id } } })),
    check: (id: number, body: Planned) =>
      ask(api.POST("/api/tanks/{id}/gauge/", { params: { path: { id } }, body })),
    keep: (id: number, body: Planned & { revision: number }) =>
      ask(api.PUT("/api/tanks/{id}/gauge/", { params: { path: { id } }, body })),
  },
  wiring: {
    read: (id: number) => ask(api.GET("/api/tanks/{id}/wiring/", { params: { path: { id } } })),
    check: (id: number, body: Planned) =>
      ask(api.POST("/api/tanks/{id}/wiring/", { params: { path: { id } }, body })),
    keep: (id: number, body: Planned & { revision: number }) =>
      ask(api.PUT("/api/tanks/{id}/wiring/", { params: { path: { id } }, body })),
  },
};

export interface Plan<R> {
  kept: Schema["KeptPlan"];
  form: FormState;
  reading: R | undefined;
  changed: boolean;
  draft: Draft<Entries>;
  keep: { run: () => void; pending: boolean; error: Error | null };
}

/** What is planned for a tank, a gauge or its wiring: as kept, as it is being typed, and as the server reads it. */
export function usePlan<K extends keyof Readings>(tank: number, kind: K): Plan<Readings[K]> | null {
  const { system } = useUnits();
  const queries = useQueryClient();
  const calls: Calls<Readings[K]> = CALLS[kind];
  const { data: kept } = useQuery({ queryKey: ["tank", tank, kind], queryFn: () => calls.read(tank) });
  const draft = useDraft<Entries>(`rasante:${kind}:${tank}`);
  const entries = draft.value ?? kept?.entries ?? {};
  const reading = useLatest(kept ? { entries, system } : null, (body) => calls.check(tank, body)) as
    Readings[K] | undefined;
  const keep = useMutation({
    mutationFn: () => calls.keep(tank, { entries, system, revision: kept?.revision ?? 0 }),
    onSuccess: async () => {
      draft.clear();
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
    keep: { run: () => keep.mutate(), pending: keep.isPending, error: keep.error },
  };
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

/**
 * The spot as it was put last [mm]: what a drag has written in millimetres goes before what the server has read, which
 * follows a moment later.
 */
export function spotOf(entries: Entries, there: GaugeReading["situation"]): { x: number; y: number } {
  const put = (path: string, read: number, nothing: number) => {
    const typed = entries[path];
    if (typed === undefined) return nothing;
    const match = /^(-?\d+(?:\.\d+)?) mm$/.exec(typed);
    return match ? Number(match[1]) : read;
  };
  return { x: put("spot.x", there.x_mm, there.x_mm), y: put("spot.y", there.y_mm, 0) };
}
