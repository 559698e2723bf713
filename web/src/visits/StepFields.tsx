import { useId } from "react";

import type { Problem, Schema } from "../api/client";
import { type System, type Units, useUnits } from "../frame/units";
import { takenWords, TakeButton, useTakes } from "../readings/TakeButton";
import { ScanButton } from "../register/ScanButton";
import type { Step, Visit } from "./visit";

type Field = Step["fields"][number];

/** Which live values may be taken into a field, by what it is: what a screen shows, or what a probe counts. */
const STATIONS: Partial<Record<Field["quantity"], string[]>> = {
  reading: ["shown", "read", "number", "counts", "arriving", "sent", "level"],
  number: ["counts", "number", "arriving", "sent"],
};

interface Props {
  visit: Visit;
  step: Step;
  values: Record<string, string>;
  read: Schema["ReadField"][];
  lines: Schema["Figure"][];
  problems: Problem[];
  fixed: boolean;
  /** What a bare number means. */
  system: System;
  onChange: (changes: Record<string, string>) => void;
}

/** The fields of a step, big enough for a gloved thumb; live values beside those that have one. */
export function StepFields({ visit, step, values, read, lines, problems, fixed, system, onChange }: Props) {
  const units = useUnits();
  if (step.fields.length === 0) return null;
  return (
    <div className="step-fields">
      {step.fields.map((field) => (
        <OneField
          key={field.to}
          visit={visit}
          field={field}
          value={values[field.to] ?? ""}
          read={read.find((one) => one.to === field.to)}
          live={lines.find((line) => line.take && field.to.startsWith(`visit:${line.take}`))}
          problem={problems.find((one) => one.where === field.to)?.what}
          fixed={fixed}
          unit={unitOf(field.quantity, system, units)}
          onChange={(text) => onChange({ [field.to]: text })}
        />
      ))}
      {!fixed && step.fields.some((field) => field.to === "visit:serial") && (
        <ScanButton
          onScanned={({ serial, part, address }) =>
            onChange({
              ...(serial && { "visit:serial": serial }),
              ...(part && { "visit:part": part }),
              ...(address && { "visit:address": address }),
            })
          }
        />
      )}
    </div>
  );
}

interface FieldProps {
  visit: Visit;
  field: Field;
  value: string;
  read: Schema["ReadField"] | undefined;
  live: Schema["Figure"] | undefined;
  problem: string | undefined;
  fixed: boolean;
  /** What a bare number is in. */
  unit: string;
  onChange: (text: string) => void;
}

/** The unit of a field, written behind its name. */
function unitOf(quantity: Field["quantity"], system: System, units: Units): string {
  const fixed: Partial<Record<Field["quantity"], string>> = {
    voltage: "V",
    resistance: "Ω",
    percent: "%",
    angle: "°",
    temperature: system === "us" ? "°F" : "°C",
  };
  if (quantity === "length" || quantity === "volume" || quantity === "current")
    return units.bareUnit(quantity, system).name;
  return fixed[quantity] ?? "";
}

function OneField({ visit, field, value, read, live, problem, fixed, unit, onChange }: FieldProps) {
  const id = useId();
  const wrong = problem ?? (read?.state === "wrong" && value.trim() ? read.problem : "");
  const says = read?.state === "read" && read.says !== value ? read.says : "";
  return (
    <div className="form-field step-field">
      <label htmlFor={id}>
        {field.label}
        {unit && <span className="text-quiet">, {unit}</span>}
        {field.optional && <span className="text-quiet">, if there is one</span>}
      </label>
      <input
        id={id}
        className="form-control mono"
        autoComplete="off"
        readOnly={fixed}
        value={value}
        aria-invalid={wrong ? true : undefined}
        aria-describedby={`${id}-says`}
        onChange={(event) => onChange(event.target.value)}
      />
      <div id={`${id}-says`} className="form-says">
        {wrong ? <span className="problem">{wrong}</span> : says || field.limit_words}
      </div>
      {!fixed && live && (
        <button type="button" className="take" title={live.source} onClick={() => onChange(live.text)}>
          Take {live.text}
        </button>
      )}
      {!fixed && STATIONS[field.quantity] && (
        <LiveReading
          visit={visit}
          label={field.label}
          stations={STATIONS[field.quantity] ?? []}
          onTake={onChange}
        />
      )}
    </div>
  );
}

interface LiveProps {
  visit: Visit;
  label: string;
  /** Where along the chain the value stands, what is best first. */
  stations: string[];
  onTake: (text: string) => void;
}

/** The live value of the station that stands nearest to the screen. */
function LiveReading({ visit, label, stations, onTake }: LiveProps) {
  const takes = useTakes(visit.tank);
  const take = stations.map((station) => takes.find((one) => one.station === station)).find(Boolean);
  return (
    <>
      <TakeButton take={take} label={label} onTake={onTake} />
      {take && <span className="text-quiet"> {takenWords(take)}</span>}
    </>
  );
}
