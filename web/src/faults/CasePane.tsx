import { Opening } from "../frame/Opening";
import { PlanBar } from "../frame/PlanBar";
import { usePlan } from "../frame/plan";
import { useTakes } from "../readings/TakeButton";
import type { Tank } from "../tanks/tank";
import { Ahead } from "./Ahead";
import { AlongTheChain } from "./AlongTheChain";
import { AtHand } from "./AtHand";
import { CloseCase, ClosedCases } from "./CloseCase";
import { NextTest } from "./NextTest";
import { OtherTest } from "./OtherTest";
import { Suspects } from "./Suspects";
import { Trail } from "./Trail";
import { TROUBLE } from "./trouble";

/** The case that is open: what is likely, which test next and why, and when to stop. */
export function CasePane({ tank }: { tank: Tank }) {
  const plan = usePlan(tank, TROUBLE);
  const takes = useTakes(tank.id);
  if (!plan) return <Opening />;
  const { form, reading: found } = plan;
  return (
    <>
      {!found && !plan.refused && <progress aria-label="Working out what every test would read" />}
      {found && <NextTest form={form} found={found} takes={takes} />}
      {found && <AlongTheChain form={form} found={found} />}
      <PlanBar plan={plan} action="Keep this case" nothing="Nothing is kept of this case yet." />
      {found && <Suspects found={found} form={form} />}
      {found && <Trail form={form} found={found} />}
      {found && <OtherTest form={form} found={found} />}
      {found && <AtHand form={form} found={found} />}
      {found && found.verdict === "go-on" && (
        <Ahead tank={tank} entries={form.entries} system={plan.typed.system} />
      )}
      {found && found.steps.length > 0 && (
        <CloseCase tank={tank} found={found} revision={plan.kept.revision} changed={plan.changed} />
      )}
      <ClosedCases tank={tank} />
    </>
  );
}
