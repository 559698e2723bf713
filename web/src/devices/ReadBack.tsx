import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import Button from "react-bootstrap/Button";

import { keys, refresh } from "../api/keys";
import { api, ask, type Schema, wordsOf } from "../api/client";
import { clock, day } from "../frame/times";
import { Scroll } from "../frame/Scroll";

const SHAPES = { same: "●", differs: "▲", missing: "○", extra: "◆" } as const;
const WORDS = { same: "same", differs: "differs", missing: "not read", extra: "not on the sheet" } as const;

/** What was found in the devices, read back from a file against a sheet. */
export function ReadBack({ sheet }: { sheet: Schema["DeviceSheet"] }) {
  const id = useId();
  const queries = useQueryClient();
  const [text, setText] = useState("");
  const path = { params: { path: { id: sheet.id } } };
  const { data } = useQuery({
    queryKey: keys.found(sheet.id),
    queryFn: () => ask(api.GET("/api/device-sheets/{id}/found/", path)),
  });
  const keep = useMutation({
    mutationFn: () => ask(api.POST("/api/device-sheets/{id}/found/", { ...path, body: { text, note: "" } })),
    onSuccess: async () => {
      setText("");
      await refresh(queries, keys.found(sheet.id));
    },
  });
  const last = data?.results[0];
  return (
    <>
      {last && <Comparison found={last} more={data.count - 1} />}
      <details className="read-back">
        <summary>Read the devices back</summary>
        <p className="text-quiet pane-words">
          Take the sheet as CSV along, type what is found into its value column, and give it back here.
        </p>
        <label htmlFor={`${id}-file`}>The file, CSV or JSON</label>
        <input
          id={`${id}-file`}
          type="file"
          className="form-control"
          accept=".csv,.json,text/csv,application/json"
          onChange={(event) => void event.target.files?.[0]?.text().then(setText)}
        />
        <label htmlFor={`${id}-text`}>Or paste its rows</label>
        <textarea
          id={`${id}-text`}
          className="form-control mono"
          rows={4}
          value={text}
          placeholder={"key,value\nscaled.high,23.1"}
          onChange={(event) => setText(event.target.value)}
        />
        <Button
          variant="outline-secondary"
          disabled={!text.trim() || keep.isPending}
          onClick={() => keep.mutate()}
        >
          Compare and keep as found
        </Button>
        {keep.error && (
          <p role="alert" className="problem">
            {wordsOf(keep.error)}
          </p>
        )}
      </details>
    </>
  );
}

function Comparison({ found, more }: { found: Schema["FoundSheet"]; more: number }) {
  const odd = found.rows.filter((row) => row.state !== "same");
  const differs = odd.filter((row) => row.state === "differs").length;
  return (
    <>
      <p className={differs ? "parting-says parts" : "parting-says"}>
        As found {day(found.made_at)} {clock(found.made_at)} by {found.made_by}:{" "}
        {odd.length === 0
          ? "everything is set as the sheet has it."
          : `${differs} differ${differs === 1 ? "s" : ""}, ${
              odd.length > differs ? `${odd.length - differs} not read or not on the sheet, ` : ""
            }${found.rows.length - odd.length} are the same.`}
        {more > 0 && ` Read back ${more} time${more === 1 ? "" : "s"} before.`}
      </p>
      {odd.length > 0 && (
        <Scroll label="As found against the sheet">
          <table className="plain-table">
            <thead>
              <tr>
                <th>Setting</th>
                <th>On the sheet</th>
                <th>Found</th>
                <th>Agrees</th>
              </tr>
            </thead>
            <tbody>
              {odd.map((row) => (
                <tr key={row.key} className={row.state === "differs" ? "short" : undefined}>
                  <td>
                    {row.section ? `${row.section}: ` : ""}
                    {row.label}
                  </td>
                  <td className="mono">{row.wanted}</td>
                  <td className="mono">{row.found}</td>
                  <td>
                    <span aria-hidden="true">{SHAPES[row.state]}</span> {WORDS[row.state]}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </Scroll>
      )}
    </>
  );
}
