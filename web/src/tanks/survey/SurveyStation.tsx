import { useEffect, useMemo } from "react";
import { Link } from "react-router";

import { Cautions } from "../../frame/Cautions";
import { useTyped } from "../../frame/draft";
import { KeepBar } from "../../frame/KeepBar";
import { same } from "../../frame/merge";
import { clock, day } from "../../frame/times";
import { SYSTEM_NAMES, useUnits } from "../../frame/units";
import { useWords } from "../../frame/words";
import { useShownShape } from "../shown";
import type { Tank } from "../tank";
import { ProfileField } from "../profiles/ProfileField";
import { DeleteTank } from "./DeleteTank";
import { keptSurvey } from "./keeping";
import { SurveyFields } from "./SurveyFields";
import { useSurveyReading, useSurveyUnits } from "./useSurvey";
import { Opening } from "../../frame/Opening";

/** Station Survey: what was measured, the drawing following each keystroke. */
export function SurveyStation({ tank }: { tank: Tank }) {
  const words = useWords();
  const units = useUnits();
  const { show } = useShownShape();
  const kept = useMemo(() => keptSurvey(tank), [tank]);
  const typed = useTyped(`survey:${tank.id}`, kept, {
    name: `Survey, ${tank.facts.name}`,
    page: `/tanks/${tank.id}/survey`,
  });
  const { system, change } = typed;
  const { value: asKept } = typed.kept ?? kept;
  const form = typed.value ?? asKept;
  const changed = typed.value !== null && !same(form, asKept);
  const { answer: reading, current, error } = useSurveyReading(form, system);
  useSurveyUnits(typed, current ? reading : undefined);
  const facts = reading?.facts ?? null;

  useEffect(() => {
    show(changed ? facts : null);
    return () => show(null);
  }, [changed, facts, show]);

  if (!words) return <Opening />;
  const delta = changed && facts ? facts.capacity_l - tank.facts.capacity_l : 0;
  const by = tank.changed_by || "unknown";
  return (
    <section aria-label="Survey" className="survey">
      <Cautions list={facts?.cautions ?? tank.facts.cautions} station="survey" />
      <KeepBar
        action="Keep this survey"
        typed={typed}
        changed={changed}
        ready={reading?.complete === true}
        refused={error}
        newer={`${by} has kept revision ${tank.revision} on ${day(tank.changed_at)}, ${clock(tank.changed_at)}`}
        kept={
          <>
            Revision {tank.revision}, kept {day(tank.changed_at)} by {by}.{" "}
            <a href={`/api/tanks/${tank.id}/file/`} download>
              Tank file
            </a>{" "}
            <Link to={`/tanks/${tank.id}/history`}>History</Link>
          </>
        }
        waiting={
          <>
            Changed {typed.at ? clock(typed.at) : ""}, on this device only.
            {system !== units.system && ` Bare numbers in it are ${SYSTEM_NAMES[system]} units.`}
            {facts &&
              Math.abs(delta) > 0.05 &&
              ` Capacity ${delta > 0 ? "+" : "−"}${units.text("volume", Math.abs(delta))}.`}
            {reading && !reading.complete && " Some fields are still to be put right."}
          </>
        }
      />
      <SurveyFields words={words} form={form} reading={reading} onChange={change} />
      <ProfileField tank={tank} form={form} system={system} changed={changed} onChange={change} />
      <DeleteTank tank={tank} />
    </section>
  );
}
