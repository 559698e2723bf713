import { useQuery } from "@tanstack/react-query";

import { keys } from "../api/keys";
import { api, ask } from "../api/client";

export type StationKey = "survey" | "table" | "gauge" | "wiring" | "scale" | "prove" | "watch";

/** The stations of a tank's work, in the order of the job. */
export const STATIONS: { key: StationKey; label: string }[] = [
  { key: "survey", label: "Survey" },
  { key: "table", label: "Table" },
  { key: "gauge", label: "Gauge" },
  { key: "wiring", label: "Wiring" },
  { key: "scale", label: "Scale" },
  { key: "prove", label: "Prove" },
  { key: "watch", label: "Watch" },
];

/** The shape that goes with each state, beside its words. */
export const STATE_SHAPES: Record<string, string> = {
  "not started": "○",
  "in hand": "◐",
  done: "●",
  "needs you": "▲",
};

/** How far the work on a tank has come. */
export function useStations(id: number) {
  return useQuery({
    queryKey: keys.tank(id, "stations"),
    queryFn: () => ask(api.GET("/api/tanks/{id}/stations/", { params: { path: { id } } })),
  });
}
