import { queryOptions, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";

import { keys } from "../api/keys";
import { closeOutbox } from "../frame/outbox";
import { api, ask, forgetAnswers, type Schema } from "../api/client";

export type Person = Schema["Person"];

export const sessionQuery = queryOptions({
  queryKey: keys.session,
  queryFn: () => ask(api.GET("/api/session/")),
  staleTime: 60_000,
});

/** Who is signed in. */
export function usePerson(): Person | null | undefined {
  const { data } = useQuery(sessionQuery);
  return data?.person;
}

/** Sign out and go to the door. */
export function useSignOut(): () => Promise<void> {
  const queries = useQueryClient();
  return useCallback(async () => {
    await ask(api.DELETE("/api/session/"));
    await forgetAnswers();
    closeOutbox();
    queries.clear();
    window.location.assign("/sign-in");
  }, [queries]);
}
