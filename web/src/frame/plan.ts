import { type QueryClient, useQuery } from "@tanstack/react-query";
import { useLayoutEffect, useMemo } from "react";

import { keys, refresh } from "../api/keys";
import type { Schema } from "../api/client";
import { useAsking } from "./asking";
import { putNewest } from "./cache";
import { type Typed, useTyped } from "./draft";
import type { Entries, FormState } from "./FormField";
import { same } from "./merge";
import { registerSender } from "./outbox";
import { withUnit } from "./unitOnLeaving";
import { useUnits } from "./units";

export type Planned = { entries: Entries; system: "metric" | "us" };
type KeptPlan = Schema["KeptPlan"];

/** Something that is planned for a tank. */
export interface Kind {
  /** What it is, in the tank's own part of the cache and in the outbox. */
  kind: string;
  /** How it is called, and the station at which it is planned. */
  title: string;
  station: string;
  read: (id: number) => Promise<KeptPlan>;
  keep: (id: number, body: Planned & { revision: number }) => Promise<KeptPlan>;
}

/** How it is read, judged and kept. */
export interface Calls<R> extends Kind {
  check: (id: number, body: Planned, signal: AbortSignal) => Promise<R>;
}

/** What is planned for a tank asks no more of it than this. */
export interface Named {
  id: number;
  facts: { name: string };
}

/** What was made of what is typed: the fields, each as it was read. */
interface Read {
  fields_read: Schema["FormField"][];
}

export interface Plan<R> {
  kept: KeptPlan;
  form: FormState;
  reading: R | undefined;
  /** What the server said instead of reading it. */
  refused: Error | null;
  changed: boolean;
  typed: Typed<Entries>;
}

function planKey(tank: number, kind: string) {
  return keys.tank(tank, kind);
}

/** Say how a plan goes to the server, and what is renewed then. */
export function registerPlan(calls: Kind, queries: QueryClient): void {
  registerSender<Entries>(calls.kind, {
    read: async (id) => {
      const now = await calls.read(id);
      await putNewest(queries, planKey(id, calls.kind), now);
      return keptOf(now);
    },
    send: async (id, { asked, system, base }) => {
      const answer = await calls.keep(id, { entries: asked.value, system, revision: base });
      // The answer stands in the cache before the draft goes, so that nothing older is seen in between.
      await putNewest(queries, planKey(id, calls.kind), answer);
      void refresh(queries, keys.tank(id), keys.board);
      return keptOf(answer);
    },
  });
}

function keptOf({ entries, revision }: KeptPlan) {
  return { value: entries, revision };
}

/** What is kept of a plan, with what is typed on it. */
function useTypedPlan(tank: Named, calls: Kind): { kept: KeptPlan | undefined; typed: Typed<Entries> } {
  const { data: kept } = useQuery({
    queryKey: planKey(tank.id, calls.kind),
    queryFn: () => calls.read(tank.id),
  });
  const typed = useTyped(`${calls.kind}:${tank.id}`, kept && keptOf(kept), {
    name: `${calls.title}, ${tank.facts.name}`,
    page: `/tanks/${tank.id}/${calls.station}`,
  });
  return { kept, typed };
}

/** What is planned for a tank: as kept, as it is being typed, and as the server reads it. */
export function usePlan<R extends Read>(tank: Named, calls: Calls<R>): Plan<R> | null {
  const { kept, typed } = useTypedPlan(tank, calls);
  const entries = typed.value ?? typed.kept?.value ?? {};
  // What was kept may change the answer to the same fields: a new revision asks again.
  const asking = useAsking(
    [...planKey(tank.id, calls.kind), "reading"],
    kept ? { body: { entries, system: typed.system }, revision: kept.revision } : null,
    ({ body }, signal) => calls.check(tank.id, body, signal),
  );
  const reading = asking.answer;
  useUnitsOfTheScreen(typed, entries, asking.current ? reading : undefined);
  const fields = useMemo(
    () => new Map((reading?.fields_read ?? []).map((field) => [field.path, field])),
    [reading],
  );
  if (!kept) return null;
  return {
    kept,
    form: { entries, fields, change: (changes) => typed.change(filled({ ...entries, ...changes })) },
    reading,
    refused: asking.error,
    changed: typed.value !== null && !same(entries, typed.kept?.value),
    typed,
  };
}

/** A draft keeps the units that it was typed in until every bare number in it has been given its own. */
function useUnitsOfTheScreen(typed: Typed<Entries>, entries: Entries, reading: Read | undefined): void {
  const { system } = useUnits();
  const { value, adopt } = typed;
  const named = useMemo(
    () => (reading && value && typed.system !== system ? withUnits(entries, reading.fields_read) : null),
    [reading, value, typed.system, system, entries],
  );
  useLayoutEffect(() => {
    if (named) adopt(named);
  }, [named, adopt]);
}

/** Entries with the unit behind every number that was typed without. */
export function withUnits(entries: Entries, fields: { path: string; kept: string }[]): Entries {
  const named = { ...entries };
  for (const { path, kept } of fields) {
    const full = withUnit(entries[path] ?? "", kept);
    if (full !== null) named[path] = full;
  }
  return named;
}

/** Puts fields into the draft of another plan of the tank; null until what is kept of it is known. */
export function useHandOver(tank: Named, calls: Kind): ((changes: Entries) => void) | null {
  const { kept, typed } = useTypedPlan(tank, calls);
  if (!kept) return null;
  return (changes) => typed.change(filled({ ...(typed.value ?? kept.entries), ...changes }));
}

/** Without the fields that are empty. */
function filled(entries: Entries): Entries {
  return Object.fromEntries(Object.entries(entries).filter(([, value]) => value !== ""));
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
