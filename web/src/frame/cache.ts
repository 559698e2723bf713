import type { QueryClient, QueryKey, Updater } from "@tanstack/react-query";

/**
 * Put what the server has just answered in the cache. An older question that is still under way is dropped with its
 * answer, and asked anew where nothing was known before it.
 */
export async function putNewest<T>(
  queries: QueryClient,
  key: QueryKey,
  newest: Updater<T | undefined, T | undefined>,
): Promise<void> {
  const alone = { queryKey: key, exact: true };
  await queries.cancelQueries(alone);
  queries.setQueryData<T>(key, newest);
  if (queries.getQueryData(key) === undefined) void queries.invalidateQueries(alone);
}
