import type { ReactNode } from "react";

/** What is wider than a phone scrolls by itself, by finger and by keyboard; the page never does. */
export function Scroll({ label, children }: { label: string; children: ReactNode }) {
  return (
    <div className="scroll" role="region" aria-label={label} tabIndex={0}>
      {children}
    </div>
  );
}
