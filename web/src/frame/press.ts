/** What a press is upon: not the line's handle nor anything else that is dragged. */
const PRESSED = "button, a, summary, label, input[type=checkbox], input[type=radio]";

interface Press {
  on: HTMLElement;
  /** Where that stood when it was pressed. */
  where: DOMRect;
}

function pressOf({ target, button, isPrimary }: PointerEvent): Press | null {
  const on = target instanceof Element ? target.closest(PRESSED) : null;
  // Another finger or another button of the mouse presses nothing.
  if (!isPrimary || button !== 0 || !(on instanceof HTMLElement)) return null;
  return { on, where: on.getBoundingClientRect() };
}

function isWithin({ left, right, top, bottom }: DOMRect, { clientX, clientY }: PointerEvent): boolean {
  return left <= clientX && clientX <= right && top <= clientY && clientY <= bottom;
}

/**
 * A press is of what was pressed. An answer that comes while the finger is down may make what stands above a button
 * longer or shorter; let go where the button stood, it is that button that is clicked, neither nothing nor the one
 * that stands there now.
 */
export function clickWhatWasPressed(): void {
  let press: Press | null = null;
  let meant: HTMLElement | null = null;
  const on = <K extends keyof WindowEventMap>(name: K, act: (event: WindowEventMap[K]) => void) =>
    window.addEventListener(name, act, true);
  on("pointerdown", (event) => {
    press = pressOf(event);
    meant = null;
  });
  on("pointerup", (event) => {
    meant = press && isWithin(press.where, event) ? press.on : null;
    press = null;
  });
  on("pointercancel", () => {
    press = meant = null;
  });
  on("click", (event) => {
    const pressed = meant;
    meant = null;
    // Keys and scripts click too, and those know what they mean.
    const byPointer = event.isTrusted && event.detail > 0;
    if (!pressed || !byPointer || (event.target instanceof Node && pressed.contains(event.target))) return;
    event.preventDefault();
    event.stopImmediatePropagation();
    pressed.click();
  });
}
