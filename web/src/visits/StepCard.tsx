import { type ReactNode, useEffect, useState } from "react";
import Button from "react-bootstrap/Button";
import { Link } from "react-router";

import { api, ask, type Problem } from "../api/client";
import { useReach } from "../api/reach";
import { keys } from "../api/keys";
import { useAsking } from "../frame/asking";
import { useDraft } from "../frame/draft";
import { Judgements } from "../frame/Judgements";
import { clock } from "../frame/times";
import { usePerson } from "../people/session";
import { Figures } from "./Figures";
import { PhotoField } from "./PhotoField";
import { queue, type TypedSteps, typedOf } from "./queue";
import { StepFields } from "./StepFields";
import { classOf, SHAPES, span, STATE_WORDS, type Step, type Visit } from "./visit";

interface Props {
  visit: Visit;
  step: Step;
  problems: Problem[];
  onGo: (key: string) => void;
  onNext: () => void;
}

const DONE: Partial<Record<Step["kind"], string>> = { wait: "It is over", sign: "Sign" };

/** When a step was first seen in this window: from then on it takes its time. */
function begunAt(visit: number, step: string): string {
  const key = `rasante:begun:${visit}:${step}`;
  const kept = sessionStorage.getItem(key) ?? new Date().toISOString();
  sessionStorage.setItem(key, kept);
  return kept;
}

/** Counts on every few seconds while something live is looked at. */
function useTick(on: boolean): number {
  const [tick, setTick] = useState(0);
  useEffect(() => {
    if (!on) return;
    const timer = setInterval(() => setTick((count) => count + 1), 3000);
    return () => clearInterval(timer);
  }, [on]);
  return tick;
}

