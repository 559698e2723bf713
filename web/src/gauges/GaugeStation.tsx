import "./gauges.css";

import { Cautions } from "../frame/Cautions";
import { clock, day } from "../frame/draft";
import { KeepBar } from "../frame/KeepBar";
import { Panes, usePane } from "../frame/Panes";
import { usePlan } from "../frame/plan";
import type { Tank } from "../tanks/tank";
import { CutPane } from "./CutPane";
import { GAUGE, useGaugeWords } from "./gauge";
import { MethodPane } from "./MethodPane";
import { RodsPane } from "./RodsPane";
import { SitePane } from "./SitePane";
import { SpotPane } from "./SpotPane";
import { TiltPane } from "./TiltPane";

const PANES = [
  ["method", "Method"],
  ["site", "What it meets"],
  ["spot", "Spot"],
  ["tilt", "Tilt"],
  ["cut", "Cut"],
] as const;

/** Station Gauge: which method, where it sits, how long it is cut. */
export function GaugeStation({ tank }: { tank: Tank }) {
  const words = useGaugeWords();
  const plan = usePlan(tank.id, "gauge", GAUGE);
  const [pane, choose] = usePane(PANES);
  if (!words || !plan) return <p>Opening…</p>;
  const { reading, form } = plan;
  const wrong = reading?.fields_read.filter((field) => field.state === "wrong") ?? [];
  return (
    <section aria-label="Gauge" className="survey gauge-station">
      <Cautions list={tank.facts.cautions} station="gauge" />
      <KeepBar
        action="Keep this gauge"
        changed={plan.changed || plan.kept.stale}
        ready={!plan.keep.pending && reading !== undefined && wrong.length === 0}
        error={plan.keep.error}
        kept={
          plan.kept.revision ? (
            <>
              {reading?.chosen ? `${reading.chosen.name}. ` : ""}Kept, revision {plan.kept.revision},{" "}
              {plan.kept.changed_at && day(plan.kept.changed_at)}.
            </>
          ) : (
            "Nothing is kept yet: choose a method below."
          )
        }
        waiting={
          wrong.length > 0 ? (
            <>
              To be put right first:{" "}
              {[...new Set(wrong.map((field) => field.problem))].slice(0, 2).join("; ")}
            </>
          ) : (
            <>
              {plan.changed
                ? `Changed ${plan.draft.at ? clock(plan.draft.at) : ""}, on this device only.`
                : "The tank was surveyed again since: look at it and keep it again."}
            </>
          )
        }
        onKeep={plan.keep.run}
        onDiscard={plan.changed ? plan.draft.discard : undefined}
        onUndo={plan.draft.undo}
      />
      <Panes
        label="What of the gauge"
        panes={PANES.map(([key, name]) => [key, key === "cut" && reading?.rods ? "Rods" : name] as const)}
        here={pane}
        onChoose={choose}
      />
      {!reading && <progress aria-label="Judging the gauges" />}
      {reading && pane === "method" && <MethodPane form={form} reading={reading} words={words} />}
      {reading && pane === "site" && <SitePane form={form} reading={reading} words={words} />}
      {reading && pane === "spot" && <SpotPane tank={tank} form={form} reading={reading} words={words} />}
      {reading && pane === "tilt" && <TiltPane tank={tank} form={form} reading={reading} />}
      {reading &&
        pane === "cut" &&
        (reading.rods ? (
          <RodsPane tank={tank} form={form} rods={reading.rods} words={words} kept={plan.kept.revision > 0} />
        ) : (
          <CutPane tank={tank} form={form} reading={reading} words={words} kept={!plan.changed} />
        ))}
    </section>
  );
}
