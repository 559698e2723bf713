import Button from "react-bootstrap/Button";

import type { FormState } from "../frame/FormField";
import { useUnits } from "../frame/units";
import { litres, offBy, nextRow, readingWords, type Run } from "./pour";

/** What to pour next, what it brings, and how long the rest takes; or that it is good enough. */
export function NextPour({ form, run, disabled }: { form: FormState; run: Run; disabled: boolean }) {
  const units = useUnits();
  const { advice } = run;
  if (!advice) return null;
  const off = offBy(units, advice.now_l);
  if (advice.amount_l === 0)
    return (
      <div className="next-pour enough">
        <p className="next-what">
          <span aria-hidden="true">●</span> {advice.enough ? "Good enough" : "Nothing more to pour"}
        </p>
        <p>
          The table is off by at most {off}; you asked for {offBy(units, run.target_l)}.
        </p>
      </div>
    );
  if (run.misfit)
    return (
      <div className="next-pour">
        <p className="next-what">Put pour {run.misfit.row + 1} right first</p>
        <p>
          What comes next depends on it: correct it, mark it as spilled, take it out and pour it again, or say
          that the tank is so.
        </p>
      </div>
    );
  const draws = advice.amount_l < 0;
  const amount = litres(units, Math.abs(advice.amount_l));
  const reads = form.entries["reads"] ?? "level";
  const cans = advice.cans > 0 ? `${advice.cans} × ${litres(units, advice.can_l)}` : "";
  const row = nextRow(form.entries);
  return (
    <div className="next-pour" aria-live="polite">
      <p className="next-what">
        {draws ? "Draw off" : "Pour in"} <strong className="mono">{amount}</strong>
        {cans && <small>, {cans}</small>}
      </p>
      <p>
        to {litres(units, advice.to_volume_l)}
        {advice.to_reading !== null && `, about ${readingWords(units, reads, advice.to_reading)}`}: the
        largest error goes from {off} to {offBy(units, advice.then_l)}.{" "}
        {advice.to_go === 1 ? "The last one" : `About ${advice.to_go} to go`}
        {advice.minutes_to_go !== null && `, ${Math.ceil(advice.minutes_to_go)} min`}.
      </p>
      <Button
        disabled={disabled}
        onClick={() =>
          form.change({
            [`pours[${row}].amount`]: `${Number(Math.abs(advice.amount_l).toPrecision(4))} L`,
            [`pours[${row}].does`]: draws ? "out" : "in",
          })
        }
      >
        {draws ? "Draw it off" : "Pour it"}
      </Button>
      {disabled && <span className="text-quiet"> once the last one is read</span>}
    </div>
  );
}
