import { useSyncExternalStore } from "react";

import { isRefusal, Refused, wordsOf } from "../api/client";
import { differences, merged, same } from "./merge";
import { entriesOf, entryOf, store, unstore } from "./outboxStore";
import { isReached } from "../api/reach";
import { oldDrafts } from "./oldDrafts";
import { type System, systemOfScreen } from "./units";

/**
 * What was typed on this device and is not with the server yet. It stands here from the first keystroke; what a
 * person asked to keep is sent in that order, again and again until the server has it or refuses it.
 */
export interface Entry<T = unknown> {
  /** What it is: a kind and whose, for instance “survey:12”. */
  what: string;
  person: string;
  /** What a bare number in it means: the units that it was typed in. */
  system: System;
  /** The revision that the typing began from, and what was kept then. */
  base: number;
  from: T;
  value: T;
  at: number;
  /** What is to be kept, once that was asked for, and not before when; typing may have gone on since. */
  asked: { value: T; at: number } | null;
  state: State;
  /** Why it was refused. */
  problem: string;
  /** How it is called, and the page on which it was typed. */
  name: string;
  page: string;
}
export type State = "typed" | "waiting" | "refused" | "conflict";

/** What the server keeps now. */
export interface Kept<T = unknown> {
  value: T;
  revision: number;
}

/** How one kind of thing goes to the server. */
export interface Sender<T> {
  /** Send what was asked to be kept; the answer is what is kept then. */
  send: (of: number, entry: Entry<T> & { asked: { value: T } }) => Promise<Kept<T>>;
  /** What the server keeps now. */
  read: (of: number) => Promise<Kept<T>>;
}

export interface Outbox {
  person: string | null;
  entries: ReadonlyMap<string, Entry>;
  /** What is being sent at this moment. */
  sending: string | null;
  /** What this device has no room for: it stands in this window alone. */
  roomless: ReadonlySet<string>;
  /** What the server has answered last to something that was kept from here, until a page shows it, or a newer one. */
  answered: ReadonlyMap<string, Kept>;
}

const PAUSE = [1000, 2000, 4000, 8000];
const LOCK = "rasante-outbox";

const EMPTY = { entries: new Map(), roomless: new Set<string>(), answered: new Map() };
let box: Outbox = { ...EMPTY, person: null, sending: null };
const listeners = new Set<() => void>();
const senders = new Map<string, Sender<unknown>>();
const drafts = new Set<string>();
const windows = "BroadcastChannel" in globalThis ? new BroadcastChannel(LOCK) : null;

function set(changes: Partial<Outbox>): void {
  box = { ...box, ...changes };
  for (const listener of listeners) listener();
}

function withEntry(what: string, entry: Entry | null): ReadonlyMap<string, Entry> {
  const entries = new Map(box.entries);
  if (entry) entries.set(what, entry);
  else entries.delete(what);
  return entries;
}

/** What is kept now of what was sent from here; of what has no revisions nothing older can come back. */
function withAnswer(what: string, kept: Kept | undefined): ReadonlyMap<string, Kept> {
  return kept && kept.revision > 0 ? new Map(box.answered).set(what, kept) : box.answered;
}

function withRoom(what: string, room: boolean): void {
  if (box.roomless.has(what) !== room) return;
  const roomless = new Set(box.roomless);
  if (room) roomless.delete(what);
  else roomless.add(what);
  set({ roomless });
}

/** Say which kinds are kept by a button of their own, and stand here as drafts until then. */
export function registerDrafts(...kinds: string[]): void {
  for (const kind of kinds) drafts.add(kind);
}

/** Say how one kind of thing goes to the server. */
export function registerSender<T>(kind: string, sender: Sender<T>): void {
  senders.set(kind, sender as Sender<unknown>);
}

/** Begin with what a person left on this device; it goes on from there. */
export async function openOutbox(person: string): Promise<void> {
  if (box.person === person) return;
  let left: Entry[] = [];
  try {
    // A browser that cannot at first, while it makes room for instance, may be able when it is asked again.
    left = await entriesOf(person).catch(() => entriesOf(person));
  } catch {
    // A browser that keeps nothing: what is typed stands in this window alone, and is said to.
  }
  // Asked twice at once, the first answer stands: something may have been typed since.
  if (box.person === person) return;
  set({ ...EMPTY, person, entries: new Map(left.map((entry) => [entry.what, entry])) });
  for (const entry of oldDrafts(person, systemOfScreen())) if (!box.entries.has(entry.what)) putEntry(entry);
  void send();
}

/** Leave what is here to its person; the next one neither sees nor sends it. */
export function closeOutbox(): void {
  set({ ...EMPTY, person: null });
}

function putOnDevice(entry: Entry): void {
  store(entry).then(
    () => withRoom(entry.what, true),
    () => withRoom(entry.what, false),
  );
}

