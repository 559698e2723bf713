import { useQuery } from "@tanstack/react-query";
import { useDeferredValue, useId } from "react";

import { keys } from "../../api/keys";
import { api, ask, Refused, wordsOf } from "../../api/client";
import { useKept } from "../../frame/kept";
import { places } from "../../frame/numbers";
import { useUnits } from "../../frame/units";

const WAYS = [
  ["even", "Evenly spaced"],
  ["on_curve", "Best points on the curve"],
  ["free", "Best points, volumes free"],
] as const;

interface Asked {
  count: string;
  level: string;
  volume: string;
  fixed: boolean;
  way: (typeof WAYS)[number][0];
}

/** The table cut down to the few points that a device takes: three ways, and the worst error of each. */
export function DevicePoints({ tank }: { tank: number }) {
  const units = useUnits();
  const id = useId();
  const us = units.system === "us";
  const [typed, setTyped] = useKept<Asked>(`rasante:points:${tank}:${units.system}`, {
    count: "20",
    level: us ? "1/16 in" : "1 mm",
    volume: us ? "1 US gal" : "1 L",
    fixed: true,
    way: "on_curve",
  });
  const { fixed, way } = typed;
  const asked = useDeferredValue(typed);
  const query = {
    count: Number(asked.count) || 0,
    level_resolution: asked.level,
    volume_resolution: asked.volume,
    fixed_ends: fixed,
    system: units.system,
  };
  const { data, error, isFetching } = useQuery({
    queryKey: keys.tank(tank, "points", query),
    queryFn: () => ask(api.GET("/api/tanks/{id}/points/", { params: { path: { id: tank }, query } })),
    placeholderData: (old) => old,
    throwOnError: false,
    retry: false,
  });
  const address = (ending: string) =>
    `/api/tanks/${tank}/points.${ending}/?${new URLSearchParams({
      ...Object.fromEntries(Object.entries(query).map(([key, value]) => [key, String(value)])),
      which: way,
    })}`;
  const problem = error instanceof Refused ? error.problems[0]?.what : error ? wordsOf(error) : "";
  const points = data?.[way];
  return (
    <div className="pane">
      <div className="pane-fields">
        <div className="pane-field narrow">
          <label htmlFor={`${id}-n`}>Points, 2–128</label>
          <input
            id={`${id}-n`}
            className="form-control mono"
            inputMode="numeric"
            value={typed.count}
            onChange={(event) => setTyped({ ...typed, count: event.target.value })}
          />
        </div>
        <div className="pane-field">
          <label htmlFor={`${id}-l`}>Levels in steps of</label>
          <input
            id={`${id}-l`}
            className="form-control mono"
            value={typed.level}
            onChange={(event) => setTyped({ ...typed, level: event.target.value })}
          />
        </div>
        <div className="pane-field">
          <label htmlFor={`${id}-v`}>Volumes in steps of</label>
          <input
            id={`${id}-v`}
            className="form-control mono"
            value={typed.volume}
            onChange={(event) => setTyped({ ...typed, volume: event.target.value })}
          />
        </div>
        <label className="tick">
          <input
            type="checkbox"
            checked={fixed}
            onChange={(event) => setTyped({ ...typed, fixed: event.target.checked })}
          />{" "}
          Ends exact
        </label>
        {isFetching && <progress aria-label="Choosing the points" />}
      </div>
      {problem && (
        <p role="alert" className="problem">
          {problem}
        </p>
      )}
      {data && !error && (
        <>
          <div className="wide-table">
            <table>
              <thead>
                <tr>
                  <th scope="col">Chosen</th>
                  <th scope="col" className="number">
                    Points
                  </th>
                  <th scope="col" className="number">
                    Worst error
                  </th>
                  <th scope="col" className="number">
                    of capacity
                  </th>
                  <th scope="col" className="number">
                    at innage
                  </th>
                </tr>
              </thead>
              <tbody>
                {WAYS.map(([key, name]) => (
                  <tr key={key}>
                    <th scope="row">
                      <label className="tick">
                        <input
                          type="radio"
                          name={`${id}-way`}
                          checked={way === key}
                          onChange={() => setTyped({ ...typed, way: key })}
                        />{" "}
                        {name}
                      </label>
                    </th>
                    <td className="number mono">{data[key].level_mm.length}</td>
                    <td className="number mono">{units.text("volume", data[key].error_l)}</td>
                    <td className="number mono">{data[key].error_pct.toFixed(3)} %</td>
                    <td className="number mono">{units.tape(data[key].error_at_mm)}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
          <p>
            <a className="btn btn-outline-secondary" href={address("csv")} download>
              Points, CSV
            </a>{" "}
            <a className="btn btn-outline-secondary" href={address("json")} download>
              Points, JSON
            </a>
          </p>
          <div className="chosen-points" aria-label="The points chosen" tabIndex={0} role="group">
            <div>
              {points?.level_mm.map((mm, index) => (
                <div key={mm}>
                  {units.number("length", mm)} →{" "}
                  {places(units.toShown("volume", points.volume_l[index] ?? 0), 1)}
                </div>
              ))}
            </div>
          </div>
          <p className="text-quiet">
            {units.unit("length").name} → {units.unit("volume").name}; the device joins them by straight
            lines.
          </p>
        </>
      )}
    </div>
  );
}
