import { type PointerEvent, useEffect, useRef, useState } from "react";

/** What a finger may take hold of in a drawing: its class, for whoever draws it. */
export const HANDLE = "grip-area";

function onHandle(target: EventTarget | null): boolean {
  return target instanceof Element && target.closest(`.${HANDLE}`) !== null;
}

/**
 * Drag something in a drawing: by a mouse from anywhere, by a finger from its handle alone, so that a swipe over the
 * drawing scrolls the page.
 */
export function useDrag(dragTo: ((event: PointerEvent<SVGSVGElement>) => void) | undefined) {
  const [drawn, ref] = useState<SVGSVGElement | null>(null);
  // Not the capture tells: a browser gives whatever a finger is put on the capture by itself.
  const dragging = useRef<number | null>(null);
  const still = dragTo === undefined;
  useEffect(() => {
    if (!drawn || still) return;
    // A touch on the handle is a drag of it from the first: the page does not scroll along.
    const hold = (event: TouchEvent) => {
      if (onHandle(event.target)) event.preventDefault();
    };
    drawn.addEventListener("touchstart", hold, { passive: false });
    return () => drawn.removeEventListener("touchstart", hold);
  }, [drawn, still]);
  const end = () => {
    dragging.current = null;
  };
  return {
    ref,
    onPointerDown(event: PointerEvent<SVGSVGElement>) {
      if (!dragTo || (event.pointerType === "touch" && !onHandle(event.target))) return;
      dragging.current = event.pointerId;
      event.currentTarget.setPointerCapture(event.pointerId);
      event.currentTarget.querySelector<SVGElement>("[role=slider]")?.focus({ preventScroll: true });
      dragTo(event);
    },
    onPointerMove(event: PointerEvent<SVGSVGElement>) {
      if (dragging.current === event.pointerId) dragTo?.(event);
    },
    onLostPointerCapture: end,
  };
}
