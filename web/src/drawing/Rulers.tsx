import { scaleLinear } from "d3-scale";

interface Props {
  /** The largest value on the ruler, in the unit shown. */
  max: number;
  unit: string;
  /** Where a value stands. */
  y: (value: number) => number;
  x: number;
  side: "left" | "right";
  count: number;
  /** Where the line is, to be written on the ruler in place of the ticks it would cover. */
  here?: number | undefined;
  hereText: string;
}

/** A ruler beside the section: ticks at round values of the unit shown. */
export function Ruler({ max, unit, y, x, side, count, here, hereText }: Props) {
  const ticks = scaleLinear().domain([0, max]).ticks(count);
  const out = side === "left" ? -1 : 1;
  const anchor = side === "left" ? "end" : "start";
  // Volume bunches up near empty and full: a tick that would stand on another one's label goes without.
  const clear = (tick: number) => here === undefined || Math.abs(y(here) - y(tick)) >= 15;
  const labelled: number[] = [];
  for (const tick of ticks)
    if (clear(tick) && labelled.every((other) => Math.abs(y(other) - y(tick)) >= 15)) labelled.push(tick);
  return (
    <g className="ruler" aria-hidden="true">
      <line x1={x} x2={x} y1={y(0)} y2={y(max)} />
      {ticks.map((tick) => (
        <line key={tick} x1={x} x2={x + out * (labelled.includes(tick) ? 7 : 4)} y1={y(tick)} y2={y(tick)} />
      ))}
      {labelled.map((tick) => (
        <text key={tick} x={x + out * 10} y={y(tick) + 4} textAnchor={anchor}>
          {tick.toLocaleString("en", { maximumFractionDigits: 2 }).replace(/,/g, "\u202f")}
        </text>
      ))}
      {here !== undefined && (
        <text className="ruler-here" x={x + out * 10} y={y(here) + 4} textAnchor={anchor}>
          {hereText}
        </text>
      )}
      <text className="ruler-unit" x={x + out * 10} y={y(max) - 12} textAnchor={anchor}>
        {unit}
      </text>
    </g>
  );
}
