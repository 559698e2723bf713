import "../gauges/gauges.css";
import "./wiring.css";

import { Cautions } from "../frame/Cautions";
import { Panes, usePane } from "../frame/Panes";
import { usePlan } from "../frame/plan";
import { PlanBar } from "../frame/PlanBar";
import type { Tank } from "../tanks/tank";
import { ArrivedPane } from "./ArrivedPane";
import { BudgetPane } from "./BudgetPane";
import { CircuitPane } from "./CircuitPane";
import { useWiringWords, WIRING } from "./wiring";
import { MeterPane } from "./MeterPane";
import { RingOutPane } from "./RingOutPane";
import { Opening } from "../frame/Opening";

const PANES = [
  ["circuit", "Circuit"],
  ["budget", "Will it carry"],
  ["meter", "Meter"],
  ["ring-out", "Ring out"],
  ["arrived", "Arrived, kit"],
] as const;

/** Station Wiring: the circuit drawn and judged, its budget, the meter on it, the cable rung out, what arrived. */
export function WiringStation({ tank }: { tank: Tank }) {
  const words = useWiringWords();
  const plan = usePlan(tank, WIRING);
  const [pane, choose] = usePane(PANES);
  if (!words || !plan) return <Opening />;
  const { reading, form } = plan;
  return (
    <section aria-label="Wiring" className="survey wiring-station">
      <Cautions list={tank.facts.cautions} station="wiring" />
      <PlanBar
        plan={plan}
        action="Keep this wiring"
        nothing="Not kept yet: as it follows from the gauge."
        pressing={
          plan.kept.revision === 0 && reading !== undefined
            ? "Not kept yet: as it follows from the gauge."
            : ""
        }
      />
      <Panes label="What of the wiring" panes={PANES} here={pane} onChoose={choose} />
      {reading && !reading.sends && (
        <p className="empty">
          The gauge of this tank sends nothing: there is nothing to wire, unless another one is chosen.
        </p>
      )}
      {!reading && <progress aria-label="Drawing the circuit" />}
      {reading && pane === "circuit" && (
        <CircuitPane tank={tank} form={form} reading={reading} words={words} kept={!plan.changed} />
      )}
      {reading && pane === "budget" && <BudgetPane form={form} reading={reading} />}
      {reading && pane === "meter" && <MeterPane tank={tank} form={form} reading={reading} words={words} />}
      {reading && pane === "ring-out" && <RingOutPane tank={tank} form={form} reading={reading} />}
      {reading && pane === "arrived" && <ArrivedPane form={form} reading={reading} words={words} />}
    </section>
  );
}
