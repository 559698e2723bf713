import "../gauges/gauges.css";
import "../scaling/chain.css";

import { DevicesPane } from "../devices/DevicesPane";
import { RescalePane } from "../devices/RescalePane";
import { Cautions } from "../frame/Cautions";
import { Panes, usePane } from "../frame/Panes";
import { ChainPane } from "../scaling/ChainPane";
import { MarksPane } from "../scaling/MarksPane";
import { SlopesPane } from "../scaling/SlopesPane";
import type { Tank } from "../tanks/tank";

const PANES = [
  ["chain", "Chain"],
  ["slopes", "Slope"],
  ["marks", "Marks"],
  ["devices", "Devices"],
  ["rescale", "Change a part"],
] as const;

/** Station Scale: the whole chain from the liquid to the screen, and what is set by it. */
export function ScaleStation({ tank }: { tank: Tank }) {
  const [pane, choose] = usePane(PANES);
  return (
    <section aria-label="Scale" className="survey scale-station">
      <Cautions list={tank.facts.cautions} station="scale" />
      <Panes label="What of the scale" panes={PANES} here={pane} onChoose={choose} />
      {pane === "chain" && <ChainPane tank={tank} />}
      {pane === "slopes" && <SlopesPane tank={tank} onChain={() => choose("chain")} />}
      {pane === "marks" && <MarksPane tank={tank} />}
      {pane === "devices" && <DevicesPane tank={tank} />}
      {pane === "rescale" && <RescalePane tank={tank} />}
    </section>
  );
}
