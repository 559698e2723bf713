import { type RefObject, useCallback, useEffect, useMemo, useRef } from "react";
import type uPlot from "uplot";

import type { Schema } from "../api/client";
import { axis, Chart, hue } from "../frame/Chart";
import { useNarrow } from "../frame/useSize";
import { useUnits } from "../frame/units";
import { useLine } from "../line/line";
import type { Tank } from "../tanks/tank";

type Watch = Schema["Watch"];
type Series = Schema["Series"];

/** What is shown: so many seconds, up to a moment; up to now where it has none. */
export interface Span {
  key: string;
  length: number;
  end: number | null;
}

const DAY = 86_400;
export const SPANS = [
  { key: "hour", label: "Hour", length: 3600 },
  { key: "day", label: "Day", length: DAY },
  { key: "week", label: "Week", length: 7 * DAY },
  { key: "month", label: "Month", length: 31 * DAY },
  { key: "year", label: "Year", length: 366 * DAY },
] as const;
const SHORTEST = 300;
/** Fewer readings than these are drawn as points. */
const FEW = 60;
const LONGEST = 3 * 366 * DAY;

export function spanOf(key: (typeof SPANS)[number]["key"]): Span {
  const found = SPANS.find((one) => one.key === key) ?? SPANS[2];
  return { key, length: found.length, end: null };
}

interface Props {
  watch: Watch;
  tank: Tank;
  shows: "volume" | "level";
  span: Span;
  onSpan: (span: Span) => void;
}

/** Contents over time: the leading gauge with the least and most of each point, others and dips over it, and marks. */
export function WatchChart({ watch, tank, shows, span, onSpan }: Props) {
  const units = useUnits();
  const narrow = useNarrow();
  const { move } = useLine();
  const chart = useRef<uPlot | null>(null);
  const quantity = shows === "volume" ? "volume" : "length";
  const unit = units.unit(quantity);
  const levels = useMemo(() => watch.series.filter((one) => one.volume_l.length > 0), [watch]);
  const data = useMemo(
    () => columns(levels, watch, shows, (value) => units.toShown(quantity, value)),
    [levels, watch, shows, units, quantity],
  );
  const end = span.end ?? Date.parse(watch.end) / 1000;
  const options = useMemo<Omit<uPlot.Options, "width" | "height">>(() => {
    const lead = levels[0];
    const lines: uPlot.Series[] = [
      {},
      { stroke: () => hue("rule"), width: 1, points: { show: false } },
      { stroke: () => hue("rule"), width: 1, points: { show: false } },
      // Few readings are drawn each by itself: a line of one is none.
      {
        stroke: () => hue("ink"),
        width: lead && byHand(lead) ? 1 : 2,
        points: { show: (lead?.at.length ?? 0) < FEW, size: 8 },
        spanGaps: false,
      },
      ...levels
        .slice(1)
        .map((one): uPlot.Series =>
          byHand(one)
            ? { stroke: () => hue("limit"), width: 0, points: { show: true, size: 9, width: 2 } }
            : { stroke: () => hue("quiet"), width: 1, dash: [5, 4], points: { show: false } },
        ),
      { stroke: () => hue("waiting"), width: 1, dash: [2, 4], points: { show: false }, spanGaps: true },
    ];
    return {
      legend: { show: false },
      cursor: { drag: { x: false, y: false }, points: { show: false } },
      scales: {
        x: { time: true, range: [end - span.length, end] },
        y: { range: (_u, low, high) => room(low, high) },
      },
      axes: [
        { ...axis("", 34), values: (_u, splits) => timeLabels(splits), space: narrow ? 74 : 86 },
        axis(`${shows === "volume" ? "Volume" : "Level"}, ${unit.name}`, narrow ? 62 : 78),
      ],
      series: lines,
      bands: lead ? [{ series: [2, 1], fill: () => `${hue("line")}33` }] : [],
      hooks: { drawClear: [(u) => drawBehind(u, watch, shows, (value) => units.toShown(quantity, value))] },
    };
  }, [levels, end, span.length, shows, unit.name, narrow, watch, units, quantity]);
  const ready = useCallback((made: uPlot | null) => {
    chart.current = made;
  }, []);
  const box = usePanAndZoom(chart, span, end, onSpan, (value) => {
    if (shows === "level") move(Math.max(units.fromShown("length", value), 0));
  });
  const lead = levels[0];
  return (
    <div ref={box} className="watch-chart">
      <Chart
        options={options}
        data={data}
        height={narrow ? 230 : 270}
        label={`${shows === "volume" ? "Volume" : "Level"} of ${tank.facts.name} over time`}
        onReady={ready}
      />
      <p className="watch-key">
        {lead && <span className="key-lead">{lead.channel.source}</span>}
        {levels.slice(1).map((one) => (
          <span key={one.channel.id} className={byHand(one) ? "key-dip" : "key-other"}>
            {byHand(one) ? one.channel.label : `${one.channel.source}, ${one.channel.label.toLowerCase()}`}
          </span>
        ))}
        {watch.as_now && <span className="key-anew">as it would be read now</span>}
        <span className="text-quiet">drag to go back, wheel or two fingers for more or less</span>
      </p>
    </div>
  );
}

