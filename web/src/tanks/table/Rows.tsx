import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useRef } from "react";

import type { Schema } from "../../api/client";
import { places, type Unit, useUnits } from "../../frame/units";
import { useLine } from "../../scaling/line";

const ROW = 28;

interface Props {
  table: Schema["Table"];
  byUllage: boolean;
  length: Unit;
  volume: Unit;
}

interface Column {
  name: string;
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
  // eslint-disable-next-line react-hooks/incompatible-library
  const rows = useVirtualizer({
    count,
    getScrollElement: () => box.current,
    estimateSize: () => ROW,
    overscan: 12,
  });
  useEffect(() => {
    rows.scrollToIndex(here, { align: "center" });
  }, [rows, here, count]);
  const lengths = (mm: number | undefined) => {
    const text = places(units.convert("length", mm ?? 0, length), Math.max(length.decimals, 3));
    return text.replace(/\.?0+$/, "");
  };
  const litres = (value: number | undefined) =>
    places(units.convert("volume", value ?? 0, volume), volume.decimals);
  const percent = (value: number | undefined) => places(value ?? 0, 2);
  const first: Column = { name: `Innage ${length.name}`, text: (row) => lengths(table.innage_mm[row]) };
  const ullage: Column = { name: `Ullage ${length.name}`, text: (row) => lengths(table.ullage_mm[row]) };
  const { u95_l: u95, standard_l: standard, mass_kg: mass } = table;
  const columns: Column[] = [
    byUllage ? ullage : first,
    { name: `Volume ${volume.name}`, text: (row) => litres(table.volume_l[row]) },
    ...(u95 ? [{ name: `± U ${volume.name}`, text: (row: number) => litres(u95[row]) }] : []),
    ...(standard ? [{ name: `Standard ${volume.name}`, text: (row: number) => litres(standard[row]) }] : []),
    ...(mass
      ? [
          {
            name: `Mass ${units.unit("mass").name}`,
            text: (row: number) => units.number("mass", mass[row] ?? 0),
          },
        ]
      : []),
    byUllage ? first : ullage,
    { name: "True %", text: (row) => percent(table.volume_pct[row]) },
    { name: "Float %", text: (row) => percent(table.linear_pct[row]) },
    { name: "Float off", text: (row) => signed(table.gap_pct[row] ?? 0) },
  ];
  const grid = { "--columns": columns.length } as React.CSSProperties;
  return (
    <div className="rows-box">
      <div className="rows-head" aria-hidden="true" style={grid}>
        {columns.map((column) => (
          <span key={column.name}>{column.name}</span>
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
            <div
              key={index}
              role="row"
              aria-rowindex={index + 1}
              aria-selected={index === here}
              className="row-line"
              style={{ ...grid, transform: `translateY(${start}px)`, height: ROW }}
              onClick={() => move(table.innage_mm[index] ?? 0)}
            >
              {columns.map((column) => (
                <span key={column.name} role="gridcell">
                  {column.text(index)}
                </span>
              ))}
            </div>
          ))}
        </div>
      </div>
    </div>
  );
}

function signed(points: number): string {
  return `${points > 0 ? "+" : ""}${places(points, 1)}`;
}
