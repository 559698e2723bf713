import { api, ask, type Schema } from "../api/client";
import type { Calls } from "../frame/plan";

export type LoadReading = Schema["LoadReading"];

/** How the load of a vessel is worked out, and kept. */
export const LOAD: Calls<LoadReading> = {
  kind: "load",
  title: "Load",
  station: "watch",
  read: (id) => ask(api.GET("/api/tanks/{id}/load/", { params: { path: { id } } })),
  check: (id, body, signal) =>
    ask(api.POST("/api/tanks/{id}/load/", { params: { path: { id } }, body, signal })),
  keep: (id, body) => ask(api.PUT("/api/tanks/{id}/load/", { params: { path: { id } }, body })),
};
