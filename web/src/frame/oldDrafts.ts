import type { Entry } from "./outbox";
import type { System } from "./units";

const KINDS = ["survey", "gauge", "wiring", "chain", "slopes", "marks", "parting", "wet-ends", "proof"];

interface Old {
  value?: Record<string, unknown>;
  entries?: Record<string, unknown>;
  kept?: number;
  at?: number;
}

/** What another version kept of one thing, without its person: it belongs to whoever opens it first. */
function taken(person: string, system: System, key: string): Entry | null {
  const [, kind = "", of = ""] = key.split(":");
  if (!KINDS.includes(kind) || !/^\d+$/.test(of)) return null;
  const old = JSON.parse(localStorage.getItem(key) ?? "{}") as Old;
  const { system: typedIn, revision, ...value } = old.value ?? old.entries ?? {};
  const station = kind === "proof" ? "prove" : ["gauge", "wiring", "survey"].includes(kind) ? kind : "scale";
  return {
    what: `${kind}:${of}`,
    person,
    system: typedIn === "us" || typedIn === "metric" ? typedIn : system,
    // Where nothing tells what it began from, both are shown to choose from.
    base: typeof revision === "number" ? revision : (old.kept ?? -1),
    from: {},
    value,
    at: old.at ?? Date.now(),
    asked: null,
    state: "typed",
    problem: "",
    name: `Typed before, ${kind} ${of}`,
    page: kind === "proof" ? "/tanks" : `/tanks/${of}/${station}`,
  };
}

/** Take over what an earlier version of the application kept in another place of this device. */
export function oldDrafts(person: string, system: System): Entry[] {
  const found: Entry[] = [];
  for (const key of Object.keys(localStorage).filter((one) => one.startsWith("rasante:"))) {
    try {
      const entry = taken(person, system, key);
      if (!entry) continue;
      found.push(entry);
      localStorage.removeItem(key);
    } catch {
      // What cannot be read was no draft.
    }
  }
  return found;
}
