import "../frame/lists.css";
import "../tanks/survey/survey.css";
import "./gauges.css";

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import Button from "react-bootstrap/Button";
import { Link } from "react-router";

import { keys, refresh } from "../api/keys";
import { api, ask, wordsOf } from "../api/client";
import { ConfirmDelete } from "../people/ConfirmDelete";
import { useUnits } from "../frame/units";
import { Scroll } from "../frame/Scroll";
import { useGaugeWords, useLibrary } from "./gauge";
import { ModelDialog, type Opened } from "./ModelDialog";
import { Opening } from "../frame/Opening";

/** The library of gauge models: generic ones, own ones, and files of them in and out. */
export function ModelsPage() {
  const words = useGaugeWords();
  const units = useUnits();
  const queries = useQueryClient();
  const { data, error } = useLibrary();
  const [opened, setOpened] = useState<Opened | null>(null);
  const file = useRef<HTMLInputElement>(null);
  useEffect(() => {
    document.title = "Gauge models · Rasante";
  }, []);
  const again = () => refresh(queries, keys.gaugeModels);
  const take = useMutation({
    mutationFn: async (picked: File) =>
      ask(api.POST("/api/gauge-models/import/", { body: { text: await picked.text() } })),
    onSuccess: again,
  });
  if (!words) return <Opening className="page" />;
  return (
    <main className="page">
      <div className="page-head">
        <h1>Gauge models</h1>
        <a className="btn btn-outline-secondary" href="/api/gauge-models/file/" download>
          All as a file
        </a>
        <a
          className="btn btn-outline-secondary"
          href="/api/gauge-models/schema/"
          target="_blank"
          rel="noreferrer"
        >
          Its schema
        </a>
        <Button variant="outline-secondary" onClick={() => file.current?.click()}>
          Take a file in
        </Button>
        <input
          ref={file}
          type="file"
          accept=".json,application/json"
          hidden
          aria-label="File of gauge models"
          onChange={(event) => {
            const picked = event.target.files?.[0];
            if (picked) take.mutate(picked);
            event.target.value = "";
          }}
        />
        <Link to="/tanks" className="btn btn-outline-secondary">
          Tanks
        </Link>
      </div>
      {error && <p className="problem">{wordsOf(error)}</p>}
      {take.isError && (
        <p role="alert" className="problem">
          {wordsOf(take.error)}
        </p>
      )}
      {take.data && (
        <p role="status">
          {take.data.added} added, {take.data.changed} changed; the others were here already.
        </p>
      )}
      <p className="text-quiet">
        The generic ones stand for their kind, not for a make: copy one and put in what the data sheet says. A
        gauge that was planned keeps its model as it was.
      </p>
      <Scroll label="Gauge models">
        <table className="tank-list">
          <thead>
            <tr>
              <th scope="col">Model</th>
              <th scope="col">Method</th>
              <th scope="col" className="number">
                Range
              </th>
              <th scope="col">Output</th>
              <th scope="col">Zone</th>
              <th scope="col">
                <span className="visually-hidden">What can be done</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {data?.map((entry) => {
              const model = entry.document;
              return (
                <tr key={entry.key}>
                  <td>{String(model.name)}</td>
                  <td>{words.technologies.find((one) => one.key === model.technology)?.name}</td>
                  <td className="number mono">{units.tape(Number(model.range_max_mm))}</td>
                  <td>{(model.output as string[]).join(", ")}</td>
                  <td>{words.zones[String(model.zone)]}</td>
                  <td className="model-acts">
                    <Button
                      size="sm"
                      variant="outline-secondary"
                      aria-label={`Copy ${String(model.name)}`}
                      onClick={() =>
                        setOpened({ document: { ...model, name: `${String(model.name)}, mine` } })
                      }
                    >
                      Copy
                    </Button>
                    {entry.id !== null && (
                      <>
                        <Button
                          size="sm"
                          variant="outline-secondary"
                          aria-label={`Change ${String(model.name)}`}
                          onClick={() =>
                            setOpened({ document: model, id: entry.id ?? 0, revision: entry.revision ?? 0 })
                          }
                        >
                          Change
                        </Button>
                        <ConfirmDelete
                          label="Delete"
                          name={String(model.name)}
                          remove={() =>
                            ask(
                              api.DELETE("/api/gauge-models/{id}/", {
                                params: { path: { id: entry.id ?? 0 } },
                              }),
                            )
                          }
                          onDone={again}
                        >
                          It can no longer be chosen; gauges that were planned with it keep it.
                        </ConfirmDelete>
                      </>
                    )}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </Scroll>
      {opened && (
        <ModelDialog
          opened={opened}
          words={words}
          onHide={() => setOpened(null)}
          onDone={async () => {
            setOpened(null);
            await again();
          }}
        />
      )}
    </main>
  );
}
