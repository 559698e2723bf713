import Button from "react-bootstrap/Button";
import { useNavigate } from "react-router";

import type { Schema } from "../api/client";
import { type FormState, TextField } from "../frame/FormField";
import { Judgements } from "../frame/Judgements";
import { PlanBar } from "../frame/PlanBar";
import { rowNumbers, useHandOver, usePlan, withoutRow } from "../frame/plan";
import { places } from "../frame/numbers";
import type { Take } from "../readings/now";
import { useTakes } from "../readings/TakeButton";
import { TakenField } from "../readings/TakenField";
import type { Tank } from "../tanks/tank";
import { CHAIN_FIELDS, WET_ENDS } from "./gauge";
import { Opening } from "../frame/Opening";

const MOST = 40;

/** The wet ends of a capacitance probe: full and empty counts, each taken once it stands still. */
export function WetEndsPane({ tank }: { tank: Tank }) {
  const plan = usePlan(tank, WET_ENDS);
  const chain = useHandOver(tank, CHAIN_FIELDS);
  const navigate = useNavigate();
  const take = useTakes(tank.id).find((one) => one.station === "sensed");
  if (!plan) return <Opening />;
  const { form, reading } = plan;
  const counts = (end: string) => reading?.ends.find((one) => one.end === end)?.counts;
  const intoChain = () => {
    chain?.({
      "sensor.quantity": "counts",
      "sensor.low": "",
      "sensor.high": "",
      "sensor.full": String(Math.round(counts("full") ?? 0)),
      "sensor.empty": String(Math.round(counts("empty") ?? 0)),
    });
    void navigate(`/tanks/${tank.id}/scale`);
  };
  return (
    <>
      <PlanBar
        plan={plan}
        action="Keep these ends"
        nothing="For a capacitance probe: read its counts until they stand still, full in a pipe of the fuel, then drained."
      />
      <div className="facts">
        <TextField form={form} path="fuel" label="Fuel it stands in" usual={tank.facts.product} />
        <TextField form={form} path="temperature" label="Its temperature" hint="Write °C or °F" />
        <TextField
          form={form}
          path="still"
          label="Counts that count as still"
          usual={reading ? places(reading.limit, 1) : ""}
        />
      </div>
      <div className="wet-ends">
        {reading?.ends.map((end) => (
          <End key={end.end} form={form} end={end} take={take} />
        ))}
      </div>
      {reading && <Judgements list={reading.judgements} />}
      {reading?.ready && (
        <Button variant="outline-secondary" disabled={!chain} onClick={intoChain}>
          Put both ends into the chain
        </Button>
      )}
    </>
  );
}

function End({ form, end, take }: { form: FormState; end: Schema["WetEnd"]; take: Take | undefined }) {
  const rows = rowNumbers(form.entries, end.end).length;
  const name = end.end === "full" ? "Full" : "Empty";
  // One blank row stands below those that are typed.
  const shown = Array.from({ length: Math.min(rows + 1, MOST) }, (_, index) => index);
  return (
    <fieldset>
      <legend>{end.label}</legend>
      <p className="mono wet-counts">
        {end.counts === null ? "not still yet" : `${places(end.counts, 0)} counts`}
        {end.spread !== null && ` (last three within ${places(end.spread, 0)})`}
      </p>
      {shown.map((row) => (
        <div key={row} className="reading-row wet-row">
          <TakenField
            form={form}
            path={`${end.end}[${row}].counts`}
            label={`${name}, reading ${row + 1}`}
            take={row === rows ? take : undefined}
          />
          {row < rows && (
            <Button
              variant="outline-secondary"
              aria-label={`Remove ${name.toLowerCase()} reading ${row + 1}`}
              onClick={() => form.change(withoutRow(form.entries, end.end, row))}
            >
              ×
            </Button>
          )}
        </div>
      ))}
    </fieldset>
  );
}