/** Times along the axis, in the words of the place: the hour, and the day where it changes; days over longer spans. */
function timeLabels(splits: number[]): string[] {
  const step = (splits[1] ?? 0) - (splits[0] ?? 0);
  let shown = "";
  return splits.map((at) => {
    const date = new Date(at * 1000);
    const day = date.toLocaleDateString(undefined, {
      day: "numeric",
      month: "short",
      ...(step > 40 * DAY && { year: "2-digit" }),
    });
    if (step >= DAY) return day;
    const time = date.toLocaleTimeString(undefined, { hour: "2-digit", minute: "2-digit", hourCycle: "h23" });
    const label = day === shown ? time : `${time}\n${day}`;
    shown = day;
    return label;
  });
}

function byHand(one: Series): boolean {
  return one.channel.source_kind === "hand";
}

function room(low: number, high: number): [number, number] {
  const least = Math.max((high - low) * 0.06, Math.abs(high) * 1e-3, 0.5);
  return [Math.max(low - least, 0), high + least];
}

type Column = (number | null)[];

/** All series on one axis of time: the leading one's band and mean, the others, and what would be read now. */
function columns(
  levels: Series[],
  watch: Watch,
  shows: "volume" | "level",
  shown: (value: number) => number,
): uPlot.AlignedData {
  const anew = watch.as_now;
  const times = [...new Set([...levels.flatMap((one) => one.at), ...(anew?.at ?? [])])].sort((a, b) => a - b);
  const place = new Map(times.map((at, index) => [at, index]));
  const spread = (at: number[], values: Column, gap = 0): Column => {
    const found: (number | null | undefined)[] = new Array<undefined>(times.length).fill(undefined);
    at.forEach((when, index) => {
      const value = values[index] ?? null;
      found[place.get(when) ?? 0] = value === null ? null : shown(value);
      const next = at[index + 1];
      // Where nothing arrived for long the line is broken, not drawn through.
      if (gap && next !== undefined && next - when > gap) {
        const after = (place.get(when) ?? 0) + 1;
        if (after < times.length && found[after] === undefined && times[after] !== next) found[after] = null;
      }
    });
    return found as Column;
  };
  const gapOf = (one: Series) => (byHand(one) ? 0 : Math.max(one.size_s * 3, one.channel.period_s * 6, 900));
  const lead = levels[0];
  if (!lead) return [times, [], [], []];
  const of = (one: Series) => (shows === "volume" ? one.volume_l : one.value);
  return [
    times,
    spread(lead.at, shows === "volume" ? lead.volume_least_l : lead.least, gapOf(lead)),
    spread(lead.at, shows === "volume" ? lead.volume_most_l : lead.most, gapOf(lead)),
    spread(lead.at, of(lead), gapOf(lead)),
    ...levels.slice(1).map((one) => spread(one.at, of(one), gapOf(one))),
    anew
      ? spread(anew.at, shows === "volume" ? anew.volume_l : anew.level_mm)
      : new Array<null>(times.length).fill(null),
  ] as uPlot.AlignedData;
}

