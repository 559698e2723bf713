import "../frame/fields.css";
import "./pouring.css";

import { type ReactNode, useState } from "react";

import { Judgements } from "../frame/Judgements";
import { Opening } from "../frame/Opening";
import { PlanBar } from "../frame/PlanBar";
import { rowNumbers, usePlan } from "../frame/plan";
import { useTakes } from "../readings/TakeButton";
import type { Tank } from "../tanks/tank";
import { BeforeFields, DayFields, MeterFields } from "./BeforeFields";
import { BesideSurvey } from "./BesideSurvey";
import { IssueRun } from "./IssueRun";
import { NextPour } from "./NextPour";
import { POURS } from "./pour";
import { PourChart } from "./PourChart";
import { PourFile } from "./PourFile";
import { PourRows } from "./PourRows";
import { SeenDeliveries } from "./SeenDeliveries";

/** A part that is folded away once it is done with; what is being typed in it stays open. */
function Fold({ words, start, children }: { words: string; start: boolean; children: ReactNode }) {
  const [open, setOpen] = useState(start);
  return (
    <details open={open} onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary>{words}</summary>
      {children}
    </details>
  );
}

/** The table by pouring: what to pour next, the curve so far with its ±, and the table that is issued of it. */
export function PourPane({ tank }: { tank: Tank }) {
  const plan = usePlan(tank, POURS);
  const takes = useTakes(tank.id);
  if (!plan) return <Opening />;
  const { form, reading: run } = plan;
  const reads = form.entries["reads"] || "level";
  const take = takes.find((one) => one.station === reads);
  const poured = rowNumbers(form.entries, "pours").length > 0;
  const begun = (form.entries["start.reading"] ?? "") !== "";
  const wrong = [...form.fields.values()].some((field) => field.state === "wrong");
  const last = run ? (form.entries[`pours[${run.pours - 1}].reading`] ?? "") : "";
  return (
    <div className="pouring">
      <div className="cautions" role="note">
        <p>
          A drained tank is full of vapour: no ignition sources, bond hose and cans, pads at hand before a
          port is opened, the vent open. Never above safe fill; the level system is not the overfill
          protection.
        </p>
      </div>
      <div className="pour-live">
        <div>
          {run && <NextPour form={form} run={run} disabled={run.pours > 0 && last === ""} />}
          {run && <Judgements list={run.judgements} />}
          {!begun && (
            <p className="empty">
              Drain it to a stated heel, or dip it; say below what is in it and what it reads, and it advises
              the first pour.
            </p>
          )}
        </div>
        {run?.curve && <PourChart run={run} reads={reads} />}
      </div>
      <PlanBar plan={plan} action="Keep this run" nothing="Nothing is kept of this run yet." />
      <PourRows form={form} run={run} take={take} />
      <Fold words="Before the first: way, start, safe fill, what is good enough" start={!poured}>
        <BeforeFields form={form} run={run} take={take} />
      </Fold>
      <Fold words="The meter and the day" start={!poured && rowNumbers(form.entries, "draws").length === 0}>
        <MeterFields form={form} run={run} />
        <DayFields form={form} run={run} />
      </Fold>
      <PourFile tank={tank.id} form={form} />
      {form.entries["way"] === "deliveries" && <SeenDeliveries tank={tank.id} form={form} />}
      {run?.shape && <BesideSurvey shape={run.shape} />}
      {run && (
        <IssueRun
          tank={tank}
          run={run}
          revision={plan.kept.revision}
          not={
            !run.curve || run.curve.at.length < 3
              ? "A table needs two pours with their readings at least."
              : wrong
                ? "Something is to be put right first."
                : run.misfit
                  ? "One pour does not fit the others."
                  : plan.changed
                    ? "Keep this run first."
                    : ""
          }
        />
      )}
    </div>
  );
}
