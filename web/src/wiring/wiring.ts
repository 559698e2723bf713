import { useQuery } from "@tanstack/react-query";

import { keys } from "../api/keys";
import { api, ask, type Schema } from "../api/client";
import type { Calls } from "../frame/plan";

export type WiringReading = Schema["WiringReading"];
export type WiringWords = Schema["WiringWords"];

/** The words that the wiring's screens are built from; fetched once. */
export function useWiringWords(): WiringWords | undefined {
  const { data } = useQuery({
    queryKey: keys.words("wiring"),
    queryFn: () => ask(api.GET("/api/wiring-words/")),
    staleTime: "static",
  });
  return data;
}

/** How the wiring of a tank is read, judged and kept. */
export const WIRING: Calls<WiringReading> = {
  kind: "wiring",
  title: "Wiring",
  station: "wiring",
  read: (id) => ask(api.GET("/api/tanks/{id}/wiring/", { params: { path: { id } } })),
  check: (id, body, signal) =>
    ask(api.POST("/api/tanks/{id}/wiring/", { params: { path: { id } }, body, signal })),
  keep: (id, body) => ask(api.PUT("/api/tanks/{id}/wiring/", { params: { path: { id } }, body })),
};
