import { api, ask, type Schema } from "../api/client";
import type { Calls } from "../frame/plan";

export type ChainReading = Schema["ChainReading"];
export type ChainLine = Schema["ChainLine"];

/** How the scaling chain of a tank is read, judged and kept. */
export const CHAIN: Calls<ChainReading> = {
  kind: "chain",
  title: "Chain",
  station: "scale",
  read: (id) => ask(api.GET("/api/tanks/{id}/chain/", { params: { path: { id } } })),
  check: (id, body, signal) =>
    ask(api.POST("/api/tanks/{id}/chain/", { params: { path: { id } }, body, signal })),
  keep: (id, body) => ask(api.PUT("/api/tanks/{id}/chain/", { params: { path: { id } }, body })),
};

/** The same of a tank's marks. */
export const MARKS: Calls<Schema["Marks"]> = {
  kind: "marks",
  title: "Marks",
  station: "scale",
  read: (id) => ask(api.GET("/api/tanks/{id}/marks/", { params: { path: { id } } })),
  check: (id, body, signal) =>
    ask(api.POST("/api/tanks/{id}/marks/", { params: { path: { id } }, body, signal })),
  keep: (id, body) => ask(api.PUT("/api/tanks/{id}/marks/", { params: { path: { id } }, body })),
};

/** The same of the readings that a slope is taken from. */
export const SLOPES: Calls<Schema["Slopes"]> = {
  kind: "slopes",
  title: "Readings for the slope",
  station: "scale",
  read: (id) => ask(api.GET("/api/tanks/{id}/slopes/", { params: { path: { id } } })),
  check: (id, body, signal) =>
    ask(api.POST("/api/tanks/{id}/slopes/", { params: { path: { id } }, body, signal })),
  keep: (id, body) => ask(api.PUT("/api/tanks/{id}/slopes/", { params: { path: { id } }, body })),
};
