import { api, ask, type Schema } from "../api/client";
import type { Entries } from "../frame/FormField";
import { type Calls, rowNumbers } from "../frame/plan";

export type Case = Schema["CaseReading"];
export type Choice = Case["choices"][number];
export type Gate = Choice["gates"][number];

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
const NOW = ["test", "value", "outcome", "put_in", "red", "black"] as const;

/** Where the gates of the test under way are ticked: each with when. */
const GATE = "now.gate.";

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
  for (const path of Object.keys(typed).filter((one) => one.startsWith(GATE))) {
    const ticked = typed[path] ?? "";
    if (ticked !== "") changes[`rows[${row}].gate.${path.slice(GATE.length)}`] = ticked;
    changes[path] = "";
  }
  // Where one stands follows from what was done there; a place that was said before is past.
  changes["place"] = "";
  return changes;
}

/** The changes that put another test under way; its gates are ticked anew. */
export function begun(test: string, entries: Entries): Entries {
  const changes: Entries = Object.fromEntries(NOW.map((column) => [`now.${column}`, ""]));
  for (const path of Object.keys(entries)) if (path.startsWith(GATE)) changes[path] = "";
  return { ...changes, "now.test": test };
}

/** Whether all gates of the test under way are ticked. */
export function gatesOpen(entries: Entries, gates: readonly Gate[]): boolean {
  return gates.every((gate) => (entries[GATE + gate.key] ?? "") !== "");
}

/** The changes that tick a gate of the test under way, or take the tick away. */
export function ticked(test: string, gate: Gate, on: boolean): Entries {
  return { "now.test": test, [GATE + gate.key]: on ? new Date().toISOString().slice(0, 19) + "Z" : "" };
}

/** Whether a gate of the test under way is ticked. */
export function isTicked(entries: Entries, gate: Gate): boolean {
  return (entries[GATE + gate.key] ?? "") !== "";
}

/** How likely each part of the circuit is what is wrong: the likeliest of what it stands for. */
export function sharesOf(found: Case): Map<string, number> {
  const shares = new Map<string, number>();
  for (const one of found.parts)
    for (const id of one.at) shares.set(id, Math.max(shares.get(id) ?? 0, one.share));
  return shares;
}
