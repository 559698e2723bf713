import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import Button from "react-bootstrap/Button";

import { keys, refresh } from "../../api/keys";
import { api, ask, Refused, wordsOf } from "../../api/client";
import { ConfirmDelete } from "../../people/ConfirmDelete";
import { useDraft } from "../../frame/draft";
import { clock, day } from "../../frame/times";
import { useUnits } from "../../frame/units";
import type { Tank } from "../tank";
import { ImportChart } from "../chart/ImportChart";
import { Compare } from "./Compare";
import { type TableChoice, useIssued } from "./table";

interface Props {
  tank: Tank;
  choice: TableChoice;
  onChoose: (choice: TableChoice) => void;
}

/** The tables that were issued, issuing the next one, and comparing any two. */
export function IssuedPane({ tank, choice, onChoose }: Props) {
  const units = useUnits();
  const queries = useQueryClient();
  const issued = useIssued(tank.id).data;
  const { data: charts } = useQuery({
    queryKey: keys.tank(tank.id, "charts"),
    queryFn: () =>
      ask(
        api.GET("/api/tanks/{id}/charts/", { params: { path: { id: tank.id }, query: { page_size: 200 } } }),
      ),
  });
  const [importing, setImporting] = useState(false);
  const sides: [string, string][] = [
    ["current", `as surveyed now, revision ${tank.revision}`],
    ...(issued?.results ?? []).map((one): [string, string] => [
      `table-${one.number}`,
      `issued ${one.number}: ${one.why}`,
    ]),
    ...(charts?.results ?? []).map((one): [string, string] => [`chart-${one.id}`, `chart: ${one.name}`]),
  ];
  return (
    <div className="pane">
      <Issue tank={tank} choice={choice} next={(issued?.results[0]?.number ?? 0) + 1} />
      {issued && issued.results.length > 0 && (
        <div className="wide-table">
          <table>
            <thead>
              <tr>
                <th scope="col">Number</th>
                <th scope="col">Issued</th>
                <th scope="col">Why</th>
                <th scope="col" className="number">
                  Capacity
                </th>
                <th scope="col" className="number">
                  Rows
                </th>
                <th scope="col">
                  <span className="visually-hidden">What can be done</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {issued.results.map((one) => (
                <tr key={one.number}>
                  <th scope="row">{one.number}</th>
                  <td title={clock(one.issued_at)}>
                    {day(one.issued_at)}, {one.issued_by}
                  </td>
                  <td>{one.why}</td>
                  <td className="number mono">{units.text("volume", one.capacity_l)}</td>
                  <td className="number mono">
                    {one.row_count} × {one.step}
                  </td>
                  <td>
                    <Button
                      size="sm"
                      variant="outline-secondary"
                      aria-pressed={choice.issued === one.number}
                      onClick={() =>
                        onChoose({ ...choice, issued: choice.issued === one.number ? null : one.number })
                      }
                    >
                      {choice.issued === one.number ? "Shown" : "Show"}
                    </Button>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      <div className="pane-fields">
        <h2 className="pane-title">Compare</h2>
        <Button variant="outline-secondary" onClick={() => setImporting(true)}>
          Bring in a chart
        </Button>
      </div>
      {sides.length > 1 ? (
        <Compare tank={tank.id} sides={sides} />
      ) : (
        <p className="text-quiet">
          Issue a table or bring in a chart, and it can be compared with the tank here.
        </p>
      )}
      {charts && charts.results.length > 0 && (
        <ul className="charts-kept">
          {charts.results.map((one) => (
            <li key={one.id}>
              {one.name}: {one.point_count} points, brought in {day(one.made_at)} by {one.made_by}{" "}
              <ConfirmDelete
                label="Delete"
                name={one.name}
                remove={() => ask(api.DELETE("/api/charts/{id}/", { params: { path: { id: one.id } } }))}
                onDone={() => refresh(queries, keys.tank(tank.id, "charts"))}
              >
                The chart goes; the tank and its issued tables stay.
              </ConfirmDelete>
            </li>
          ))}
        </ul>
      )}
      <ImportChart show={importing} onHide={() => setImporting(false)} tank={tank} />
    </div>
  );
}

function Issue({ tank, choice, next }: { tank: Tank; choice: TableChoice; next: number }) {
  const id = useId();
  const queries = useQueryClient();
  const draft = useDraft<string>(`issue:${tank.id}`, {
    name: `Why a table of ${tank.facts.name} is issued`,
    page: `/tanks/${tank.id}/table`,
  });
  const why = draft.value ?? "";
  const issue = useMutation({
    mutationFn: (why: string) =>
      ask(
        api.POST("/api/tanks/{id}/issued/", {
          params: { path: { id: tank.id } },
          body: { step: choice.step, step_unit: choice.stepUnit, why, revision: tank.revision },
        }),
      ),
    // What was looked at may be older: the newer one is shown before it is issued.
    onError: () => refresh(queries, keys.tank(tank.id)),
    onSuccess: async (_, sent) => {
      draft.used(sent);
      await refresh(queries, keys.tank(tank.id), keys.board);
    },
  });
  return (
    <>
      <div className="pane-fields">
        <div className="pane-field wide">
          <label htmlFor={id}>Why table {next} is issued</label>
          <input
            id={id}
            className="form-control"
            maxLength={400}
            placeholder="first table, strapped again, heel measured…"
            value={why}
            onChange={(event) => {
              issue.reset();
              draft.change(event.target.value);
            }}
          />
        </div>
        <Button disabled={!why.trim() || issue.isPending} onClick={() => issue.mutate(why)}>
          {issue.isPending ? "Issuing…" : `Issue table ${next}`}
        </Button>
      </div>
      <p className="text-quiet">
        In steps of {choice.step} {choice.stepUnit}, with this revision of the tank frozen in. An issued table
        never changes.
      </p>
      {issue.error && (
        <p role="alert" className="problem">
          {issue.error instanceof Refused ? issue.error.message : wordsOf(issue.error)}
        </p>
      )}
    </>
  );
}
