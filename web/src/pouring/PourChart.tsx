import { useMemo } from "react";
import type uPlot from "uplot";

import { axis, Chart, hue } from "../frame/Chart";
import { useUnits } from "../frame/units";
import { offBy, type Run } from "./pour";

/** The curve through what was poured, its ± as a band, and every point; a triangle is one that does not fit. */
export function PourChart({ run, reads }: { run: Run; reads: string }) {
  const units = useUnits();
  const { curve } = run;
  const data = useMemo<uPlot.AlignedData>(() => {
    if (!curve) return [[], [], [], []];
    const x = (value: number) => (reads === "level" ? units.toShown("length", value) : value);
    const y = (value: number) => units.toShown("volume", value);
    return [
      curve.reading.map(x),
      curve.volume_l.map(y),
      curve.volume_l.map((one, at) => y(one + (curve.half_l[at] ?? 0))),
      curve.volume_l.map((one, at) => y(one - (curve.half_l[at] ?? 0))),
    ];
  }, [curve, reads, units]);
  const options = useMemo<Omit<uPlot.Options, "width" | "height">>(
    () => ({
      legend: { show: false },
      cursor: { show: false },
      scales: { x: { time: false } },
      axes: [
        axis(
          reads === "level" ? `Level, ${units.unit("length").name}` : reads === "sent" ? "mA" : "Reading",
          28,
        ),
        axis(`Volume, ${units.unit("volume").name}`, 76),
      ],
      bands: [{ series: [2, 3], fill: () => `${hue("line")}40` }],
      series: [
        {},
        { stroke: () => hue("ink"), width: 2, points: { show: false } },
        { stroke: () => hue("line"), width: 1, points: { show: false } },
        { stroke: () => hue("line"), width: 1, points: { show: false } },
      ],
      hooks: {
        draw: [
          (u) => {
            const { ctx } = u;
            ctx.save();
            for (const one of curve?.at ?? []) {
              const wrong = one.row >= 0 && one.row === run.misfit?.row;
              const x = u.valToPos(
                reads === "level" ? units.toShown("length", one.reading) : one.reading,
                "x",
                true,
              );
              const y = u.valToPos(units.toShown("volume", one.volume_l), "y", true);
              const r = (wrong ? 7 : 4) * devicePixelRatio;
              ctx.fillStyle = hue(wrong ? "limit" : "ink");
              ctx.beginPath();
              if (wrong) {
                ctx.moveTo(x, y - r);
                ctx.lineTo(x + r, y + r);
                ctx.lineTo(x - r, y + r);
              } else ctx.arc(x, y, r, 0, 2 * Math.PI);
              ctx.fill();
            }
            ctx.restore();
          },
        ],
      },
    }),
    [curve, reads, run.misfit, units],
  );
  if (!curve) return null;
  return (
    <figure className="pour-chart">
      <Chart
        options={options}
        data={data}
        height={230}
        label={`Volume over reading, ${curve.at.length} points, off by at most ${offBy(units, curve.worst_l)}`}
      />
      <figcaption className="text-quiet">
        Off by at most {offBy(units, curve.worst_l)} (k = 2); the band is what it may be off by.
      </figcaption>
    </figure>
  );
}
