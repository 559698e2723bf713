import { useMutation, useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import Button from "react-bootstrap/Button";

import { api, ask, Refused, wordsOf } from "../api/client";
import { keys } from "../api/keys";
import { Dialog } from "../frame/Dialog";
import { useAsking } from "../frame/asking";
import { Conflict } from "../frame/Conflict";
import { useTyped } from "../frame/draft";
import { ChoiceField, type Entries, type FormState, TextField } from "../frame/FormField";
import { rowNumbers, withoutRow } from "../frame/plan";
import type { Source, SourceList } from "./SourcesPage";

const MOST = 64;
/** What a bare number of a new channel is called. */
const FIRST = "value";
const BLANK: Entries = { kind: "modbus", name: "" };

interface Props {
  source: Source | null;
  list: SourceList;
  onHide: () => void;
  onDone: () => Promise<void>;
}

function keptOf(source: Source | null): { value: Entries; revision: number } {
  return { value: source?.entries ?? BLANK, revision: source?.revision ?? 0 };
}

/** One source: how it is reached, and what each of its channels is. */
export function SourceDialog({ source, list, onHide, onDone }: Props) {
  const kept = useMemo(() => keptOf(source), [source]);
  const typed = useTyped<Entries>(`source:${source?.id ?? 0}`, kept, {
    name: source ? `Source ${source.name}` : "New source",
    page: "/sources",
  });
  const { value: asKept, revision: follows } = typed.kept ?? kept;
  const entries = typed.value ?? asKept;
  const { system } = typed;
  const tanks = useAllTanks();
  const { answer } = useAsking(keys.sources, { entries, system }, (body, signal) =>
    ask(api.POST("/api/sources/check/", { body, signal })),
  );
  const fields = useMemo(
    () => new Map((answer?.fields_read ?? []).map((field) => [field.path, field])),
    [answer],
  );
  const form: FormState = {
    entries,
    fields,
    change: (changes) => typed.change({ ...entries, ...changes }),
  };
  const keep = useMutation({
    mutationFn: (sent: Entries) => {
      const body = { entries: sent, system, revision: typed.entry?.base ?? follows };
      return source
        ? ask(api.PUT("/api/sources/{id}/", { params: { path: { id: source.id } }, body }))
        : ask(api.POST("/api/sources/", { body }));
    },
    onSuccess: async (answer, sent) => {
      if (source) typed.done(sent, keptOf(answer));
      else typed.clear();
      await onDone();
    },
  });
  const kind = entries["kind"] || "modbus";
  const rows = rowNumbers(entries, "channels");
  const wrong = (answer?.fields_read ?? []).filter((field) => field.state === "wrong");
  return (
    <Dialog
      title={source ? source.name : "New source"}
      onHide={onHide}
      size="xl"
      scrollable
      footer={
        <>
          {wrong.length > 0 && (
            <span className="save-state waiting">
              {wrong.length === 1 ? "One field waits" : `${wrong.length} fields wait`} to be put right
            </span>
          )}
          {typed.value && (
            <Button variant="outline-secondary" onClick={typed.discard}>
              Start over
            </Button>
          )}
          {typed.undo && (
            <Button variant="outline-secondary" onClick={typed.undo}>
              Undo
            </Button>
          )}
          <Button variant="outline-secondary" onClick={onHide}>
            Leave it
          </Button>
          <Button
            onClick={() => keep.mutate(entries)}
            disabled={keep.isPending || wrong.length > 0 || typed.conflict}
          >
            Keep this source
          </Button>
        </>
      }
    >
      <div className="facts">
        {source === null && (
          <ChoiceField form={form} path="kind" label="It is" options={withoutHand(list.kinds)} />
        )}
        <TextField form={form} path="name" label="Name" />
        {fields.has("host") && <TextField form={form} path="host" label="Address" />}
        {fields.has("port") && <TextField form={form} path="port" label="Port" />}
        {fields.has("unit") && <TextField form={form} path="unit" label="Unit (device) number" />}
        {fields.has("period") && (
          <TextField
            form={form}
            path="period"
            label={kind === "modbus" ? "Asked every, s" : "Sends every, s"}
          />
        )}
        {fields.has("timeout") && <TextField form={form} path="timeout" label="Must answer within, s" />}
      </div>
      <h2>Channels</h2>
      {rows.length === 0 && <p className="empty">No channel yet: add what it sends.</p>}
      {rows.map((row) => (
        <ChannelRow
          key={row}
          form={form}
          row={row}
          list={list}
          tanks={tanks}
          units={answer?.units ?? {}}
          onRemove={() => typed.change(without(entries, row))}
        />
      ))}
      {rows.length < MOST && (
        <Button
          variant="outline-secondary"
          onClick={() =>
            form.change({
              [`channels[${rows.length}].name`]: rows.length ? `${FIRST} ${rows.length + 1}` : FIRST,
            })
          }
        >
          Add a channel
        </Button>
      )}
      {keep.isError && (
        <p role="alert" className="problem">
          {refusal(keep.error)}
        </p>
      )}
      {typed.conflict && <Conflict typed={typed} newer={`revision ${kept.revision} is kept now`} />}
    </Dialog>
  );
}

/** Without a channel; those after it move up. */
function without(entries: Entries, row: number): Entries {
  const changes = withoutRow(entries, "channels", row);
  return Object.fromEntries(
    Object.entries({ ...entries, ...changes }).filter(([key]) => changes[key] !== ""),
  );
}

function withoutHand(kinds: Record<string, string>): Record<string, string> {
  return Object.fromEntries(Object.entries(kinds).filter(([key]) => key !== "hand"));
}

function refusal(error: Error): string {
  return error instanceof Refused ? error.problems.map((one) => one.what).join("\n") : wordsOf(error);
}

/** The tanks that a channel may be of. */
function useAllTanks(): Record<string, string> {
  const { data } = useQuery({
    queryKey: keys.tanksFound("names"),
    queryFn: () => ask(api.GET("/api/tanks/", { params: { query: { page_size: 200 } } })),
    throwOnError: false,
  });
  return Object.fromEntries(
    (data?.results ?? []).map((tank) => [String(tank.id), `${tank.site_name}: ${tank.facts.name}`]),
  );
}

interface RowProps {
  form: FormState;
  row: number;
  list: SourceList;
  tanks: Record<string, string>;
  /** What each channel's value may come in, by the path of its unit. */
  units: Record<string, string[]>;
  onRemove: () => void;
}

function ChannelRow({ form, row, list, tanks, units, onRemove }: RowProps) {
  const path = `channels[${row}]`;
  const at = (name: string) => `${path}.${name}`;
  const has = (name: string) => form.fields.has(at(name));
  const name = form.entries[at("name")] ?? "";
  return (
    <div className="channel-row" role="group" aria-label={`Channel ${name || row + 1}`}>
      <TextField form={form} path={at("name")} label="Channel" />
      <ChoiceField form={form} path={at("tank")} label="Of tank" options={tanks} empty="none" />
      <ChoiceField form={form} path={at("kind")} label="It is" options={list.channel_kinds} empty="choose…" />
      {has("unit") && (
        <ChoiceField
          form={form}
          path={at("unit")}
          label="Unit"
          options={Object.fromEntries(
            (units[at("unit")] ?? []).map((key) => [key, list.units[key] || "plain number"]),
          )}
        />
      )}
      {has("topic") && <TextField form={form} path={at("topic")} label="Topic" />}
      {has("path") && (
        <TextField
          form={form}
          path={at("path")}
          label="Place in its JSON"
          hint="tank.level; empty for a bare number"
        />
      )}
      {has("function") && (
        <ChoiceField form={form} path={at("function")} label="Read by" options={list.functions} />
      )}
      {has("register") && <TextField form={form} path={at("register")} label="Register, from 0" />}
      {has("type") && <ChoiceField form={form} path={at("type")} label="Type" options={list.types} />}
      {has("order") && (form.entries[at("type")] ?? "").endsWith("32") && (
        <ChoiceField form={form} path={at("order")} label="Words" options={list.orders} />
      )}
      {has("bit") && <TextField form={form} path={at("bit")} label="A bit of it only" />}
      <Button variant="outline-secondary" aria-label={`Remove channel ${name || row + 1}`} onClick={onRemove}>
        ×
      </Button>
    </div>
  );
}
