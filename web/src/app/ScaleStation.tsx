import "../gauges/gauges.css";
import "../scaling/chain.css";

import { DevicesPane } from "../devices/DevicesPane";
import { RescalePane } from "../devices/RescalePane";
import { Cautions } from "../frame/Cautions";
import { Panes, usePane } from "../frame/Panes";
import { ChainPane } from "../scaling/ChainPane";
import { MarksPane } from "../scaling/MarksPane";
import { PartingPane } from "../scaling/PartingPane";
import { SlopesPane } from "../scaling/SlopesPane";
import type { Tank } from "../tanks/tank";

const PANES = [
  ["chain", "Chain"],
  ["slopes", "Slope"],
  ["marks", "Marks"],
  ["devices", "Devices"],
  ["rescale", "Change a part"],
] as const;
/** What the chain opens beside the station's own panes: where truth and reading part. */
const ALL = [...PANES, ["parting", "Where it parts"]] as const;

/** Station Scale: the whole chain from the liquid to the screen, and what is set by it. */
export function ScaleStation({ tank }: { tank: Tank }) {
  const [pane, choose] = usePane(ALL);
  return (
    <section aria-label="Scale" className="survey scale-station">
      <Cautions list={tank.facts.cautions} station="scale" />
      <Panes label="What of the scale" panes={PANES} here={pane} onChoose={choose} />
      {pane === "chain" && <ChainPane tank={tank} />}
      {pane === "parting" && (
        <>
          <button type="button" className="how-open" onClick={() => choose("chain")}>
            ← Back to the chain
          </button>
          <PartingPane tank={tank} />
        </>
      )}
      {pane === "slopes" && <SlopesPane tank={tank} onChain={() => choose("chain")} />}
      {pane === "marks" && <MarksPane tank={tank} />}
      {pane === "devices" && <DevicesPane tank={tank} />}
      {pane === "rescale" && <RescalePane tank={tank} />}
    </section>
  );
}
