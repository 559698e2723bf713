import { useId } from "react";
import Button from "react-bootstrap/Button";

import type { Schema } from "../api/client";
import type { FormState } from "../frame/FormField";
import { PlanBar } from "../frame/PlanBar";
import { rowNumbers, usePlan, withoutRow } from "../frame/plan";
import { Scroll } from "../frame/Scroll";
import { useUnits } from "../frame/units";
import type { Take } from "../readings/now";
import { useTakes } from "../readings/TakeButton";
import { TakenFrom, typedOver } from "../readings/TakenField";
import type { Tank } from "../tanks/tank";
import { PARTING } from "./trouble";
import { useLine } from "../line/line";
import { Opening } from "../frame/Opening";

type Reading = Schema["Parting"];

const MOST = 10;
const SHAPES = { agrees: "●", parts: "▲", after: "◆", unread: "○" } as const;
const WORDS = { agrees: "agrees", parts: "parts", after: "parts too", unread: "not judged" } as const;

/** Where truth and reading part: what was read along the chain, and what setting would explain it. */
export function PartingPane({ tank }: { tank: Tank }) {
  const plan = usePlan(tank, PARTING);
  const { line } = useLine();
  const takes = useTakes(tank.id);
  const units = useUnits();
  if (!plan) return <Opening />;
  const { form, reading } = plan;
  const typed = rowNumbers(form.entries, "rows");
  const rows = Array.from({ length: Math.max(1, typed.length) }, (_, index) => index);
  const level = units.text("length", line.innage_mm).replace(/\u202f/g, "");
  return (
    <>
      <PlanBar
        plan={plan}
        action="Keep these readings"
        nothing="Type what was read at the same moment along the chain, as many places as can be reached."
      />
      {!reading && !plan.refused && <progress aria-label="Comparing the readings" />}
      {reading && (
        <p className={reading.hops.some((hop) => hop.accused) ? "parting-says parts" : "parting-says"}>
          {reading.says}
        </p>
      )}
      {reading && <ReadingTable form={form} reading={reading} rows={rows} takes={takes} />}
      <p className="parting-acts">
        <Button
          variant="outline-secondary"
          disabled={typed.length >= MOST}
          onClick={() => form.change({ [`rows[${typed.length}].level`]: level })}
        >
          {typed.length === 0 ? `The level is the line's, ${level}` : `Add readings at the line, ${level}`}
        </Button>
        {typed.length > 1 && (
          <Button
            variant="outline-secondary"
            onClick={() => form.change(withoutRow(form.entries, "rows", typed.length - 1))}
          >
            Remove column {typed.length}
          </Button>
        )}
      </p>
      {reading && <Explanations reading={reading} />}
    </>
  );
}

interface TableProps {
  form: FormState;
  reading: Reading;
  rows: number[];
  takes: Take[];
}

function ReadingTable({ form, reading, rows, takes }: TableProps) {
  const several = reading.hops.filter((hop) => hop.accused).length > 1;
  return (
    <Scroll label="Readings along the chain">
      <table className="readings-table">
        <thead>
          <tr>
            <th scope="col">Read at</th>
            {rows.map((row) => (
              <th key={row} scope="col">
                Readings {row + 1}
              </th>
            ))}
            <th scope="col">The hop before it</th>
          </tr>
        </thead>
        <tbody>
          {reading.stations.map((station) => {
            const hop = reading.hops.find((one) => one.key === station.key);
            return (
              <tr key={station.key} className={hop?.accused ? "accused" : undefined}>
                <th scope="row">{station.label}</th>
                {rows.map((row) => (
                  <td key={row}>
                    <Cell
                      form={form}
                      row={row}
                      station={station}
                      take={takes.find((one) => one.station === station.key)}
                    />
                  </td>
                ))}
                <td className="hop-state">
                  {hop && (
                    <>
                      <span aria-hidden="true">{SHAPES[hop.state]}</span> {hop.label.toLowerCase()}{" "}
                      {hop.accused && several ? "maybe" : WORDS[hop.state]}
                    </>
                  )}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </Scroll>
  );
}

interface CellProps {
  form: FormState;
  row: number;
  station: Reading["stations"][number];
  take: Take | undefined;
}

function Cell({ form, row, station, take }: CellProps) {
  const id = useId();
  const path = `rows[${row}].${station.key}`;
  const read = form.fields.get(path);
  const wrong = read?.state === "wrong";
  const typed = form.entries[path] ?? "";
  const said = read?.state === "read" && read.says !== typed ? read.says : "";
  return (
    <>
      <input
        className="form-control mono"
        aria-label={`${station.label}, readings ${row + 1}`}
        aria-invalid={wrong || undefined}
        aria-describedby={`${id}-says`}
        autoComplete="off"
        value={typed}
        onChange={(event) => typedOver(form, path).change({ [path]: event.target.value })}
      />
      <div id={`${id}-says`} className="form-says">
        {wrong ? <span className="problem">{read.problem}</span> : said}
      </div>
      <TakenFrom form={form} path={path} take={take} label={`${station.label}, readings ${row + 1}`} />
    </>
  );
}

function Explanations({ reading }: { reading: Reading }) {
  if (reading.explanations.length === 0) return null;
  return (
    <>
      <h2>What would explain it, the likeliest first</h2>
      <ol className="explanations">
        {reading.explanations.map((explanation) => (
          <li key={explanation.texts[0]}>
            {explanation.texts.map((text, index) => (
              <div key={text}>
                {index > 0 && <span className="text-quiet">or, no reading tells it apart: </span>}
                {text}
              </div>
            ))}
          </li>
        ))}
      </ol>
      <p className="text-quiet pane-words">
        Each was worked out from the readings and leaves no more of them unexplained than the instruments
        allow. Look at the setting before anything is changed; put control in manual first.
      </p>
    </>
  );
}
