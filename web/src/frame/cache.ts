import type { QueryClient, QueryKey, Updater } from "@tanstack/react-query";

/**
 * Put what the server has just answered in the cache. What is still under way there may be of before it: it is dropped
 * with its answer, and asked anew.
 */
export async function putNewest<T>(
  queries: QueryClient,
  key: QueryKey,
  newest: Updater<T | undefined, T | undefined>,
): Promise<void> {
  const alone = { queryKey: key, exact: true };
  const underWay = queries.isFetching(alone) > 0;
  await queries.cancelQueries(alone);
  queries.setQueryData<T>(key, newest);
  if (underWay) void queries.invalidateQueries(alone);
}
