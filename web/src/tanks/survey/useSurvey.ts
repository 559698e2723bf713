import { api, ask } from "../../api/client";
import { useLatest } from "../../frame/latest";
import type { FieldRead, Reading, SurveyForm } from "./form";

/** A survey as the server understands it at this keystroke. */
export function useSurveyReading(form: SurveyForm): Reading | undefined {
  return useLatest(form, ({ entries, ports, notes, system }) =>
    ask(api.POST("/api/tanks/survey/", { body: { entries, ports, notes, system } })),
  );
}

/** What was made of one field. */
export function fieldAt(reading: Reading | undefined, path: string): FieldRead | undefined {
  return reading?.fields_read.find((field) => field.path === path);
}
