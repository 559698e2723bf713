import { type DBSchema, type IDBPDatabase, type IDBPObjectStore, openDB } from "idb";

import type { Entry } from "./outbox";

interface Shelves extends DBSchema {
  entries: { key: [string, string]; value: Entry; indexes: { person: string } };
}

let opened: Promise<IDBPDatabase<Shelves>> | null = null;

async function database(): Promise<IDBPDatabase<Shelves>> {
  opened ??= openDB<Shelves>("rasante", 1, {
    upgrade(shelves) {
      const entries = shelves.createObjectStore("entries", { keyPath: ["person", "what"] });
      entries.createIndex("person", "person");
    },
    terminated() {
      opened = null;
    },
  });
  try {
    return await opened;
  } catch (error) {
    // The next asks anew: a browser that cannot now may well be able in a moment.
    opened = null;
    throw error;
  }
}

/** Ask this device; where the browser ends that half way, the asking fails, and nothing else does. */
async function read<A>(
  ask: (entries: IDBPObjectStore<Shelves, ["entries"], "entries">) => Promise<A>,
): Promise<A> {
  const { store: entries, done } = (await database()).transaction("entries");
  const [found] = await Promise.all([ask(entries), done]);
  return found;
}

/** All that one person has typed on this device and the server does not have. */
export async function entriesOf(person: string): Promise<Entry[]> {
  return read((entries) => entries.index("person").getAll(person));
}

/** One entry as it stands on this device now, whichever window wrote it. */
export async function entryOf(person: string, what: string): Promise<Entry | undefined> {
  return read((entries) => entries.get([person, what]));
}

/** Put an entry on this device; fails where the device has no room. */
export async function store(entry: Entry): Promise<void> {
  const change = (await database()).transaction("entries", "readwrite", { durability: "strict" });
  await Promise.all([change.store.put(entry), change.done]);
}

/** Take an entry off this device. */
export async function unstore(person: string, what: string): Promise<void> {
  await (await database()).delete("entries", [person, what]);
}
