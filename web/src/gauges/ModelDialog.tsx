import { useMutation } from "@tanstack/react-query";
import { useId, useState } from "react";
import Button from "react-bootstrap/Button";

import { api, ask, Refused, wordsOf } from "../api/client";
import { Dialog } from "../frame/Dialog";
import type { GaugeWords } from "./gauge";

export type ModelDocument = Record<string, unknown>;

/** What is opened: a copy to be added, or an own model to be changed. */
export interface Opened {
  document: ModelDocument;
  id?: number;
  revision?: number;
}

/** Figures of a data sheet, by their keys: sent as they are typed. */
const FIGURES: [key: string, label: string, example?: string][] = [
  ["range_max_mm", "Measures up to, mm"],
  ["blanking_mm", "Blanking, mm"],
  ["beam_deg", "Beam, whole angle, °"],
  ["accuracy_mm", "Accuracy ±, mm"],
  ["accuracy_pct_span", "Accuracy ±, % of range"],
  ["accuracy_pct_reading", "Accuracy ±, % of reading"],
  ["temperature_pct_span_per_10k", "Temperature, % of range by 10 K"],
  ["resolution_mm", "Resolution, mm"],
  ["lift_off_v", "Works from, V"],
  ["supply_max_v", "Bears up to, V"],
  ["temperature_min_c", "Product from, °C"],
  ["temperature_max_c", "Product to, °C"],
  ["pressure_max_bar", "Bears up to, bar"],
  ["bore_mm", "Opening it needs, mm"],
  ["probe_section_mm", "Probe's piece, mm"],
  ["probe_sections", "Pieces at most"],
  ["tube_inside_mm", "Tube inside, mm"],
  ["rod_outside_mm", "Rod outside, mm"],
  ["install_min", "Minutes to install"],
  ["cable_stock_mm", "Cable is sold in, mm", "2000; 5000; 10000"],
];

interface Props {
  opened: Opened;
  words: GaugeWords;
  onHide: () => void;
  onDone: () => Promise<void>;
}

/** A gauge model's figures, as its data sheet has them. */
export function ModelDialog({ opened, words, onHide, onDone }: Props) {
  const id = useId();
  const [document, setDocument] = useState<ModelDocument>(opened.document);
  const [typed, setTyped] = useState<Record<string, string>>(() =>
    Object.fromEntries(
      FIGURES.map(([key]) => {
        const kept = (opened.document[key] ?? "") as number | number[] | "";
        return [key, Array.isArray(kept) ? kept.join("; ") : String(kept)];
      }),
    ),
  );
  const keep = useMutation({
    mutationFn: () => {
      const body = { document, figures: typed };
      return opened.id === undefined
        ? ask(api.POST("/api/gauge-models/", { body }))
        : ask(
            api.PUT("/api/gauge-models/{id}/", {
              params: { path: { id: opened.id } },
              body: { ...body, revision: opened.revision ?? 0 },
            }),
          );
    },
    onSuccess: onDone,
  });
  const refused = keep.error instanceof Refused ? keep.error : null;
  const set = (key: string, value: unknown) => setDocument({ ...document, [key]: value });
  const toggle = (key: string, value: string) => {
    const list = (document[key] as string[] | undefined) ?? [];
    set(key, list.includes(value) ? list.filter((one) => one !== value) : [...list, value]);
  };
  const ticks = (key: string, options: Record<string, string>, legend: string) => (
    <fieldset>
      <legend>{legend}</legend>
      <div className="ticks">
        {Object.entries(options).map(([value, name]) => (
          <label key={value} className="tick">
            <input
              type="checkbox"
              checked={((document[key] as string[] | undefined) ?? []).includes(value)}
              onChange={() => toggle(key, value)}
            />
            {name}
          </label>
        ))}
      </div>
    </fieldset>
  );
  const select = (key: string, options: Record<string, string>, label: string) => (
    <div className="form-field">
      <label htmlFor={`${id}-${key}`}>{label}</label>
      <select
        id={`${id}-${key}`}
        className="form-select"
        value={(document[key] as string | undefined) ?? ""}
        onChange={(event) => set(key, event.target.value)}
      >
        {Object.entries(options).map(([value, name]) => (
          <option key={value} value={value}>
            {name}
          </option>
        ))}
      </select>
    </div>
  );
  const technologies = Object.fromEntries(words.technologies.map((one) => [one.key, one.name]));
  return (
    <Dialog
      title={opened.id === undefined ? "A model of your own" : "Change the model"}
      onHide={onHide}
      size="lg"
      holds
      bodyClass="survey"
      footer={
        <>
          <Button variant="outline-secondary" onClick={onHide}>
            Leave it
          </Button>
          <Button onClick={() => keep.mutate()} disabled={keep.isPending}>
            Keep this model
          </Button>
        </>
      }
    >
      <div className="form-field">
        <label htmlFor={`${id}-name`}>Name</label>
        <input
          id={`${id}-name`}
          className="form-control"
          maxLength={120}
          value={String(document.name)}
          onChange={(event) => set("name", event.target.value)}
        />
        {refused?.at("name") && <span className="problem">{refused.at("name")}</span>}
      </div>
      <div className="facts">
        {select("technology", technologies, "Method")}
        {select("zone", words.zones, "Approved for")}
        {FIGURES.map(([key, label, example]) => (
          <div key={key} className="form-field">
            <label htmlFor={`${id}-${key}`}>{label}</label>
            <input
              id={`${id}-${key}`}
              className="form-control mono"
              placeholder={example}
              value={typed[key] ?? ""}
              aria-invalid={refused?.at(key) ? true : undefined}
              onChange={(event) => setTyped({ ...typed, [key]: event.target.value })}
            />
            {refused?.at(key) && <span className="problem">{refused.at(key)}</span>}
          </div>
        ))}
      </div>
      {ticks("output", Object.fromEntries(words.outputs.map((name) => [name, name])), "Output")}
      {ticks("wetted", words.materials, "Wetted materials")}
      {keep.isError && (
        <p role="alert" className="problem">
          {wordsOf(keep.error)}
        </p>
      )}
    </Dialog>
  );
}
