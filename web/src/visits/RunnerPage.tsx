import "../drawing/drawing.css";
import "../frame/fields.css";
import "../tanks/tanks.css";
import "./visits.css";

import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link, Navigate, useParams, useSearchParams } from "react-router";

import { Section } from "../drawing/Section";
import { Opening } from "../frame/Opening";
import { useEntry } from "../frame/outbox";
import { useTitle } from "../frame/title";
import { useNarrow } from "../frame/useSize";
import { useKeptGauge } from "../gauges/gauge";
import { useKeptMarks } from "../scaling/marks";
import { useNow } from "../readings/now";
import { portMarks, useTank } from "../tanks/tank";
import { ahead, doingsOf, nextStep, type Queue, queueOf, refusalOf } from "./queue";
import { Refusals } from "./Refusals";
import { StepCard } from "./StepCard";
import { StepList } from "./StepList";
import { Timers } from "./Timers";
import { clockIn, span, useVisit, type Visit } from "./visit";

/** A visit, on a phone first: one step at a time, waits as timers in a strip, the list always there. */
export function RunnerPage() {
  const id = Number(useParams()["id"]);
  const { data, dataUpdatedAt } = useVisit(id);
  useTitle(data && `${data.tank_name}: visit ${data.number}`);
  if (!data) return <Opening className="page" />;
  // A closed visit is read as it was signed, not as its steps would be composed today.
  if (data.state !== "open") return <Navigate to={`/visits/${id}/record`} replace />;
  return <Runner kept={data} at={dataUpdatedAt} />;
}

function Runner({ kept, at }: { kept: Visit; at: number }) {
  const [params, setParams] = useSearchParams();
  const [listing, setListing] = useState(false);
  const narrow = useNarrow();
  const entry = useEntry<Queue>(queueOf(kept.id));
  const doings = doingsOf(entry);
  const refusal = refusalOf(entry);
  const visit = ahead(kept, doings);
  const named = visit.steps.find((step) => step.key === params.get("step"));
  const step = named ?? nextStep(visit) ?? visit.steps[visit.steps.length - 1];
  const go = (key: string) => {
    setListing(false);
    setParams({ step: key });
  };
  const done = visit.steps.filter((one) => one.state !== "open" && one.state !== "running").length;
  return (
    <main className={narrow ? "visit narrow" : "visit"}>
      <header className="visit-head">
        <h1>
          <Link to={`/tanks/${visit.tank}/survey`}>{visit.tank_name}</Link>
          <span className="text-quiet">
            {" "}
            {visit.job}, visit {visit.number}
          </span>
        </h1>
        <button
          type="button"
          className="visit-count"
          aria-expanded={listing}
          onClick={() => setListing(!listing)}
        >
          {done} of {visit.steps.length} steps{narrow ? ": list" : ""}
        </button>
        <Finish visit={visit} at={at} />
        {doings.length > 0 && (
          <span className="visit-waits" role="status">
            {refusal ? "something was refused" : `${doings.length} to be sent: kept here`}
          </span>
        )}
      </header>
      <Timers visit={visit} onOpen={go} />
      {refusal && <Refusals visit={visit} refusal={refusal} onOpen={go} />}
      <div className="visit-body">
        {!narrow && <Beside visit={visit} />}
        {listing && narrow ? (
          <StepList visit={visit} here={step?.key ?? ""} onOpen={go} />
        ) : (
          step && (
            <StepCard
              key={step.key}
              visit={visit}
              step={step}
              problems={refusal?.doing.body.step === step.key ? refusal.problems : []}
              onGo={go}
              onNext={() => {
                const next = nextStep(visit, step);
                if (next) go(next.key);
              }}
            />
          )
        )}
        {!narrow && <StepList visit={visit} here={step?.key ?? ""} onOpen={go} />}
      </div>
      {listing && narrow && (
        <Button variant="outline-secondary" onClick={() => setListing(false)}>
          Back to the step
        </Button>
      )}
    </main>
  );
}

/** When it will be over, reckoned from when that was told: likely, and between when. */
function Finish({ visit, at: now }: { visit: Visit; at: number }) {
  const { least, likely, most, in_a_row } = visit.minutes;
  if (visit.state !== "open") return null;
  const saved = in_a_row - likely;
  return (
    <span className="visit-finish">
      over about <strong>{clockIn(likely, now)}</strong>{" "}
      <span className="text-quiet">
        ({clockIn(least, now)}–{clockIn(most, now)}
        {saved >= 1 && `; waits filled, ${span(saved)} saved`})
      </span>
    </span>
  );
}

/** The tank's section beside the steps, with the newest level. */
function Beside({ visit }: { visit: Visit }) {
  const { data: tank } = useTank(visit.tank);
  const { data: gauge } = useKeptGauge(visit.tank);
  const { data: marks } = useKeptMarks(visit.tank);
  const { data: now } = useNow(visit.tank);
  if (!tank) return <div className="visit-section" />;
  return (
    <div className="visit-section">
      <Section
        drawing={tank.facts.drawing}
        pattern={tank.facts.pattern}
        product={tank.facts.product}
        capacityL={tank.facts.capacity_l}
        ports={portMarks(tank.ports, tank.port_positions_mm)}
        limits={tank.facts.limits}
        {...(now?.level_mm != null && { levelMm: now.level_mm })}
        gauge={gauge?.drawn}
        marks={marks?.marks}
      />
      <Gates visit={visit} />
    </div>
  );
}

function Gates({ visit }: { visit: Visit }) {
  if (visit.gates.length === 0) return null;
  return (
    <section aria-label="What must hold">
      <h2>What must hold</h2>
      <ul className="gates">
        {visit.gates.map((gate) => (
          <li key={gate.title} className={gate.holds ? "holds" : ""}>
            <span aria-hidden="true">{gate.reason ? "▲" : gate.holds ? "●" : "○"}</span> {gate.title}
            {gate.reason && `, overridden by ${gate.by}: ${gate.reason}`}
          </li>
        ))}
      </ul>
    </section>
  );
}