/** Put an entry, here and on this device; what is kept beneath it, where the server has just answered that. */
export function putEntry<T>(entry: Entry<T>, kept?: Kept): void {
  set({ entries: withEntry(entry.what, entry), answered: withAnswer(entry.what, kept) });
  putOnDevice(entry);
  windows?.postMessage({ entry, kept } satisfies Told);
  if (entry.asked) void send();
}

/** Take an entry away: it was put away, or the server has just answered what is kept of it. */
export function dropEntry(what: string, kept?: Kept): void {
  const { person } = box;
  if (!person || !(kept || box.entries.has(what))) return;
  set({ entries: withEntry(what, null), answered: withAnswer(what, kept) });
  withRoom(what, true);
  unstore(person, what).catch(() => undefined);
  windows?.postMessage({ gone: { person, what }, kept } satisfies Told);
}

/** The server has kept what was sent of something, and answered it: what was typed since stays, and follows it. */
export function putKept(what: string, sent: unknown, kept: Kept): void {
  const now = box.entries.get(what);
  const rest = now && left(now, sent, kept);
  if (rest) putEntry(rest, kept);
  else dropEntry(what, kept);
}

/** What is on the screen of this window, as often as it is. */
const shown = new Map<string, number>();

/** Say that something is on the screen, until it is no longer. */
export function show(what: string): () => void {
  shown.set(what, (shown.get(what) ?? 0) + 1);
  return () => {
    const others = (shown.get(what) ?? 0) - 1;
    if (others > 0) shown.set(what, others);
    else shown.delete(what);
  };
}

/** Forget an answer that is shown by now, or is older than what is. */
export function shownSince(what: string, revision: number): void {
  if ((box.answered.get(what)?.revision ?? Infinity) > revision) return;
  const answered = new Map(box.answered);
  answered.delete(what);
  set({ answered });
}

/** One entry. */
export function entryAt<T>(what: string): Entry<T> | undefined {
  return box.entries.get(what) as Entry<T> | undefined;
}

/** What one window tells the others. */
type Told = { kept: Kept | undefined } & ({ entry: Entry } | { gone: { person: string; what: string } });

windows?.addEventListener("message", ({ data }: MessageEvent<Told>) => {
  const [{ person, what }, entry] = "entry" in data ? [data.entry, data.entry] : [data.gone, null];
  if (person !== box.person) return;
  set({ entries: withEntry(what, entry), answered: withAnswer(what, data.kept) });
  // What is kept now is known; whatever else was answered with it is asked for where it is on the screen.
  if (data.kept && shown.has(what))
    senders
      .get(kindOf(what))
      ?.read(ofWhat(what))
      .catch(() => undefined);
});

let awake: (() => void) | null = null;

/** Try again now. */
export function wake(): void {
  failed.clear();
  awake?.();
  void send();
}

function pause(ms: number): Promise<void> {
  return new Promise((resolve) => {
    const timer = setTimeout(resolve, ms);
    awake = () => {
      clearTimeout(timer);
      resolve();
    };
  });
}

/** Not before when something is tried again at which the server failed: meanwhile the others are not held up. */
const failed = new Map<string, number>();

function dueAt(entry: Entry): number {
  return Math.max(entry.asked?.at ?? 0, failed.get(entry.what) ?? 0);
}

function nextToSend(): Entry | undefined {
  return [...box.entries.values()]
    .filter((entry) => entry.state === "waiting" && entry.asked && senders.has(kindOf(entry.what)))
    .sort((a, b) => dueAt(a) - dueAt(b))[0];
}

function kindOf(what: string): string {
  return what.slice(0, what.lastIndexOf(":"));
}

function ofWhat(what: string): number {
  return Number(what.slice(what.lastIndexOf(":") + 1));
}

let busy = false;

/** Send what waits, one after the other, in the order in which it was asked for. */
async function send(): Promise<void> {
  if (busy) return;
  busy = true;
  let tries = 0;
  try {
    for (let next = nextToSend(); next; next = nextToSend()) {
      const { what } = next;
      const early = dueAt(next) - Date.now();
      if (early > 0) {
        await pause(early);
        continue;
      }
      set({ sending: what });
      const went = await alone(() => sendOne(what));
      set({ sending: null });
      tries = went === "done" ? 0 : tries + 1;
      const wait = PAUSE[Math.min(tries, PAUSE.length) - 1] ?? 0;
      if (went === "failed") failed.set(what, Date.now() + wait);
      else failed.delete(what);
      if (went === "away") await pause(wait);
    }
  } finally {
    busy = false;
    set({ sending: null });
  }
}

