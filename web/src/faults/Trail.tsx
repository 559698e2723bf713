import Button from "react-bootstrap/Button";

import { type FormState, TextField } from "../frame/FormField";
import { rowNumbers, withoutRow } from "../frame/plan";
import { begun, type Case } from "./trouble";

/** What was found, each with what it ruled out and by how much. */
export function Trail({ form, found }: { form: FormState; found: Case }) {
  return (
    <section aria-label="Findings">
      <h2>What was found</h2>
      {found.steps.length === 0 && (
        <p className="empty">
          Nothing yet. Begin with what the screen shows and does; every finding says what it rules out.
        </p>
      )}
      <Unread form={form} found={found} />
      <ol className="trail">
        {found.steps.map((step) => (
          <li key={step.row} className={step.doubtful ? "doubtful" : ""}>
            <p>
              {step.do}: <strong>{step.read}</strong>
              {step.doubtful && (
                <span className="problem">
                  {" "}
                  <span aria-hidden="true">▲</span> fits nothing else that was found: take it again
                </span>
              )}
            </p>
            <p className="text-quiet">{step.says}</p>
            {step.gates.length > 0 && (
              <p className="problem">Not ticked before it: {step.gates.join("; ")}.</p>
            )}
            <p className="trail-acts">
              <Button
                size="sm"
                variant="outline-secondary"
                onClick={() => form.change(begun(testOf(form, step.row), form.entries))}
              >
                Take it again
              </Button>
              <Button
                size="sm"
                variant="outline-secondary"
                onClick={() => form.change(withoutRow(form.entries, "rows", step.row))}
              >
                Take it out
              </Button>
            </p>
          </li>
        ))}
      </ol>
      {found.steps.length > 0 && <p className="text-quiet">About {Math.round(found.minutes)} min so far.</p>}
    </section>
  );
}

function testOf(form: FormState, row: number): string {
  return form.entries[`rows[${row}].test`] ?? "";
}

/** Findings that cannot be read, or whose test this installation has no more: to be put right, or taken out. */
function Unread({ form, found }: { form: FormState; found: Case }) {
  const read = new Set(found.steps.map((step) => step.row));
  const wrong = rowNumbers(form.entries, "rows").filter((row) => !read.has(row));
  return wrong.map((row) => {
    const path = `rows[${row}]`;
    const test = found.tests.find((one) => one.key === testOf(form, row));
    const problem = ["test", "outcome", "red", "black"]
      .map((column) => form.fields.get(`${path}.${column}`))
      .find((field) => field?.state === "wrong")?.problem;
    return (
      <div key={row} className="unread" role="group" aria-label={`Finding ${row + 1}, not read`}>
        <p>
          <span aria-hidden="true">▲</span> {test?.do ?? testOf(form, row)}: does not count yet.{" "}
          {problem && <span className="problem">{problem}</span>}
        </p>
        {!problem && !test?.outcomes.length && (
          <TextField form={form} path={`${path}.value`} label="Reading" />
        )}
        {test?.injects && <TextField form={form} path={`${path}.put_in`} label="Put in" />}
        <Button
          size="sm"
          variant="outline-secondary"
          onClick={() => form.change(withoutRow(form.entries, "rows", row))}
        >
          Take it out
        </Button>
      </div>
    );
  });
}
