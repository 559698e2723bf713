import { useCallback, useState } from "react";

interface Kept<T> {
  value: T;
  at: number;
}

function load<T>(key: string): Kept<T> | null {
  try {
    const text = localStorage.getItem(key);
    return text ? (JSON.parse(text) as Kept<T>) : null;
  } catch {
    return null;
  }
}

export interface Draft<T> {
  /** What was typed here and is not kept by the server, if anything. */
  value: T | null;
  /** When it was last changed. */
  at: number | null;
  change: (value: T) => void;
  /** Forget it: it has been kept by the server. */
  clear: () => void;
  /** Put it away, to be had back while the page is open. */
  discard: () => void;
  /** Have back what was put away, if anything was. */
  undo: (() => void) | null;
}

/** Keep what is being typed on this device, on every change, until it is cleared. */
export function useDraft<T>(key: string): Draft<T> {
  const [kept, setKept] = useState<{ key: string; draft: Kept<T> | null }>(() => ({
    key,
    draft: load<T>(key),
  }));
  const [away, setAway] = useState<T | null>(null);
  if (kept.key !== key) {
    setKept({ key, draft: load<T>(key) });
    setAway(null);
  }
  const change = useCallback(
    (value: T) => {
      const draft = { value, at: Date.now() };
      localStorage.setItem(key, JSON.stringify(draft));
      setKept({ key, draft });
      setAway(null);
    },
    [key],
  );
  const clear = useCallback(() => {
    localStorage.removeItem(key);
    setKept({ key, draft: null });
  }, [key]);
  const value = kept.draft?.value ?? null;
  const discard = useCallback(() => {
    clear();
    setAway(value);
  }, [clear, value]);
  const undo = away === null ? null : () => change(away);
  return { value: kept.draft?.value ?? null, at: kept.draft?.at ?? null, change, clear, discard, undo };
}

/** Write a time of day, as in “saved 10:42”. */
export function clock(at: number | string): string {
  return new Date(at).toLocaleTimeString(undefined, { hour: "2-digit", minute: "2-digit", hourCycle: "h23" });
}

/** Write a day. */
export function day(at: string): string {
  return new Date(at).toLocaleDateString(undefined, { day: "numeric", month: "short", year: "numeric" });
}
