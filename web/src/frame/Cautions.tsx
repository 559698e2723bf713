import type { Schema } from "../api/client";

/** The cautions of one station, for this product. */
export function Cautions({ list, station }: { list: Schema["Caution"][]; station: string }) {
  const here = list.filter((caution) => caution.station === station);
  if (here.length === 0) return null;
  return (
    <aside className="cautions" aria-label="Cautions">
      {here.map((caution) => (
        <p key={caution.code}>{caution.text}</p>
      ))}
    </aside>
  );
}
