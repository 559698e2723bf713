import { useVirtualizer } from "@tanstack/react-virtual";
import { memo, useEffect, useMemo, useRef } from "react";

import type { Schema } from "../../api/client";
import { places, placesBy } from "../../frame/numbers";
import { type Unit, type Units, useUnits } from "../../frame/units";
import { useLine } from "../../line/line";

const ROW = 28;

interface Props {
  table: Schema["Table"];
  byUllage: boolean;
  length: Unit;
  volume: Unit;
}

interface Column {
  name: string;
  /** Left out where the screen is narrow. */
  wide?: boolean;
  text: (row: number) => string;
}

/** Index of the row nearest to a level; levels rise, or fall in a table by ullage. */
function nearest(levels: number[], level: number): number {
  const falling = (levels[0] ?? 0) > (levels.at(-1) ?? 0);
  let low = 0;
  let high = levels.length - 1;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if ((levels[middle] ?? 0) <= level !== falling) low = middle;
    else high = middle;
  }
  const away = (index: number) => Math.abs(level - (levels[index] ?? 0));
  return away(low) <= away(high) ? low : high;
}

/** The rows of the table; only those in sight are drawn, and the line's row stays in sight. */
export function Rows({ table, byUllage, length, volume }: Props) {
  const units = useUnits();
  const { line, move } = useLine();
  const box = useRef<HTMLDivElement>(null);
  const count = table.innage_mm.length;
  const here = nearest(table.innage_mm, line.innage_mm);
  // The virtual list hands out functions that the compiler must not remember.
  // oxlint-disable-next-line react/incompatible-library
  const rows = useVirtualizer({
    count,
    getScrollElement: () => box.current,
    estimateSize: () => ROW,
    overscan: 12,
  });
  useEffect(() => {
    rows.scrollToIndex(here, { align: "center" });
  }, [rows, here, count]);
  const columns = useMemo(
    () => columnsOf(table, byUllage, length, volume, units),
    [table, byUllage, length, volume, units],
  );
  const grid = useMemo(
    () =>
      ({
        "--columns": columns.length,
        "--narrow": columns.filter((column) => !column.wide).length,
      }) as React.CSSProperties,
    [columns],
  );
  return (
    <div className="rows-box">
      <div className="rows-head" aria-hidden="true" style={grid}>
        {columns.map((column) => (
          <span key={column.name} className={column.wide ? "wide-only" : undefined}>
            {column.name}
          </span>
        ))}
      </div>
      <div
        ref={box}
        className="rows"
        role="grid"
        aria-label="Volume table"
        aria-rowcount={count}
        tabIndex={0}
      >
        <div style={{ height: rows.getTotalSize(), position: "relative" }} role="rowgroup">
          {rows.getVirtualItems().map(({ index, start }) => (
            <RowLine
              key={index}
              index={index}
              start={start}
              selected={index === here}
              columns={columns}
              grid={grid}
              innageMm={table.innage_mm[index] ?? 0}
              onMove={move}
            />
          ))}
        </div>
      </div>
    </div>
  );
}

function signed(points: number): string {
  return `${points > 0 ? "+" : ""}${places(points, 1)}`;
}

/** The columns of a table, the one that it steps by first. */
function columnsOf(
  table: Schema["Table"],
  byUllage: boolean,
  length: Unit,
  volume: Unit,
  units: Units,
): Column[] {
  const lengths = (mm: number | undefined) => {
    const text = places(units.convert("length", mm ?? 0, length), Math.max(length.decimals, 3));
    return text.replace(/\.?0+$/, "");
  };
  const { u95_l: u95, standard_l: standard, mass_kg: mass } = table;
  // What a row's own ± bears, but never tens: rows are also read as differences, which are known better than they.
  const litres = (list: number[], row: number) => {
    const borne = placesBy(units.convert("volume", u95?.[row] ?? 0, volume), volume.decimals);
    const decimals = Math.min(Math.max(borne, 0), volume.decimals);
    return places(units.convert("volume", list[row] ?? 0, volume), decimals);
  };
  const percent = (value: number | undefined) => places(value ?? 0, 2);
  const first: Column = { name: `Innage ${length.name}`, text: (row) => lengths(table.innage_mm[row]) };
  const ullage: Column = { name: `Ullage ${length.name}`, text: (row) => lengths(table.ullage_mm[row]) };
  return [
    byUllage ? ullage : first,
    { name: `Volume ${volume.name}`, text: (row) => litres(table.volume_l, row) },
    ...(u95 ? [{ name: `± U ${volume.name}`, text: (row: number) => litres(u95, row) }] : []),
    ...(standard ? [{ name: `Standard ${volume.name}`, text: (row: number) => litres(standard, row) }] : []),
    ...(mass
      ? [
          {
            name: `Mass ${units.unit("mass").name}`,
            text: (row: number) => units.number("mass", mass[row] ?? 0),
          },
        ]
      : []),
    { ...(byUllage ? first : ullage), wide: true },
    { name: "True %", text: (row) => percent(table.volume_pct[row]) },
    { name: "Float %", wide: true, text: (row) => percent(table.linear_pct[row]) },
    { name: "Float off, points", text: (row) => signed(table.gap_pct[row] ?? 0) },
  ];
}

interface LineProps {
  index: number;
  start: number;
  selected: boolean;
  columns: Column[];
  grid: React.CSSProperties;
  innageMm: number;
  onMove: (innageMm: number) => void;
}

/** One row; drawn again only when it becomes the line's row or ceases to be. */
const RowLine = memo(function RowLine(props: LineProps) {
  const { index, start, selected, columns, grid, innageMm, onMove } = props;
  return (
    <div
      role="row"
      aria-rowindex={index + 1}
      aria-selected={selected}
      className="row-line"
      style={{ ...grid, transform: `translateY(${start}px)`, height: ROW }}
      onClick={() => onMove(innageMm)}
    >
      {columns.map((column) => (
        <span key={column.name} role="gridcell" className={column.wide ? "wide-only" : undefined}>
          {column.text(index)}
        </span>
      ))}
    </div>
  );
});
