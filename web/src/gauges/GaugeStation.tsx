import "./gauges.css";

import { Cautions } from "../frame/Cautions";
import { Panes, usePane } from "../frame/Panes";
import { usePlan } from "../frame/plan";
import { PlanBar } from "../frame/PlanBar";
import type { Tank } from "../tanks/tank";
import { CutPane } from "./CutPane";
import { GAUGE, useGaugeWords } from "./gauge";
import { MethodPane } from "./MethodPane";
import { RodsPane } from "./RodsPane";
import { SitePane } from "./SitePane";
import { SpotPane } from "./SpotPane";
import { TiltPane } from "./TiltPane";
import { Opening } from "../frame/Opening";

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
  const plan = usePlan(tank, GAUGE);
  const [pane, choose] = usePane(PANES);
  if (!words || !plan) return <Opening />;
  const { reading, form } = plan;
  return (
    <section aria-label="Gauge" className="survey gauge-station">
      <Cautions list={tank.facts.cautions} station="gauge" />
      <PlanBar
        plan={plan}
        action="Keep this gauge"
        nothing="Nothing is kept yet: choose a method below."
        kept={reading?.chosen?.name}
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
