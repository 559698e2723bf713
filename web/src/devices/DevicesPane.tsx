import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import Button from "react-bootstrap/Button";

import { keys, refresh } from "../api/keys";
import { api, ask, type Schema, wordsOf } from "../api/client";
import { clock, day } from "../frame/times";
import { More, usePages } from "../frame/pages";
import { Scroll } from "../frame/Scroll";
import { useUnits } from "../frame/units";
import type { Tank } from "../tanks/tank";
import { ReadBack } from "./ReadBack";
import { Opening } from "../frame/Opening";

type Sheet = Schema["DeviceSheet"];

/** The device sheet: everything that is typed into the devices, written once, and what was found in them. */
export function DevicesPane({ tank }: { tank: Tank }) {
  const id = useId();
  const queries = useQueryClient();
  const { system } = useUnits();
  const [note, setNote] = useState("");
  const [chosen, setChosen] = useState<number | null>(null);
  const pages = usePages(keys.tank(tank.id, "device-sheets"), (page) =>
    ask(
      api.GET("/api/tanks/{id}/device-sheets/", {
        params: { path: { id: tank.id }, query: { page, page_size: 20 } },
      }),
    ),
  );
  const sheets = pages.all;
  const write = useMutation({
    mutationFn: () =>
      ask(
        api.POST("/api/tanks/{id}/device-sheets/", {
          params: { path: { id: tank.id } },
          body: { system, note },
        }),
      ),
    onSuccess: async () => {
      setNote("");
      setChosen(null);
      await refresh(queries, keys.tank(tank.id, "device-sheets"));
    },
  });
  if (!sheets) return <Opening />;
  const sheet = sheets.find((one) => one.number === chosen) ?? sheets[0];
  return (
    <>
      <div className="save-set">
        <label htmlFor={id}>Note</label>
        <input
          id={id}
          className="form-control"
          maxLength={300}
          value={note}
          placeholder="commissioning, after the rescaling…"
          onChange={(event) => setNote(event.target.value)}
        />
        <Button disabled={write.isPending} onClick={() => write.mutate()}>
          Write sheet {(sheets[0]?.number ?? 0) + 1}
        </Button>
      </div>
      {write.error && (
        <p role="alert" className="problem">
          {wordsOf(write.error)}
        </p>
      )}
      {sheets.length > 1 && (
        <div className="switch links" role="group" aria-label="Sheets">
          {sheets.map((one) => (
            <button
              key={one.id}
              type="button"
              aria-pressed={one.id === sheet?.id}
              onClick={() => setChosen(one.number)}
            >
              Sheet {one.number}
            </button>
          ))}
        </div>
      )}
      <More pages={pages} what="sheets" />
      {sheet ? (
        <>
          <p className="pane-words">
            Sheet {sheet.number}, written {day(sheet.made_at)} {clock(sheet.made_at)} by {sheet.made_by}
            {sheet.note && `: ${sheet.note}`}. It stays as it is.{" "}
            <a href={`/api/device-sheets/${sheet.id}/sheet.pdf/`} download>
              PDF
            </a>{" "}
            <a href={`/api/device-sheets/${sheet.id}/sheet.csv/`} download>
              CSV
            </a>{" "}
            <a href={`/api/device-sheets/${sheet.id}/sheet.json/`} download>
              JSON
            </a>
          </p>
          <ReadBack key={sheet.id} sheet={sheet} />
          <Items sheet={sheet} />
        </>
      ) : (
        <p className="empty">
          No sheet yet. It is written from the kept chain and marks: keep those first, then write it.
        </p>
      )}
    </>
  );
}

function Items({ sheet }: { sheet: Sheet }) {
  const sections = [...new Set(sheet.items.map((item) => item.section))];
  return (
    <Scroll label={`Device sheet ${sheet.number}`}>
      <table className="plain-table sheet-table">
        <thead>
          <tr>
            <th>Setting</th>
            <th>Set to</th>
            <th>Key</th>
          </tr>
        </thead>
        {sections.map((section) => (
          <tbody key={section}>
            <tr>
              <th colSpan={3} scope="colgroup">
                {section}
              </th>
            </tr>
            {sheet.items
              .filter((item) => item.section === section)
              .map((item) => (
                <tr key={item.key}>
                  <td>{item.label}</td>
                  <td className="mono">
                    {item.value} {item.unit}
                  </td>
                  <td className="text-quiet">{item.key}</td>
                </tr>
              ))}
          </tbody>
        ))}
      </table>
    </Scroll>
  );
}
