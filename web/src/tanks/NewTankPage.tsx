import "../drawing/drawing.css";
import "./survey/survey.css";
import "./tanks.css";

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { useNavigate, useSearchParams } from "react-router";

import { keys, refresh } from "../api/keys";
import { api, ask, wordsOf } from "../api/client";
import { Section } from "../drawing/Section";
import { Cautions } from "../frame/Cautions";
import { useDraft } from "../frame/draft";
import { clock } from "../frame/times";
import { useWords } from "../frame/words";
import { SitePicker, useSites } from "./SitePicker";
import { FromProfile } from "./profiles/FromProfile";
import { BLANK, type SurveyForm } from "./survey/form";
import { SurveyFields } from "./survey/SurveyFields";
import { useSurveyReading, useSurveyUnits } from "./survey/useSurvey";
import { portMarks } from "./tank";
import { Opening } from "../frame/Opening";

const ABOUT = { name: "New tank", page: "/tanks/new" };

/** A new tank: survey it and see it drawn, then keep it. */
export function NewTankPage() {
  const words = useWords();
  const navigate = useNavigate();
  const queries = useQueryClient();
  const [search] = useSearchParams();
  const sites = useSites();
  const [site, setSite] = useState<number | null>(() => Number(search.get("site")) || null);
  const draft = useDraft<SurveyForm>("new-tank:0", ABOUT);
  const form = draft.value ?? BLANK;
  const { system } = draft;
  const { answer: reading, current, error: unread } = useSurveyReading(form, system);
  useSurveyUnits(draft, current ? reading : undefined);
  const facts = reading?.facts ?? null;
  const chosen = site ?? sites?.[0]?.id ?? null;

  const keep = useMutation({
    mutationFn: () => ask(api.POST("/api/tanks/", { body: { ...form, system, site: chosen ?? 0 } })),
    onSuccess: async (tank) => {
      draft.clear();
      await refresh(queries, keys.tanks, keys.board, keys.sites);
      await navigate(`/tanks/${tank.id}/table`);
    },
  });

  if (!words) return <Opening className="page" />;
  const lacking = reading?.fields_read.filter((field) => field.problem) ?? [];
  return (
    <main className="tank">
      <div className="tank-left">
        <h1 className="tank-name">New tank</h1>
        {facts ? (
          <Section
            drawing={facts.drawing}
            pattern={facts.pattern}
            product={facts.product}
            capacityL={facts.capacity_l}
            ports={portMarks(form.ports, reading?.port_positions_mm ?? [])}
          />
        ) : (
          <p className="empty-drawing">
            The section is drawn here, true to scale, as soon as its dimensions are in
            {lacking.length > 0 && `: ${lacking.length} to go`}.
          </p>
        )}
        <Cautions list={facts?.cautions ?? []} station="survey" />
      </div>
      <div className="tank-right survey">
        <div className="keep-bar">
          <Button
            onClick={() => keep.mutate()}
            disabled={!reading?.complete || chosen === null || keep.isPending}
          >
            Keep this tank
          </Button>
          {draft.undo && (
            <Button variant="outline-secondary" onClick={draft.undo}>
              Undo
            </Button>
          )}
          {draft.value && (
            <Button variant="outline-secondary" onClick={draft.discard}>
              Start over
            </Button>
          )}
          <span className="save-state" role="status">
            {draft.at
              ? `Draft kept on this device ${clock(draft.at)}.`
              : "Type what the tape says; units as you like."}
          </span>
        </div>
        {keep.isError && (
          <p role="alert" className="problem">
            {wordsOf(keep.error)}
          </p>
        )}
        {unread && <p className="problem">{wordsOf(unread)}</p>}
        <SitePicker value={chosen} onChange={setSite} />
        <FromProfile form={form} system={system} onChange={draft.change} />
        <SurveyFields words={words} form={form} reading={reading} onChange={draft.change} />
      </div>
    </main>
  );
}
