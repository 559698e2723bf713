import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef } from "react";
import Button from "react-bootstrap/Button";

import { api, ask } from "../../api/client";
import { Cautions } from "../../frame/Cautions";
import { clock, day, useDraft } from "../../frame/draft";
import { KeepBar } from "../../frame/KeepBar";
import { typedOn } from "../../frame/plan";
import { useUnits } from "../../frame/units";
import { useWords } from "../../frame/words";
import { useShownShape } from "../shown";
import type { Tank } from "../tank";
import { ProfileField } from "../profiles/ProfileField";
import { DeleteTank } from "./DeleteTank";
import { formOf, type SurveyForm } from "./form";
import { SurveyFields } from "./SurveyFields";
import { useSurveyReading } from "./useSurvey";

function differs(form: SurveyForm, kept: SurveyForm): boolean {
  return typedOn(form.entries, kept.entries, kept.entries) || differsBeside(form, kept);
}

/** In what is not a field of the survey: the openings and the notes. */
function differsBeside(form: SurveyForm, kept: SurveyForm): boolean {
  return JSON.stringify(form.ports) !== JSON.stringify(kept.ports) || form.notes !== kept.notes;
}

/** Station Survey: what was measured, the drawing following each keystroke. */
export function SurveyStation({ tank }: { tank: Tank }) {
  const words = useWords();
  const units = useUnits();
  const queries = useQueryClient();
  const { show } = useShownShape();
  const draft = useDraft<SurveyForm>(`rasante:survey:${tank.id}`);
  const kept = formOf(tank, units.system);
  const form = draft.value ? { ...draft.value, system: units.system } : kept;
  const changed = draft.value !== null && differs(form, kept);
  const reading = useSurveyReading(form);
  const facts = reading?.facts ?? null;

  useEffect(() => {
    show(changed ? facts : null);
    return () => show(null);
  }, [changed, facts, show]);

  const typed = useRef(form);
  useEffect(() => {
    typed.current = form;
  });
  const keep = useMutation({
    mutationFn: (sent: SurveyForm) =>
      ask(api.PUT("/api/tanks/{id}/", { params: { path: { id: tank.id } }, body: sent })),
    onSuccess: async (saved, sent) => {
      queries.setQueryData(["tank", tank.id], saved);
      // What was typed while it was being kept stays, and follows the new revision.
      const now = typed.current;
      const on =
        typedOn(now.entries, sent.entries, formOf(saved, now.system).entries) || differsBeside(now, sent);
      if (on) draft.change({ ...now, revision: saved.revision });
      else draft.clear();
      await queries.invalidateQueries({ queryKey: ["tank", tank.id] });
      await queries.invalidateQueries({ queryKey: ["tanks"] });
      await queries.invalidateQueries({ queryKey: ["board"] });
    },
  });
  const { reset } = keep;
  const { change } = draft;
  const onChange = useCallback(
    (next: SurveyForm) => {
      reset();
      change(next);
    },
    [change, reset],
  );

  if (!words) return <p>Opening…</p>;
  const delta = changed && facts ? facts.capacity_l - tank.facts.capacity_l : 0;
  return (
    <section aria-label="Survey" className="survey">
      <Cautions list={facts?.cautions ?? tank.facts.cautions} station="survey" />
      <KeepBar
        action="Keep this survey"
        changed={changed}
        ready={!keep.isPending && reading?.complete === true}
        error={keep.error}
        kept={
          <>
            Revision {tank.revision}, kept {day(tank.changed_at)} by {tank.changed_by || "unknown"}.{" "}
            <a href={`/api/tanks/${tank.id}/file/`} download>
              Tank file
            </a>
          </>
        }
        waiting={
          <>
            Changed {draft.at ? clock(draft.at) : ""}, on this device only.
            {facts &&
              Math.abs(delta) > 0.05 &&
              ` Capacity ${delta > 0 ? "+" : "−"}${units.text("volume", Math.abs(delta))}.`}
            {!reading?.complete && " Some fields are still to be put right."}
          </>
        }
        onKeep={() => keep.mutate(form)}
        onDiscard={draft.discard}
        onUndo={draft.undo}
      />
      {form.revision !== tank.revision && changed && (
        <p className="problem">
          The tank was changed to revision {tank.revision} since you began.{" "}
          <Button
            variant="outline-secondary"
            size="sm"
            onClick={() => onChange({ ...form, revision: tank.revision })}
          >
            Go on from there with what I typed
          </Button>
        </p>
      )}
      <SurveyFields words={words} form={form} reading={reading} onChange={onChange} />
      <ProfileField tank={tank} form={form} changed={changed} onChange={onChange} />
      <DeleteTank tank={tank} />
    </section>
  );
}
