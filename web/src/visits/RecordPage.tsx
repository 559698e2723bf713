import "../frame/fields.css";
import "./visits.css";

import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link, useParams } from "react-router";

import { api, ask, type Schema, wordsOf } from "../api/client";
import { keys, refresh } from "../api/keys";
import { Judgements } from "../frame/Judgements";
import { Opening } from "../frame/Opening";
import { useEntry } from "../frame/outbox";
import { Scroll } from "../frame/Scroll";
import { clock, day } from "../frame/times";
import { useTitle } from "../frame/title";
import { ConfirmDelete } from "../people/ConfirmDelete";
import { PersonField, problemAt, ProblemLine } from "../people/fields";
import { usePerson } from "../people/session";
import { Figures } from "./Figures";
import { CustomerLinks, SendMail } from "./HandOver";
import { doingsOf, type Queue, queueOf } from "./queue";
import { classOf, SHAPES, span, STATE_WORDS, useVisit, type Visit } from "./visit";

type Recorded = Schema["Recorded"];

/** What a visit's record holds: read through, signed, then handed over. */
export function RecordPage() {
  const id = Number(useParams()["id"]);
  const { data: visit } = useVisit(id);
  const {
    data: recorded,
    error,
    isPlaceholderData: older,
  } = useQuery({
    queryKey: keys.visit(id, "recorded", visit?.entered ?? 0, visit?.state ?? ""),
    queryFn: () => ask(api.GET("/api/visits/{id}/record/", { params: { path: { id } } })),
    enabled: visit !== undefined,
    placeholderData: keepPreviousData,
    throwOnError: false,
  });
  useTitle(visit && `${visit.tank_name}: record of visit ${visit.number}`);
  if (!visit) return <Opening className="page" />;
  return (
    <main className="page visit-record">
      <div className="page-head">
        <h1>
          {visit.site_name} / {visit.tank_name}
        </h1>
        <Link to={`/tanks/${visit.tank}/survey`} className="btn btn-outline-secondary">
          The tank
        </Link>
        {visit.state === "open" && (
          <Link to={`/visits/${visit.id}`} className="btn btn-outline-secondary">
            Back to the steps
          </Link>
        )}
        {visit.record && (
          <>
            <a className="btn btn-outline-secondary" href={`/api/visits/${visit.id}/sheet.pdf/`}>
              Sheet (PDF)
            </a>
            <a className="btn btn-outline-secondary" href={`/api/visits/${visit.id}/record.json/`}>
              File (JSON)
            </a>
          </>
        )}
      </div>
      <p>
        {visit.job}, visit {visit.number}, opened {day(visit.opened_at)} by {visit.opened_by}.{" "}
        {visit.state === "dropped" && "It was dropped: what was done at it is kept here."}
      </p>
      {visit.state === "open" && recorded && <SignVisit visit={visit} seen={older ? null : recorded.seen} />}
      {visit.record && (
        <div className="hand-over">
          <CustomerLinks visit={visit} />
          <SendMail visit={visit} />
        </div>
      )}
      {recorded ? (
        <Whole recorded={recorded} />
      ) : error ? (
        <p className="problem">{wordsOf(error)}</p>
      ) : (
        <Opening />
      )}
    </main>
  );
}

