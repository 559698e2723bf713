import { api, ask, type Schema } from "../api/client";
import type { Entries, FormState } from "../frame/FormField";
import { type Calls, rowNumbers } from "../frame/plan";
import { places } from "../frame/numbers";
import { type Units } from "../frame/units";

export type Run = Schema["RunReading"];

/** How a run of pours is worked out, and kept. */
export const POURS: Calls<Run> = {
  kind: "pours",
  title: "Pours",
  station: "table?pane=pour",
  read: (id) => ask(api.GET("/api/tanks/{id}/pours/", { params: { path: { id } } })),
  check: (id, body, signal) =>
    ask(api.POST("/api/tanks/{id}/pours/", { params: { path: { id } }, body, signal })),
  keep: (id, body) => ask(api.PUT("/api/tanks/{id}/pours/", { params: { path: { id } }, body })),
};

/** A volume to three figures, in the unit of the screen. */
export function litres(units: Units, value: number): string {
  const shown = units.toShown("volume", value);
  const digits = shown === 0 ? 0 : 2 - Math.floor(Math.log10(Math.abs(shown)));
  return `${places(shown, Math.min(Math.max(0, digits), 2))} ${units.unit("volume").name}`;
}

/** What a volume may be off by. */
export function offBy(units: Units, value: number): string {
  return units.half("volume", value);
}

/** A reading as it is written: a level by the tape, a signal to a hundredth, a number as it is. */
export function readingWords(units: Units, reads: string, value: number): string {
  if (reads === "level") return units.tape(value);
  return reads === "sent" ? `${places(value, 2)} mA` : places(value, 1);
}

/** The row that comes next. */
export function nextRow(entries: Entries): number {
  return (rowNumbers(entries, "pours").at(-1) ?? -1) + 1;
}

/** The changes that make room for a row before another. */
export function roomBefore(entries: Entries, row: number): Entries {
  const changes: Entries = {};
  for (const index of rowNumbers(entries, "pours").reverse()) {
    if (index < row) continue;
    for (const key of Object.keys(entries).filter((one) => one.startsWith(`pours[${index}].`))) {
      changes[key.replace(`[${index}]`, `[${index + 1}]`)] = entries[key] ?? "";
      if (!(key in changes)) changes[key] = "";
    }
  }
  return changes;
}

export interface Part {
  form: FormState;
  run: Run | undefined;
}
