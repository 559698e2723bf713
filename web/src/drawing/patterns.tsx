/** Tints of the liquids; the pattern and the written name carry the meaning. */
export const TINTS: Record<string, string> = {
  fuel: "#d9b56a",
  spirit: "#dc9a86",
  gas: "#b9b1d6",
  water: "#8fbdd0",
  other: "#bdbdb0",
};

/** The liquids' patterns, to stand once in a drawing. */
export function LiquidPatterns({ id }: { id: string }) {
  const mark = { stroke: "#1b262b", strokeOpacity: 0.4, strokeWidth: 1, fill: "none" };
  const tile = (name: string, size: number, drawn: React.ReactNode) => (
    <pattern key={name} id={`${id}-${name}`} width={size} height={size} patternUnits="userSpaceOnUse">
      <rect width={size} height={size} fill={TINTS[name]} fillOpacity={0.75} />
      {drawn}
    </pattern>
  );
  return (
    <defs>
      {tile("fuel", 9, <path d="M-1 10 10 -1" {...mark} />)}
      {tile("spirit", 9, <path d="M-1 10 10 -1M-1 -1 10 10" {...mark} strokeOpacity={0.22} />)}
      {tile("gas", 10, <circle cx="5" cy="5" r="1.4" fill="#1b262b" fillOpacity={0.4} />)}
      {tile("water", 14, <path d="M0 7q3.5 -4 7 0t7 0" {...mark} />)}
      {tile("other", 8, <path d="M0 4h8" {...mark} />)}
    </defs>
  );
}
