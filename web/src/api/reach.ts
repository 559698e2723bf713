import { useSyncExternalStore } from "react";

/** Whether the server answers, as the last questions found it: a browser may well be online while it does not. */
export interface Reach {
  /** Since when it does not answer; null while it does. */
  since: number | null;
  /** Whether it answers, but only that it has failed. */
  failing: boolean;
}

let state: Reach = { since: null, failing: false };
const listeners = new Set<() => void>();

function set(next: Reach): void {
  if (next.since === state.since && next.failing === state.failing) return;
  state = next;
  for (const listener of listeners) listener();
}

/** An answer came: the server is there. */
export function reached(): void {
  set({ since: null, failing: false });
}

/** No answer came, or only that the server has failed. */
export function unreached(failing: boolean): void {
  set({ since: state.since ?? Date.now(), failing });
}

function subscribe(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** How the server was found by the last questions. */
export function useReach(): Reach {
  return useSyncExternalStore(subscribe, () => state);
}

/** Whether the server answered the last question. */
export function isReached(): boolean {
  return state.since === null;
}
