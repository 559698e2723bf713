import type { Schema } from "../../api/client";
import type { Words } from "../../frame/words";
import type { Port, Tank } from "../tank";

export type Entries = Record<string, string>;

/** A survey as it stands on the screen. */
export interface SurveyForm {
  entries: Entries;
  ports: Port[];
  notes: string;
  /** The profile that it takes over, if any. */
  profile: number | null;
}

/** The survey of a tank as it is kept. */
export function formOf({ entries, ports, notes }: Tank): SurveyForm {
  return { entries, ports, notes, profile: null };
}

/** A survey that nothing has been typed into. */
export const BLANK: SurveyForm = {
  entries: { name: "", product: "", "shape.kind": "horizontal_cylinder" },
  ports: [],
  notes: "",
  profile: null,
};

/** How many rows of a list a survey has, by one of their columns. */
export function countRows(entries: Entries, path: string, column: string): number {
  const start = `${path}[`;
  const end = `].${column}`;
  let count = 0;
  for (const key of Object.keys(entries))
    if (key.startsWith(start) && key.endsWith(end))
      count = Math.max(count, Number(key.slice(start.length, -end.length)) + 1 || 0);
  return count;
}

/** Take one row out of a list and close the gap in the numbering. */
export function withoutRow(entries: Entries, path: string, gone: number): Entries {
  const kept: Entries = {};
  const start = `${path}[`;
  for (const [key, text] of Object.entries(entries)) {
    const close = key.indexOf("]", start.length);
    const index = key.startsWith(start) ? Number(key.slice(start.length, close)) : NaN;
    if (Number.isNaN(index)) kept[key] = text;
    else if (index !== gone) kept[`${start}${index > gone ? index - 1 : index}${key.slice(close)}`] = text;
  }
  return kept;
}

export type Reading = Schema["SurveyReading"];
export type FieldRead = Schema["Field"];
export type { Words };
