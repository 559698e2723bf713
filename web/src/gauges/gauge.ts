import { useQuery } from "@tanstack/react-query";

import { keys } from "../api/keys";
import { api, ask, type Schema } from "../api/client";
import type { Entries } from "../frame/FormField";
import type { Calls, Kind } from "../frame/plan";

export type GaugeReading = Schema["GaugeReading"];
export type Verdict = Schema["Verdict"];
export type GaugeWords = Schema["GaugeWords"];

/** The words that the gauges' screens are built from; fetched once. */
export function useGaugeWords(): GaugeWords | undefined {
  const { data } = useQuery({
    queryKey: keys.words("gauges"),
    queryFn: () => ask(api.GET("/api/gauge-words/")),
    staleTime: "static",
  });
  return data;
}

/** The gauge kept for a tank: its fields, and how it stands in the section. */
export function useKeptGauge(id: number) {
  return useQuery({
    queryKey: keys.tank(id, "gauge"),
    queryFn: () => ask(api.GET("/api/tanks/{id}/gauge/", { params: { path: { id } } })),
  });
}

/** The library of gauge models. */
export function useLibrary() {
  return useQuery({ queryKey: keys.gaugeModels, queryFn: () => ask(api.GET("/api/gauge-models/")) });
}

/** How the gauge of a tank is read, judged and kept. */
export const GAUGE: Calls<GaugeReading> = {
  kind: "gauge",
  title: "Gauge",
  station: "gauge",
  read: (id) => ask(api.GET("/api/tanks/{id}/gauge/", { params: { path: { id } } })),
  check: (id, body, signal) =>
    ask(api.POST("/api/tanks/{id}/gauge/", { params: { path: { id } }, body, signal })),
  keep: (id, body) => ask(api.PUT("/api/tanks/{id}/gauge/", { params: { path: { id } }, body })),
};

/** The same of a probe's wet ends. */
export const WET_ENDS: Calls<Schema["WetEnds"]> = {
  kind: "wet-ends",
  title: "Wet ends",
  station: "gauge",
  read: (id) => ask(api.GET("/api/tanks/{id}/wet-ends/", { params: { path: { id } } })),
  check: (id, body, signal) =>
    ask(api.POST("/api/tanks/{id}/wet-ends/", { params: { path: { id } }, body, signal })),
  keep: (id, body) => ask(api.PUT("/api/tanks/{id}/wet-ends/", { params: { path: { id } }, body })),
};

/** The fields of the tank's chain, into which a probe's ends can be put. */
export const CHAIN_FIELDS: Kind = {
  kind: "chain",
  title: "Chain",
  station: "scale",
  read: (id) => ask(api.GET("/api/tanks/{id}/chain/", { params: { path: { id } } })),
  keep: (id, body) => ask(api.PUT("/api/tanks/{id}/chain/", { params: { path: { id } }, body })),
};

/**
 * The spot as it was put last [mm]: what a drag has written in millimetres goes before what the server has read, which
 * follows a moment later.
 */
export function spotOf(entries: Entries, there: GaugeReading["situation"]): { x: number; y: number } {
  const put = (path: string, read: number, nothing: number) => {
    const typed = entries[path];
    if (typed === undefined) return nothing;
    const match = /^(-?\d+(?:\.\d+)?) mm$/.exec(typed);
    return match ? Number(match[1]) : read;
  };
  return { x: put("spot.x", there.x_mm, there.x_mm), y: put("spot.y", there.y_mm, 0) };
}
