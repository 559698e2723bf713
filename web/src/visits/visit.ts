import { useQuery, type UseQueryResult } from "@tanstack/react-query";

import { api, ask, type Schema } from "../api/client";
import { keys } from "../api/keys";
import { clock } from "../frame/times";

export type Visit = Schema["Visit"];
export type Step = Schema["Step"];
export type VisitInList = Schema["VisitInList"];
export type Shown = Schema["Shown"];

/** What stands for each state of a step, beside its words. */
export const SHAPES: Record<Step["state"], string> = {
  open: "○",
  running: "◔",
  done: "●",
  skip: "–",
  override: "▲",
};
export const STATE_WORDS: Record<Step["state"], string> = {
  open: "open",
  running: "running",
  done: "done",
  skip: "left out",
  override: "overridden",
};

/** The class of a step by its state; “skip” is the frame's own, of the link that skips to the page. */
export function classOf(state: Step["state"]): string {
  return state === "skip" ? "left-out" : state;
}

/** One visit as it stands; what is on the screen stays while the server does not answer. */
export function useVisit(id: number): UseQueryResult<Visit> {
  return useQuery({
    queryKey: keys.visit(id),
    queryFn: () => ask(api.GET("/api/visits/{id}/", { params: { path: { id } } })),
    refetchInterval: 30_000,
  });
}

/** A span of minutes as people say it. */
export function span(minutes: number): string {
  if (minutes < 1) return `${Math.round(minutes * 60)} s`;
  if (minutes < 90) return `${Math.round(minutes)} min`;
  const hours = Math.floor(minutes / 60);
  return `${hours} h ${Math.round(minutes - hours * 60)} min`;
}

/** The time of day, some minutes after another. */
export function clockIn(minutes: number, now: number): string {
  return clock(now + minutes * 60_000);
}