/** One window at a time, where the browser can tell; revisions hold where it cannot. */
async function alone<A>(act: () => Promise<A>): Promise<A> {
  return "locks" in navigator ? navigator.locks.request(LOCK, act) : act();
}

/** Send one entry: it is done with, or the server was not reached, or it failed at this one. */
async function sendOne(what: string): Promise<"done" | "away" | "failed"> {
  const { person } = box;
  const entry = person ? await newest(person, what) : undefined;
  const sender = senders.get(kindOf(what));
  if (!entry?.asked || !sender) return "done";
  const asked = entry.asked;
  try {
    await settled(entry, asked.value, await sender.send(ofWhat(what), { ...entry, asked }));
  } catch (error) {
    if (!(error instanceof Refused) || error.status === 401) return "away";
    if (!isRefusal(error)) return "failed";
    const theirs = error.status === 409 ? await sender.read(ofWhat(what)).catch(() => null) : null;
    // The server may have kept this very thing and died before it could say so.
    if (theirs && same(theirs.value, asked.value)) await settled(entry, asked.value, theirs);
    else {
      const state = theirs && theirs.revision > entry.base ? "conflict" : "refused";
      refuse(entry, state, wordsOf(error));
    }
  }
  return "done";
}

/**
 * The entry as it stands now: another window says what it has sent or put away. What the browser has forgotten by
 * itself, to make room or on being told to, is typed here still, and is put there again.
 */
async function newest(person: string, what: string): Promise<Entry | undefined> {
  const here = box.entries.get(what);
  if (!here || box.roomless.has(what)) return here;
  const stored = await entryOf(person, what).catch(() => here);
  if (box.person !== person) return undefined;
  const now = box.entries.get(what);
  if (!stored && now) putOnDevice(now);
  return now;
}

/** What is left to be kept of an entry once the server has what was asked for: what was typed since, if anything. */
function left(now: Entry, sent: unknown, kept: Kept): Entry | null {
  // What was typed meanwhile follows what is kept now; a unit that a field wrote behind its number was not typed.
  const typedOn = differences(kept.value, now.value, sent).filter(({ usual }) => usual !== "theirs");
  if (typedOn.length === 0) return null;
  const value = merged(kept.value, typedOn);
  const again = now.asked !== null && !same(now.asked.value, sent) ? { ...now.asked, value } : null;
  const state = again ? "waiting" : "typed";
  return { ...now, value, base: kept.revision, from: kept.value, asked: again, state, problem: "" };
}

async function settled(entry: Entry, sent: unknown, kept: Kept): Promise<void> {
  if (box.person === entry.person) {
    putKept(entry.what, sent, kept);
    return;
  }
  // Its person has signed out meanwhile: what they typed on after asking stays on this device for them.
  const stored = await entryOf(entry.person, entry.what).catch(() => undefined);
  const rest = stored && left(stored, sent, kept);
  await (rest ? store(rest) : unstore(entry.person, entry.what)).catch(() => undefined);
}

function refuse(sent: Entry, state: State, problem: string): void {
  const now = box.entries.get(sent.what);
  if (now?.person !== sent.person) return;
  putEntry({ ...now, asked: null, state, problem });
}

window.addEventListener("online", wake);
window.addEventListener("beforeunload", (event) => {
  if (box.roomless.size > 0) event.preventDefault();
});

function subscribe(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** The outbox of the person who is signed in. */
export function useOutbox(): Outbox {
  return useSyncExternalStore(subscribe, () => box);
}

/** One entry of it. */
export function useEntry<T>(what: string): Entry<T> | undefined {
  return useSyncExternalStore(subscribe, () => entryAt<T>(what));
}

/** What the server has answered last to what was kept of it from here, where no page has shown it yet. */
export function useAnswered<T>(what: string): Kept<T> | undefined {
  return useSyncExternalStore(subscribe, () => box.answered.get(what) as Kept<T> | undefined);
}

/** Whether it is something that the server keeps; the rest stays on this device until it is used up. */
export function isKeepable(entry: Entry): boolean {
  return senders.has(kindOf(entry.what)) || drafts.has(kindOf(entry.what));
}

/** How many wait to be kept, and whether any was refused, in words for the frame. */
export function keepingWords({ entries, roomless }: Outbox): string {
  const all = [...entries.values()].filter(isKeepable);
  const count = (state: State) => all.filter((entry) => entry.state === state).length;
  const looks = count("refused") + count("conflict");
  const waiting = count("waiting");
  const typed = count("typed");
  if (roomless.size > 0) return "no room on this device: leave this page open";
  if (looks > 0) return `${looks} refused: look`;
  if (waiting > 0) return isReached() ? `${waiting} waiting` : `${waiting} waiting, no connection`;
  if (typed > 0) return typed === 1 ? "1 draft here" : `${typed} drafts here`;
  return "all kept";
}
