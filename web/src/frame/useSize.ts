import { useLayoutEffect, useRef, useState, useSyncExternalStore } from "react";

/** The width of an element in pixels, followed as it changes. */
export function useWidth<T extends HTMLElement>(): [React.RefObject<T | null>, number] {
  const ref = useRef<T>(null);
  const [width, setWidth] = useState(0);
  useLayoutEffect(() => {
    const element = ref.current;
    if (!element) return;
    setWidth(element.clientWidth);
    const watcher = new ResizeObserver(([entry]) => {
      if (entry) setWidth(entry.contentRect.width);
    });
    watcher.observe(element);
    return () => watcher.disconnect();
  }, []);
  return [ref, width];
}

const NARROW = "(max-width: 860px)";

function watch(changed: () => void): () => void {
  const query = window.matchMedia(NARROW);
  query.addEventListener("change", changed);
  return () => query.removeEventListener("change", changed);
}

/** Whether the page is as narrow as a phone's, with its parts below one another. */
export function useNarrow(): boolean {
  return useSyncExternalStore(watch, () => window.matchMedia(NARROW).matches);
}
