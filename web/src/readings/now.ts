import { useQuery, type UseQueryResult } from "@tanstack/react-query";

import { api, ask, type Schema } from "../api/client";
import { keys } from "../api/keys";

export type Now = Schema["Now"];
export type Take = Schema["Take"];
export type RecordedEvent = Schema["Event"];

/** How often what is live is asked for [ms]. */
const LIVE = 3000;

/** What a tank has now, asked again and again; null where nothing brings its level. */
export function useNow(tank: number): UseQueryResult<Now | null> {
  return useQuery({
    queryKey: keys.tank(tank, "now"),
    queryFn: async () => (await ask(api.GET("/api/tanks/{id}/now/", { params: { path: { id: tank } } }))).now,
    refetchInterval: LIVE,
    staleTime: 0,
    throwOnError: false,
  });
}

/** The shape that goes with each condition, beside its words. */
const SHAPES: Record<string, string> = {
  none: "○",
  fault: "▲",
  lost: "▲",
  stale: "◌",
  typed: "✎",
  ceiling: "⊤",
  floor: "⊥",
  frozen: "❄",
  stepping: "▲",
  periodic: "∿",
  noisy: "∿",
  drifting: "◐",
  filling: "↑",
  drawing: "↓",
  still: "●",
};

export function shapeOf(condition: string): string {
  return SHAPES[condition] ?? "○";
}

/** Seconds as people say them: “12 s”, “40 min”, “3 h”, “2 days”. */
export function spanWords(seconds: number): string {
  if (seconds < 120) return `${Math.round(seconds)} s`;
  if (seconds < 7200) return `${Math.round(seconds / 60)} min`;
  if (seconds < 172_800) return `${Math.round(seconds / 3600)} h`;
  return `${Math.round(seconds / 86_400)} days`;
}
