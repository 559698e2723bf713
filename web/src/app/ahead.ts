import type { QueryClient } from "@tanstack/react-query";

import { systemOfScreen } from "../frame/units";
import { wordsQuery } from "../frame/words";
import { curveQuery } from "../line/curveQuery";
import { sessionQuery } from "../people/session";
import { tankQuery } from "../tanks/tank";
import { LOADS } from "./stationPages";

/** Whoever shows it asks again, and says so if it cannot be had. */
const nothing = () => undefined;

/**
 * Ask for what the first page needs, all at once and before anything is drawn: each would otherwise wait for the one
 * before it, and on a telephone's network every wait is long.
 */
export function askAhead(queries: QueryClient): void {
  const { pathname } = window.location;
  if (pathname.startsWith("/sign-in")) return;
  void queries.query(sessionQuery).catch(nothing);
  void queries.query(wordsQuery).catch(nothing);
  const [, id, station] = /^\/tanks\/(\d+)(?:\/(\w+))?/.exec(pathname) ?? [];
  if (!id) return;
  void queries.query(tankQuery(Number(id))).catch(nothing);
  void queries.query(curveQuery(Number(id), systemOfScreen())).catch(nothing);
  // After the questions, which take longer. What cannot be loaded now is loaded again by whoever shows it.
  setTimeout(() => {
    void import("./TankPage").catch(nothing);
    const load = Object.entries(LOADS).find(([key]) => key === (station ?? "survey"))?.[1];
    load?.().catch(nothing);
  });
}
