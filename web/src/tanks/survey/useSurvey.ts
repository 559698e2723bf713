import { useLayoutEffect } from "react";

import { api, ask } from "../../api/client";
import { type Asking, useAsking } from "../../frame/asking";
import { withUnits } from "../../frame/plan";
import { type System, useUnits } from "../../frame/units";
import type { FieldRead, Reading, SurveyForm } from "./form";

/** A survey as the server understands it at this keystroke. */
export function useSurveyReading({ entries, ports, notes }: SurveyForm, system: System): Asking<Reading> {
  return useAsking(["survey"], { entries, ports, notes, system }, (body, signal) =>
    ask(api.POST("/api/tanks/survey/", { body, signal })),
  );
}

/** A survey keeps the units that it was typed in until every bare number in it has been given its own. */
export function useSurveyUnits(
  draft: { value: SurveyForm | null; system: System; adopt: (form: SurveyForm) => void },
  reading: Reading | undefined,
): void {
  const { system } = useUnits();
  const { value, adopt } = draft;
  const other = draft.system !== system;
  useLayoutEffect(() => {
    if (reading && value && other)
      adopt({ ...value, entries: withUnits(value.entries, reading.fields_read) });
  }, [reading, value, other, adopt]);
}

/** What was made of one field. */
export function fieldAt(reading: Reading | undefined, path: string): FieldRead | undefined {
  return reading?.fields_read.find((field) => field.path === path);
}
