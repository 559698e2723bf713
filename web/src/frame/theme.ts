import { useSyncExternalStore } from "react";

export type Theme = "paper" | "dusk";
const KEY = "rasante:theme";

/** The theme chosen on this device. */
export function theme(): Theme {
  return localStorage.getItem(KEY) === "dusk" ? "dusk" : "paper";
}

/** Put a theme on the page. */
export function applyTheme(): void {
  document.documentElement.dataset.bsTheme = theme() === "dusk" ? "dark" : "light";
}

/** Choose a theme and keep the choice on this device. */
export function chooseTheme(chosen: Theme): void {
  localStorage.setItem(KEY, chosen);
  applyTheme();
  for (const listener of listeners) listener();
}

const listeners = new Set<() => void>();

function subscribe(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** The theme as it is now, for what is drawn in its colours by hand. */
export function useTheme(): Theme {
  return useSyncExternalStore(subscribe, theme);
}
