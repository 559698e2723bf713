import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useId } from "react";
import Button from "react-bootstrap/Button";
import { Link } from "react-router";

import { api, ask } from "../api/client";
import { keys, refresh } from "../api/keys";
import { useDraft } from "../frame/draft";
import { More, usePages } from "../frame/pages";
import { day } from "../frame/times";
import { useUnits } from "../frame/units";
import { PersonField, problemAt, ProblemLine } from "../people/fields";
import type { Tank } from "../tanks/tank";
import type { Case } from "./trouble";

interface Props {
  tank: Tank;
  found: Case;
  revision: number;
  changed: boolean;
}

interface Closing {
  fault: string;
  did: string;
  restored: boolean;
  proven: boolean;
}

/** The case closed: what was wrong, what was done, proven again, control restored. */
export function CloseCase({ tank, found, revision, changed }: Props) {
  const units = useUnits();
  const queries = useQueryClient();
  const id = useId();
  const draft = useDraft<Closing>(`trouble-close:${tank.id}`, {
    name: `Close the case of ${tank.facts.name}`,
    page: `/tanks/${tank.id}/trouble`,
  });
  const typed = draft.value ?? { fault: "", did: "", restored: false, proven: false };
  const fault = typed.fault || (found.verdict === "found" ? found.fault_key : "");
  const change = (changes: Partial<Closing>) => draft.change({ ...typed, ...changes });
  const close = useMutation({
    mutationFn: (sent: Closing) =>
      ask(
        api.POST("/api/tanks/{id}/fault-cases/", {
          params: { path: { id: tank.id } },
          body: { ...sent, fault, system: units.system, revision },
        }),
      ),
    onSuccess: async (_, sent) => {
      draft.used(sent);
      await refresh(queries, keys.tank(tank.id), keys.board);
    },
  });
  const faults = Object.entries(found.faults).sort(([, a], [, b]) => a.localeCompare(b));
  const problem = problemAt(close.error, "fault");
  return (
    <section aria-label="Close the case">
      <h2>Repaired, proven, restored: close it</h2>
      <p>
        Another range or channel? <Link to={`/tanks/${tank.id}/scale?pane=change`}>Change a part</Link>, then{" "}
        <Link to={`/tanks/${tank.id}/prove`}>prove it</Link>.
      </p>
      <div className="form-field">
        <label htmlFor={id}>What was wrong</label>
        <select
          id={id}
          className="form-select"
          value={fault}
          aria-invalid={problem ? true : undefined}
          onChange={(event) => change({ fault: event.target.value })}
        >
          <option value="">choose</option>
          {faults.map(([key, words]) => (
            <option key={key} value={key}>
              {words}
            </option>
          ))}
          <option value="other">something else</option>
        </select>
        {problem && <div className="problem">{problem}</div>}
      </div>
      <PersonField
        label="What was done"
        value={typed.did}
        onChange={(text) => change({ did: text })}
        problem={problemAt(close.error, "did")}
        hint="part and serial, wires and mapping moved, sealed again…"
      />
      {found.restore && (
        <Tick
          label="Calibrator out, control restored to automatic; the operator says so"
          on={typed.restored}
          onChange={(on) => change({ restored: on })}
        />
      )}
      <Tick
        label="Proven again, up to the far end"
        on={typed.proven}
        onChange={(on) => change({ proven: on })}
      />
      <ProblemLine error={close.error} but={["fault", "did"]} />
      <p>
        <Button disabled={changed || revision === 0 || close.isPending} onClick={() => close.mutate(typed)}>
          {close.isPending ? "Closing…" : "Close the case"}
        </Button>{" "}
        <span className="text-quiet">
          {changed || revision === 0
            ? "Keep the case first."
            : "Its findings are frozen with it; what was wrong makes the next advice better."}
        </span>
      </p>
    </section>
  );
}

function Tick({ label, on, onChange }: { label: string; on: boolean; onChange: (on: boolean) => void }) {
  const id = useId();
  return (
    <label className="tick" htmlFor={id}>
      <input id={id} type="checkbox" checked={on} onChange={(event) => onChange(event.target.checked)} />
      {label}
    </label>
  );
}

/** What was wrong here before. */
export function ClosedCases({ tank }: { tank: Tank }) {
  const cases = usePages(keys.tank(tank.id, "fault-cases"), (page) =>
    ask(
      api.GET("/api/tanks/{id}/fault-cases/", {
        params: { path: { id: tank.id }, query: { page, page_size: 20 } },
      }),
    ),
  );
  if (!cases.all?.length) return null;
  return (
    <section aria-label="Closed cases">
      <h2>What was wrong here before</h2>
      <ul className="events">
        {cases.all.map((one) => (
          <li key={one.id}>
            <strong>Case {one.number}</strong>, {day(one.closed_at)}, {one.closed_by}: {one.was}. {one.did}.
            About {Math.round(one.minutes)} min.{" "}
            <a href={`/api/fault-cases/${one.id}/case.json/`} download>
              All findings, JSON
            </a>
          </li>
        ))}
      </ul>
      <More pages={cases} what="cases" />
    </section>
  );
}
