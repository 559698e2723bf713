import Button from "react-bootstrap/Button";

import type { Schema } from "../api/client";
import { ChoiceField, TextField } from "../frame/FormField";
import { Judgements } from "../frame/Judgements";
import { rowNumbers, usePlan, withoutRow } from "../frame/plan";
import { PlanBar } from "../frame/PlanBar";
import { Scroll } from "../frame/Scroll";
import { places } from "../frame/numbers";
import { useUnits } from "../frame/units";
import { useTakes } from "../readings/TakeButton";
import { TakenField } from "../readings/TakenField";
import type { Tank } from "../tanks/tank";
import { CHAIN, SLOPES } from "./chain";
import { Residuals } from "./Residuals";
import { Opening } from "../frame/Opening";

const UNITS: Record<string, string> = { ma: "mA", v: "V", counts: "counts" };
const MOST = 40;

/** The slope of the sensor by every school, from readings against measured levels. */
export function SlopesPane({ tank, onChain }: { tank: Tank; onChain: () => void }) {
  const plan = usePlan(tank, SLOPES);
  const chain = usePlan(tank, CHAIN);
  const units = useUnits();
  const takes = useTakes(tank.id);
  if (!plan || !chain) return <Opening />;
  const { form, reading } = plan;
  const rows = rowNumbers(form.entries, "readings");
  const unit = UNITS[reading?.signal ?? "ma"] ?? "";
  const chosen = reading?.slopes.find((slope) => slope.school === form.entries["choice"]);
  const fit = reading?.slopes.find((slope) => slope.school === "fit");
  const take = takes.find((one) =>
    (unit === "counts" ? ["counts"] : ["arriving", "sent"]).includes(one.station),
  );
  const length = (mm: number) => units.text("length", mm);
  const intoChain = (slope: Schema["Slope"]) => {
    const at = (mm: number) => `${Number(mm.toFixed(3))} mm`;
    chain.form.change({
      "sensor.quantity": "level",
      "sensor.low": at(slope.zero_mm),
      "sensor.high": at(slope.full_mm),
      "sensor.zero": "0 mm",
    });
    onChain();
  };
  return (
    <>
      <PlanBar
        plan={plan}
        action="Keep these readings"
        nothing="No readings yet: type what the signal was at levels that were dipped."
      />
      <div className="facts">
        <ChoiceField
          form={form}
          path="signal"
          label="Signal"
          options={reading?.signals ?? { ma: "Current, mA" }}
          otherwise="ma"
        />
        <TextField form={form} path="zero" label="Signal at zero" usual={`${reading?.zero ?? 4} ${unit}`} />
        <TextField
          form={form}
          path="full"
          label="Signal at full scale"
          usual={`${reading?.full ?? 20} ${unit}`}
        />
        <TextField form={form} path="sheet.zero" label="Data sheet, level at zero" usual="as scaled" />
        <TextField form={form} path="sheet.full" label="Data sheet, level at full scale" usual="as scaled" />
      </div>
      <h2>Readings</h2>
      {rows.map((row) => (
        <div key={row} className="reading-row">
          <TakenField
            form={form}
            path={`readings[${row}].signal`}
            label={`Reading ${row + 1}, signal`}
            take={take}
          />
          <TextField form={form} path={`readings[${row}].level`} label="Level, measured" />
          <Button
            variant="outline-secondary"
            aria-label={`Remove reading ${row + 1}`}
            onClick={() => form.change(withoutRow(form.entries, "readings", row))}
          >
            ×
          </Button>
        </div>
      ))}
      {rows.length < MOST && (
        <Button
          variant="outline-secondary"
          onClick={() =>
            form.change({
              // A row is there once one of its fields holds something.
              [`readings[${rows.length}].signal`]: unit === "counts" ? "0" : `${reading?.zero ?? 4} ${unit}`,
            })
          }
        >
          Add a reading
        </Button>
      )}
      {reading && <Judgements list={reading.judgements} />}
      {reading && reading.slopes.length > 0 && (
        <>
          <Scroll label="Slopes by school">
            <table className="plain-table slopes">
              <caption>By every school; the one that is chosen is kept, and the others beside it</caption>
              <thead>
                <tr>
                  <th>School</th>
                  <th>At zero</th>
                  <th>At full scale</th>
                  <th>{`One ${unit.replace("counts", "count")}`}</th>
                  <th>Worst residual</th>
                </tr>
              </thead>
              <tbody>
                {reading.slopes.map((slope) => (
                  <tr
                    key={slope.school}
                    aria-current={slope.school === form.entries["choice"] ? "true" : undefined}
                  >
                    <td>
                      <label className="tick">
                        <input
                          type="radio"
                          name="school"
                          checked={slope.school === form.entries["choice"]}
                          onChange={() => form.change({ choice: slope.school })}
                        />
                        {slope.label}
                      </label>
                      <div className="form-says">{slope.says}</div>
                    </td>
                    <td className="mono">{length(slope.zero_mm)}</td>
                    <td className="mono">{length(slope.full_mm)}</td>
                    <td className="mono">
                      {places(units.toShown("length", slope.per_unit_mm), unit === "counts" ? 5 : 3)}{" "}
                      {units.unit("length").name}
                    </td>
                    <td className="mono">{length(slope.worst_mm)}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </Scroll>
          {fit && fit.zero_se_mm !== null && fit.per_unit_se_mm !== null && fit.r !== null && (
            <p>
              Least squares: offset {length(fit.zero_mm)}, standard error {length(fit.zero_se_mm)}; standard
              error of the slope {places(units.toShown("length", fit.per_unit_se_mm), 4)}{" "}
              {units.unit("length").name}; r {places(fit.r, 6)}.
            </p>
          )}
          <Residuals reading={reading} school={form.entries["choice"] ?? "fit"} unit={unit} />
          {chosen && reading.signal === "ma" && reading.zero === 4 && reading.full === 20 && (
            <Button variant="outline-secondary" onClick={() => intoChain(chosen)}>
              Put {chosen.label.toLowerCase()} into the chain
            </Button>
          )}
        </>
      )}
    </>
  );
}
