import { useMemo } from "react";
import type uPlot from "uplot";

import { axis, Chart, hue } from "../frame/Chart";
import { places } from "../frame/numbers";
import { useUnits } from "../frame/units";
import { CELLS, type Entries, type Result } from "./proof";

const SHAPES = { pass: "●", fail: "▲", incomplete: "◐" } as const;
const WAYS: Record<string, string> = { up: "rising", down: "falling" };

interface Props {
  result: Result | null;
  entries: Entries;
  signed?: boolean;
}

/** The verdict over all, with the worst error and the hysteresis of each run named, and the errors drawn. */
export function Verdict({ result, entries, signed = false }: Props) {
  const units = useUnits();
  if (!result) return null;
  const withSign = (mm: number) => `${mm > 0 ? "+" : ""}${units.text("length", mm)}`;
  const percent = (value: number) => `${value > 0 ? "+" : ""}${places(value, 2)} % of span`;
  return (
    <div className={`verdict ${result.verdict}`} aria-live="polite">
      <p className="verdict-word">
        <span aria-hidden="true">{SHAPES[result.verdict]}</span> {result.says}
      </p>
      {(["found", "left"] as const).map((name) => {
        const run = result.runs[name];
        if (!run?.worst) return null;
        const { worst, hysteresis, zero_mm, full_mm, rest_mm } = run;
        return (
          <p key={name}>
            <strong>{name === "found" ? "As found" : "As left"}</strong>: {run.says.toLowerCase()}. Worst
            error <b className="mono">{withSign(worst.value_mm)}</b>, {percent(worst.value_pct)}, at point{" "}
            {worst.point} {WAYS[worst.direction]}.{" "}
            {hysteresis
              ? `Hysteresis ${units.text("length", hysteresis.value_mm)}, ${hysteresis.value_pct.toFixed(2)} % of span, at point ${hysteresis.point}.`
              : signed
                ? "Hysteresis was not taken."
                : "Hysteresis needs the falling readings."}{" "}
            {run.verdict === "fail" && zero_mm !== null && full_mm !== null && rest_mm !== null && (
              <>
                The errors lie about {withSign(zero_mm)} at the low end and {withSign(full_mm)} at the high
                end; with both ends set right, {units.text("length", rest_mm)} would be left.
              </>
            )}
          </p>
        );
      })}
      {Object.keys(result.runs).length > 0 && <Errors result={result} entries={entries} />}
    </div>
  );
}

/** The errors over the points, with the tolerance as a band. */
function Errors({ result, entries }: { result: Result; entries: Entries }) {
  const units = useUnits();
  const length = units.unit("length");
  const tolerance = result.tolerance_mm;
  const options = useMemo<Omit<uPlot.Options, "width" | "height">>(
    () => ({
      legend: { show: false },
      cursor: { show: false },
      scales: {
        x: { time: false, range: [0.7, 5.3] },
        y: {
          range: (_u, low, high) => {
            const band = tolerance === null ? 1 : units.toShown("length", tolerance);
            const reach = Math.max(Math.abs(low), Math.abs(high), band) * 1.25;
            return [-reach, reach];
          },
        },
      },
      axes: [
        {
          ...axis("Point", 26),
          values: (_u: uPlot, splits: number[]) => splits.map((v) => (Number.isInteger(v) ? String(v) : "")),
        },
        axis(`Error, ${length.name}`, 60),
      ],
      series: [
        {},
        ...CELLS.map(({ name, way }) => ({
          stroke: () => hue(name.startsWith("found") ? "waiting" : "line"),
          width: name.startsWith("found") ? 1.2 : 2.6,
          dash: way === "falling" ? [4, 4] : [],
          points: { show: true, size: 7 },
          spanGaps: true,
        })),
      ],
      hooks: {
        drawClear: [
          (u) => {
            if (tolerance === null) return;
            const band = units.toShown("length", tolerance);
            const [top, bottom] = [u.valToPos(band, "y", true), u.valToPos(-band, "y", true)];
            u.ctx.save();
            u.ctx.fillStyle = hue("mark");
            u.ctx.strokeStyle = hue("done");
            u.ctx.fillRect(u.bbox.left, top, u.bbox.width, bottom - top);
            u.ctx.strokeRect(u.bbox.left, top, u.bbox.width, bottom - top);
            u.ctx.restore();
          },
        ],
      },
    }),
    [length.name, tolerance, units],
  );
  const data = useMemo<uPlot.AlignedData>(
    () => [
      entries.points.map((_, index) => index + 1),
      ...CELLS.map(({ name }) =>
        result.points.map((point) => {
          const cell = point.cells[name];
          return cell ? units.toShown("length", cell.error_mm) : null;
        }),
      ),
    ],
    [entries.points, result.points, units],
  );
  return (
    <>
      <Chart
        options={options}
        data={data}
        height={150}
        label="Errors over the five points, with the tolerance as a band"
      />
      <p className="text-quiet">Thin: as found. Thick: as left. Dashed: falling. Band: tolerance.</p>
    </>
  );
}
