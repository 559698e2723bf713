import { createContext, use } from "react";

import type { Schema } from "../api/client";

interface Shown {
  /** A shape that is being typed, to be drawn in place of the kept one. */
  shown: Schema["Facts"] | null;
  show: (facts: Schema["Facts"] | null) => void;
}

const Context = createContext<Shown>({ shown: null, show: () => undefined });

/** Gives the survey a way to have its unkept shape drawn. */
export const ShownShape = Context.Provider;

/** What is drawn in place of the kept shape. */
export function useShownShape(): Shown {
  return use(Context);
}