/** Deliveries and draws as shaded spans, marks as lines with their names. */
function drawBehind(
  u: uPlot,
  watch: Watch,
  shows: "volume" | "level",
  shown: (value: number) => number,
): void {
  const { ctx, bbox } = u;
  ctx.save();
  ctx.beginPath();
  ctx.rect(bbox.left, bbox.top, bbox.width, bbox.height);
  ctx.clip();
  for (const [list, colour] of [
    [watch.moves.deliveries, hue("done")],
    [watch.moves.draws, hue("waiting")],
  ] as const)
    for (const move of list) {
      const a = u.valToPos(Date.parse(move.start) / 1000, "x", true);
      const b = u.valToPos(Date.parse(move.end) / 1000, "x", true);
      ctx.fillStyle = `${colour}2e`;
      ctx.fillRect(a, bbox.top, Math.max(b - a, 2), bbox.height);
    }
  ctx.font = `${13 * devicePixelRatio}px "Atkinson Hyperlegible Next"`;
  ctx.fillStyle = hue("limit");
  ctx.strokeStyle = hue("limit");
  ctx.setLineDash([6, 5]);
  for (const mark of watch.marks) {
    const y = u.valToPos(shown(shows === "volume" ? mark.volume_l : mark.level_mm), "y", true);
    if (y < bbox.top || y > bbox.top + bbox.height) continue;
    ctx.beginPath();
    ctx.moveTo(bbox.left, y);
    ctx.lineTo(bbox.left + bbox.width, y);
    ctx.stroke();
    ctx.fillText(mark.label, bbox.left + 6 * devicePixelRatio, y - 4 * devicePixelRatio);
  }
  ctx.restore();
}

/** Drag for another time, wheel or two fingers for a longer or shorter one; a click brings the line there. */
function usePanAndZoom(
  chart: RefObject<uPlot | null>,
  span: Span,
  end: number,
  onSpan: (span: Span) => void,
  onClick: (value: number) => void,
) {
  const box = useRef<HTMLDivElement>(null);
  const now = useRef({ span, end, onSpan, onClick });
  useEffect(() => {
    now.current = { span, end, onSpan, onClick };
  });
  useEffect(() => {
    // Where the chart stands stays, and so does what a finger does there: the chart is made anew with every span.
    const place = box.current;
    if (!place) return;
    const fingers = new Map<number, number>();
    let began: { x: number; end: number; length: number; apart: number } | null = null;
    const area = () => chart.current?.over.getBoundingClientRect() ?? new DOMRect();
    const isIn = (event: Event) => chart.current?.over.contains(event.target as Node) === true;
    const perPixel = () => now.current.span.length / Math.max(area().width, 1);
    const put = (to: number, length: number) => {
      const size = Math.min(Math.max(length, SHORTEST), LONGEST);
      const latest = Date.now() / 1000;
      now.current.onSpan({ key: "own", length: size, end: to >= latest - size * 0.01 ? null : to });
    };
    const start = () => {
      const [first = 0, second] = [...fingers.values()];
      began = {
        x: second === undefined ? first : (first + second) / 2,
        end: now.current.end,
        length: now.current.span.length,
        apart: second === undefined ? 0 : Math.abs(second - first),
      };
    };
    const down = (event: PointerEvent) => {
      if (!isIn(event)) return;
      fingers.set(event.pointerId, event.clientX);
      place.setPointerCapture(event.pointerId);
      start();
    };
    const moved = (event: PointerEvent) => {
      if (!began || !chart.current || !fingers.has(event.pointerId)) return;
      fingers.set(event.pointerId, event.clientX);
      const [first = 0, second] = [...fingers.values()];
      if (second !== undefined && began.apart > 0) {
        put(began.end, (began.length * began.apart) / Math.max(Math.abs(second - first), 10));
      } else if (Math.abs(first - began.x) > 4) {
        put(began.end - (first - began.x) * perPixel(), began.length);
      }
    };
    const lifted = (event: PointerEvent) => {
      fingers.delete(event.pointerId);
      if (fingers.size > 0) start();
      else began = null;
    };
    const up = (event: PointerEvent) => {
      const alone = fingers.size === 1 && fingers.has(event.pointerId);
      const still = began && alone && Math.abs(event.clientX - began.x) <= 4;
      lifted(event);
      if (still && chart.current)
        now.current.onClick(chart.current.posToVal(event.clientY - area().top, "y"));
    };
    const wheel = (event: WheelEvent) => {
      if (!isIn(event)) return;
      event.preventDefault();
      const { span: shown, end: last } = now.current;
      const length = shown.length * (event.deltaY > 0 ? 1.25 : 0.8);
      const share = (event.clientX - area().left) / Math.max(area().width, 1);
      put(last - (1 - share) * (shown.length - length), length);
    };
    place.addEventListener("pointerdown", down);
    place.addEventListener("pointermove", moved);
    place.addEventListener("pointerup", up);
    // A swipe that scrolls the page is no click.
    place.addEventListener("pointercancel", lifted);
    place.addEventListener("wheel", wheel, { passive: false });
    return () => {
      place.removeEventListener("pointerdown", down);
      place.removeEventListener("pointermove", moved);
      place.removeEventListener("pointerup", up);
      place.removeEventListener("pointercancel", lifted);
      place.removeEventListener("wheel", wheel);
    };
  }, [chart]);
  return box;
}
