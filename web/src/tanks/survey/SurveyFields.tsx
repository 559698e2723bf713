import { useId } from "react";

import { Judgements } from "../../frame/Judgements";
import type { Words } from "../../frame/words";
import { DipFields, HeightFields, OtherTolerances } from "./BesideFields";
import { DeadwoodFields } from "./DeadwoodFields";
import type { Entries, Reading, SurveyForm } from "./form";
import { PortFields } from "./PortFields";
import { ShapeFields } from "./ShapeFields";
import { fieldAt } from "./useSurvey";

interface Props {
  words: Words;
  form: SurveyForm;
  reading: Reading | undefined;
  onChange: (form: SurveyForm) => void;
}

/** All fields of a survey, each judged as it is typed. */
export function SurveyFields({ words, form, reading, onChange }: Props) {
  const products = useId();
  const notes = useId();
  const change = (changes: Entries) => onChange({ ...form, entries: { ...form.entries, ...changes } });
  const nameProblem = form.entries.name ? fieldAt(reading, "name")?.problem : "";
  return (
    <>
      <fieldset>
        <legend>Tank</legend>
        <TextField
          label="Name"
          hint="As it is painted on it"
          value={form.entries.name ?? ""}
          problem={nameProblem}
        >
          {(id) => (
            <input
              id={id}
              className="form-control"
              value={form.entries.name ?? ""}
              maxLength={120}
              onChange={(event) => change({ name: event.target.value })}
            />
          )}
        </TextField>
        <TextField
          label="Product"
          hint="What is in it; the cautions follow it"
          value={form.entries.product ?? ""}
        >
          {(id) => (
            <>
              <input
                id={id}
                className="form-control"
                list={products}
                maxLength={60}
                value={form.entries.product ?? ""}
                onChange={(event) => change({ product: event.target.value })}
              />
              <datalist id={products}>
                {words.products.map((name) => (
                  <option key={name} value={name} />
                ))}
              </datalist>
            </>
          )}
        </TextField>
      </fieldset>
      <ShapeFields
        words={words}
        entries={form.entries}
        reading={reading}
        onChange={change}
        onReplace={(entries) => onChange({ ...form, entries })}
      />
      <HeightFields words={words} entries={form.entries} reading={reading} onChange={change} />
      <PortFields words={words} ports={form.ports} onChange={(ports) => onChange({ ...form, ports })} />
      {reading && <Judgements list={reading.judgements} />}
      <DeadwoodFields
        entries={form.entries}
        reading={reading}
        onChange={(entries) => onChange({ ...form, entries })}
      />
      <OtherTolerances words={words} entries={form.entries} reading={reading} onChange={change} />
      <DipFields words={words} entries={form.entries} reading={reading} onChange={change} />
      <fieldset>
        <legend>
          <label htmlFor={notes}>Notes</label>
        </legend>
        <textarea
          id={notes}
          className="form-control"
          rows={3}
          maxLength={8000}
          value={form.notes}
          onChange={(event) => onChange({ ...form, notes: event.target.value })}
        />
      </fieldset>
    </>
  );
}

interface TextProps {
  label: string;
  hint: string;
  value: string;
  problem?: string | undefined;
  children: (id: string) => React.ReactNode;
}

function TextField({ label, hint, problem, children }: TextProps) {
  const id = useId();
  return (
    <div className="choice-field">
      <label htmlFor={id}>{label}</label>
      <div>
        {children(id)}
        <div className="field-says">{problem ? <span className="problem">{problem}</span> : hint}</div>
      </div>
    </div>
  );
}
