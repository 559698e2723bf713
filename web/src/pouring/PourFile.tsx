import { useMutation } from "@tanstack/react-query";
import { useId, useState } from "react";
import Button from "react-bootstrap/Button";

import { api, ask } from "../api/client";
import type { Entries, FormState } from "../frame/FormField";
import { rowNumbers } from "../frame/plan";
import { Scroll } from "../frame/Scroll";
import { ProblemLine } from "../people/fields";

const COLUMNS = [
  ["amount", "Amount"],
  ["total", "Total in it"],
  ["reading", "Reading"],
] as const;

/** Other people's pours, from CSV: looked at with its columns before they stand in the run. */
export function PourFile({ tank, form }: { tank: number; form: FormState }) {
  const id = useId();
  const [text, setText] = useState("");
  const read = useMutation({
    mutationFn: (asked: { text: string; columns?: Record<string, number> }) =>
      ask(api.POST("/api/tanks/{id}/pours/file/", { params: { path: { id: tank } }, body: asked })),
  });
  const found = read.data;
  const rows = found ? rowNumbers(found.entries, "pours") : [];
  const choose = (column: "amount" | "total" | "reading", at: string) => {
    const others = { amount: ["amount", "total"], total: ["amount", "total"], reading: ["reading"] }[column];
    const left = Object.entries(found?.columns ?? {}).filter(([key]) => !others.includes(key));
    read.mutate({ text, columns: Object.fromEntries(at === "" ? left : [...left, [column, Number(at)]]) });
  };
  return (
    <details>
      <summary>Read other people&apos;s pours from a file</summary>
      <label htmlFor={id} className="btn btn-outline-secondary">
        Choose a CSV, or a run as JSON
      </label>
      <input
        id={id}
        type="file"
        accept=".csv,.txt,.json,text/csv,text/plain,application/json"
        className="visually-hidden"
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = "";
          if (file)
            void file.text().then((content) => {
              setText(content);
              read.mutate({ text: content });
            });
        }}
      />
      <ProblemLine error={read.error} />
      {found && (
        <>
          <div className="facts">
            {found.headings.length > 0 &&
              COLUMNS.map(([key, label]) => (
                <div key={key} className="form-field">
                  <label htmlFor={id + key}>{label}</label>
                  <select
                    id={id + key}
                    className="form-select"
                    value={found.columns[key] ?? ""}
                    onChange={(event) => choose(key, event.target.value)}
                  >
                    <option value="">none</option>
                    {found.headings.map((heading, at) => (
                      <option key={`${at}${heading}`} value={at}>
                        {heading}
                      </option>
                    ))}
                  </select>
                </div>
              ))}
          </div>
          <Scroll label="What was read">
            <Preview entries={found.entries} rows={rows.slice(0, 8)} />
          </Scroll>
          <Button
            onClick={() => {
              const old = Object.keys(form.entries).filter((key) => key.startsWith("pours["));
              form.change({ ...Object.fromEntries(old.map((key) => [key, ""])), ...found.entries });
              read.reset();
            }}
          >
            Take these {rows.length} pours
          </Button>{" "}
          <span className="text-quiet">They take the place of those above, in the units of the screen.</span>
        </>
      )}
    </details>
  );
}

function Preview({ entries, rows }: { entries: Entries; rows: number[] }) {
  return (
    <table className="plain-table">
      <thead>
        <tr>
          <th>Pour</th>
          <th>Amount</th>
          <th>Reading</th>
        </tr>
      </thead>
      <tbody>
        <tr>
          <td>start</td>
          <td className="mono">{entries["start.volume"]}</td>
          <td className="mono">{entries["start.reading"]}</td>
        </tr>
        {rows.map((row) => (
          <tr key={row}>
            <td>{row + 1}</td>
            <td className="mono">
              {entries[`pours[${row}].does`] === "out" && "−"}
              {entries[`pours[${row}].amount`]}
            </td>
            <td className="mono">{entries[`pours[${row}].reading`]}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
