import { useEffect } from "react";

/** What the window is called while a page stands. */
export function useTitle(title: string | undefined): void {
  useEffect(() => {
    if (title) document.title = `${title} · Rasante`;
  }, [title]);
}