/** What the record holds, as it would be signed now or as it was; anything left out or overridden stands out. */
function Whole({ recorded }: { recorded: Recorded }) {
  return (
    <>
      <section aria-label="To read to the office">
        <h2>To read to the office</h2>
        {recorded.office.map((line) => (
          <p key={line} className="office-line">
            {line}
          </p>
        ))}
      </section>
      <section aria-label="What was done">
        <h2>What was done</h2>
        <Scroll label="Every step">
          <table className="plain-table">
            <thead>
              <tr>
                {["Step", "Noted", "State", "By", "Took", "Planned", "Figures"].map((name) => (
                  <th key={name} scope="col">
                    {name}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {recorded.steps.map((step) => (
                <StepRow key={step.key} step={step} />
              ))}
            </tbody>
          </table>
        </Scroll>
      </section>
      {recorded.gates.length > 0 && (
        <section aria-label="What had to hold">
          <h2>What had to hold</h2>
          <ul className="gates">
            {recorded.gates.map((gate) => (
              <li key={gate.title} className={gate.by ? "holds" : ""}>
                <span aria-hidden="true">{gate.reason ? "▲" : gate.by ? "●" : "○"}</span> {gate.title}
                {gate.by && `: ${gate.by}`}
                {gate.reason && `, overridden: ${gate.reason}`}
              </li>
            ))}
          </ul>
        </section>
      )}
      {recorded.papers.length > 0 && (
        <section aria-label="Papers">
          <h2>Came about at this visit</h2>
          {recorded.papers.map((paper) => (
            <p key={paper.kind + paper.number} className="office-line">
              {paper.kind} {paper.number}
              {paper.says && `: ${paper.says}`}
            </p>
          ))}
        </section>
      )}
    </>
  );
}

function StepRow({ step }: { step: Recorded["steps"][number] }) {
  return (
    <tr className={classOf(step.state)}>
      <td>{step.title}</td>
      <td>
        {step.values.map((one) => (
          <span key={one.label} className="noted">
            {one.label} <span className="mono">{one.text}</span>
          </span>
        ))}
      </td>
      <td>
        <span aria-hidden="true">{SHAPES[step.state]}</span> {STATE_WORDS[step.state]}
        {step.reason && `: ${step.reason}`}
      </td>
      <td>
        {step.by} {step.at && clock(step.at)}
      </td>
      <td className="mono">{step.minutes !== null && span(step.minutes)}</td>
      <td className="mono">{span(step.planned_minutes[1] ?? 0)}</td>
      <td>
        {(step.figures.length > 0 || step.minded.length > 0) && (
          <details>
            <summary>{step.figures.length === 1 ? "1 figure" : `${step.figures.length} figures`}</summary>
            <Figures
              lines={step.figures.map((one) => ({
                ...one,
                inputs: one.inputs.map(([label = "", text = ""]) => ({ label, text })),
                take: "",
              }))}
            />
            <Judgements list={step.minded.map((one) => ({ ...one, code: "", value: null, limit: null }))} />
          </details>
        )}
      </td>
    </tr>
  );
}

/** Where it is signed; `seen` is the record's digest, or null while what was entered last is still being read. */
function SignVisit({ visit, seen }: { visit: Visit; seen: string | null }) {
  const person = usePerson();
  const queries = useQueryClient();
  const waiting = doingsOf(useEntry<Queue>(queueOf(visit.id))).length;
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const left = visit.steps.filter((step) => step.kind !== "sign" && ["open", "running"].includes(step.state));
  const again = () => refresh(queries, keys.visits, keys.everyTank, keys.board);
  const sign = useMutation({
    mutationFn: (seen: string) =>
      ask(
        api.POST("/api/visits/{id}/sign/", {
          params: { path: { id: visit.id } },
          body: { signature: name, password, seen },
        }),
      ),
    onSettled: () => setPassword(""),
    onSuccess: again,
  });
  return (
    <section className="person-form" aria-label="Sign">
      <h2>Sign</h2>
      {waiting > 0 && (
        <p className="problem">
          {waiting === 1 ? "1 thing waits" : `${waiting} things wait`} to be sent: sign when the connection is
          back.
        </p>
      )}
      {left.length > 0 ? (
        <p>
          Still open:{" "}
          {left.map((step, at) => (
            <span key={step.key}>
              {at > 0 && ", "}
              <Link to={`/visits/${visit.id}?step=${step.key}`}>{step.title}</Link>
            </span>
          ))}
          . Do them, or leave them out and say why.
        </p>
      ) : (
        <>
          <PersonField
            label="Your name"
            value={name}
            onChange={setName}
            hint={person?.name ?? ""}
            problem={problemAt(sign.error, "signature")}
          />
          <PersonField
            label="Your password"
            type="password"
            autoComplete="current-password"
            value={password}
            onChange={setPassword}
            problem={problemAt(sign.error, "password")}
          />
          <ProblemLine error={sign.error} but={["signature", "password"]} />
          <Button
            size="lg"
            disabled={!name.trim() || !password || sign.isPending || waiting > 0 || seen === null}
            onClick={() => seen !== null && sign.mutate(seen)}
          >
            {sign.isPending ? "Signing…" : "Sign the record"}
          </Button>
          <p className="text-quiet" role="status">
            {seen === null
              ? "Not yet: what was entered last is being read."
              : "Once signed it never changes; a newer visit follows a mistake."}
          </p>
        </>
      )}
      <ConfirmDelete
        label="Drop this visit"
        name={`visit ${visit.number}`}
        maker={visit.opened_by}
        remove={() =>
          ask(
            api.POST("/api/visits/{id}/drop/", {
              params: { path: { id: visit.id } },
              body: { revision: visit.revision },
            }),
          )
        }
        onDone={again}
      >
        It will not be signed. What was done at it is kept, and stays written into the tank&apos;s plans.
      </ConfirmDelete>
    </section>
  );
}
