import { keepPreviousData, type QueryKey, useQuery, type UseQueryResult } from "@tanstack/react-query";
import { useEffect, useState } from "react";

import { isRefusal } from "../api/client";

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

/**
 * What is to be told of a question that is asked again and again: its refusal, until there is an answer, as the question
 * forgets it for as long as it is asked. That nobody answers is the frame's to say where there is anything to see.
 */
export function useTold<A>({ data, error, isSuccess, isPlaceholderData }: UseQueryResult<A>): Error | null {
  const [last, setLast] = useState<Error | null>(null);
  const told = error ?? (isSuccess && !isPlaceholderData ? null : last);
  if (told !== last) setLast(told);
  return told && (data === undefined || isRefusal(told)) ? told : null;
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
