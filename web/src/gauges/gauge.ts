import { useQuery } from "@tanstack/react-query";

import { api, ask, type Schema } from "../api/client";
import type { Entries } from "../frame/FormField";
import type { Calls, Planned } from "../frame/plan";

export type GaugeReading = Schema["GaugeReading"];
export type Verdict = Schema["Verdict"];
export type GaugeWords = Schema["GaugeWords"];

/** The words that the gauges' screens are built from; fetched once. */
export function useGaugeWords(): GaugeWords | undefined {
  const { data } = useQuery({
    queryKey: ["gauge-words"],
    queryFn: () => ask(api.GET("/api/gauge-words/")),
    staleTime: Infinity,
  });
  return data;
}

/** The gauge kept for a tank: its fields, and how it stands in the section. */
export function useKeptGauge(id: number) {
  return useQuery({
    queryKey: ["tank", id, "gauge"],
    queryFn: () => ask(api.GET("/api/tanks/{id}/gauge/", { params: { path: { id } } })),
  });
}

/** The library of gauge models. */
export function useLibrary() {
  return useQuery({ queryKey: ["gauge-models"], queryFn: () => ask(api.GET("/api/gauge-models/")) });
}

/** How the gauge of a tank is read, judged and kept. */
export const GAUGE: Calls<GaugeReading> = {
  read: (id: number) => ask(api.GET("/api/tanks/{id}/gauge/", { params: { path: { id } } })),
  check: (id: number, body: Planned) =>
    ask(api.POST("/api/tanks/{id}/gauge/", { params: { path: { id } }, body })),
  keep: (id: number, body: Planned & { revision: number }) =>
    ask(api.PUT("/api/tanks/{id}/gauge/", { params: { path: { id } }, body })),
};

/** The same of a probe's wet ends. */
export const WET_ENDS: Calls<Schema["WetEnds"]> = {
  read: (id) => ask(api.GET("/api/tanks/{id}/wet-ends/", { params: { path: { id } } })),
  check: (id, body) => ask(api.POST("/api/tanks/{id}/wet-ends/", { params: { path: { id } }, body })),
  keep: (id, body) => ask(api.PUT("/api/tanks/{id}/wet-ends/", { params: { path: { id } }, body })),
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
