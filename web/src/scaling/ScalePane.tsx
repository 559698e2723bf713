import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useId } from "react";

import { api, ask, type Schema } from "../api/client";
import { clock, useDraft } from "../frame/draft";
import { Judgements } from "../frame/Judgements";
import { KeepBar } from "../frame/KeepBar";
import { useLatest } from "../frame/latest";
import { useUnits } from "../frame/units";
import type { Tank } from "../tanks/tank";
import { AtTheLine } from "./AtTheLine";
import type { ScaleForm } from "./scale";

type Entries = Schema["TransmitterEntries"];

const BLANK: Entries = { reports: "level", value_at_4ma_mm: "", value_at_20ma_mm: "", datum_offset_mm: "" };

/** What 4 and 20 mA stand for, and whether that fits the tank. */
export function ScalePane({ tank }: { tank: Tank }) {
  const units = useUnits();
  const queries = useQueryClient();
  const { data } = useQuery({
    queryKey: ["tank", tank.id, "scale", units.system],
    queryFn: () =>
      ask(
        api.GET("/api/tanks/{id}/scale/", {
          params: { path: { id: tank.id }, query: { system: units.system } },
        }),
      ),
  });
  const draft = useDraft<ScaleForm>(`rasante:scale:${tank.id}`);
  const kept: ScaleForm = {
    entries: data?.transmitter?.entries ?? BLANK,
    serial: data?.transmitter?.serial ?? "",
    system: units.system,
  };
  const form = draft.value ?? kept;
  const changed =
    draft.value !== null &&
    JSON.stringify({ ...form, system: "" }) !== JSON.stringify({ ...kept, system: "" });
  const typed = form.entries.value_at_20ma_mm !== "" || form.entries.value_at_4ma_mm !== "";
  const reading = useLatest(typed ? { entries: form.entries, system: units.system } : null, (body) =>
    ask(api.POST("/api/tanks/{id}/scale/", { params: { path: { id: tank.id } }, body })),
  );
  const keep = useMutation({
    mutationFn: () =>
      ask(
        api.PUT("/api/tanks/{id}/scale/", {
          params: { path: { id: tank.id } },
          body: { ...form, system: units.system, revision: data?.transmitter?.revision ?? 0 },
        }),
      ),
    onSuccess: async () => {
      draft.clear();
      await queries.invalidateQueries({ queryKey: ["tank", tank.id] });
      await queries.invalidateQueries({ queryKey: ["board"] });
    },
  });
  const change = (entries: Partial<Entries>) => {
    keep.reset();
    draft.change({ ...form, system: units.system, entries: { ...form.entries, ...entries } });
  };
  if (!data) return <p>Opening…</p>;
  const distance = form.entries.reports === "distance";
  const judgements = typed ? (reading?.judgements ?? []) : [];
  const field = (
    key: "value_at_4ma_mm" | "value_at_20ma_mm" | "datum_offset_mm",
    label: string,
    hint: string,
  ) => (
    <ScaleField
      label={label}
      hint={hint}
      value={form.entries[key] ?? ""}
      problem={
        form.entries[key] ? reading?.problems.find((problem) => problem.where === key)?.what : undefined
      }
      understood={reading?.understood?.[key]}
      onChange={(text) => change({ [key]: text })}
      onLeave={() => {
        const text = (form.entries[key] ?? "").trim();
        if (/^-?[\d.,]+$/.test(text) && changed) change({ [key]: `${text} ${units.unit("length").name}` });
      }}
    />
  );
  return (
    <>
      <KeepBar
        action="Keep this scale"
        changed={changed}
        ready={!keep.isPending && Boolean(reading?.understood)}
        error={keep.error}
        kept={
          data.transmitter
            ? `Kept, revision ${data.transmitter.revision}.`
            : "Not scaled yet: type what the transmitter is set to."
        }
        waiting={<>Changed {draft.at ? clock(draft.at) : ""}, on this device only.</>}
        onKeep={() => keep.mutate()}
        onDiscard={draft.discard}
        onUndo={draft.undo}
      />
      <fieldset>
        <legend>Transmitter, 4–20 mA</legend>
        <div className="choice-field">
          <span>Reports</span>
          <div className="switch" role="group" aria-label="Reports">
            {[
              ["level", "Level"],
              ["distance", "Distance"],
            ].map(([key, label]) => (
              <button
                key={key}
                type="button"
                aria-pressed={form.entries.reports === key}
                onClick={() => change({ reports: key })}
              >
                {label}
              </button>
            ))}
          </div>
        </div>
        {field(
          "value_at_4ma_mm",
          "Value at 4 mA",
          distance ? "The distance it is set to for an empty tank" : "The level it is set to, above its zero",
        )}
        {field(
          "value_at_20ma_mm",
          "Value at 20 mA",
          distance ? "The distance it is set to for a full tank" : "The level it is set to, above its zero",
        )}
        {field(
          "datum_offset_mm",
          "Datum offset",
          distance
            ? "Height of its face above the reference point; − if it hangs below"
            : "Height of its zero above the inside bottom",
        )}
        <SerialField value={form.serial} onChange={(serial) => draft.change({ ...form, serial })} />
      </fieldset>
      <Judgements list={judgements} />
      {data.transmitter && <AtTheLine marks={data.marks} unsaved={changed} />}
    </>
  );
}

interface FieldProps {
  label: string;
  hint: string;
  value: string;
  problem: string | undefined;
  understood: number | undefined;
  onChange: (text: string) => void;
  onLeave: () => void;
}

function ScaleField({ label, hint, value, problem, understood, onChange, onLeave }: FieldProps) {
  const id = useId();
  const units = useUnits();
  const both =
    understood !== undefined && value
      ? `${units.text("length", understood, units.unitByKey("mm"))} · ${units.text("length", understood, units.unitByKey("in"))}`
      : hint;
  return (
    <div className="length-field">
      <label htmlFor={id}>{label}</label>
      <input
        id={id}
        className="form-control mono"
        autoComplete="off"
        value={value}
        aria-invalid={problem ? true : undefined}
        aria-describedby={`${id}-says`}
        onChange={(event) => onChange(event.target.value)}
        onBlur={onLeave}
      />
      <span />
      <div id={`${id}-says`} className="field-says">
        {problem ? <span className="problem">{problem}</span> : both}
      </div>
    </div>
  );
}

function SerialField({ value, onChange }: { value: string; onChange: (text: string) => void }) {
  const id = useId();
  return (
    <div className="choice-field">
      <label htmlFor={id}>Serial or tag</label>
      <input
        id={id}
        className="form-control"
        maxLength={80}
        value={value}
        onChange={(event) => onChange(event.target.value)}
      />
    </div>
  );
}