/** One step: what to do, why, what to mind; its fields or live values; done and back under the thumb. */
export function StepCard({ visit, step, problems, onNext }: Props) {
  const person = usePerson();
  const reach = useReach();
  const draft = useDraft<TypedSteps>(typedOf(visit.id), {
    name: `Typed at the visit to ${visit.tank_name}`,
    page: `/visits/${visit.id}?step=${step.key}`,
  });
  const [begun] = useState(() => begunAt(visit.id, step.key));
  const [other, setOther] = useState<"skip" | "override" | null>(null);
  const typed = draft.value?.[step.key] ?? {};
  const reason = typed["reason"] ?? "";
  // What belongs to the step itself: a reason and a photograph's note are kept beside it.
  const named = Object.fromEntries(
    Object.entries(typed).filter(
      ([to]) => to === "visit:choice" || step.fields.some((field) => field.to === to),
    ),
  );
  const over = step.state !== "open" && step.state !== "running";
  const values = over ? step.values : named;
  const asks = step.shows || step.fields.length > 0;
  const tick = useTick(step.kind === "take" && !over);
  const { answer, current } = useAsking(
    keys.visit(visit.id, "step", step.key),
    asks ? { values, system: draft.system, entered: visit.entered, tick } : null,
    (asked, signal) =>
      ask(
        api.POST("/api/visits/{id}/steps/{key}/", {
          params: { path: { id: visit.id, key: step.key } },
          body: { values: asked.values, system: asked.system },
          signal,
        }),
      ),
  );
  const open = visit.state === "open";
  const change = (changes: Record<string, string>) =>
    draft.change({ ...draft.value, [step.key]: { ...typed, ...changes } });
  const enter = (did: "done" | "begin" | "skip" | "override" | "undo") => {
    if (!person) return;
    const now = new Date().toISOString();
    queue(visit, person.username, {
      kind: "entry",
      title: step.title,
      body: {
        uid: crypto.randomUUID(),
        step: step.key,
        did,
        values: did === "done" || did === "override" ? named : {},
        reason: did === "skip" || did === "override" ? reason : "",
        at: now,
        begun_at: begun,
        system: draft.system,
      },
    });
    setOther(null);
    if (did !== "undo") onNext();
  };
  const chooses = step.kind === "choose";
  const lacks =
    step.fields.some((field) => !field.optional && !(typed[field.to] ?? "").trim()) ||
    (chooses && !typed["visit:choice"]);
  const at = visit.steps.findIndex((one) => one.key === step.key);
  const held = step.needs.length > 0;
  return (
    <article className="step-card" aria-label={step.title}>
      <p className="step-phase">
        {step.phase}, step {at + 1} of {visit.steps.length}
        <span className="text-quiet"> · about {span(step.minutes[1] ?? 0)}</span>
      </p>
      <h2>{step.title}</h2>
      {(step.hazard || step.who) && (
        <p className="hazard">
          <span aria-hidden="true">▲</span> {[step.who, step.hazard].filter(Boolean).join(" ")}
        </p>
      )}
      <p className="step-do">{step.instruction}</p>
      <p className="step-why">{step.why}</p>
      {held && !over && <Band>Held up: {step.needs.join("; ")} must hold first.</Band>}
      {!held && step.before.length > 0 && !over && (
        <p className="text-quiet">Usually after: {step.before.slice(0, 4).join(", ")}.</p>
      )}
      {over && (
        <p className={`step-over ${classOf(step.state)}`}>
          <span aria-hidden="true">{SHAPES[step.state]}</span> {STATE_WORDS[step.state]}
          {step.by && ` by ${step.by}`}
          {step.at && ` at ${clock(step.at)}`}
          {step.reason && `: ${step.reason}`}
          {step.took !== null && `, took ${span(step.took)}`}
        </p>
      )}
      {chooses && (
        <div className="step-options" role="group" aria-label={step.title}>
          {step.options.map((one) => (
            <button
              key={one.key}
              type="button"
              disabled={over || !open}
              aria-pressed={values["visit:choice"] === one.key}
              onClick={() => change({ "visit:choice": one.key })}
            >
              {one.label}
            </button>
          ))}
        </div>
      )}
      <StepFields
        visit={visit}
        step={step}
        values={values}
        read={answer?.fields ?? []}
        lines={answer?.lines ?? []}
        problems={problems}
        fixed={over || !open}
        system={draft.system}
        onChange={change}
      />
      {step.kind === "photo" && (
        <PhotoField
          visit={visit}
          step={step}
          note={typed["photo"] ?? ""}
          fixed={!open || over}
          onNote={(photo) => change({ photo })}
        />
      )}
      {asks && !answer && (
        <p className="text-quiet">
          {reach.since === null
            ? "…"
            : "What this means is worked out when the connection is back: go on meanwhile."}
        </p>
      )}
      {asks && answer && reach.since !== null && !current && (
        <p className="save-state waiting">No connection: these figures are of what was typed before.</p>
      )}
      {answer && <Figures lines={answer.lines} />}
      {answer && answer.judgements.length > 0 && <Judgements list={answer.judgements} />}
      {answer?.station && (
        <p>
          <Link to={`/tanks/${visit.tank}/${answer.station}`}>
            Open{" "}
            {answer.station === "trouble"
              ? "Find the fault"
              : answer.station.charAt(0).toUpperCase() + answer.station.slice(1)}
          </Link>
          {step.key === "asset" && (
            <>
              {" · "}
              <Link to={`/tanks/${visit.tank}/register?back=${visit.id}`}>Note what is missing</Link>
            </>
          )}
        </p>
      )}
      {problems
        .filter((one) => !step.fields.some((field) => field.to === one.where))
        .map((one) => (
          <p key={one.what} role="alert" className="problem">
            {one.what}
          </p>
        ))}
      {other && (
        <div className="step-reason">
          <label>
            {other === "skip" ? "Why is it left out?" : "Why is it overridden?"}
            <input
              className="form-control"
              value={reason}
              maxLength={400}
              onChange={(event) => change({ reason: event.target.value })}
            />
          </label>
          <Button variant="outline-danger" disabled={!reason.trim()} onClick={() => enter(other)}>
            {other === "skip" ? "Leave it out" : "Override"}
          </Button>
          <Button variant="outline-secondary" onClick={() => setOther(null)}>
            No
          </Button>
        </div>
      )}
      {open && (
        <div className="step-bar">
          <StepBack visit={visit} at={at} />
          {!over && !other && step.kind !== "sign" && (
            <>
              {step.gives.length === 0 && (
                <Button variant="outline-secondary" onClick={() => setOther("skip")}>
                  Leave out…
                </Button>
              )}
              {person?.role === "lead" && (
                <Button variant="outline-danger" onClick={() => setOther("override")}>
                  Override…
                </Button>
              )}
            </>
          )}
          {over && step.kind !== "sign" && (
            <Button
              variant="outline-secondary"
              title="It is open again; what it wrote to plans and readings stays there until it is done anew."
              onClick={() => enter("undo")}
            >
              Take back
            </Button>
          )}
          {step.kind === "sign" && (
            <Link className="btn btn-primary step-done" to={`/visits/${visit.id}/record`}>
              Read it through and sign
            </Link>
          )}
          {!over && step.kind === "wait" && step.state === "open" && (
            <Button className="step-done" disabled={held} onClick={() => enter("begin")}>
              Start the timer
            </Button>
          )}
          {!over && step.kind !== "sign" && !(step.kind === "wait" && step.state === "open") && (
            <Button className="step-done" disabled={held || lacks} onClick={() => enter("done")}>
              {DONE[step.kind] ?? "Done"}
            </Button>
          )}
          {over && step.kind !== "sign" && (
            <Button className="step-done" onClick={onNext}>
              Next
            </Button>
          )}
        </div>
      )}
    </article>
  );
}

function Band({ children }: { children: ReactNode }) {
  return (
    <p className="held" role="status">
      <span aria-hidden="true">◼</span> {children}
    </p>
  );
}

/** The step before in the list, as the thumb expects it. */
function StepBack({ visit, at }: { visit: Visit; at: number }) {
  const before = visit.steps[at - 1];
  if (!before) return <span />;
  return (
    <Link className="btn btn-outline-secondary" to={`/visits/${visit.id}?step=${before.key}`} replace>
      Back
    </Link>
  );
}
