import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useLayoutEffect, useState } from "react";
import Button from "react-bootstrap/Button";

import { keys, refresh } from "../api/keys";
import { api, ask, type Schema, wordsOf } from "../api/client";
import { useDraft } from "../frame/draft";
import { day } from "../frame/times";
import type { Entries, FormState } from "../frame/FormField";
import { useAsking } from "../frame/asking";
import { More, usePages } from "../frame/pages";
import { withUnits } from "../frame/plan";
import { useUnits } from "../frame/units";
import { Scroll } from "../frame/Scroll";
import { SettingField } from "../frame/SettingField";
import type { Tank } from "../tanks/tank";
import { CHAIN } from "../scaling/chain";
import { useLine } from "../line/line";
import { RescaleList } from "./RescaleList";
import { Opening } from "../frame/Opening";

interface RescaleDraft {
  link: string;
  entries: Entries;
  why: string;
}

/** Rescale: one link is changed; every setting after it that must follow, as a list to tick and a record. */
export function RescalePane({ tank }: { tank: Tank }) {
  const pages = usePages(keys.tank(tank.id, "rescalings"), (page) =>
    ask(api.GET("/api/tanks/{id}/rescalings/", { params: { path: { id: tank.id }, query: { page } } })),
  );
  const data = pages.all;
  if (!data) return <Opening />;
  const open = data.find((one) => !one.closed_at && !one.dropped_at);
  const dropped = data.filter((one) => one.dropped_at);
  const closed = data.filter((one) => one.closed_at);
  return (
    <>
      {open ? <RescaleList tank={tank} rescaling={open} /> : <NewRescale tank={tank} />}
      {dropped.length > 0 && <Dropped tank={tank} list={dropped} free={!open} />}
      {closed.length > 0 && (
        <>
          <h2>Done before</h2>
          <ul className="records">
            {closed.map((one) => (
              <li key={one.id}>
                <details>
                  <summary>
                    {one.closed_at && day(one.closed_at)}, {one.closed_by}: {one.why}
                  </summary>
                  <ul>
                    {one.tasks.map((task) => (
                      <li key={task.path}>
                        {task.hop}: {task.label.toLowerCase()}{" "}
                        <span className="mono">
                          {task.old} → {task.new}
                        </span>
                      </li>
                    ))}
                  </ul>
                </details>
              </li>
            ))}
          </ul>
        </>
      )}
      <More pages={pages} what="of before" />
    </>
  );
}

interface DroppedProps {
  tank: Tank;
  list: Schema["Rescaling"][];
  /** Whether none is open, so that one can be taken up again. */
  free: boolean;
}

function Dropped({ tank, list, free }: DroppedProps) {
  const queries = useQueryClient();
  const again = useMutation({
    mutationFn: (one: Schema["Rescaling"]) =>
      ask(
        api.POST("/api/rescalings/{id}/take-up/", {
          params: { path: { id: one.id } },
          body: { kept: one.kept },
        }),
      ),
    onSuccess: async () => {
      await refresh(queries, keys.tank(tank.id), keys.board);
    },
  });
  return (
    <>
      <h2>Dropped</h2>
      <ul className="records">
        {list.map((one) => (
          <li key={one.id}>
            {one.dropped_at && day(one.dropped_at)}, {one.dropped_by}: {one.why}{" "}
            <Button
              size="sm"
              variant="outline-secondary"
              disabled={!free || again.isPending}
              onClick={() => again.mutate(one)}
            >
              Take it up again
            </Button>
          </li>
        ))}
      </ul>
      {again.error && (
        <p role="alert" className="problem">
          {wordsOf(again.error)}
        </p>
      )}
    </>
  );
}

