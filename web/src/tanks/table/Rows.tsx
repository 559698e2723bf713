import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useRef } from "react";

import type { Schema } from "../../api/client";
import { places, type Unit, useUnits } from "../../frame/units";
import { useLine } from "../../scaling/line";

const ROW = 28;

interface Props {
  table: Schema["Table"];
  length: Unit;
  volume: Unit;
}

/** Index of the row nearest to a level. */
function nearest(levels: number[], level: number): number {
  let low = 0;
  let high = levels.length - 1;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if ((levels[middle] ?? 0) <= level) low = middle;
    else high = middle;
  }
  return level - (levels[low] ?? 0) <= (levels[high] ?? 0) - level ? low : high;
}

/** The rows of the table; only those in sight are drawn, and the line's row stays in sight. */
export function Rows({ table, length, volume }: Props) {
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
  const u95 = table.u95_l;
  return (
    <div className="rows-box">
      <div className={u95 ? "rows-head with-u" : "rows-head"} aria-hidden="true">
        <span>Innage {length.name}</span>
        <span>Volume {volume.name}</span>
        {u95 && <span>± U {volume.name}</span>}
        <span>Ullage {length.name}</span>
        <span>True %</span>
        <span>Float %</span>
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
              className={u95 ? "row-line with-u" : "row-line"}
              style={{ transform: `translateY(${start}px)`, height: ROW }}
              onClick={() => move(table.innage_mm[index] ?? 0)}
            >
              <span role="gridcell">{lengths(table.innage_mm[index])}</span>
              <span role="gridcell">{litres(table.volume_l[index])}</span>
              {u95 && <span role="gridcell">{litres(u95[index])}</span>}
              <span role="gridcell">{lengths(table.ullage_mm[index])}</span>
              <span role="gridcell">{places(table.volume_pct[index] ?? 0, 2)}</span>
              <span role="gridcell">{places(table.linear_pct[index] ?? 0, 2)}</span>
            </div>
          ))}
        </div>
      </div>
    </div>
  );
}
