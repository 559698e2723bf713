import type { Schema } from "../api/client";
import { ChoiceField, TextField } from "../frame/FormField";
import { Judgements } from "../frame/Judgements";
import { PlanBar } from "../frame/PlanBar";
import { usePlan } from "../frame/plan";
import { Scroll } from "../frame/Scroll";
import { useUnits } from "../frame/units";
import type { Tank } from "../tanks/tank";
import { MARKS } from "./chain";
import { MarkSets } from "./MarkSets";
import { Opening } from "../frame/Opening";

/** The marks of a tank, by volume, per cent, level or current, against its table and its gauge. */
export function MarksPane({ tank }: { tank: Tank }) {
  const plan = usePlan(tank, MARKS);
  if (!plan) return <Opening />;
  const { form, reading } = plan;
  return (
    <>
      <PlanBar
        plan={plan}
        pressing={reading?.moved.length ? "The table was revised since: look at it and keep it again." : ""}
        action="Keep these marks"
        nothing="No marks yet: type each as a volume, a per cent, a level or a current."
      />
      {reading && reading.moved.length > 0 && <Moved moved={reading.moved} number={reading.table_number} />}
      <p className="text-quiet pane-words">
        Each as it is known: a volume, a per cent of the whole, a level, or a current. What is typed stays
        when the table is revised.
      </p>
      <div className="facts">
        {reading &&
          Object.entries(reading.names).map(([key, name]) => (
            <TextField key={key} form={form} path={`marks.${key}`} label={name} />
          ))}
        <ChoiceField form={form} path="pump" label="The pump" options={reading?.pumps ?? {}} />
        <TextField
          form={form}
          path="fill_rate"
          label="Largest filling, a minute"
          hint="Tells how long high leaves"
        />
        <TextField form={form} path="response" label="Minutes until it is stopped" />
      </div>
      {reading && <Judgements list={reading.judgements} />}
      {reading && reading.marks.length > 0 && <MarkTable marks={reading.marks} />}
      {reading && (
        <p className="text-quiet pane-words">
          {reading.table_number
            ? `Placed by issued table ${reading.table_number}.`
            : "Placed by the survey: no table is issued yet."}{" "}
          Marks help to run a tank; they are no overfill protection.
        </p>
      )}
      <MarkSets form={form} />
    </>
  );
}

function MarkTable({ marks }: { marks: Schema["Mark"][] }) {
  const units = useUnits();
  return (
    <Scroll label="Marks by level">
      <table className="plain-table">
        <thead>
          <tr>
            <th>Mark</th>
            <th>Level</th>
            <th>Volume</th>
            <th>Full</th>
            <th>Signal</th>
            <th>Shown</th>
          </tr>
        </thead>
        <tbody>
          {marks.map((mark) => (
            <tr key={mark.key}>
              <td>{mark.label}</td>
              <td className="mono">{units.text("length", mark.level_mm)}</td>
              <td className="mono">{units.text("volume", mark.volume_l)}</td>
              <td className="mono">{units.text("ratio", mark.volume_pct)}</td>
              <td className="mono">{mark.signal}</td>
              <td className="mono">{mark.shown}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </Scroll>
  );
}

function Moved({ moved, number }: { moved: Schema["Moved"][]; number: number }) {
  const units = useUnits();
  const by = (value: number, quantity: "length" | "volume") =>
    `${value > 0 ? "+" : ""}${units.text(quantity, value)}`;
  return (
    <>
      <p className="parting-says parts">
        Table {number} was issued since these marks were kept: what was typed stays, the rest moves. Keep them
        anew, and type the new levels into the devices.
      </p>
      <Scroll label="Marks moved by the new table">
        <table className="plain-table moved">
          <thead>
            <tr>
              <th>Mark</th>
              <th>Moves by</th>
              <th>By the new table</th>
              <th>As kept</th>
            </tr>
          </thead>
          <tbody>
            {moved.map((one) => (
              <tr key={one.key}>
                <td>{one.label}</td>
                <td className="mono">
                  {one.level_mm !== null && one.volume_l !== null
                    ? `${by(one.level_mm, "length")}, ${by(one.volume_l, "volume")}`
                    : ""}
                </td>
                <td className="mono">{one.new || one.problem}</td>
                <td className="mono">{one.old}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Scroll>
    </>
  );
}
