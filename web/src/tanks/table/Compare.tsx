import { useQuery } from "@tanstack/react-query";
import { useId, useMemo, useState } from "react";
import type uPlot from "uplot";

import { keys } from "../../api/keys";
import { api, ask, type Schema, wordsOf } from "../../api/client";
import { axis, Chart, hue } from "../../frame/Chart";
import { useUnits } from "../../frame/units";
import { useLine } from "../../line/line";

interface Props {
  tank: number;
  /** What may be compared: key and name. */
  sides: [string, string][];
}

/** Two tables side by side: the difference at every level, and where it is worst. */
export function Compare({ tank, sides }: Props) {
  const id = useId();
  const units = useUnits();
  const { move } = useLine();
  const [chosen, choose] = useState<[string | null, string | null]>([null, null]);
  const first = chosen[0] ?? sides[1]?.[0] ?? "current";
  const second = chosen[1] ?? "current";
  const { data, error } = useQuery({
    throwOnError: false,
    queryKey: keys.tank(tank, "compare", first, second),
    queryFn: () =>
      ask(api.GET("/api/tanks/{id}/compare/", { params: { path: { id: tank }, query: { first, second } } })),
  });
  const pick = (index: 0 | 1, label: string, value: string) => (
    <div className="pane-field wide">
      <label htmlFor={`${id}-${index}`}>{label}</label>
      <select
        id={`${id}-${index}`}
        className="form-select"
        value={value}
        onChange={(event) =>
          choose(index === 0 ? [event.target.value, chosen[1]] : [chosen[0], event.target.value])
        }
      >
        {sides.map(([key, name]) => (
          <option key={key} value={key}>
            {name}
          </option>
        ))}
      </select>
    </div>
  );
  return (
    <>
      <div className="pane-fields">
        {pick(0, "From", first)}
        {pick(1, "To", second)}
      </div>
      {error && <p className="problem">{wordsOf(error)}</p>}
      {data && (
        <>
          <p role="status" className="compare-words">
            {Math.abs(data.worst_l) < 0.05 ? (
              "The two agree at every level."
            ) : (
              <>
                Farthest apart at{" "}
                <button type="button" className="btn btn-link p-0" onClick={() => move(data.worst_level_mm)}>
                  {units.tape(data.worst_level_mm)}
                </button>
                : {data.second} holds{" "}
                <b className="mono">
                  {units.text("volume", Math.abs(data.worst_l))} {data.worst_l > 0 ? "more" : "less"}
                </b>{" "}
                than {data.first}, {Math.abs(data.worst_pct).toFixed(2)} % of its capacity; on the mean{" "}
                {units.text("volume", data.mean_l)}.
              </>
            )}
          </p>
          <Difference data={data} />
        </>
      )}
    </>
  );
}

function Difference({ data }: { data: Schema["Comparison"] }) {
  const units = useUnits();
  const [length, volume] = [units.unit("length").name, units.unit("volume").name];
  const series = useMemo<uPlot.AlignedData>(
    () => [
      data.innage_mm.map((mm) => units.toShown("length", mm)),
      data.difference_l.map((litres) => units.toShown("volume", litres)),
      data.innage_mm.map(() => 0),
    ],
    [data, units],
  );
  const options = useMemo<Omit<uPlot.Options, "width" | "height">>(
    () => ({
      legend: { show: false },
      cursor: { show: false },
      scales: { x: { time: false } },
      axes: [axis(`Innage, ${length}`, 28), axis(`Difference, ${volume}`, 76)],
      series: [
        {},
        { stroke: () => hue("line"), width: 2, points: { show: false } },
        { stroke: () => hue("quiet"), width: 1, points: { show: false } },
      ],
    }),
    [length, volume],
  );
  return (
    <Chart
      options={options}
      data={series}
      height={170}
      label={`${data.second} less ${data.first}, over innage`}
    />
  );
}
