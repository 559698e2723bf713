import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link, useNavigate } from "react-router";

import { keys, refresh } from "../api/keys";
import { api, ask, Refused, wordsOf } from "../api/client";
import { SitePicker, useSites } from "../tanks/SitePicker";
import type { BareState } from "./bareLine";

/** What the line becomes: a tank of its own, or a finding on one that is known. */
export function BecomesPane({ state }: { state: BareState }) {
  const [what, setWhat] = useState<"" | "tank" | "finding">("");
  if (!state.typed) return null;
  return (
    <div className="line-becomes">
      <h2>Keep it</h2>
      <p className="text-quiet">On this device until it is cleared. For good:</p>
      <div className="line-buttons">
        <Button
          variant="outline-secondary"
          aria-expanded={what === "tank"}
          onClick={() => setWhat(what === "tank" ? "" : "tank")}
        >
          As a tank
        </Button>
        <Button
          variant="outline-secondary"
          aria-expanded={what === "finding"}
          onClick={() => setWhat(what === "finding" ? "" : "finding")}
        >
          As a finding on a tank
        </Button>
      </div>
      {what === "tank" && <AsTank state={state} />}
      {what === "finding" && <AsFinding state={state} />}
    </div>
  );
}

function Problem({ error }: { error: Error | null }) {
  if (!error) return null;
  const lines = error instanceof Refused ? error.problems.map((one) => one.what) : [wordsOf(error)];
  return (
    <div role="alert" className="problem">
      {lines.map((line) => (
        <p key={line}>{line}</p>
      ))}
    </div>
  );
}

function AsTank({ state }: { state: BareState }) {
  const sites = useSites();
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [site, setSite] = useState<number | null>(null);
  const [name, setName] = useState("");
  const chosen = site ?? sites?.[0]?.id ?? null;
  const make = useMutation({
    mutationFn: () =>
      ask(
        api.POST("/api/line/tank/", {
          body: { entries: state.form.entries, system: state.system, name: name.trim(), site: chosen ?? 0 },
        }),
      ),
    onSuccess: async (tank) => {
      await refresh(queries, keys.tanks, keys.board);
      state.clear();
      await navigate(`/tanks/${tank.id}/scale`);
    },
  });
  return (
    <div className="line-become">
      <p className="text-quiet">
        A plain upright of the height and diameter above, with the chain that is typed.
      </p>
      <SitePicker value={chosen} onChange={setSite} />
      <div className="choice-field">
        <label htmlFor="line-name">Name of the tank</label>
        <input
          id="line-name"
          className="form-control"
          maxLength={120}
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
      </div>
      <Problem error={make.error} />
      <Button disabled={chosen === null || make.isPending} onClick={() => make.mutate()}>
        Make the tank
      </Button>
    </div>
  );
}

function AsFinding({ state }: { state: BareState }) {
  const queries = useQueryClient();
  const [tank, setTank] = useState<number | null>(null);
  const [search, setSearch] = useState("");
  const { data } = useQuery({
    queryKey: keys.tanksFound("line", search),
    queryFn: () => ask(api.GET("/api/tanks/", { params: { query: { search, page_size: 20 } } })),
  });
  const chosen = tank ?? data?.results[0]?.id ?? null;
  const keep = useMutation({
    mutationFn: () =>
      ask(
        api.POST("/api/line/finding/", {
          body: { entries: state.form.entries, system: state.system, tank: chosen ?? 0 },
        }),
      ),
    onSuccess: () => refresh(queries, keys.tank(chosen ?? 0)),
  });
  return (
    <div className="line-become">
      <p className="text-quiet">
        The values that are typed go to the tank's readings, as a row of their own.
      </p>
      <div className="choice-field">
        <label htmlFor="line-search">Find the tank</label>
        <input
          id="line-search"
          className="form-control"
          value={search}
          onChange={(event) => {
            setTank(null);
            setSearch(event.target.value);
          }}
        />
      </div>
      <div className="choice-field">
        <label htmlFor="line-tank">Tank</label>
        <select
          id="line-tank"
          className="form-select"
          value={chosen ?? ""}
          onChange={(event) => setTank(Number(event.target.value))}
        >
          {data?.results.map((one) => (
            <option key={one.id} value={one.id}>
              {one.facts.name}, {one.site_name}
            </option>
          ))}
        </select>
      </div>
      <Problem error={keep.error} />
      {keep.isSuccess && (
        <p role="status">
          Kept with its readings. <Link to={`/tanks/${chosen}/trouble?pane=parting`}>Where it parts</Link>
        </p>
      )}
      <Button disabled={chosen === null || keep.isPending} onClick={() => keep.mutate()}>
        Keep it there
      </Button>
    </div>
  );
}
