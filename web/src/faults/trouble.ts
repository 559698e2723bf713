import { api, ask, type Schema } from "../api/client";
import type { Entries } from "../frame/FormField";
import { type Calls, rowNumbers } from "../frame/plan";

export type Case = Schema["CaseReading"];
export type Choice = Case["choices"][number];

/** How a case of trouble is worked out, and kept. */
export const TROUBLE: Calls<Case> = {
  kind: "trouble",
  title: "Trouble",
  station: "trouble",
  read: (id) => ask(api.GET("/api/tanks/{id}/trouble/", { params: { path: { id } } })),
  check: (id, body, signal) =>
    ask(api.POST("/api/tanks/{id}/trouble/", { params: { path: { id } }, body, signal })),
  keep: (id, body) => ask(api.PUT("/api/tanks/{id}/trouble/", { params: { path: { id } }, body })),
};

/** The same of what was read at one moment along the chain. */
export const PARTING: Calls<Schema["Parting"]> = {
  kind: "parting",
  title: "Readings along the chain",
  station: "trouble?pane=parting",
  read: (id) => ask(api.GET("/api/tanks/{id}/parting/", { params: { path: { id } } })),
  check: (id, body, signal) =>
    ask(api.POST("/api/tanks/{id}/parting/", { params: { path: { id } }, body, signal })),
  keep: (id, body) => ask(api.PUT("/api/tanks/{id}/parting/", { params: { path: { id } }, body })),
};

/** A share as people say it. */
export function percent(share: number): string {
  if (share >= 0.995) return "over 99 %";
  return share < 0.01 ? "under 1 %" : `${Math.round(share * 100)} %`;
}

/** The words of an outcome. */
export function outcomeWords(key: string): string {
  return key.replaceAll("-", " ");
}

/** The row that comes next. */
export function nextRow(entries: Entries): number {
  return (rowNumbers(entries, "rows").at(-1) ?? -1) + 1;
}

/** What is being typed of the test under way, by its columns. */
const NOW = ["test", "value", "outcome", "red", "black"] as const;

/** The changes that enter what is being typed as a finding. */
export function entered(entries: Entries, also: Entries = {}): Entries {
  const row = nextRow(entries);
  const typed = { ...entries, ...also };
  const changes: Entries = {};
  for (const column of NOW) {
    const text = typed[`now.${column}`] ?? "";
    if (text !== "") changes[`rows[${row}].${column}`] = text;
    changes[`now.${column}`] = "";
  }
  // Where one stands follows from what was done there; a place that was said before is past.
  changes["place"] = "";
  return changes;
}

/** The changes that put another test under way. */
export function begun(test: string): Entries {
  return { "now.test": test, "now.value": "", "now.outcome": "", "now.red": "", "now.black": "" };
}

/** How likely each part of the circuit is what is wrong: the likeliest of what it stands for. */
export function sharesOf(found: Case): Map<string, number> {
  const shares = new Map<string, number>();
  for (const one of found.parts)
    for (const id of one.at) shares.set(id, Math.max(shares.get(id) ?? 0, one.share));
  return shares;
}
