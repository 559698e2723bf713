import { useQuery } from "@tanstack/react-query";
import { createContext, type ReactNode, use, useCallback, useMemo, useState } from "react";

import { keys } from "../api/keys";
import { api, ask } from "../api/client";
import { useAsking } from "../frame/asking";
import { useUnits } from "../frame/units";
import { type Curve, type Line, readCurve } from "./curve";
import { curveQuery } from "./curveQuery";

export interface LineState {
  tank: number;
  curve: Curve;
  /** All that reads at the line: exact when it stands still, from the curve while it moves. */
  line: Line;
  move: (innageMm: number) => void;
  /** Whether the line goes along with the newest reading; it lets go as soon as it is moved. */
  following: boolean;
  follow: (on: boolean) => void;
  /** Bring it to the newest reading, still following. */
  bring: (innageMm: number) => void;
  nudge: (steps: number) => void;
}

const Context = createContext<LineState | null>(null);

/** What one nudge moves the line by in each system: a millimetre, or an eighth of an inch. */
const NUDGE = { metric: 1, us: 1 / 8 };

/** The line through one tank, for everything on its page. */
export function LineProvider({ tank, curve, children }: { tank: number; curve: Curve; children: ReactNode }) {
  const key = `rasante:line:${tank}`;
  const { system, fromShown } = useUnits();
  const [innage, setInnage] = useState(() => {
    const kept = Number(sessionStorage.getItem(key) ?? NaN);
    return Number.isFinite(kept) ? kept : curve.inside_height_mm / 2;
  });
  const level = Math.min(Math.max(innage, 0), curve.inside_height_mm);
  const [following, follow] = useState(false);
  const bring = useCallback(
    (to: number) => {
      sessionStorage.setItem(key, String(to));
      setInnage(to);
    },
    [key],
  );
  const move = useCallback(
    (to: number) => {
      follow(false);
      bring(to);
    },
    [bring],
  );
  const nudge = useCallback(
    (steps: number) => {
      const to = Math.min(
        Math.max(level + steps * fromShown("length", NUDGE[system]), 0),
        curve.inside_height_mm,
      );
      move(Math.round(to * 1e6) / 1e6);
    },
    [level, system, fromShown, curve.inside_height_mm, move],
  );
  const { answer: exact } = useAsking(keys.tank(tank, "line"), { level, system }, (asked, signal) =>
    ask(
      api.GET("/api/tanks/{id}/line/", {
        params: {
          path: { id: tank },
          query: { by: "innage", text: `${asked.level} mm`, system: asked.system },
        },
        signal,
      }),
    ),
  );
  const state = useMemo<LineState>(() => {
    const still = exact && Math.abs(exact.innage_mm - level) < 1e-6;
    const line = still ? exact : readCurve(curve, level);
    return { tank, curve, line, move, following, follow, bring, nudge };
  }, [tank, curve, exact, level, move, following, bring, nudge]);
  return <Context value={state}>{children}</Context>;
}

/** The line of the open tank. */
export function useLine(): LineState {
  const state = use(Context);
  if (!state) throw new Error("useLine needs a LineProvider");
  return state;
}

/** The curve of a tank, from which the line is followed. */
export function useCurve(tank: number): Curve | undefined {
  const { system } = useUnits();
  const { data } = useQuery({ ...curveQuery(tank, system), placeholderData: (old) => old });
  return data;
}
