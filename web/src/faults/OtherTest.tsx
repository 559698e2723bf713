import { useId } from "react";
import Button from "react-bootstrap/Button";

import { ChoiceField, type FormState, TextField } from "../frame/FormField";
import { places } from "../frame/numbers";
import { Gates } from "./Gates";
import { begun, type Case, entered, gatesOpen, outcomeWords } from "./trouble";

const DIALS: Record<string, string> = {
  volts: "Volts across any two terminals",
  ohms: "Ohms across any two terminals, power off",
};

/** Any other test, any reading that was taken, and readings that are pasted. */
export function OtherTest({ form, found }: { form: FormState; found: Case }) {
  const id = useId();
  const picked = form.entries["now.test"] ?? "";
  const listed = new Map(found.choices.map((one) => [one.test, one]));
  const free = picked in DIALS;
  // A test that is no more advised was done already, or is out of reach: what it reads can be typed all the same.
  const beside =
    picked !== "" && !free && !listed.has(picked) ? found.tests.find((one) => one.key === picked) : undefined;
  const gates = (free ? found.dial_gates[picked] : beside?.gates) ?? [];
  const open = gatesOpen(form.entries, gates);
  return (
    <section aria-label="Another test">
      <h2>Or something else</h2>
      <label htmlFor={id}>Any other test or reading</label>
      <select
        id={id}
        className="form-select"
        value={picked}
        onChange={(event) => form.change(begun(event.target.value, form.entries))}
      >
        <option value="">what is advised</option>
        {Object.keys(found.terminals).length > 0 &&
          Object.entries(DIALS).map(([key, words]) => (
            <option key={key} value={key}>
              {words}
            </option>
          ))}
        {found.tests.map((one) => {
          const choice = listed.get(one.key);
          return (
            <option key={one.key} value={one.key}>
              {one.do}
              {choice && `: ${Math.ceil(choice.minutes)} min`}
            </option>
          );
        })}
      </select>
      <Gates form={form} test={picked} gates={gates} />
      {beside?.injects && <TextField form={form} path="now.put_in" label="Put in" />}
      {free && (
        <div className="facts">
          <ChoiceField form={form} path="now.red" label="Red on" options={found.terminals} empty="choose" />
          <ChoiceField
            form={form}
            path="now.black"
            label="Black on"
            options={found.terminals}
            empty="choose"
          />
          <TextField form={form} path="now.value" label="Reading" />
        </div>
      )}
      {beside && beside.outcomes.length === 0 && <TextField form={form} path="now.value" label="Reading" />}
      {beside?.outcomes.map((one) => (
        <Button
          key={one}
          variant="outline-primary"
          disabled={!open}
          onClick={() => form.change(entered(form.entries, { "now.outcome": one }))}
        >
          {outcomeWords(one)}
        </Button>
      ))}
      {(free || (beside && beside.outcomes.length === 0)) && (
        <Button
          disabled={
            !open ||
            (form.entries["now.value"] ?? "") === "" ||
            form.fields.get("now.value")?.state === "wrong"
          }
          onClick={() => form.change(entered(form.entries))}
        >
          Enter reading
        </Button>
      )}
      <Best found={found} />
      <Pasted form={form} found={found} />
    </section>
  );
}

function Best({ found }: { found: Case }) {
  const next = found.choices.slice(1, 5).filter((one) => one.worth);
  const whole = found.choices[0]?.bits ?? 0;
  if (next.length === 0 || whole === 0) return null;
  return (
    <ul className="also">
      {next.map((one) => (
        <li key={one.test}>
          {one.do}: {Math.ceil(one.minutes)} min, tells {places(one.bits / whole, 1)} × what the advised one
          does
        </li>
      ))}
    </ul>
  );
}

function Pasted({ form, found }: { form: FormState; found: Case }) {
  const id = useId();
  const read = form.fields.get("series");
  return (
    <details>
      <summary>Paste some minutes of readings</summary>
      <label htmlFor={id}>Raw counts or values, one a line</label>
      <textarea
        id={id}
        className="form-control mono"
        rows={4}
        value={form.entries["series"] ?? ""}
        aria-invalid={read?.state === "wrong" ? true : undefined}
        onChange={(event) => form.change({ series: event.target.value })}
      />
      {read?.state === "wrong" && <p className="problem">{read.problem}</p>}
      <TextField form={form} path="series.every" label="One every, s" />
      {found.series && (
        <p>
          They look {outcomeWords(found.series.look)}: {found.series.says}.{" "}
          <Button
            size="sm"
            onClick={() =>
              form.change(
                entered(form.entries, { "now.test": "look", "now.outcome": found.series?.look ?? "" }),
              )
            }
          >
            Enter it as found
          </Button>
        </p>
      )}
    </details>
  );
}
