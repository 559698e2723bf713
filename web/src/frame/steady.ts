import { keepPreviousData, useQuery, type UseQueryResult } from "@tanstack/react-query";
import { useEffect, useState } from "react";

import { Refused } from "../api/client";

/** A value once it has stood still for a while [ms]. */
function useSettled<T>(value: T, wait: number): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), wait);
    return () => clearTimeout(timer);
  }, [value, wait]);
  return settled;
}

interface Question<A> {
  key: (level: number) => unknown[];
  ask: (level: number) => Promise<A>;
  /** Whether the last answer stays until the next one is there. */
  keep?: boolean;
}

/**
 * Ask about a level that is being dragged: only once it stands still, and never before the last answer is there,
 * so that one question at most is under way.
 */
export function useSteadyQuery<A>(level: number, { key, ask, keep = false }: Question<A>): UseQueryResult<A> {
  const settled = useSettled(level, 120);
  const [asked, setAsked] = useState(settled);
  const query = useQuery<A>({
    queryKey: key(asked),
    queryFn: () => ask(asked),
    placeholderData: keep ? keepPreviousData : undefined,
    // What was refused stays refused: the words say what to change.
    retry: (count, error) => count < 2 && !(error instanceof Refused),
  });
  if (!query.isFetching && asked !== settled) setAsked(settled);
  return query;
}
