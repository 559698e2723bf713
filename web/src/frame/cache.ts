import type { QueryClient, QueryKey, Updater } from "@tanstack/react-query";

/** Put what the server has just answered in the cache: an answer to an older question, still under way, is dropped. */
export async function putNewest<T>(
  queries: QueryClient,
  key: QueryKey,
  newest: Updater<T | undefined, T | undefined>,
): Promise<void> {
  await queries.cancelQueries({ queryKey: key, exact: true });
  queries.setQueryData<T>(key, newest);
}
