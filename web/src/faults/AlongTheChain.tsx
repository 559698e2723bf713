import Button from "react-bootstrap/Button";

import type { Entries, FormState } from "../frame/FormField";
import { day } from "../frame/times";
import { type Case, nextRow } from "./trouble";

/** What was read at one moment along the chain and kept: findings of the case, at one press. */
export function AlongTheChain({ form, found }: { form: FormState; found: Case }) {
  if (found.along.length === 0) return null;
  const take = () => {
    const changes: Entries = {};
    found.along.forEach((one, index) => {
      const row = `rows[${nextRow(form.entries) + index}]`;
      changes[`${row}.test`] = one.test;
      changes[`${row}.value`] = one.typed;
    });
    form.change(changes);
  };
  return (
    <section className="along" aria-label="Read along the chain">
      <p>
        Read along the chain{found.along_at && `, kept ${day(found.along_at)}`}, and no finding yet:{" "}
        {found.along.map((one) => `${one.label.toLowerCase()} ${one.says}`).join(", ")}.
      </p>
      <Button variant="outline-secondary" onClick={take}>
        Take them as findings
      </Button>
    </section>
  );
}
