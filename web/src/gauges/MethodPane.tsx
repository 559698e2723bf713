import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link } from "react-router";

import { ChoiceField, type FormState } from "../frame/FormField";
import { Judgements } from "../frame/Judgements";
import { places } from "../frame/numbers";
import { useUnits } from "../frame/units";
import type { GaugeReading, GaugeWords, Verdict } from "./gauge";

const SHAPES = { fits: "●", fits_if: "◆", no: "▲" } as const;

interface Props {
  form: FormState;
  reading: GaugeReading;
  words: GaugeWords;
}

/** Every way of measuring judged for this tank, the best first, each by its best model. */
export function MethodPane({ form, reading, words }: Props) {
  const [open, setOpen] = useState<string | null>(null);
  const first = new Map<string, Verdict>();
  for (const verdict of reading.verdicts)
    if (!first.has(verdict.technology)) first.set(verdict.technology, verdict);
  const { chosen } = reading;
  const choose = (verdict: Verdict) =>
    form.change({ "choice.model": verdict.key, "choice.output": "", "choice.reason": "" });
  return (
    <>
      {chosen && <Chosen form={form} reading={reading} words={words} chosen={chosen} />}
      <p className="text-quiet pane-words">
        Best first: what fits, then the least ± of the volume at the worst working level, then the time it
        takes.
        {reading.situation.assumed.length > 0 && ` Taken as usual: ${reading.situation.assumed.join("; ")}.`}
      </p>
      <ol className="methods">
        {[...first.values()].map((best) => {
          const technology = words.technologies.find((one) => one.key === best.technology);
          const models = reading.verdicts.filter((one) => one.technology === best.technology);
          const shown = open === best.technology;
          return (
            <li key={best.technology} className={`method ${best.verdict}`}>
              <div className="method-head">
                <button
                  type="button"
                  className="method-open"
                  aria-expanded={shown}
                  title={technology?.works}
                  onClick={() => setOpen(shown ? null : best.technology)}
                >
                  <span className="method-name">{technology?.name}</span>
                  <span className="method-verdict">
                    <span aria-hidden="true">{SHAPES[best.verdict]}</span> {best.words}
                  </span>
                </button>
                <Expected verdict={best} />
                {models.some((one) => one.key === chosen?.key) ? (
                  <span className="method-chosen">Chosen</span>
                ) : (
                  <Button
                    size="sm"
                    variant="outline-secondary"
                    aria-label={`Choose ${best.name}`}
                    onClick={() => choose(best)}
                  >
                    Choose
                  </Button>
                )}
              </div>
              {!shown && <p className="method-why">{whyOf(best)}</p>}
              {shown && (
                <div className="method-models">
                  <p className="text-quiet">{technology?.works}</p>
                  {models.map((model) => (
                    <Model
                      key={model.key}
                      model={model}
                      chosen={model.key === chosen?.key}
                      onChoose={() => choose(model)}
                    />
                  ))}
                </div>
              )}
            </li>
          );
        })}
      </ol>
      <p className="text-quiet">
        <Link to="/gauge-models">Gauge models</Link>: add your own, hand them on as a file.
      </p>
    </>
  );
}

function whyOf(verdict: Verdict): string {
  const heavy = verdict.reasons.filter((reason) => reason.weight !== "good");
  const list = heavy.length > 0 ? heavy : verdict.reasons;
  const text = list
    .slice(0, 2)
    .map((reason) => reason.text)
    .join(" ");
  return list.length > 2 ? `${text} And ${list.length - 2} more.` : text;
}

function Expected({ verdict }: { verdict: Verdict }) {
  const units = useUnits();
  return (
    <span className="method-numbers">
      <span className="mono">
        {verdict.u95_l === null ? "no level" : units.half("volume", verdict.u95_l)}
      </span>
      <span className="text-quiet"> {places(verdict.install_min, 0)} min</span>
    </span>
  );
}

function Model({ model, chosen, onChoose }: { model: Verdict; chosen: boolean; onChoose: () => void }) {
  return (
    <div className="model">
      <div className="method-head">
        <span className="model-name">{model.name}</span>
        <span className="method-verdict">
          <span aria-hidden="true">{SHAPES[model.verdict]}</span> {model.words}
        </span>
        <Expected verdict={model} />
        {chosen ? (
          <span className="method-chosen">Chosen</span>
        ) : (
          <Button
            size="sm"
            variant="outline-secondary"
            aria-label={`Choose ${model.name}, this model`}
            onClick={onChoose}
          >
            Choose
          </Button>
        )}
      </div>
      <Judgements list={model.reasons} />
    </div>
  );
}

/** The chosen model: its output, where its ± comes from, and the reason where it is against the advice. */
function Chosen({ form, reading, words, chosen }: Props & { chosen: Verdict }) {
  const units = useUnits();
  const against = chosen.verdict === "no";
  const problem = form.fields.get("choice.reason");
  const technology = words.technologies.find((one) => one.key === chosen.technology);
  return (
    <div className={against ? "chosen against" : "chosen"}>
      <div className="facts">
        <div className="form-field">
          <span className="form-label-like">Chosen</span>
          <strong>{chosen.name}</strong>
          {chosen.u95_l !== null && chosen.u95_at_mm !== null && (
            <div className="form-says">
              {units.half("volume", chosen.u95_l)} at {units.tape(chosen.u95_at_mm)}: the level{" "}
              {units.half("length", chosen.u95_level_mm ?? 0)}
              {chosen.parts[0] && ` (most by ${chosen.parts[0].name})`}, the table{" "}
              {units.half("volume", chosen.table_u95_l ?? 0)}
            </div>
          )}
        </div>
        {chosen.outputs.length > 1 && (
          <ChoiceField
            form={form}
            path="choice.output"
            label="Output"
            options={Object.fromEntries(chosen.outputs.map((name) => [name, name]))}
            otherwise={reading.output}
          />
        )}
      </div>
      {technology && <p className="chosen-caution">{technology.caution}</p>}
      {against && (
        <label className="reason">
          <span>Against the advice, because</span>
          <textarea
            className="form-control"
            rows={2}
            value={form.entries["choice.reason"] ?? ""}
            onChange={(event) => form.change({ "choice.reason": event.target.value })}
          />
          {problem?.state === "wrong" && <span className="problem">{problem.problem}</span>}
        </label>
      )}
    </div>
  );
}
