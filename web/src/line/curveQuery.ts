import { queryOptions } from "@tanstack/react-query";

import { keys } from "../api/keys";
import { api, ask } from "../api/client";
import type { System } from "../frame/units";

/** How the curve of a tank is asked for, from which the line is followed. */
export function curveQuery(tank: number, system: System) {
  return queryOptions({
    queryKey: keys.tank(tank, "curve", system),
    queryFn: () =>
      ask(api.GET("/api/tanks/{id}/curve/", { params: { path: { id: tank }, query: { system } } })),
  });
}
