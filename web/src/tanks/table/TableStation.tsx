import { useId, useState } from "react";

import { wordsOf } from "../../api/client";
import { useUnits } from "../../frame/units";
import type { Tank } from "../tank";
import { Curve } from "./Curve";
import { Rows } from "./Rows";
import {
  STEPS,
  type StepUnit,
  type TableChoice,
  tableFile,
  useTable,
  useTableChoice,
  type VolumeUnit,
} from "./table";

/** Station Table: the volume table and its curve, both at the line. */
export function TableStation({ tank }: { tank: Tank }) {
  const [choice, choose] = useTableChoice(tank.id);
  const { data, error, isFetching } = useTable(tank.id, choice);
  const units = useUnits();
  const length = units.unitByKey(choice.stepUnit);
  const volume = units.unitByKey(choice.volumeUnit);
  return (
    <section aria-label="Table" className="table-station">
      <div className="table-bar">
        <StepChoice choice={choice} onChange={choose} />
        <VolumeChoice choice={choice} onChange={choose} />
        <span className="files">
          <a className="btn btn-outline-secondary" href={tableFile(tank.id, "csv", choice)} download>
            CSV
          </a>
          <a className="btn btn-outline-secondary" href={tableFile(tank.id, "pdf", choice)} download>
            PDF sheet
          </a>
          <a className="btn btn-outline-secondary" href={`/api/tanks/${tank.id}/file/`} download>
            Tank file
          </a>
        </span>
      </div>
      {error && (
        <p role="alert" className="problem">
          {wordsOf(error)}
        </p>
      )}
      <Curve volume={volume} />
      {data && <Rows table={data} length={length} volume={volume} />}
      {data && (
        <p className="text-quiet table-words">
          {data.innage_mm.length.toLocaleString("en").replace(",", "\u202f")} rows in steps of {data.step}
          {isFetching && ", making the next one…"}
          {!data.u95_l && ". State ± of the dimensions at Survey to see U on each row."}
        </p>
      )}
    </section>
  );
}

interface ChoiceProps {
  choice: TableChoice;
  onChange: (choice: TableChoice) => void;
}

function StepChoice({ choice, onChange }: ChoiceProps) {
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

function VolumeChoice({ choice, onChange }: ChoiceProps) {
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
