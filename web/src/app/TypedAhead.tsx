import { useEffect } from "react";

/** Takes what is typed while the field that it is meant for is still being loaded. */
export function TypedAhead({ onType }: { onType: (letter: string) => void }) {
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || event.key.length !== 1) return;
      event.preventDefault();
      event.stopImmediatePropagation();
      onType(event.key);
    };
    window.addEventListener("keydown", listen, true);
    return () => window.removeEventListener("keydown", listen, true);
  }, [onType]);
  return null;
}
