import type { Schema } from "../../api/client";
import type { System } from "../../frame/units";
import type { Port, Tank } from "../tank";

export type Entries = Record<string, string>;

/** A survey as it stands on the screen. */
export interface SurveyForm {
  entries: Entries;
  ports: Port[];
  notes: string;
  system: System;
  /** The revision of the tank that it began from. */
  revision: number;
}

/** The survey of a tank as it is kept. */
export function formOf(tank: Tank, system: System): SurveyForm {
  return {
    entries: { ...tank.entries },
    ports: tank.ports,
    notes: tank.notes,
    system,
    revision: tank.revision,
  };
}

/** A survey that nothing has been typed into. */
export function blankForm(system: System): SurveyForm {
  const entries = { name: "", product: "", "shape.kind": "horizontal_cylinder" };
  return { entries, ports: [], notes: "", system, revision: 0 };
}

/** How many parts of deadwood a survey has. */
export function deadwoodCount(entries: Entries): number {
  return Object.keys(entries).filter((path) => /^deadwood\[\d+\]\.volume_l$/.test(path)).length;
}

/** Take one part of deadwood out and close the gap in the numbering. */
export function withoutDeadwood(entries: Entries, gone: number): Entries {
  const kept: Entries = {};
  for (const [path, text] of Object.entries(entries)) {
    const match = /^deadwood\[(\d+)\](.*)$/.exec(path);
    const index = Number(match?.[1]);
    if (!match) kept[path] = text;
    else if (index !== gone) kept[`deadwood[${index > gone ? index - 1 : index}]${match[2]}`] = text;
  }
  return kept;
}

export type Reading = Schema["SurveyReading"];
export type FieldRead = Schema["Field"];
