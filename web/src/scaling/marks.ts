import { useQuery } from "@tanstack/react-query";

import { keys } from "../api/keys";
import { api, ask } from "../api/client";

/** The marks of a tank as they are kept, and where they stand by the table. */
export function useKeptMarks(tank: number) {
  return useQuery({
    queryKey: keys.tank(tank, "marks"),
    queryFn: () => ask(api.GET("/api/tanks/{id}/marks/", { params: { path: { id: tank } } })),
  });
}
