import Button from "react-bootstrap/Button";

import { type FormState, TextField } from "../frame/FormField";
import type { Take } from "../readings/now";
import { TakenField } from "../readings/TakenField";
import { Gates } from "./Gates";
import { begun, type Case, type Choice, entered, gatesOpen, outcomeWords, percent } from "./trouble";

interface Props {
  form: FormState;
  found: Case;
  /** What is live, and may be taken instead of typed. */
  takes: Take[];
}

/** Where the case stands, and the test that tells most by the minute; or the one that was picked instead. */
export function NextTest({ form, found, takes }: Props) {
  const picked = form.entries["now.test"] ?? "";
  const advised = found.choices[0];
  const here = found.choices.find((one) => one.test === picked) ?? (picked === "" ? advised : undefined);
  return (
    <section className={`next-test ${found.verdict}`} aria-label="Do this next" aria-live="polite">
      <Verdict found={found} />
      {here && (found.verdict !== "found" || picked !== "") && (
        <Doing
          key={here.test}
          form={form}
          found={found}
          takes={takes}
          choice={here}
          picked={picked !== "" && here !== advised}
        />
      )}
    </section>
  );
}

/** The shape that goes with a verdict. */
const SHAPES: Partial<Record<Case["verdict"], string>> = {
  found: "●",
  "nothing-fits": "▲",
  "cannot-tell": "◆",
};

function Verdict({ found }: { found: Case }) {
  const [what, ...then] = found.says;
  if (!what) return null;
  return (
    <>
      <p className="next-what">
        <span aria-hidden="true">{SHAPES[found.verdict]}</span> {what}
      </p>
      {then.map((one) => (
        <p key={one}>{one}</p>
      ))}
    </>
  );
}

interface DoingProps extends Props {
  choice: Choice;
  picked: boolean;
}

function Doing({ form, found, takes, choice, picked }: DoingProps) {
  const typed = form.entries["now.value"] ?? "";
  const wrong = ["now.value", "now.put_in"].some((path) => form.fields.get(path)?.state === "wrong");
  const open = gatesOpen(form.entries, choice.gates);
  // The first key typed says which test it is of, so that a newer advice does not take its reading.
  const field: FormState = {
    ...form,
    change: (changes) => form.change({ "now.test": choice.test, ...changes }),
  };
  return (
    <>
      <p className="next-head">
        {picked ? "You chose" : found.verdict === "go-on" ? "Do this next" : "Or this"}
        {", "}
        <span className="mono">{Math.ceil(choice.minutes)} min</span>, {choice.place}
        {choice.set_up && `, ${choice.set_up}`}
      </p>
      <p className="next-what">{choice.do}</p>
      {found.because && choice === found.choices[0] && <p>{found.because}</p>}
      {(choice.put_in || choice.leads.length > 0) && (
        <p className="next-how">
          {choice.put_in && (
            <>
              Calibrator at <strong className="mono">{choice.put_in}</strong>.{" "}
            </>
          )}
          {choice.leads.length > 0 && (
            <>
              Meter on {choice.dial}, red on <strong>{found.terminals[choice.leads[0] ?? ""]}</strong>, black
              on <strong>{found.terminals[choice.leads[1] ?? ""]}</strong>.
            </>
          )}
        </p>
      )}
      <Gates form={form} test={choice.test} gates={choice.gates} acts={choice.acts} />
      {choice.test === "look" && found.live && (
        <p>
          Now: {found.live.says}.{" "}
          <Button
            onClick={() =>
              form.change(
                entered(form.entries, { "now.test": "look", "now.outcome": found.live?.look ?? "" }),
              )
            }
          >
            Take it: {outcomeWords(found.live.look)}
          </Button>
        </p>
      )}
      {choice.outcomes.length > 0 ? (
        <p className="next-outcomes">
          {choice.outcomes.map((one) => (
            <Button
              key={one}
              variant="outline-primary"
              disabled={!open}
              onClick={() =>
                form.change(entered(form.entries, { "now.test": choice.test, "now.outcome": one }))
              }
            >
              {outcomeWords(one)}
            </Button>
          ))}
        </p>
      ) : (
        <form
          className="next-enter"
          onSubmit={(event) => {
            event.preventDefault();
            if (typed !== "" && !wrong && open)
              form.change(entered(form.entries, { "now.test": choice.test }));
          }}
        >
          {choice.put_in && (
            <TextField form={field} path="now.put_in" label={`Put in, if not ${choice.put_in}`} />
          )}
          <TakenField
            form={field}
            path="now.value"
            label="Reading"
            take={takes.find((one) => one.station === choice.station)}
          />
          <Button type="submit" disabled={typed === "" || wrong || !open}>
            Enter reading
          </Button>
        </form>
      )}
      {!picked && <Meanings found={found} />}
      {picked && (
        <Button variant="link" onClick={() => form.change(begun("", form.entries))}>
          Back to what is advised
        </Button>
      )}
    </>
  );
}

function Meanings({ found }: { found: Case }) {
  const [only] = found.means;
  if (found.means.length < 2)
    return only ? <p className="text-quiet">Whatever it reads: {only.means || "many things"}.</p> : null;
  return (
    <table className="next-means">
      <caption>What it would mean</caption>
      <tbody>
        {found.means.map((one) => (
          <tr key={`${one.reads} ${one.means}`}>
            <th scope="row" className="mono">
              {one.reads}
            </th>
            <td>{one.means || "many things"}</td>
            <td className="mono text-quiet">{percent(one.share)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
