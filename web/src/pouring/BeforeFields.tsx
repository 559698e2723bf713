import Button from "react-bootstrap/Button";

import { ChoiceField, TextField, TickField } from "../frame/FormField";
import { rowNumbers, withoutRow } from "../frame/plan";
import { places } from "../frame/numbers";
import type { Take } from "../readings/now";
import { TakenField } from "../readings/TakenField";
import type { Part } from "./pour";

/** How it is poured and read, and what is in the tank before the first. */
export function BeforeFields({ form, run, take }: Part & { take: Take | undefined }) {
  const cans = rowNumbers(form.entries, "cans");
  const next = (cans.at(-1) ?? -1) + 1;
  return (
    <fieldset>
      <legend>Before the first</legend>
      <div className="facts">
        <ChoiceField form={form} path="way" label="It is done by" options={run?.ways ?? {}} />
        <ChoiceField form={form} path="reads" label="What is read" options={run?.reads ?? {}} />
        <TextField form={form} path="start.volume" label="In it now" hint="drained: 0, or the stated heel" />
        <TextField form={form} path="start.half" label="That may be off by ±" />
        <TakenField form={form} path="start.reading" label="It reads now" take={take} />
        <TextField form={form} path="reading_half" label="A still reading is good for ±" />
        <TextField form={form} path="top" label="Never above" hint="safe fill" />
        <TextField form={form} path="target" label="Good enough is ±" />
        <TextField form={form} path="other" label="In the other tank, to pour from" />
        <TextField
          form={form}
          path="rate"
          label={form.entries["way"] === "rate" ? "Rate by the utility meter, a minute" : "Hose, a minute"}
        />
        <TextField form={form} path="wait" label="Until it stands still, min" />
        {[...cans, next].slice(0, 4).map((row) => (
          <TextField
            key={row}
            form={form}
            path={`cans[${row}].size`}
            label={row === 0 ? "One can holds" : "or"}
          />
        ))}
      </div>
      <TickField form={form} path="back" label="It can be drawn down too, to come back to a gap" />
    </fieldset>
  );
}

/** The flow meter against a measuring container: draws, its factor, and pulses set anew. */
export function MeterFields({ form, run }: Part) {
  const draws = rowNumbers(form.entries, "draws");
  const shown = draws.length ? draws : [0];
  const next = (draws.at(-1) ?? -1) + 1;
  return (
    <fieldset>
      <legend>The meter, against a container</legend>
      <div className="facts">
        <ChoiceField form={form} path="meter.kind" label="The meter is" options={run?.meters ?? {}} />
        <TextField form={form} path="meter.container" label="The container is good for ±" />
        <TextField form={form} path="meter.pulses" label="Pulses a litre, as set" />
        <TextField form={form} path="meter.half" label="Without draws, the meter is good for ±" />
        <TextField form={form} path="meter.at" label="Temperature at the meter" />
        <TextField form={form} path="container.at" label="and in the container" />
      </div>
      <ol className="draws">
        {shown.map((row) => (
          <li key={row} className="facts">
            <TextField form={form} path={`draws[${row}].metered`} label={`Draw ${row + 1}, by the meter`} />
            <TextField form={form} path={`draws[${row}].drawn`} label="In the container" />
            {draws.length > 0 && (
              <Button
                size="sm"
                variant="outline-secondary"
                onClick={() => form.change(withoutRow(form.entries, "draws", row))}
              >
                Take it out
              </Button>
            )}
          </li>
        ))}
      </ol>
      {draws.length > 0 && (
        <Button
          size="sm"
          variant="outline-secondary"
          onClick={() => form.change({ [`draws[${next}].metered`]: form.entries["draws[0].metered"] ?? "" })}
        >
          Another draw
        </Button>
      )}
      {run?.factor != null && (
        <p className="mono">
          Factor {places(run.factor, 4)}
          {run.pulses_per_l !== null && `: set ${places(run.pulses_per_l, 2)} pulses a litre, and draw again`}
        </p>
      )}
    </fieldset>
  );
}

/** What of the day goes into the ±. */
export function DayFields({ form }: Part) {
  return (
    <fieldset>
      <legend>The day</legend>
      <div className="facts">
        <TextField form={form} path="temperature.first" label="Liquid, at the first" />
        <TextField form={form} path="temperature.last" label="and at the last" />
        <TextField form={form} path="tilt" label="The tank stands off level by" />
        <TextField form={form} path="offset" label="The sensor is off its middle by" />
      </div>
      <TickField form={form} path="foam" label="it foams" />
    </fieldset>
  );
}
