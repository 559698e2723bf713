import Button from "react-bootstrap/Button";

import { wordsOf } from "../api/client";
import { TextField } from "../frame/FormField";
import { Judgements } from "../frame/Judgements";
import { SettingField } from "../frame/SettingField";
import { SYSTEM_NAMES, useUnits } from "../frame/units";
import { type BareState, useBareLine } from "./bareLine";
import { BecomesPane } from "./BecomesPane";
import { GaugeLine } from "./GaugeLine";
import "./line-page.css";
import { Opening } from "../frame/Opening";

/** The settings that stand open, in the order in which a label is read. */
const FIRST = ["sensor.quantity", "sensor.low", "sensor.high", "signal.kind"];
const CARD = ["counts.bits", "counts.low", "counts.high", "scaled.unit", "scaled.low", "scaled.high"];
const MORE = ["liquid.density", "sensor.zero", "register.type", "shown.as", "shown.unit"];

/** The line without a tank: type any one value, and all the others stand at it. */
export function LinePage() {
  const state = useBareLine();
  const { reading, typed, clear } = state;
  const units = useUnits();
  return (
    <main className="line-page">
      <div className="line-head">
        <h1>Line</h1>
        <p className="text-quiet">
          A sensor whose tank is not known here: type any one value, and all the others stand at the line.
        </p>
        {typed && (
          <Button variant="outline-secondary" onClick={clear}>
            Clear it all
          </Button>
        )}
      </div>
      {typed && state.system !== units.system && (
        <p className="waiting">
          What is typed here is in {SYSTEM_NAMES[state.system]} units and stays so until it is cleared.
        </p>
      )}
      {state.refused && <p className="problem">{wordsOf(state.refused)}</p>}
      <div className="line-columns">
        <section aria-label="At the line" className="line-values">
          <Values state={state} />
          {reading?.says && (
            <p className="line-says" role="status">
              {reading.says}
              {reading.meanings.length > 0 &&
                ` If ${reading.meanings.map((one) => `${one.unless}, ${one.level}`).join("; if ")}.`}
            </p>
          )}
          {reading?.parting && <Parting parting={reading.parting} />}
          {reading && <Judgements list={reading.judgements} />}
        </section>
        {reading && <GaugeLine reading={reading} system={state.system} />}
        <section aria-label="What is known" className="line-known">
          <Known state={state} />
          <BecomesPane state={state} />
        </section>
      </div>
    </main>
  );
}

/** Every value at the line; whichever is typed is where the line stands, and a second one is held against it. */
function Values({ state }: { state: BareState }) {
  const { form, reading } = state;
  if (!reading) return <Opening />;
  return (
    <dl className="line-stops">
      {reading.stops.map((stop) => {
        const path = `value.${stop.key}`;
        const typed = form.entries[path] ?? "";
        const field = form.fields.get(path);
        const problem = field?.state === "wrong" ? field.problem : "";
        const differs = typed !== "" && !stop.taken && !problem;
        return (
          <div key={stop.key} className={stop.taken ? "line-stop taken" : "line-stop"}>
            <dt>
              <label htmlFor={`line-${stop.key}`}>{stop.label}</label>
            </dt>
            <dd>
              <input
                id={`line-${stop.key}`}
                className="form-control mono"
                autoComplete="off"
                inputMode="text"
                value={typed || stop.text}
                placeholder="type one"
                aria-invalid={problem ? true : undefined}
                onFocus={(event) => event.target.select()}
                onChange={(event) =>
                  form.change({
                    [path]: event.target.value,
                    // The first value that is typed is the line; one that is typed beside it is held against it.
                    ...(form.entries["at"] ? {} : { at: stop.key }),
                    ...(event.target.value === "" && stop.taken ? { at: "" } : {}),
                  })
                }
              />
              {typed !== "" && (
                <button
                  type="button"
                  className="line-drop"
                  aria-label={`${stop.label}: take what is typed away`}
                  onClick={() => form.change({ [path]: "", ...(stop.taken ? { at: "" } : {}) })}
                >
                  ×
                </button>
              )}
              <span className="line-stop-says">
                {problem ? (
                  <span className="problem">{problem}</span>
                ) : differs ? (
                  <>
                    read; at the line <b className="mono">{stop.text}</b>{" "}
                    <button type="button" className="line-take" onClick={() => form.change({ at: stop.key })}>
                      go by this one
                    </button>
                  </>
                ) : (
                  stop.words
                )}
              </span>
            </dd>
          </div>
        );
      })}
    </dl>
  );
}

function Parting({ parting }: { parting: NonNullable<BareState["reading"]>["parting"] }) {
  if (!parting) return null;
  return (
    <div className="line-parting">
      <h2>Where it parts</h2>
      <p className="parting-says">{parting.says}</p>
      {parting.explanations.length > 0 && (
        <ol>
          {parting.explanations.slice(0, 3).map((one) => (
            <li key={one.texts.join()}>{one.texts.join("; or ")}</li>
          ))}
        </ol>
      )}
    </div>
  );
}

/** What is known of the line, each with what is usual standing in its place. */
function Known({ state }: { state: BareState }) {
  const { form, reading } = state;
  const fieldsOf = (paths: string[]) =>
    paths.map((path) => {
      const setting = reading?.settings.find((one) => one.path === path);
      return setting && <SettingField key={path} form={form} setting={setting} />;
    });
  return (
    <>
      <h2>What is known</h2>
      <div className="facts">
        {fieldsOf(FIRST)}
        <TextField
          form={form}
          path="tank.product"
          label="Liquid"
          usual="water"
          hint="As painted on the tank"
        />
      </div>
      <h2>Tank</h2>
      <div className="facts">
        <TextField form={form} path="tank.height" label="Height" usual="by the range" />
        <TextField form={form} path="tank.rings" label="or rings" usual="count them" />
        <TextField form={form} path="tank.course" label="× one ring" usual="its height" />
        <TextField form={form} path="tank.diameter" label="Diameter" usual="only for the volume" />
      </div>
      <details className="line-more">
        <summary>Card, scaling and screen</summary>
        <div className="facts">
          {fieldsOf(CARD)}
          {fieldsOf(MORE)}
        </div>
      </details>
    </>
  );
}
