import "../frame/fields.css";
import "../scaling/chain.css";
import "../wiring/wiring.css";
import "./faults.css";

import { Panes, usePane } from "../frame/Panes";
import type { Tank } from "../tanks/tank";
import { CasePane } from "./CasePane";
import { PartingPane } from "./PartingPane";

const PANES = [
  ["case", "This case"],
  ["parting", "Where it parts"],
] as const;

/** Find the fault: test by test, or by what was read at one moment along the chain. */
export function TroublePage({ tank }: { tank: Tank }) {
  const [pane, choose] = usePane(PANES);
  return (
    <div className="trouble">
      <div className="trouble-top">
        <h2 className="trouble-title">Find the fault</h2>
        <Panes label="How the fault is looked for" panes={PANES} here={pane} onChoose={choose} />
      </div>
      <div className="cautions" role="note">
        <p>
          A simulated signal moves real pumps and valves: manual first, and the operator told. Dead means
          proven dead. No ordinary meter in a live hazardous area. Local codes and licensed practice come
          first.
        </p>
      </div>
      {pane === "case" && <CasePane tank={tank} />}
      {pane === "parting" && <PartingPane tank={tank} />}
    </div>
  );
}
