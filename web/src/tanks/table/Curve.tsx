import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import type uPlot from "uplot";

import { axis, Chart, hue } from "../../frame/Chart";
import { type Unit, useUnits } from "../../frame/units";
import { useLine } from "../../line/line";

/** The volume over the level, with the line as its cursor; dashed, what a linear float gauge assumes. */
export function Curve({ volume }: { volume: Unit }) {
  const { curve, line, move } = useLine();
  const units = useUnits();
  const length = units.unit("length");
  const [chart, setChart] = useState<uPlot | null>(null);
  const level = useRef(line);
  const data = useMemo<uPlot.AlignedData>(() => {
    const levels = curve.innage_mm.map((mm) => units.toShown("length", mm));
    const volumes = curve.volume_l.map((litres) => units.convert("volume", litres, volume));
    const top = volumes.at(-1) ?? 0;
    const linear = curve.innage_mm.map((mm) => (mm / curve.inside_height_mm) * top);
    return [levels, volumes, linear];
  }, [curve, units, volume]);
  const options = useMemo<Omit<uPlot.Options, "width" | "height">>(
    () => ({
      legend: { show: false },
      cursor: { show: false },
      scales: { x: { time: false, range: [0, units.toShown("length", curve.inside_height_mm)] } },
      axes: [axis(`Innage, ${length.name}`, 28), axis(`Volume, ${volume.name}`, 76)],
      series: [
        {},
        { stroke: () => hue("ink"), width: 2, points: { show: false } },
        { stroke: () => hue("quiet"), width: 1, dash: [5, 5], points: { show: false } },
      ],
      hooks: {
        draw: [
          (u) => {
            const { innage_mm, volume_l } = level.current;
            const x = u.valToPos(units.toShown("length", innage_mm), "x", true);
            const y = u.valToPos(units.convert("volume", volume_l, volume), "y", true);
            const { ctx, bbox } = u;
            ctx.save();
            ctx.strokeStyle = hue("line");
            ctx.fillStyle = hue("line");
            ctx.setLineDash([]);
            ctx.lineWidth = 2 * devicePixelRatio;
            ctx.beginPath();
            ctx.moveTo(x, bbox.top);
            ctx.lineTo(x, bbox.top + bbox.height);
            ctx.moveTo(bbox.left, y);
            ctx.lineTo(x, y);
            ctx.stroke();
            ctx.beginPath();
            ctx.arc(x, y, 5 * devicePixelRatio, 0, 2 * Math.PI);
            ctx.fill();
            ctx.restore();
          },
        ],
      },
    }),
    [curve.inside_height_mm, length.name, units, volume],
  );
  useEffect(() => {
    level.current = line;
    chart?.redraw(false, false);
  }, [chart, line]);
  const ready = useCallback((made: uPlot | null) => setChart(made), []);
  return (
    <div
      className="curve"
      onClick={(event) => {
        if (!chart) return;
        const over = chart.over.getBoundingClientRect();
        const value = chart.posToVal(event.clientX - over.left, "x");
        const mm = units.fromShown("length", value);
        if (mm >= 0 && mm <= curve.inside_height_mm) move(Math.round(mm * 10) / 10);
      }}
    >
      <Chart
        options={options}
        data={data}
        height={190}
        label="Volume over innage, with the line; dashed, what a linear float gauge assumes"
        onReady={ready}
      />
    </div>
  );
}
