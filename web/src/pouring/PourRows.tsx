import type { ReactNode } from "react";
import Button from "react-bootstrap/Button";

import { ChoiceField, type Entries, type FormState, TextField, TickField } from "../frame/FormField";
import { rowNumbers, withoutRow } from "../frame/plan";
import { useUnits } from "../frame/units";
import type { Take } from "../readings/now";
import { TakenField } from "../readings/TakenField";
import { litres, offBy, nextRow, roomBefore, type Run } from "./pour";

interface Props {
  form: FormState;
  run: Run | undefined;
  /** The live value that a reading is taken from. */
  take: Take | undefined;
}

/** Every amount with its reading, in the order of the work; one that was forgotten goes in between. */
export function PourRows({ form, run, take }: Props) {
  const rows = rowNumbers(form.entries, "pours");
  const last = rows.at(-1);
  return (
    <section aria-label="Pours">
      <h2>What was poured</h2>
      {rows.length === 0 && (
        <p className="empty">
          Nothing yet. Say what it reads now, then pour what is advised: each amount by the meter, each
          reading once it stands still.
        </p>
      )}
      <ol className="pours">
        {rows.map((row) => (
          <PourRow
            key={row}
            form={form}
            run={run}
            row={row}
            isLast={row === last}
            take={row === last ? take : undefined}
          />
        ))}
      </ol>
      <Button
        variant="outline-secondary"
        onClick={() => form.change({ [`pours[${nextRow(form.entries)}].does`]: usualOf(form) })}
      >
        Another amount
      </Button>{" "}
      {rows.length > 0 && (
        <Button variant="outline-secondary" onClick={() => form.change(withoutRun(form.entries))}>
          Begin anew
        </Button>
      )}
    </section>
  );
}

/** The changes that leave the meter and how it is read, and nothing of what was poured; to be discarded until kept. */
function withoutRun(entries: Entries): Entries {
  const run = Object.keys(entries).filter((key) => key.startsWith("pours[") || key.startsWith("start."));
  return Object.fromEntries(run.map((key) => [key, ""]));
}

function usualOf(form: FormState): string {
  return form.entries["way"] === "draw" ? "out" : "in";
}

/** What can be done with a pour; of those that are past, behind a word. */
function Acts({ folded, children }: { folded: boolean; children: ReactNode }) {
  if (!folded) return <div className="pour-acts">{children}</div>;
  return (
    <details className="pour-more">
      <summary>Change it…</summary>
      <div className="pour-acts">{children}</div>
    </details>
  );
}

function PourRow({ form, run, row, isLast, take }: Props & { row: number; isLast: boolean }) {
  const units = useUnits();
  const path = `pours[${row}]`;
  const misfit = run?.misfit?.row === row ? run.misfit : null;
  const at = run?.curve?.at.findLast((one) => one.row === row);
  const resumed = form.entries[`${path}.resumed`] !== undefined;
  return (
    <li className={misfit ? "misfit" : ""} aria-label={`Pour ${row + 1}`}>
      <div className="pour-fields">
        <TextField form={form} path={`${path}.amount`} label="Amount, by the meter" />
        {form.fields.has(`${path}.pulses`) && (
          <TextField form={form} path={`${path}.pulses`} label="or pulses" />
        )}
        {form.fields.has(`${path}.minutes`) && (
          <TextField form={form} path={`${path}.minutes`} label="or minutes" />
        )}
        <ChoiceField form={form} path={`${path}.does`} label="It was" options={run?.does ?? {}} />
        <TakenField form={form} path={`${path}.reading`} label="Reading, once still" take={take} />
        {isLast && (
          <TextField
            form={form}
            path={`${path}.later`}
            label="and a minute later"
            hint="typed twice, it is judged"
          />
        )}
        {resumed && (
          <TextField
            form={form}
            path={`${path}.resumed`}
            label="It read before it"
            hint="used or filled meanwhile: one between the readings so far"
          />
        )}
      </div>
      <p className="pour-says">
        {misfit && (
          <span className="problem">
            Does not fit: {litres(units, misfit.should_be_l)} would, {offBy(units, misfit.half_l)}.{" "}
          </span>
        )}
        {at && <span className="text-quiet">then {litres(units, at.volume_l)} in it</span>}
      </p>
      <Acts folded={!misfit && !isLast && !form.entries[`${path}.sure`]}>
        <TickField form={form} path={`${path}.spilled`} label="some was spilled" />
        {(misfit || form.entries[`${path}.sure`]) && (
          <TickField form={form} path={`${path}.sure`} label="looked at again: it is right, the tank is so" />
        )}
        {misfit && (
          <Button
            size="sm"
            variant="outline-secondary"
            onClick={() =>
              form.change({ [`${path}.amount`]: `${Number(misfit.should_be_l.toPrecision(4))} L` })
            }
          >
            Take what fits
          </Button>
        )}
        {!resumed && row > 0 && (
          <Button
            size="sm"
            variant="outline-secondary"
            onClick={() => form.change({ [`${path}.resumed`]: " " })}
          >
            Used in between
          </Button>
        )}
        <Button
          size="sm"
          variant="outline-secondary"
          onClick={() => form.change({ ...roomBefore(form.entries, row), [`${path}.does`]: usualOf(form) })}
        >
          One forgotten before it
        </Button>
        <Button
          size="sm"
          variant="outline-secondary"
          onClick={() => form.change(withoutRow(form.entries, "pours", row))}
        >
          Take it out
        </Button>
      </Acts>
    </li>
  );
}
