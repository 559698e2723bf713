import "../drawing/drawing.css";
import "../frame/lists.css";
import "./survey/survey.css";
import "./table/table.css";

import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import Button from "react-bootstrap/Button";
import { Link, useSearchParams } from "react-router";

import { keys } from "../api/keys";
import { api, ask, wordsOf } from "../api/client";
import { extent } from "../drawing/geometry";
import { SmallSection } from "../drawing/SmallSection";
import { day } from "../frame/times";
import { Pager } from "../frame/pages";
import { useUnits } from "../frame/units";
import { ImportChart } from "./chart/ImportChart";
import { ImportTank } from "./ImportTank";

const PAGE = 50;
const COLUMNS = [
  ["name", "Tank"],
  ["site", "Site"],
  ["changed", "Changed"],
  ["product", "Product"],
] as const;
type Order = (typeof COLUMNS)[number][0];
type Sorting = Order | `-${Order}`;

/** All tanks: find, sort, make and import. */
export function TanksPage() {
  const units = useUnits();
  const [params, setParams] = useSearchParams();
  const [importing, setImporting] = useState(false);
  const [charting, setCharting] = useState(false);
  const search = params.get("search") ?? "";
  const order = (params.get("order") ?? "site") as Sorting;
  const page = Math.max(Number(params.get("page")) || 1, 1);
  const { data, error } = useQuery({
    queryKey: keys.tanksFound(search, order, page),
    queryFn: () =>
      ask(api.GET("/api/tanks/", { params: { query: { search, order, page, page_size: PAGE } } })),
    placeholderData: (old) => old,
    throwOnError: false,
  });
  useEffect(() => {
    document.title = "Tanks · Rasante";
  }, []);
  function set(changes: Record<string, string>) {
    const next = new URLSearchParams(params);
    for (const [key, value] of Object.entries(changes)) {
      if (value) next.set(key, value);
      else next.delete(key);
    }
    setParams(next, { replace: true });
  }
  // One scale for the whole list: the longest fits the width, the tallest the height.
  const scaleMm = Math.max(
    ...(data?.results ?? []).map(({ facts }) => {
      const reach = extent(facts.drawing.along_mm);
      return Math.max(reach.right - reach.left, (reach.top - reach.bottom) * 2.3);
    }),
  );
  const pages = Math.ceil((data?.count ?? 0) / PAGE);
  return (
    <main className="page">
      <div className="page-head">
        <h1>Tanks</h1>
        <input
          className="form-control"
          type="search"
          aria-label="Search tanks, products and sites"
          placeholder="Tank, product or site"
          value={search}
          onChange={(event) => set({ search: event.target.value, page: "" })}
        />
        <Link to="/tanks/new" className="btn btn-primary">
          New tank
        </Link>
        <Button variant="outline-secondary" onClick={() => setImporting(true)}>
          Import a tank file
        </Button>
        <Button variant="outline-secondary" onClick={() => setCharting(true)}>
          From a chart
        </Button>
        <Link to="/profiles" className="btn btn-outline-secondary">
          Profiles
        </Link>
        <Link to="/sources" className="btn btn-outline-secondary">
          Sources
        </Link>
      </div>
      {error && <p className="problem">{wordsOf(error)}</p>}
      {data?.count === 0 && (
        <p>
          {search
            ? "No tank goes by these letters: try fewer of them."
            : "There is no tank yet: survey a new one, or import a tank file."}
        </p>
      )}
      {data && data.count > 0 && (
        <table className="tank-list">
          <thead>
            <tr>
              {COLUMNS.map(([key, label]) => (
                <th
                  key={key}
                  scope="col"
                  aria-sort={order === key ? "ascending" : order === `-${key}` ? "descending" : "none"}
                  className={`column-${key}`}
                >
                  <button
                    type="button"
                    onClick={() => set({ order: order === key ? `-${key}` : key, page: "" })}
                  >
                    {label}{" "}
                    <span aria-hidden="true">{order === key ? "↑" : order === `-${key}` ? "↓" : ""}</span>
                  </button>
                </th>
              ))}
              <th scope="col" className="number">
                Holds, {units.unit("volume").name}
              </th>
            </tr>
          </thead>
          <tbody>
            {data.results.map((tank) => (
              <tr key={tank.id}>
                <td>
                  <Link to={`/tanks/${tank.id}/survey`} className="tank-link">
                    <SmallSection
                      drawing={tank.facts.drawing}
                      pattern={tank.facts.pattern}
                      levelMm={null}
                      scaleMm={scaleMm}
                      width={96}
                      height={48}
                    />
                    <span>{tank.facts.name}</span>
                  </Link>
                </td>
                <td className="column-site">{tank.site_name}</td>
                <td className="column-changed">{day(tank.changed_at)}</td>
                <td>{tank.facts.product || <span className="text-quiet">not stated</span>}</td>
                <td className="number mono">{units.number("volume", tank.facts.capacity_l)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <Pager page={page} pages={pages} label="Pages" onPage={(to) => set({ page: String(to) })} />
      <ImportChart show={charting} onHide={() => setCharting(false)} />
      <ImportTank show={importing} onHide={() => setImporting(false)} />
    </main>
  );
}
