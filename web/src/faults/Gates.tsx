import { useId } from "react";

import type { FormState } from "../frame/FormField";
import { type Gate, isTicked, ticked } from "./trouble";

interface Props {
  form: FormState;
  test: string;
  gates: readonly Gate[];
  /** What the test does to the loop, the vessel or a person. */
  acts?: readonly string[];
}

/** What must be so before a test, ticked one by one: nothing is entered before. */
export function Gates({ form, test, gates, acts = [] }: Props) {
  if (gates.length === 0) return null;
  return (
    <fieldset className="next-first">
      <legend>Before you do it, tick each</legend>
      {acts.map((act) => (
        <p key={act} className="act">
          <span aria-hidden="true">▲</span> {act}.
        </p>
      ))}
      {gates.map((gate) => (
        <GateTick key={gate.key} form={form} test={test} gate={gate} />
      ))}
    </fieldset>
  );
}

function GateTick({ form, test, gate }: { form: FormState; test: string; gate: Gate }) {
  const id = useId();
  return (
    <label className="tick" htmlFor={id}>
      <input
        id={id}
        type="checkbox"
        checked={isTicked(form.entries, gate)}
        onChange={(event) => form.change(ticked(test, gate, event.target.checked))}
      />
      {gate.says}
    </label>
  );
}
