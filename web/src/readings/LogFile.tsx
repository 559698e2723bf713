import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";

import { api, ask, type Schema, wordsOf } from "../api/client";
import { keys, refresh } from "../api/keys";
import { Choice } from "../frame/Choice";
import { base64Of } from "../frame/files";
import { Scroll } from "../frame/Scroll";
import type { Source } from "./SourcesPage";

type Mapping = Schema["LogMapping"];

const ORDERS: [string, string][] = [
  ["dmy", "day, month, year"],
  ["mdy", "month, day, year"],
  ["ymd", "year, month, day"],
];
const MARKS: [string, string][] = [
  [".", "point"],
  [",", "comma"],
];
const HEADER: [string, string][] = [
  ["yes", "holds names"],
  ["no", "is a reading"],
];

/** A logger's file: looked at, its columns said, then its readings kept. */
export function LogFile({ source }: { source: Source }) {
  const queries = useQueryClient();
  const [file, setFile] = useState<{ name: string; text: string; workbook: string } | null>(null);
  const params = { path: { id: source.id } };
  const look = useMutation({
    mutationFn: ({ body, mapping }: { body: { text: string; workbook: string }; mapping: Mapping | null }) =>
      ask(api.POST("/api/sources/{id}/file/look/", { params, body: { ...body, mapping } })),
  });
  const keep = useMutation({
    mutationFn: (mapping: Mapping) =>
      ask(
        api.POST("/api/sources/{id}/file/", {
          params,
          body: { text: file?.text ?? "", workbook: file?.workbook ?? "", mapping },
        }),
      ),
    onSuccess: () => refresh(queries, keys.sources, keys.everyTank),
  });
  const picked = async (chosen: File) => {
    const book = /\.xlsx$/i.test(chosen.name);
    const body = { text: book ? "" : await chosen.text(), workbook: book ? await base64Of(chosen) : "" };
    setFile({ name: chosen.name, ...body });
    keep.reset();
    look.mutate({ body, mapping: null });
  };
  const seen = look.data;
  const change = (changes: Partial<Mapping>) => {
    if (!seen || !file) return;
    keep.reset();
    look.mutate({ body: file, mapping: { ...seen.mapping, ...changes } });
  };
  const width = Math.max(0, ...(seen?.head ?? []).map((row) => row.length));
  const columns: [string, string][] = Array.from({ length: width }, (_, at) => [
    String(at),
    seen?.mapping.header ? (seen.head[0]?.[at] ?? `column ${at + 1}`) : `column ${at + 1}`,
  ]);
  return (
    <div className="log-file">
      <label className="btn btn-outline-secondary">
        {file ? file.name : "Pick the logger's file, CSV or XLSX"}
        <input
          type="file"
          hidden
          accept=".csv,.txt,.xlsx"
          onChange={(event) => {
            const chosen = event.target.files?.[0];
            if (chosen) void picked(chosen);
            event.target.value = "";
          }}
        />
      </label>
      {look.isError && <p className="problem">{wordsOf(look.error)}</p>}
      {seen && (
        <>
          <div className="facts">
            <Choice
              label="Its first row"
              value={seen.mapping.header ? "yes" : "no"}
              options={HEADER}
              onChange={(value) => change({ header: value === "yes" })}
            />
            <Choice
              label="Time"
              value={String(seen.mapping.time_column)}
              options={columns}
              onChange={(value) => change({ time_column: Number(value) })}
            />
            <Choice
              label="Dates are"
              value={seen.mapping.order}
              options={ORDERS}
              onChange={(value) => change({ order: value as Mapping["order"] })}
            />
            <Choice
              label="Decimal mark"
              value={seen.mapping.decimal}
              options={MARKS}
              onChange={(value) => change({ decimal: value as Mapping["decimal"] })}
            />
            <Choice
              label="Its clock is"
              value={String(seen.mapping.offset_min)}
              options={ZONES}
              onChange={(value) => change({ offset_min: Number(value) })}
            />
            {seen.channels.map((name) => (
              <Choice
                key={name}
                label={`Channel ${name}`}
                value={String(seen.mapping.columns[name] ?? "")}
                options={[["", "not in this file"], ...columns]}
                onChange={(value) => {
                  const rest = Object.entries(seen.mapping.columns).filter(([key]) => key !== name);
                  const chosen = value === "" ? rest : [...rest, [name, Number(value)] as const];
                  change({ columns: Object.fromEntries(chosen) });
                }}
              />
            ))}
          </div>
          {seen.problems.map((problem) => (
            <p key={problem.where + problem.what} className="problem">
              {problem.where.startsWith("row") ? `${problem.where}: ` : ""}
              {problem.what}
            </p>
          ))}
          <Scroll label="The file's first rows">
            <table className="plain-table">
              <tbody>
                {seen.head.map((row, at) => (
                  <tr key={at}>
                    {row.map((cell, column) => (
                      <td key={column} className="mono">
                        {cell}
                      </td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
          </Scroll>
          {seen.first_at !== null && seen.last_at !== null && (
            <p>
              {seen.count} readings, from {new Date(seen.first_at).toLocaleString()} to{" "}
              {new Date(seen.last_at).toLocaleString()}.
            </p>
          )}
          <Button
            disabled={seen.problems.length > 0 || seen.count === 0 || keep.isPending || keep.isSuccess}
            onClick={() => keep.mutate(seen.mapping)}
          >
            Keep these readings
          </Button>
          {keep.isError && <p className="problem">{wordsOf(keep.error)}</p>}
          {keep.data && (
            <p role="status">
              {keep.data.new} kept, {keep.data.again} were there already.
            </p>
          )}
        </>
      )}
    </div>
  );
}

/** How far clocks are ahead of UTC, in whole and half hours. */
const ZONES: [string, string][] = Array.from({ length: 53 }, (_, at) => {
  const minutes = (at - 24) * 30;
  const size = Math.abs(minutes);
  const text = `${Math.floor(size / 60)}:${String(size % 60).padStart(2, "0")}`;
  return [String(minutes), minutes === 0 ? "UTC" : `UTC ${minutes < 0 ? "−" : "+"} ${text} h`];
});
