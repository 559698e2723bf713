import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import Button from "react-bootstrap/Button";
import { useNavigate } from "react-router";

import { keys, refresh } from "../../api/keys";
import { api, ask, wordsOf } from "../../api/client";
import { Dialog } from "../../frame/Dialog";
import { base64Of } from "../../frame/files";
import { useAsking } from "../../frame/asking";
import { SitePicker, useSites } from "../SitePicker";
import type { Tank } from "../tank";
import { MappingFields } from "./MappingFields";
import { Preview } from "./Preview";
import { type ChartFile, type Mapping } from "./chart";

interface Props {
  show: boolean;
  onHide: () => void;
  /** The tank that the chart is to be kept beside; without one, a tank is made of it. */
  tank?: Tank;
}

const EMPTY: ChartFile = { text: "", workbook: "", reference_height_mm: null };

/** Counts what was given: a question names it by its number, and need not carry megabytes of it about. */
let given = 0;

/** Takes a chart in from a CSV or XLSX file: looked at with its columns named, then kept. */
export function ImportChart({ show, onHide, tank }: Props) {
  const id = useId();
  const queries = useQueryClient();
  const navigate = useNavigate();
  const sites = useSites();
  const [{ file, number }, setGiven] = useState<{ file: ChartFile; number: number }>(() => ({
    file: { ...EMPTY, reference_height_mm: tank?.facts.drawing.reference_height_mm ?? null },
    number: (given += 1),
  }));
  /** Changes what was given as it stands then: while a file is read, something else may be typed. */
  const change = (changes: Partial<ChartFile>) => {
    const next = (given += 1);
    setGiven((now) => ({ file: { ...now.file, ...changes }, number: next }));
  };
  const [mapping, setMapping] = useState<Mapping | null>(null);
  const [name, setName] = useState("");
  const [product, setProduct] = useState("");
  const [site, setSite] = useState<number | null>(null);
  const chosenSite = site ?? sites?.[0]?.id ?? null;
  const there = file.text !== "" || file.workbook !== "";
  const looked = useAsking(["chart-preview"], there ? { number, mapping } : null, (_, signal) =>
    ask(api.POST("/api/charts/preview/", { body: { ...file, mapping }, signal })),
  );
  const preview = there && !looked.error ? looked.answer : undefined;
  const used = mapping ?? preview?.mapping ?? null;
  const keep = useMutation({
    mutationFn: async () => {
      if (!used) throw new Error("nothing to keep");
      const body = { ...file, mapping: used, name: name.trim() };
      if (!tank)
        return ask(api.POST("/api/charts/tank/", { body: { ...body, product, site: chosenSite ?? 0 } }));
      await ask(api.POST("/api/tanks/{id}/charts/", { params: { path: { id: tank.id } }, body }));
      return null;
    },
    onSuccess: async (made) => {
      await refresh(queries, keys.everyTank, keys.tanks, keys.board);
      onHide();
      change(EMPTY);
      setMapping(null);
      setName("");
      if (made) await navigate(`/tanks/${made.id}/table`);
    },
  });

  async function read(picked: File | undefined) {
    if (!picked) return;
    keep.reset();
    setMapping(null);
    if (!name) setName(picked.name.replace(/\.[^.]+$/, ""));
    if (/\.xlsx$/i.test(picked.name)) change({ text: "", workbook: await base64Of(picked) });
    else change({ text: await picked.text(), workbook: "" });
  }

  return (
    <Dialog
      title={tank ? `Bring in a chart of ${tank.facts.name}` : "Make a tank of a chart"}
      show={show}
      onHide={onHide}
      size="lg"
      holds
      footer={
        <>
          <span className="text-quiet me-auto">Nothing is kept before you say so.</span>
          <Button variant="outline-secondary" onClick={onHide}>
            Back
          </Button>
          <Button
            disabled={!preview?.points || !name.trim() || keep.isPending || (!tank && chosenSite === null)}
            onClick={() => keep.mutate()}
          >
            {keep.isPending ? "Keeping…" : tank ? "Keep this chart" : "Make the tank"}
          </Button>
        </>
      }
    >
      {!tank && <SitePicker value={chosenSite} onChange={setSite} />}
      <div className="drop">
        <label htmlFor={`${id}-file`}>The file: CSV or other text in columns, XLSX, or JSON</label>
        <input
          id={`${id}-file`}
          type="file"
          className="form-control"
          onClick={(event) => {
            // The same file may be picked again once it is put right.
            event.currentTarget.value = "";
          }}
          accept=".csv,.txt,.tsv,.json,.xlsx,text/csv,text/plain,application/json"
          onChange={(event) => void read(event.target.files?.[0])}
        />
        <label htmlFor={`${id}-text`} className="mt-2">
          Or paste its rows
        </label>
        <textarea
          id={`${id}-text`}
          className="form-control mono"
          rows={3}
          spellCheck={false}
          value={file.text}
          onChange={(event) => {
            keep.reset();
            change({ text: event.target.value, workbook: "" });
          }}
        />
      </div>
      {there && looked.error && (
        <p role="alert" className="problem">
          {wordsOf(looked.error)}
        </p>
      )}
      {preview && used && (
        <>
          <MappingFields
            mapping={used}
            columns={Math.max(...preview.head.map((row) => row.length))}
            head={preview.head}
            referenceMm={file.reference_height_mm}
            onChange={setMapping}
            onReference={(mm) => change({ reference_height_mm: mm })}
          />
          <Preview preview={preview} mapping={used} />
        </>
      )}
      <div className="pane-fields mt-2">
        <div className="pane-field wide">
          <label htmlFor={`${id}-name`}>{tank ? "Name of the chart" : "Name of the tank"}</label>
          <input
            id={`${id}-name`}
            className="form-control"
            maxLength={120}
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
        </div>
        {!tank && (
          <div className="pane-field wide">
            <label htmlFor={`${id}-product`}>Product</label>
            <input
              id={`${id}-product`}
              className="form-control"
              maxLength={60}
              value={product}
              onChange={(event) => setProduct(event.target.value)}
            />
          </div>
        )}
      </div>
      {keep.error && (
        <p role="alert" className="problem">
          {wordsOf(keep.error)}
        </p>
      )}
    </Dialog>
  );
}
