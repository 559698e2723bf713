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
}
