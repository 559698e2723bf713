import "../frame/fields.css";
import "./register.css";

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useId, useMemo, useState } from "react";
import Button from "react-bootstrap/Button";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";

import { api, ask, type Schema } from "../api/client";
import { keys, refresh } from "../api/keys";
import { Conflict } from "../frame/Conflict";
import { useTyped } from "../frame/draft";
import { Opening } from "../frame/Opening";
import { useTitle } from "../frame/title";
import { PersonField, problemAt, ProblemLine } from "../people/fields";
import { useTank } from "../tanks/tank";

type Noted = Record<
  "owner" | "customer" | "painted" | "latitude" | "longitude" | "contact" | "telephone",
  string
>;

const OWNERS = [
  ["own", "Own stock"],
  ["customer", "Customer's tank"],
] as const;

function notedOf(data: Schema["RegisterOfTank"]): Noted {
  const text = (value: number | null) => (value === null ? "" : String(value));
  return {
    owner: data.owner,
    customer: text(data.customer),
    painted: data.painted,
    latitude: text(data.latitude),
    longitude: text(data.longitude),
    contact: data.contact,
    telephone: data.telephone,
  };
}

function keptOf(data: Schema["RegisterOfTank"]) {
  return { value: notedOf(data), revision: data.revision };
}

/** Whose a tank is, what is painted on it, and where its site is. */
export function TankRegisterPage() {
  const id = Number(useParams()["id"]);
  const [params] = useSearchParams();
  const field = useId();
  const queries = useQueryClient();
  const navigate = useNavigate();
  const { data: tank } = useTank(id);
  const { data } = useQuery({
    queryKey: keys.tank(id, "register"),
    queryFn: () => ask(api.GET("/api/tanks/{id}/register/", { params: { path: { id } } })),
  });
  const { data: customers } = useQuery({
    queryKey: [...keys.customers, "all"],
    queryFn: () => ask(api.GET("/api/customers/", { params: { query: { page_size: 200 } } })),
  });
  const [problem, setProblem] = useState("");
  const kept = useMemo(() => data && keptOf(data), [data]);
  const draft = useTyped(`register:${id}`, kept, {
    name: `Register of ${tank?.facts.name ?? "a tank"}`,
    page: `/tanks/${id}/register`,
  });
  useTitle(tank && `${tank.facts.name}: register`);
  const keep = useMutation({
    mutationFn: (typed: Noted) => {
      return ask(
        api.PUT("/api/tanks/{id}/register/", {
          params: { path: { id } },
          body: {
            owner: typed.owner as "" | "own" | "customer",
            customer: typed.customer ? Number(typed.customer) : null,
            painted: typed.painted,
            latitude: typed.latitude,
            longitude: typed.longitude,
            contact: typed.contact,
            telephone: typed.telephone,
            revision: draft.entry?.base ?? kept?.revision ?? 0,
          },
        }),
      );
    },
    onSuccess: async (answer, sent) => {
      draft.done(sent, keptOf(answer));
      await refresh(queries, keys.tank(id, "register"), keys.visits);
      const back = params.get("back");
      await navigate(back ? `/visits/${back}?step=asset` : `/tanks/${id}/survey`);
    },
  });
  if (!data || !tank) return <Opening className="page" />;
  const typed = draft.value ?? draft.kept?.value ?? notedOf(data);
  const change = (changes: Partial<Noted>) => draft.change({ ...typed, ...changes });
  const say = (place: string, value: unknown) => {
    if (place === "owner") return OWNERS.find(([key]) => key === value)?.[1] ?? null;
    return place === "customer"
      ? (customers?.results.find((one) => String(one.id) === value)?.name ?? null)
      : null;
  };
  const here = () => {
    setProblem("");
    navigator.geolocation.getCurrentPosition(
      ({ coords }) =>
        change({ latitude: coords.latitude.toFixed(6), longitude: coords.longitude.toFixed(6) }),
      () => setProblem("This device does not tell where it is: allow it, or type the place."),
      { enableHighAccuracy: true, timeout: 20_000 },
    );
  };
  return (
    <main className="page">
      <div className="page-head">
        <h1>
          {tank.site_name} / {tank.facts.name}
        </h1>
        <Link to={`/tanks/${id}/survey`} className="btn btn-outline-secondary">
          The tank
        </Link>
      </div>
      {data.missing.length > 0 && (
        <p className="save-state waiting">Still to note: {data.missing.join(", ")}.</p>
      )}
      <div className="person-form">
        <div className="switch" role="group" aria-label="Whose it is">
          {OWNERS.map(([key, label]) => (
            <button
              key={key}
              type="button"
              aria-pressed={typed.owner === key}
              onClick={() => change({ owner: key })}
            >
              {label}
            </button>
          ))}
        </div>
        {typed.owner === "customer" && (
          <div className="form-field">
            <label htmlFor={field}>Customer</label>
            <select
              id={field}
              className="form-select"
              value={typed.customer}
              onChange={(event) => change({ customer: event.target.value })}
            >
              <option value="">choose</option>
              {customers?.results.map((one) => (
                <option key={one.id} value={one.id}>
                  {one.name}
                  {one.branch && `, ${one.branch}`}
                </option>
              ))}
            </select>
            <div className="form-says">
              <span className="problem">{problemAt(keep.error, "customer")}</span>{" "}
              <Link to="/register">New customer</Link>
            </div>
          </div>
        )}
        <PersonField
          label="Painted on it"
          value={typed.painted}
          problem={problemAt(keep.error, "painted")}
          hint="What tells it from the others of this site"
          onChange={(painted) => change({ painted })}
        />
        <h2>The site</h2>
        <PersonField
          label="Latitude"
          value={typed.latitude}
          problem={problemAt(keep.error, "latitude")}
          onChange={(latitude) => change({ latitude })}
        />
        <PersonField
          label="Longitude"
          value={typed.longitude}
          problem={problemAt(keep.error, "longitude")}
          onChange={(longitude) => change({ longitude })}
        />
        <Button variant="outline-secondary" onClick={here}>
          I am standing there
        </Button>
        {problem && (
          <p role="alert" className="problem">
            {problem}
          </p>
        )}
        <PersonField
          label="Contact there"
          value={typed.contact}
          onChange={(contact) => change({ contact })}
        />
        <PersonField
          label="Telephone"
          value={typed.telephone}
          onChange={(telephone) => change({ telephone })}
        />
        {draft.conflict ? (
          <Conflict typed={draft} say={say} />
        ) : (
          <ProblemLine error={keep.error} but={["customer", "painted", "latitude", "longitude"]} />
        )}
        <div className="person-acts">
          <Button
            disabled={!draft.value || draft.conflict || keep.isPending}
            onClick={() => keep.mutate(typed)}
          >
            Keep
          </Button>
          {draft.value && (
            <Button variant="outline-secondary" onClick={draft.discard}>
              Put away what was typed
            </Button>
          )}
        </div>
      </div>
    </main>
  );
}
