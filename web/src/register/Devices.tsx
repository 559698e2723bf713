import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useId, useMemo, useState } from "react";
import Button from "react-bootstrap/Button";
import { Link } from "react-router";

import { api, ask, type Schema } from "../api/client";
import { keys, refresh } from "../api/keys";
import { Conflict } from "../frame/Conflict";
import { useTyped } from "../frame/draft";
import { Opening } from "../frame/Opening";
import { More, usePages } from "../frame/pages";
import { day } from "../frame/times";
import { PersonField, problemAt, ProblemLine } from "../people/fields";
import { ScanButton } from "./ScanButton";

type Device = Schema["Device"];
type Noted = Record<"part" | "serial" | "address" | "next_check" | "notes", string>;

const FIELDS = [
  ["part", "Part"],
  ["serial", "Serial"],
  ["address", "Device address"],
  ["next_check", "Next check"],
  ["notes", "Notes"],
] as const;
const STATES: Record<Device["state"], string> = {
  shelf: "○ on the shelf",
  fitted: "● fitted",
  out: "– out of use",
};

/** Every device: what it is, on which tank since when, and where before. */
export function Devices() {
  const [search, setSearch] = useState("");
  const [opened, setOpened] = useState<number | "new" | null>(null);
  const queries = useQueryClient();
  const pages = usePages(keys.registeredFound(search), (page) =>
    ask(api.GET("/api/devices/", { params: { query: { page, ...(search && { search }) } } })),
  );
  const done = async () => {
    setOpened(null);
    await refresh(queries, keys.registered);
  };
  return (
    <section aria-label="Devices">
      <div className="page-head">
        <PersonField label="Find by part, serial or address" value={search} onChange={setSearch} />
        <Button onClick={() => setOpened("new")}>New device</Button>
      </div>
      {opened === "new" && <DeviceForm device={null} onDone={done} />}
      {!pages.all && <Opening />}
      {pages.all?.length === 0 && (
        <p className="empty">
          No device is noted{search && ` with “${search}”`}. Scan the label of the first.
        </p>
      )}
      {pages.all?.map((device) => (
        <article key={device.id} className="registered" aria-label={`${device.part} ${device.serial}`}>
          <h2>
            {device.part} <span className="mono">{device.serial}</span>
          </h2>
          <p>
            {STATES[device.state]}
            {device.tank && (
              <>
                {" on "}
                <Link to={`/tanks/${device.tank}/gauge`}>{device.tank_name}</Link>
              </>
            )}
            {device.heard_at && `, heard ${day(device.heard_at)}`}
            {device.battery && `, battery ${device.battery}`}
            {device.next_check && `, next check ${day(device.next_check)}`}
          </p>
          {device.fittings.length > 0 && (
            <ul className="text-quiet">
              {device.fittings.map((one) => (
                <li key={one.since}>
                  {one.tank_name}, {day(one.since)} to {one.until ? day(one.until) : "now"}
                  {one.why && `, ${one.why}`}
                </li>
              ))}
            </ul>
          )}
          <div className="person-acts">
            <Button size="sm" variant="outline-secondary" onClick={() => setOpened(device.id)}>
              Change
            </Button>
          </div>
          {opened === device.id && (
            <>
              <DeviceForm device={device} onDone={done} />
              <Move device={device} onDone={done} />
            </>
          )}
        </article>
      ))}
      <More pages={pages} what="devices" />
    </section>
  );
}

function keptOf(device: Device | null): { value: Noted; revision: number } {
  const value = {
    part: device?.part ?? "",
    serial: device?.serial ?? "",
    address: device?.address ?? "",
    next_check: device?.next_check ?? "",
    notes: device?.notes ?? "",
  };
  return { value, revision: device?.revision ?? 0 };
}

function DeviceForm({ device, onDone }: { device: Device | null; onDone: () => Promise<void> }) {
  const kept = useMemo(() => keptOf(device), [device]);
  const draft = useTyped(`device:${device?.id ?? 0}`, kept, {
    name: device ? `${device.part} ${device.serial}` : "New device",
    page: "/register?pane=devices",
  });
  const { value: asKept, revision: follows } = draft.kept ?? kept;
  const typed = draft.value ?? asKept;
  const keep = useMutation({
    mutationFn: (sent: Noted) => {
      const revision = draft.entry?.base ?? follows;
      const body = { ...sent, next_check: sent.next_check || null, revision };
      return device
        ? ask(api.PUT("/api/devices/{id}/", { params: { path: { id: device.id } }, body }))
        : ask(api.POST("/api/devices/", { body }));
    },
    onSuccess: async (answer, sent) => {
      if (device) draft.done(sent, keptOf(answer));
      else draft.clear();
      await onDone();
    },
  });
  return (
    <form
      className="person-form"
      onSubmit={(submit) => {
        submit.preventDefault();
        keep.mutate(typed);
      }}
    >
      <ScanButton
        onScanned={(found) =>
          draft.change({
            ...typed,
            part: found.part || typed.part,
            serial: found.serial || typed.serial,
            address: found.address || typed.address,
          })
        }
      />
      {FIELDS.map(([key, label]) => (
        <PersonField
          key={key}
          label={label}
          type={key === "next_check" ? "date" : "text"}
          value={typed[key]}
          problem={problemAt(keep.error, key)}
          onChange={(text) => draft.change({ ...typed, [key]: text })}
        />
      ))}
      {draft.conflict ? (
        <Conflict typed={draft} />
      ) : (
        <ProblemLine error={keep.error} but={FIELDS.map(([key]) => key)} />
      )}
      <div className="person-acts">
        <Button
          type="submit"
          disabled={!typed.part.trim() || !typed.serial.trim() || draft.conflict || keep.isPending}
        >
          Keep
        </Button>
        {draft.value && (
          <Button variant="outline-secondary" onClick={draft.discard}>
            Put away what was typed
          </Button>
        )}
      </div>
    </form>
  );
}

/** Where a device goes: onto a tank, the shelf, or out of use. */
function Move({ device, onDone }: { device: Device; onDone: () => Promise<void> }) {
  const id = useId();
  const [tank, setTank] = useState("");
  const [why, setWhy] = useState("");
  const { data } = useQuery({
    queryKey: keys.tanksFound("for a device"),
    queryFn: () => ask(api.GET("/api/tanks/", { params: { query: { page_size: 200, order: "site" } } })),
  });
  const move = useMutation({
    mutationFn: (state: "shelf" | "fitted" | "out") =>
      ask(
        api.POST("/api/devices/{id}/move/", {
          params: { path: { id: device.id } },
          body: { state, tank: state === "fitted" ? Number(tank) : null, why, revision: device.revision },
        }),
      ),
    onSuccess: onDone,
  });
  return (
    <div className="person-form" role="group" aria-label="Move it">
      <label htmlFor={id}>Onto a tank</label>
      <select id={id} className="form-select" value={tank} onChange={(event) => setTank(event.target.value)}>
        <option value="">choose</option>
        {data?.results.map((one) => (
          <option key={one.id} value={one.id}>
            {one.site_name}: {one.facts.name}
          </option>
        ))}
      </select>
      <PersonField label="Why" value={why} onChange={setWhy} />
      <ProblemLine error={move.error} />
      <div className="person-acts">
        <Button variant="outline-secondary" disabled={!tank} onClick={() => move.mutate("fitted")}>
          Fit it there
        </Button>
        <Button variant="outline-secondary" onClick={() => move.mutate("shelf")}>
          Onto the shelf
        </Button>
        <Button variant="outline-secondary" onClick={() => move.mutate("out")}>
          Out of use
        </Button>
      </div>
    </div>
  );
}
