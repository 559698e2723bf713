import "../gauges/gauges.css";
import "./wiring.css";

import { Cautions } from "../frame/Cautions";
import { clock, day } from "../frame/draft";
import { KeepBar } from "../frame/KeepBar";
import { Panes, usePane } from "../frame/Panes";
import { usePlan } from "../frame/plan";
import type { Tank } from "../tanks/tank";
import { ArrivedPane } from "./ArrivedPane";
import { BudgetPane } from "./BudgetPane";
import { CircuitPane } from "./CircuitPane";
import { useWiringWords, WIRING } from "./wiring";
import { MeterPane } from "./MeterPane";
import { RingOutPane } from "./RingOutPane";

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
  const plan = usePlan(tank.id, "wiring", WIRING);
  const [pane, choose] = usePane(PANES);
  if (!words || !plan) return <p>Opening…</p>;
  const { reading, form } = plan;
  const wrong = reading?.fields_read.filter((field) => field.state === "wrong") ?? [];
  return (
    <section aria-label="Wiring" className="survey wiring-station">
      <Cautions list={tank.facts.cautions} station="wiring" />
      <KeepBar
        action="Keep this wiring"
        changed={plan.changed || plan.kept.stale || (plan.kept.revision === 0 && reading !== undefined)}
        ready={!plan.keep.pending && reading !== undefined && wrong.length === 0}
        error={plan.keep.error}
        kept={
          <>
            Kept, revision {plan.kept.revision}, {plan.kept.changed_at && day(plan.kept.changed_at)}.
          </>
        }
        waiting={
          plan.changed ? (
            <>Changed {plan.draft.at ? clock(plan.draft.at) : ""}, on this device only.</>
          ) : plan.kept.stale ? (
            "The tank was surveyed again since: look at it and keep it again."
          ) : (
            "Not kept yet: as it follows from the gauge."
          )
        }
        onKeep={plan.keep.run}
        onDiscard={plan.changed ? plan.draft.discard : undefined}
        onUndo={plan.draft.undo}
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
