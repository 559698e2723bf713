import { queryOptions, useQuery } from "@tanstack/react-query";

import { keys } from "../api/keys";
import { api, ask, type Schema } from "../api/client";

export type Words = Schema["Words"];

export const wordsQuery = queryOptions({
  queryKey: keys.words("tanks"),
  queryFn: () => ask(api.GET("/api/words/")),
  staleTime: "static",
});

/** The words and units that the screens are built from; fetched once. */
export function useWords(): Words | undefined {
  const { data } = useQuery(wordsQuery);
  return data;
}
