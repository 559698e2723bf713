import "../frame/fields.css";
import "./visits.css";

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useId } from "react";
import Button from "react-bootstrap/Button";
import { Link, useNavigate, useSearchParams } from "react-router";

import { api, ask, Refused, wordsOf } from "../api/client";
import { keys, refresh } from "../api/keys";
import { useAsking } from "../frame/asking";
import { useDraft } from "../frame/draft";
import { Opening } from "../frame/Opening";
import { useTitle } from "../frame/title";
import { useUnits } from "../frame/units";
import { useTank } from "../tanks/tank";
import { span } from "./visit";

interface FactProps {
  title: string;
  value: string;
  options: { key: string; label: string }[];
  problem: string | undefined;
  onChange: (key: string) => void;
}

/** One fact: few words as buttons, many in a list. */
export function FactField({ title, value, options, problem, onChange }: FactProps) {
  const id = useId();
  return (
    <div className="form-field">
      <label htmlFor={id}>{title}</label>
      <select
        id={id}
        className="form-select"
        aria-invalid={problem ? true : undefined}
        value={value}
        onChange={(event) => onChange(event.target.value)}
      >
        {options.map((one) => (
          <option key={one.key} value={one.key}>
            {one.label}
          </option>
        ))}
      </select>
      <div className="form-says">{problem && <span className="problem">{problem}</span>}</div>
    </div>
  );
}

/** What a visit is for and what it meets: proposed from what is kept of the tank. */
export function NewVisitPage() {
  const [params] = useSearchParams();
  const tank = Number(params.get("tank"));
  const { data: kept } = useTank(tank);
  const { system } = useUnits();
  const navigate = useNavigate();
  const queries = useQueryClient();
  const draft = useDraft<Record<string, string>>(`new-visit:${tank}`, {
    name: `New visit to ${kept?.facts.name ?? "a tank"}`,
    page: `/visits/new?tank=${tank}`,
  });
  const { planned = "", ...changed } = draft.value ?? {};
  const { data } = useQuery({
    queryKey: keys.tank(tank, "visit"),
    queryFn: () => ask(api.GET("/api/tanks/{id}/visit/", { params: { path: { id: tank } } })),
  });
  useTitle("New visit");
  const facts = { ...data?.proposed, ...changed };
  const open = useMutation({
    mutationFn: () => {
      const planned_at = planned ? new Date(planned).toISOString() : null;
      return ask(api.POST("/api/visits/", { body: { tank, facts, system, planned_at } }));
    },
    onSuccess: async (visit) => {
      draft.clear();
      await refresh(queries, keys.visits);
      await navigate(`/visits/${visit.id}`, { replace: true });
    },
  });
  const { answer } = useAsking(keys.tank(tank, "visit", "preview"), data ? facts : null, (asked, signal) =>
    ask(
      api.POST("/api/tanks/{id}/visit/", { params: { path: { id: tank } }, body: { facts: asked }, signal }),
    ),
  );
  if (!data || !kept) return <Opening className="page" />;
  const refused = open.error instanceof Refused ? open.error : null;
  const against = (key: string) =>
    answer?.against.find((one) => one.where === `facts.${key}`)?.what ?? refused?.at(`facts.${key}`);
  const asked = data.facts.filter((fact) => !answer || answer.matters.includes(fact.key));
  const change = (key: string) => (value: string) => draft.change({ ...draft.value, [key]: value });
  return (
    <main className="page">
      <div className="page-head">
        <h1>Visit to {kept.facts.name}</h1>
        <Link to={`/tanks/${tank}/survey`} className="btn btn-outline-secondary">
          {kept.site_name} / {kept.facts.name}
        </Link>
      </div>
      <p className="pane-words">
        What you come for, and what you will meet. It is proposed from what is kept of the tank; the steps
        follow from it.
      </p>
      <div className="facts">
        <FactField
          title="You come to"
          value={facts["job"] ?? ""}
          options={data.jobs}
          problem={against("job")}
          onChange={change("job")}
        />
        <FactField
          title="Way of measuring"
          value={facts["method"] ?? ""}
          options={data.methods}
          problem={against("method")}
          onChange={change("method")}
        />
        {asked.map((fact) => (
          <FactField
            key={fact.key}
            title={fact.title}
            value={facts[fact.key] ?? ""}
            options={fact.options}
            problem={against(fact.key)}
            onChange={change(fact.key)}
          />
        ))}
      </div>
      <div className="form-field visit-when">
        <label htmlFor="planned">When, if not now</label>
        <input
          id="planned"
          type="datetime-local"
          className="form-control"
          value={planned}
          onChange={(event) => change("planned")(event.target.value)}
        />
      </div>
      {open.isError && (
        <p role="alert" className="problem">
          {refused ? "These facts do not go together: see above." : wordsOf(open.error)}
        </p>
      )}
      {answer?.minutes != null && (
        <p role="status">
          {answer.steps} steps, about <strong>{span(answer.minutes)}</strong>
          {answer.in_a_row !== null &&
            answer.in_a_row - answer.minutes >= 1 &&
            `; ${span(answer.in_a_row)} if waits were not filled`}
          .
        </p>
      )}
      <Button size="lg" disabled={open.isPending} onClick={() => open.mutate()}>
        Open the visit
      </Button>
    </main>
  );
}
