import { ChoiceField, type FormState, TextField, TickField } from "../frame/FormField";
import type { Case } from "./trouble";

/** Which school is followed, where one stands, what is at hand, and what is known of the installation. */
export function AtHand({ form, found }: { form: FormState; found: Case }) {
  const minutes = Object.entries(found.school_minutes).map(
    ([key, value]) => `${found.schools[key] ?? key} about ${value} min`,
  );
  return (
    <details>
      <summary>Where you stand, what is at hand, and whose way you follow</summary>
      <div className="facts">
        <ChoiceField
          form={form}
          path="school"
          label="Follow"
          options={found.schools}
          hint={minutes.length > 0 ? `From here: ${minutes.join(", ")}.` : undefined}
        />
        <ChoiceField form={form} path="place" label="I stand" options={found.places} otherwise={found.at} />
        <TextField
          form={form}
          path="expected"
          label="The level should be"
          hint="by the book, or the last good reading"
        />
        <TextField form={form} path="expected.half" label="That may be off by ±" />
        <ChoiceField form={form} path="technology" label="The sensor is" options={found.technologies} />
        <TextField form={form} path="age" label="It has stood, years" />
      </div>
      <TickField form={form} path="hazardous" label="hazardous area" />
      <TickField form={form} path="radio" label="reports by radio, with a battery" />
      <TickField form={form} path="floats" label="a float gauge stands beside it" />
      <fieldset>
        <legend>Cannot be had now</legend>
        {Object.entries(found.gates).map(([key, words]) => (
          <TickField key={key} form={form} path={`barred.${key}`} label={`not: ${words}`} />
        ))}
        {found.kit.map((one) => (
          <TickField key={one} form={form} path={`lacks.${one}`} label={`no ${one}`} />
        ))}
      </fieldset>
    </details>
  );
}
