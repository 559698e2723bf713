import { notifyManager } from "@tanstack/react-query";

/** What a press is upon: not the line's handle nor anything else that is dragged, whose readings follow meanwhile. */
const PRESSED = "button, a, summary, label";

let pressed = false;
let waiting: (() => void)[] = [];

/** Do something that changes the page: now, or once the button that is pressed just now is let go. */
export function afterPress(run: () => void): void {
  if (pressed) waiting.push(run);
  else run();
}

function letGo(): void {
  if (!pressed) return;
  pressed = false;
  const all = waiting;
  waiting = [];
  // The click itself comes before them.
  setTimeout(() => all.forEach((run) => run()), 0);
}

/**
 * While a button is pressed, what comes from the server waits until it is let go: an answer that made what stands above
 * longer or shorter would move the button from under the finger, and the press would be lost.
 */
export function holdStillUnderAPress(): void {
  addEventListener(
    "pointerdown",
    ({ target }) => (pressed = target instanceof Element && target.closest(PRESSED) !== null),
    true,
  );
  for (const end of ["pointerup", "pointercancel", "blur"]) addEventListener(end, letGo, true);
  notifyManager.setScheduler((run) => setTimeout(() => afterPress(run), 0));
}
