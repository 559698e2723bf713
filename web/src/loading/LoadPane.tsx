import "./loading.css";

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import Button from "react-bootstrap/Button";

import { api, ask, wordsOf } from "../api/client";
import { keys, refresh } from "../api/keys";
import { ChoiceField, TextField, TickField } from "../frame/FormField";
import { Judgements } from "../frame/Judgements";
import { Opening } from "../frame/Opening";
import { More, usePages } from "../frame/pages";
import { PlanBar } from "../frame/PlanBar";
import { usePlan } from "../frame/plan";
import { places } from "../frame/numbers";
import { useUnits } from "../frame/units";
import { when } from "../readings/Moves";
import { useNow } from "../readings/now";
import { TakeButton, useTakes } from "../readings/TakeButton";
import type { Tank } from "../tanks/tank";
import { LOAD } from "./load";
import { Going } from "./Going";
import { Limits } from "./Limits";

/** A load: how much may be in the vessel, which of the two limits rules, and the point at which to stop. */
export function LoadPane({ tank }: { tank: Tank }) {
  const plan = usePlan(tank, LOAD);
  const units = useUnits();
  const queries = useQueryClient();
  const takes = useTakes(tank.id);
  const { data: now } = useNow(tank.id);
  const at = now?.at;
  useEffect(() => {
    // What the sensor says is part of the answer: a newer reading asks for it anew.
    if (at) void refresh(queries, keys.tank(tank.id, "load", "reading"));
  }, [at, queries, tank.id]);
  const close = useMutation({
    mutationFn: (revision: number) =>
      ask(
        api.POST("/api/tanks/{id}/loads/", {
          params: { path: { id: tank.id } },
          body: { revision, system: units.system },
        }),
      ),
    onSuccess: () => refresh(queries, keys.tank(tank.id)),
  });
  if (!plan) return <Opening />;
  const { form, reading } = plan;
  const level = takes.find((one) => one.station === "level" || one.station === "shown");
  return (
    <div className="load">
      <div className="cautions" role="note">
        <p>
          A stop is advised here, never commanded: stay at the valve. Filling limits are law; check the code
          in force. Bond before connecting, never open a fitting under pressure, keep off the relief valves;
          the liquid burns cold.
        </p>
      </div>
      {reading && <Going reading={reading} />}
      {reading && <Judgements list={reading.judgements} />}
      <PlanBar
        plan={plan}
        action="Keep this load"
        nothing="Confirm the density off its paper, and say what was in the vessel before."
      />
      <div className="load-parts">
        <fieldset>
          <legend>The gas, at this load</legend>
          <div className="facts">
            <TextField form={form} path="density" label="Density" hint={reading?.listed} />
            <ChoiceField
              form={form}
              path="density.at"
              label="Density, at"
              options={reading?.density_at ?? {}}
              empty={`choose; most papers: ${reading?.density_at[form.fields.get("density.at")?.usual ?? ""] ?? ""}`}
              otherwise=""
            />
            <TextField form={form} path="temperature" label="Temperature" />
            <TextField form={form} path="butane" label="Butane in it, by weight" />
          </div>
          <TickField form={form} path="confirmed" label="Density confirmed for this load" />
        </fieldset>
        <fieldset>
          <legend>What limits it</legend>
          <div className="facts">
            <TextField
              form={form}
              path="weight"
              label="Contents may weigh"
              hint="empty: no weight limits it"
            />
            <ChoiceField form={form} path="place" label="The vessel is" options={reading?.places ?? {}} />
            <TextField form={form} path="code.filling" label="The code's own figure" />
            <TextField form={form} path="code.reason" label="Which code, and where" />
          </div>
        </fieldset>
        <fieldset>
          <legend>What is in it</legend>
          <div className="facts">
            <TextField form={form} path="before" label="In it before" />
            <TextField form={form} path="meter" label="By the meter since" />
            <TextField form={form} path="now" label="In it now, if no sensor says so" />
            <TextField form={form} path="rate" label="Rate a minute, if no sensor says so" />
            <TextField form={form} path="stopping" label="From the word to no flow, s" />
          </div>
          {level && now?.volume_l != null && (
            <TakeButton
              take={{ ...level, text: `${Math.round(now.volume_l)} L` }}
              label="the contents for the start"
              onTake={(before) => form.change({ before })}
            />
          )}
        </fieldset>
      </div>
      {reading?.targets && <Limits reading={reading} />}
      <p className="load-close">
        <Button
          variant="outline-secondary"
          disabled={plan.changed || plan.kept.revision === 0 || close.isPending}
          onClick={() => close.mutate(plan.kept.revision)}
        >
          Close this load
        </Button>{" "}
        <span className="text-quiet">
          A record is made of it that never changes; the next begins with its density asked for anew.
        </span>
      </p>
      {close.isError && <p className="problem">{wordsOf(close.error)}</p>}
      <Closed tank={tank} />
    </div>
  );
}

function Closed({ tank }: { tank: Tank }) {
  const units = useUnits();
  const loads = usePages(keys.tank(tank.id, "loads"), (page) =>
    ask(
      api.GET("/api/tanks/{id}/loads/", {
        params: { path: { id: tank.id }, query: { page, page_size: 20 } },
      }),
    ),
  );
  if (!loads.all?.length) return null;
  const litres = (value: number) =>
    `${places(units.toShown("volume", value), 0)} ${units.unit("volume").name}`;
  return (
    <>
      <h2>Loads</h2>
      <ul className="events">
        {loads.all.map((one) => (
          <li key={one.id}>
            <strong>Load {one.number}</strong>, {when(one.closed_at)}, {one.closed_by}:{" "}
            {one.loaded_l === null ? "" : `${litres(one.loaded_l)} loaded, `}
            {litres(one.contents_l)} in it of {litres(one.target_l)} by{" "}
            {one.rule === "weight" ? "weight" : "filling limit"}.{" "}
            <a href={`/api/loads/${one.id}/sheet.pdf/`} download>
              PDF
            </a>
          </li>
        ))}
      </ul>
      <More pages={loads} what="loads" />
    </>
  );
}
