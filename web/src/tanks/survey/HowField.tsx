import { useId } from "react";

import { useUnits } from "../../frame/units";
import type { Entries, Reading, Words } from "./form";
import { fieldAt } from "./useSurvey";

interface Props {
  words: Words;
  path: string;
  label: string;
  helpers: Words["helpers"];
  /** Whether it can be worked out from the data plate's capacity. */
  solvable: boolean;
  entries: Entries;
  reading: Reading | undefined;
  onChange: (changes: Entries) => void;
  onClose: () => void;
}

const CAPACITY = "capacity";

/** How one dimension was measured: typed as it is, worked out from other measures, or from the data plate. */
export function HowField(props: Props) {
  const { words, path, label, helpers, solvable, entries, reading, onChange, onClose } = props;
  const id = useId();
  const how = `how.${path}`;
  const way = entries[how] ?? "";
  const key = path.replace(/^shape\./, "");
  const helper = helpers.find((one) => one.key === way);

  function choose(chosen: string) {
    const method = helpers.find((one) => one.key === chosen)?.method;
    const measured: Entries = method && !entries[`measured.${key}`] ? { [`measured.${key}`]: method } : {};
    onChange({ [how]: chosen, ...measured });
    if (!chosen) onClose();
  }

  return (
    <div className="how-field">
      <label htmlFor={`${id}-way`}>Comes from</label>
      <select
        id={`${id}-way`}
        className="form-select"
        aria-label={`${label}: comes from`}
        value={way}
        onChange={(event) => choose(event.target.value)}
      >
        <option value="">the tape, as typed above</option>
        {helpers.map((one) => (
          <option key={one.key} value={one.key}>
            {one.label}
          </option>
        ))}
        {solvable && <option value={CAPACITY}>The capacity on the data plate</option>}
      </select>
      {helper?.measures.map((measure) => (
        <MeasureField
          key={measure.key}
          label={measure.label}
          hint={measure.hint}
          optional={measure.optional}
          path={`${how}.${measure.key}`}
          entries={entries}
          reading={reading}
          onChange={onChange}
        />
      ))}
      {way === CAPACITY && (
        <>
          <MeasureField
            label="Nominal capacity"
            hint="As the data plate says, brim-full"
            path={`${how}.capacity`}
            entries={entries}
            reading={reading}
            onChange={onChange}
          />
          <MeasureField
            label="Good to ±"
            hint="A volume or a per cent; 1 % if empty"
            optional
            path={`${how}.within`}
            entries={entries}
            reading={reading}
            onChange={onChange}
          />
          <Solved reading={reading} path={key} />
        </>
      )}
      {path.startsWith("shape.") && (
        <>
          <label htmlFor={`${id}-by`}>Measured by</label>
          <select
            id={`${id}-by`}
            className="form-select"
            aria-label={`${label}: measured by`}
            value={entries[`measured.${key}`] ?? ""}
            onChange={(event) => onChange({ [`measured.${key}`]: event.target.value })}
          >
            <option value="">as the rest of the tank</option>
            {Object.entries(words.methods).map(([method, name]) => (
              <option key={method} value={method}>
                {name}
              </option>
            ))}
          </select>
        </>
      )}
    </div>
  );
}

interface MeasureProps {
  label: string;
  hint: string;
  optional?: boolean;
  path: string;
  entries: Entries;
  reading: Reading | undefined;
  onChange: (changes: Entries) => void;
}

function MeasureField({ label, hint, optional, path, entries, reading, onChange }: MeasureProps) {
  const id = useId();
  const read = fieldAt(reading, path);
  return (
    <>
      <label htmlFor={id}>
        {label} {optional && <span className="text-quiet">(if any)</span>}
      </label>
      <div>
        <input
          id={id}
          className="form-control mono"
          autoComplete="off"
          value={entries[path] ?? ""}
          onChange={(event) => onChange({ [path]: event.target.value })}
        />
        <div className="field-says">
          {read?.state === "wrong" && read.problem ? <span className="problem">{read.problem}</span> : hint}
        </div>
      </div>
    </>
  );
}

/** The dimension found from the capacity, and how far it moves with each input. */
function Solved({ reading, path }: { reading: Reading | undefined; path: string }) {
  const units = useUnits();
  const solution = reading?.solution;
  if (!solution || solution.path !== path) return null;
  return (
    <div className="solved" role="status">
      <p>
        {solution.label}{" "}
        <b className="mono">
          {units.worth("length", solution.value_mm, solution.half_width_mm)} {units.unit("length").name}
        </b>
        {solution.half_width_mm !== null && (
          <>
            {" "}
            <b className="mono">{units.half("length", solution.half_width_mm)}</b> (k = 2)
          </>
        )}
        . How far it moves:
      </p>
      <table>
        <tbody>
          {solution.movements.map((movement) => (
            <tr key={movement.label}>
              <th scope="row">
                {movement.label}{" "}
                <span className="mono">
                  {units.half(movement.unit === "L" ? "volume" : "length", movement.half_width)}
                </span>
              </th>
              <td className="mono">
                {movement.moves_mm === null
                  ? "no answer at its ends"
                  : units.half("length", movement.moves_mm)}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
