import { useEffect } from "react";

/** Whether a key press belongs to a field that is being typed in. */
function isTyping(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName))
  );
}

const KEY = "rasante:keys";

/** Whether single keys act at all; whoever speaks to their machine switches them off. */
export function keysAct(): boolean {
  return localStorage.getItem(KEY) !== "off";
}

export function letKeysAct(act: boolean): void {
  localStorage.setItem(KEY, act ? "on" : "off");
}

/** Listen to single keys while nothing is being typed and no dialog is open. */
export function useKeys(keys: Record<string, (event: KeyboardEvent) => void>): void {
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return;
      if (!keysAct()) return;
      if (document.querySelector('[role="dialog"]')) return;
      const act = keys[event.key];
      if (!act) return;
      event.preventDefault();
      act(event);
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  });
}
