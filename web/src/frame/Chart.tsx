import "uplot/dist/uPlot.min.css";

import { useEffect, useRef } from "react";
import uPlot from "uplot";

import { useTheme } from "./theme";
import { useWidth } from "./useSize";
import { places } from "./numbers";

interface Props {
  /** Options without size; a new object makes a new chart. */
  options: Omit<uPlot.Options, "width" | "height">;
  data: uPlot.AlignedData;
  height: number;
  label: string;
  onReady?: (chart: uPlot | null) => void;
}

/** A chart that follows the width of its place. */
export function Chart({ options, data, height, label, onReady }: Props) {
  const [box, width] = useWidth<HTMLDivElement>();
  const chart = useRef<uPlot | null>(null);
  const drawn = width > 0;
  const look = useTheme();
  useEffect(() => {
    if (!drawn || !box.current) return;
    const made = new uPlot({ ...options, width: box.current.clientWidth, height }, data, box.current);
    chart.current = made;
    onReady?.(made);
    return () => {
      onReady?.(null);
      made.destroy();
      chart.current = null;
    };
    // Another theme draws it anew, in its own colours.
  }, [drawn, options, data, height, box, onReady, look]);
  useEffect(() => {
    if (width > 0) chart.current?.setSize({ width, height });
  }, [width, height]);
  return <div ref={box} className="chart" role="img" aria-label={label} />;
}

/** A colour of the theme, for the chart's canvas. */
export function hue(name: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(`--${name}`).trim();
}

/** The look all axes share. */
export function axis(label: string, size = 62): uPlot.Axis {
  return {
    label,
    size,
    labelSize: 20,
    labelGap: 0,
    font: '13px "Atkinson Hyperlegible Mono"',
    labelFont: '13px "Atkinson Hyperlegible Next"',
    stroke: () => hue("ink"),
    values: (_u, splits) => splits.map((v) => places(v, v % 1 ? 1 : 0)),
    grid: { stroke: () => hue("rule"), width: 1 },
    ticks: { stroke: () => hue("rule"), width: 1 },
  };
}
