import { useId, useState } from "react";

import { useUnits } from "../../frame/units";
import { STEPS, type StepUnit, type TableChoice, useIssued, type VolumeUnit } from "./table";

interface Props {
  choice: TableChoice;
  onChange: (choice: TableChoice) => void;
}

/** What the table is made of: which one, step, unit, innage or ullage, range. */
export function OrderBar({ tank, choice, onChange }: Props & { tank: number }) {
  const id = useId();
  const issued = useIssued(tank).data?.results ?? [];
  const units = useUnits();
  const [ranged, setRanged] = useState(choice.start !== "" || choice.end !== "");
  return (
    <>
      {issued.length > 0 && (
        <div className="table-choice">
          <label htmlFor={`${id}-which`}>Table</label>
          <select
            id={`${id}-which`}
            className="form-select"
            value={choice.issued ?? ""}
            onChange={(event) => onChange({ ...choice, issued: Number(event.target.value) || null })}
          >
            <option value="">as surveyed now</option>
            {issued.map((one) => (
              <option key={one.number} value={one.number}>
                issued {one.number}
              </option>
            ))}
          </select>
        </div>
      )}
      {choice.issued === null && <StepChoice choice={choice} onChange={onChange} />}
      <VolumeChoice choice={choice} onChange={onChange} />
      {choice.issued === null && (
        <>
          <div className="switch" role="group" aria-label="Rows by">
            {(["innage", "ullage"] as const).map((by) => (
              <button
                key={by}
                type="button"
                aria-pressed={choice.by === by}
                onClick={() => onChange({ ...choice, by })}
              >
                {by === "innage" ? "Innage" : "Ullage"}
              </button>
            ))}
          </div>
          {ranged ? (
            <div className="table-choice">
              <input
                className="form-control mono step-typed"
                aria-label="From innage"
                placeholder={`0 ${units.unit("length").name}`}
                value={choice.start}
                onChange={(event) => onChange({ ...choice, start: event.target.value })}
              />
              to
              <input
                className="form-control mono step-typed"
                aria-label="To innage"
                placeholder="top"
                value={choice.end}
                onChange={(event) => onChange({ ...choice, end: event.target.value })}
              />
            </div>
          ) : (
            <button type="button" className="btn btn-outline-secondary" onClick={() => setRanged(true)}>
              Range
            </button>
          )}
        </>
      )}
    </>
  );
}

function StepChoice({ choice, onChange }: Props) {
  const id = useId();
  const named = STEPS.find(([step, unit]) => step === choice.step && unit === choice.stepUnit);
  const [typing, setTyping] = useState(!named);
  return (
    <div className="table-choice">
      <label htmlFor={id}>Step</label>
      <select
        id={id}
        className="form-select"
        value={typing || !named ? "other" : named[2]}
        onChange={(event) => {
          const chosen = STEPS.find(([, , label]) => label === event.target.value);
          setTyping(!chosen);
          if (chosen) onChange({ ...choice, step: chosen[0], stepUnit: chosen[1] });
        }}
      >
        {STEPS.map(([, , label]) => (
          <option key={label}>{label}</option>
        ))}
        <option value="other">other…</option>
      </select>
      {(typing || !named) && (
        <>
          <input
            className="form-control mono step-typed"
            aria-label="Step, a number"
            value={choice.step}
            onChange={(event) => onChange({ ...choice, step: event.target.value })}
          />
          <select
            className="form-select"
            aria-label="Unit of the step"
            value={choice.stepUnit}
            onChange={(event) => onChange({ ...choice, stepUnit: event.target.value as StepUnit })}
          >
            {["mm", "cm", "m", "in", "ft"].map((unit) => (
              <option key={unit}>{unit}</option>
            ))}
          </select>
        </>
      )}
    </div>
  );
}

function VolumeChoice({ choice, onChange }: Props) {
  const id = useId();
  const units = useUnits();
  return (
    <div className="table-choice">
      <label htmlFor={id}>Volume in</label>
      <select
        id={id}
        className="form-select"
        value={choice.volumeUnit}
        onChange={(event) => onChange({ ...choice, volumeUnit: event.target.value as VolumeUnit })}
      >
        {["l", "m3", "usgal", "impgal"].map((key) => (
          <option key={key} value={key}>
            {units.unitByKey(key).name}
          </option>
        ))}
      </select>
    </div>
  );
}