function NewRescale({ tank }: { tank: Tank }) {
  const draft = useDraft<RescaleDraft>(`rescale:${tank.id}`, {
    name: `Change of a part, ${tank.facts.name}`,
    page: `/tanks/${tank.id}/scale`,
  });
  const { line } = useLine();
  const queries = useQueryClient();
  const [beginning, setBeginning] = useState(false);
  const [error, setError] = useState<Error | null>(null);
  const { data: kept } = useQuery({
    queryKey: keys.tank(tank.id, "chain"),
    queryFn: () => CHAIN.read(tank.id),
  });
  const now = draft.value ?? { link: "range", entries: {}, why: "" };
  const { system } = draft;
  const {
    answer: reading,
    current,
    error: unread,
  } = useAsking(
    keys.tank(tank.id, "rescale"),
    { entries: now.entries, system, innage_mm: line.innage_mm },
    (body, signal) =>
      ask(api.POST("/api/tanks/{id}/rescale/", { params: { path: { id: tank.id } }, body, signal })),
  );
  const { system: screen } = useUnits();
  const { value: typed, adopt } = draft;
  // A draft keeps the units that it was typed in until every bare number in it has been given its own.
  useLayoutEffect(() => {
    if (current && reading && typed && system !== screen)
      adopt({ ...typed, entries: withUnits(typed.entries, reading.fields_read) });
  }, [current, reading, typed, system, screen, adopt]);
  const change = (changes: Partial<RescaleDraft>) => {
    setError(null);
    draft.change({ ...now, ...changes });
  };
  if (unread && !reading) return <p className="problem">{wordsOf(unread)}</p>;
  if (!reading || !kept) return <Opening />;
  const form: FormState = {
    entries: now.entries,
    fields: new Map(reading.fields_read.map((field) => [field.path, field])),
    change: (changes) =>
      change({
        entries: Object.fromEntries(
          Object.entries({ ...now.entries, ...changes }).filter(([, text]) => text !== ""),
        ),
      }),
  };
  const link = reading.links.find((one) => one.key === now.link) ?? reading.links[0];
  const found = reading.rescale;
  async function begin() {
    // One press begins one: a second while it is under way does nothing.
    if (beginning) return;
    setBeginning(true);
    try {
      await ask(
        api.POST("/api/tanks/{id}/rescalings/", {
          params: { path: { id: tank.id } },
          body: {
            entries: now.entries,
            system,
            innage_mm: line.innage_mm,
            why: now.why,
            revision: kept?.revision ?? 0,
          },
        }),
      );
      draft.used(now);
      await refresh(queries, keys.tank(tank.id), keys.board);
    } catch (refused) {
      setError(refused as Error);
    } finally {
      setBeginning(false);
    }
  }
  return (
    <>
      <p className="pane-words">What is changed?</p>
      <div className="switch links" role="group" aria-label="What is changed">
        {reading.links.map((one) => (
          <button
            key={one.key}
            type="button"
            aria-pressed={one.key === link?.key}
            onClick={() => change({ link: one.key })}
          >
            {one.label}
          </button>
        ))}
      </div>
      <div className="facts">
        {link?.settings.map((setting) => (
          <SettingField key={setting.path} form={form} setting={setting} />
        ))}
      </div>
      {found && found.changes.length === 0 && (
        <p className="empty">Type the new setting: everything that must follow it is listed here.</p>
      )}
      {found && found.changes.length > 0 && (
        <>
          <Changes found={found} />
          <div className="form-field why-field">
            <label htmlFor="rescale-why">Why, for the record</label>
            <input
              id="rescale-why"
              className="form-control"
              maxLength={300}
              value={now.why}
              placeholder="another sensor, another liquid…"
              onChange={(event) => change({ why: event.target.value })}
            />
          </div>
          <p>
            <Button disabled={beginning} onClick={() => void begin()}>
              Begin this rescaling
            </Button>{" "}
            <Button variant="outline-secondary" onClick={draft.clear}>
              Begin anew
            </Button>
          </p>
        </>
      )}
      {error && (
        <p role="alert" className="problem">
          {wordsOf(error)}
        </p>
      )}
    </>
  );
}

function Changes({ found }: { found: Schema["Rescale"] }) {
  const units = useUnits();
  return (
    <>
      <p className="rescale-says">
        If nothing after it is changed, {units.text("length", found.level_mm)} of liquid shows as{" "}
        <b className="mono">{found.forgotten}</b> instead of <b className="mono">{found.right}</b>
        {found.ratio !== null &&
          Math.abs(found.ratio - 1) > 0.002 &&
          `: ${found.ratio.toFixed(3)} of the truth`}
        .
      </p>
      <Scroll label="What must change">
        <table className="plain-table changes">
          <thead>
            <tr>
              <th>Where</th>
              <th>Setting</th>
              <th>From</th>
              <th>To</th>
              <th>This alone forgotten shows</th>
            </tr>
          </thead>
          <tbody>
            {found.changes.map((one) => (
              <tr key={one.path} aria-current={one.chosen ? "true" : undefined}>
                <td>{one.hop}</td>
                <td>{one.label}</td>
                <td className="mono">{one.old}</td>
                <td className="mono">{one.new}</td>
                <td className="mono">{one.chosen ? "the change itself" : one.forgotten}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Scroll>
      <p className="text-quiet pane-words">
        The places of the scaled number take at most {units.text("length", found.rounding_mm)} off its ends.
      </p>
    </>
  );
}
