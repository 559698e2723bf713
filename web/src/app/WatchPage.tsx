import { Panes, usePane } from "../frame/Panes";
import { LoadPane } from "../loading/LoadPane";
import { WatchStation } from "../readings/WatchStation";
import type { Tank } from "../tanks/tank";

const PANES = [
  ["watch", "Readings"],
  ["load", "Load"],
] as const;

/** Station Watch; a vessel under pressure is loaded there too. */
export function WatchPage({ tank }: { tank: Tank }) {
  const [pane, choose] = usePane(PANES);
  const loads = tank.facts.limits.filling_level_mm !== null;
  return (
    <section aria-label="Watch" className="watch">
      {loads && <Panes label="What of the readings" panes={PANES} here={pane} onChoose={choose} />}
      {loads && pane === "load" ? <LoadPane tank={tank} /> : <WatchStation tank={tank} />}
    </section>
  );
}
