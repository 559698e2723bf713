import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import Button from "react-bootstrap/Button";

import { api, ask } from "../api/client";
import { keys, refresh } from "../api/keys";
import { useDraft } from "../frame/draft";
import { More, usePages } from "../frame/pages";
import { day } from "../frame/times";
import { useUnits } from "../frame/units";
import { PersonField, problemAt, ProblemLine } from "../people/fields";
import type { Tank } from "../tanks/tank";
import { offBy, type Run } from "./pour";

type Why = { why: string };

interface Props {
  tank: Tank;
  run: Run;
  revision: number;
  /** Why it cannot be issued now; empty where it can. */
  not: string;
}

/** The table of a run, issued with all its pours frozen in it. */
export function IssueRun({ tank, run, revision, not }: Props) {
  const units = useUnits();
  const queries = useQueryClient();
  const draft = useDraft<Why>(`pours-issue:${tank.id}`, {
    name: `Table by pouring of ${tank.facts.name}`,
    page: `/tanks/${tank.id}/table?pane=pour`,
  });
  const typed = draft.value ?? { why: "" };
  const [done, setDone] = useState("");
  const issue = useMutation({
    mutationFn: ({ take, sent }: { take: "pours" | "shape"; sent: Why }) =>
      ask(
        api.POST("/api/tanks/{id}/pour-records/", {
          params: { path: { id: tank.id } },
          body: { take, ...sent, system: units.system, revision, tank_revision: tank.revision },
        }),
      ),
    onSuccess: async (made, { sent }) => {
      draft.used(sent);
      setDone(
        made.table === null
          ? `Run ${made.number} is issued: its table for the device stands below.`
          : `Table ${made.table} is issued.`,
      );
      await refresh(queries, keys.tank(tank.id), keys.board);
    },
  });
  return (
    <section aria-label="Issue the table">
      <h2>Issue the table</h2>
      <PersonField
        label="Why it is issued"
        value={typed.why}
        onChange={(text) => draft.change({ why: text })}
        problem={problemAt(issue.error, "why")}
        hint="first table, new sensor, checked again…"
      />
      <ProblemLine error={issue.error} but={["why"]} />
      <p className="load-close">
        <Button
          disabled={not !== "" || issue.isPending}
          onClick={() => issue.mutate({ take: "pours", sent: typed })}
        >
          {issue.isPending ? "Issuing…" : "Issue the pours as the table"}
        </Button>{" "}
        {run.shape?.joined?.fits && (
          <Button
            variant="outline-secondary"
            disabled={not !== "" || issue.isPending}
            onClick={() => issue.mutate({ take: "shape", sent: typed })}
          >
            Take the shape instead
          </Button>
        )}{" "}
        <span className="text-quiet">
          {not || "It takes the survey's place from here on; every pour is frozen with it and never changes."}
        </span>
      </p>
      {done && <p role="status">{done}</p>}
      <Issued tank={tank} />
    </section>
  );
}

function Issued({ tank }: { tank: Tank }) {
  const units = useUnits();
  const id = useId();
  const [points, setPoints] = useState("20");
  const records = usePages(keys.tank(tank.id, "pour-records"), (page) =>
    ask(
      api.GET("/api/tanks/{id}/pour-records/", {
        params: { path: { id: tank.id }, query: { page, page_size: 20 } },
      }),
    ),
  );
  if (!records.all?.length) return null;
  return (
    <>
      <h2>Issued runs</h2>
      <label htmlFor={id}>Points that the device takes</label>{" "}
      <input
        id={id}
        className="form-control mono device-count"
        inputMode="numeric"
        value={points}
        onChange={(event) => setPoints(event.target.value.replace(/\D/g, "").slice(0, 3))}
      />
      <ul className="events">
        {records.all.map((one) => (
          <li key={one.id}>
            <strong>Run {one.number}</strong>
            {one.table !== null && `, table ${one.table}`}, {day(one.issued_at)}, {one.issued_by}: {one.pours}{" "}
            pours, off by at most {offBy(units, one.worst_l)}. {one.why}.{" "}
            <a href={`/api/pour-records/${one.id}/table.csv/?points=${points || "20"}`} download>
              For the device, CSV
            </a>{" "}
            <a href={`/api/pour-records/${one.id}/pours.json/`} download>
              All pours, JSON
            </a>
          </li>
        ))}
      </ul>
      <More pages={records} what="runs" />
    </>
  );
}
