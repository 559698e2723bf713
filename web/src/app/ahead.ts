import type { QueryClient } from "@tanstack/react-query";

import { systemOfScreen } from "../frame/units";
import { wordsQuery } from "../frame/words";
import { curveQuery } from "../line/curveQuery";
import { sessionQuery } from "../people/session";
import { tankQuery } from "../tanks/tank";
import { LOADS } from "./stationPages";

/**
 * Ask for what the first page needs, all at once and before anything is drawn: each would otherwise wait for the one
 * before it, and on a telephone's network every wait is long.
 */
export function askAhead(queries: QueryClient): void {
  const { pathname } = window.location;
  if (pathname.startsWith("/sign-in")) return;
  void queries.prefetchQuery(sessionQuery);
  void queries.prefetchQuery(wordsQuery);
  const [, id, station] = /^\/tanks\/(\d+)(?:\/(\w+))?/.exec(pathname) ?? [];
  if (!id) return;
  void queries.prefetchQuery(tankQuery(Number(id)));
  void queries.prefetchQuery(curveQuery(Number(id), systemOfScreen()));
  // After the questions, which take longer. What cannot be loaded now is loaded again by whoever shows it.
  setTimeout(() => {
    void import("./TankPage").catch(() => undefined);
    const load = Object.entries(LOADS).find(([key]) => key === (station ?? "survey"))?.[1];
    load?.().catch(() => undefined);
  });
}
