import { keepPreviousData, type QueryKey, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";

/** A value once it has stood still for a while [ms]. */
export function useSettled<T>(value: T, text: string, wait: number): T {
  const [settled, setSettled] = useState({ value, text });
  useEffect(() => {
    if (settled.text === text) return;
    const timer = setTimeout(() => setSettled({ value, text }), wait);
    return () => clearTimeout(timer);
  });
  return settled.value;
}

export interface Asking<A> {
  /** The newest answer; while the next is under way, the last. */
  answer: A | undefined;
  /** Whether it answers the very question that stands now. */
  current: boolean;
  /** What was refused; the words say what to change. */
  error: Error | null;
}

interface Ways {
  /** How long the question must have stood still [ms]. */
  settle?: number;
  /** Whether the last answer stays until the next is there. */
  keep?: boolean;
}

/**
 * Ask the server about something that changes at every keystroke or drag: once it stands still, with the older
 * question given up. A server that does not answer is asked again; a refusal is told and not repeated.
 */
export function useAsking<Q, A>(
  name: QueryKey,
  question: Q | null,
  askFor: (question: Q, signal: AbortSignal) => Promise<A>,
  { settle = 120, keep = true }: Ways = {},
): Asking<A> {
  const text = JSON.stringify(question);
  const settled = useSettled(question, text, settle);
  const asked = question === null ? null : settled;
  const query = useQuery<A>({
    queryKey: [...name, asked],
    queryFn: ({ signal }) => askFor(asked as Q, signal),
    enabled: asked !== null,
    ...(keep && { placeholderData: keepPreviousData }),
    staleTime: 60_000,
    gcTime: 60_000,
    throwOnError: false,
  });
  const current = query.isSuccess && !query.isPlaceholderData && JSON.stringify(asked) === text;
  return { answer: query.data, current, error: query.error };
}
