import { useLayoutEffect } from "react";

/**
 * A bare number with the unit that it was read in; null where the reading is not of this text, which is older or
 * newer than it, or where more than a unit would be written.
 */
export function withUnit(typed: string, kept: string): string | null {
  const bare = typed.trim();
  if (bare === "" || !kept.startsWith(`${bare} `)) return null;
  return /^ [^\d\s]\S*( \S+)?$/.test(kept.slice(bare.length)) ? kept : null;
}

/**
 * Write the unit behind a bare number once its field is left, so that switching units cannot change its meaning. It is
 * written with what is drawn: later, it would put back the other fields as they were then.
 */
export function useUnitOnLeaving(
  left: boolean,
  typed: string,
  read: { state: string; kept: string } | undefined,
  change: (text: string) => void,
): void {
  const named = left && read?.state === "read" ? withUnit(typed, read.kept) : null;
  useLayoutEffect(() => {
    if (named !== null) change(named);
  });
}
