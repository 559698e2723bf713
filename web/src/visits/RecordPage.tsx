import "../frame/fields.css";
import "./visits.css";

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link, useParams } from "react-router";

import { api, ask, Refused } from "../api/client";
import { keys, refresh } from "../api/keys";
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

/** What a visit's record holds: read through, signed, then handed over. */
export function RecordPage() {
  const id = Number(useParams()["id"]);
  const { data: visit } = useVisit(id);
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
      {visit.state === "open" && <SignVisit visit={visit} />}
      {visit.record && (
        <div className="hand-over">
          <CustomerLinks visit={visit} />
          <SendMail visit={visit} />
        </div>
      )}
      <Office visit={visit} />
      {visit.record ? <Recorded visit={visit} /> : <Done visit={visit} />}
    </main>
  );
}

function Office({ visit }: { visit: Visit }) {
  const { data } = useQuery({
    queryKey: keys.visit(visit.id, "office", visit.seen),
    queryFn: () => ask(api.GET("/api/visits/{id}/office/", { params: { path: { id: visit.id } } })),
    throwOnError: false,
  });
  if (!data) return null;
  return (
    <section aria-label="To read to the office">
      <h2>To read to the office</h2>
      {data.lines.map((line) => (
        <p key={line} className="office-line">
          {line}
        </p>
      ))}
    </section>
  );
}

/** Every step as it was signed, each figure with its working: from the record alone. */
function Recorded({ visit }: { visit: Visit }) {
  const { data } = useQuery({
    queryKey: keys.visit(visit.id, "recorded"),
    queryFn: () => ask(api.GET("/api/visits/{id}/record/", { params: { path: { id: visit.id } } })),
  });
  if (!data) return <Opening />;
  return (
    <section aria-label="What was done">
      <h2>What was done</h2>
      <Scroll label="Every step">
        <table className="plain-table">
          <thead>
            <tr>
              <th scope="col">Step</th>
              <th scope="col">Noted</th>
              <th scope="col">State</th>
              <th scope="col">By</th>
              <th scope="col">Took</th>
              <th scope="col">Planned</th>
              <th scope="col">Figures</th>
            </tr>
          </thead>
          <tbody>
            {data.map((step) => (
              <tr key={step.key} className={classOf(step.state)}>
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
                  {step.figures.length > 0 && (
                    <details>
                      <summary>{step.figures.length} figures</summary>
                      <Figures
                        lines={step.figures.map((one) => ({
                          ...one,
                          inputs: one.inputs.map(([label = "", text = ""]) => ({ label, text })),
                          take: "",
                        }))}
                      />
                    </details>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </Scroll>
    </section>
  );
}

/** Every step with what was noted; anything left out or overridden stands out. */
function Done({ visit }: { visit: Visit }) {
  return (
    <section aria-label="What was done">
      <h2>What was done</h2>
      <Scroll label="Every step">
        <table className="plain-table">
          <thead>
            <tr>
              <th scope="col">Step</th>
              <th scope="col">Noted</th>
              <th scope="col">State</th>
              <th scope="col">By</th>
              <th scope="col">Took</th>
              <th scope="col">Planned</th>
            </tr>
          </thead>
          <tbody>
            {visit.steps
              .filter((step) => step.kind !== "sign")
              .map((step) => (
                <tr key={step.key} className={classOf(step.state)}>
                  <td>{step.title}</td>
                  <td>
                    {step.fields
                      .filter((field) => step.values[field.to])
                      .map((field) => (
                        <span key={field.to} className="noted">
                          {field.label} <span className="mono">{step.values[field.to]}</span>
                        </span>
                      ))}
                    {step.options.find((one) => one.key === step.values["visit:choice"])?.label}
                    {step.photos.length > 0 && (
                      <span className="noted">
                        {step.photos.length} {step.photos.length === 1 ? "photograph" : "photographs"}
                      </span>
                    )}
                  </td>
                  <td>
                    <span aria-hidden="true">{SHAPES[step.state]}</span> {STATE_WORDS[step.state]}
                    {step.reason && `: ${step.reason}`}
                  </td>
                  <td>
                    {step.by} {step.at && clock(step.at)}
                  </td>
                  <td className="mono">{step.took !== null && span(step.took)}</td>
                  <td className="mono">{span(step.minutes[1] ?? 0)}</td>
                </tr>
              ))}
          </tbody>
        </table>
      </Scroll>
    </section>
  );
}

function SignVisit({ visit }: { visit: Visit }) {
  const person = usePerson();
  const queries = useQueryClient();
  const waiting = doingsOf(useEntry<Queue>(queueOf(visit.id))).length;
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const left = visit.steps.filter((step) => step.kind !== "sign" && ["open", "running"].includes(step.state));
  const again = () => refresh(queries, keys.visits, keys.everyTank, keys.board);
  const sign = useMutation({
    mutationFn: () =>
      ask(
        api.POST("/api/visits/{id}/sign/", {
          params: { path: { id: visit.id } },
          body: { signature: name, password, seen: visit.seen },
        }),
      ),
    onError: async (error) => {
      if (error instanceof Refused && error.status === 409) await again();
    },
    onSettled: () => setPassword(""),
    onSuccess: again,
  });
  return (
    <section className="person-form" aria-label="Sign">
      <h2>Sign</h2>
      {waiting > 0 && (
        <p className="problem">{waiting} things wait to be sent: sign when the connection is back.</p>
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
            disabled={!name.trim() || !password || sign.isPending || waiting > 0}
            onClick={() => sign.mutate()}
          >
            Sign the record
          </Button>
          <p className="text-quiet">Once signed it never changes; a newer visit follows a mistake.</p>
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
