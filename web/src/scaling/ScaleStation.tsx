import "../gauges/gauges.css";
import "./chain.css";

import { Cautions } from "../frame/Cautions";
import { Panes, usePane } from "../frame/Panes";
import type { Tank } from "../tanks/tank";
import { ChainPane } from "./ChainPane";
import { DeviceSheetPane } from "./DeviceSheetPane";
import { MarksPane } from "./MarksPane";
import { PartingPane } from "./PartingPane";
import { RescalePane } from "./RescalePane";
import { ScalePane } from "./ScalePane";
import { SlopesPane } from "./SlopesPane";
import { WetEndsPane } from "./WetEndsPane";

const PANES = [
  ["scale", "Scale"],
  ["slopes", "Slope"],
  ["chain", "Chain"],
  ["parting", "Where it parts"],
  ["rescale", "Rescale"],
  ["marks", "Marks"],
  ["sheet", "Device sheet"],
  ["wet", "Wet ends"],
] as const;

/** Station Scale: what the signal stands for, and the whole chain from the liquid to the screen. */
export function ScaleStation({ tank }: { tank: Tank }) {
  const [pane, choose] = usePane(PANES);
  return (
    <section aria-label="Scale" className="survey scale-station">
      <Cautions list={tank.facts.cautions} station="scale" />
      <Panes label="What of the scale" panes={PANES} here={pane} onChoose={choose} />
      {pane === "scale" && <ScalePane tank={tank} />}
      {pane === "slopes" && <SlopesPane tank={tank} onScale={() => choose("scale")} />}
      {pane === "chain" && <ChainPane tank={tank} />}
      {pane === "parting" && <PartingPane tank={tank} />}
      {pane === "rescale" && <RescalePane tank={tank} />}
      {pane === "marks" && <MarksPane tank={tank} />}
      {pane === "sheet" && <DeviceSheetPane tank={tank} />}
      {pane === "wet" && <WetEndsPane tank={tank} onChain={() => choose("chain")} />}
    </section>
  );
}
