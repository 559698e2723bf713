import { useId } from "react";

import type { Schema } from "../api/client";
import { extent, pathOf } from "./geometry";
import { LiquidPatterns } from "./patterns";

interface Props {
  drawing: Schema["Drawing"];
  pattern: string;
  levelMm: number | null;
  /** Millimetres that the width of the picture stands for: the same for all tanks that are compared. */
  scaleMm: number;
  width: number;
  height: number;
  /** What it says to who cannot see it; nothing where the words stand beside it. */
  label?: string;
}

/** A tank as a small section, to the same scale as its neighbours: along, or across where that tells its shape. */
export function SmallSection({ drawing, pattern, levelMm, scaleMm, width, height, label }: Props) {
  const id = useId();
  const spoken = label ? { role: "img", "aria-label": label } : { "aria-hidden": true };
  const polygon = drawing.kind === "prism" ? drawing.across_mm : drawing.along_mm;
  const reach = extent(polygon);
  const scale = width / scaleMm;
  const middle = (reach.left + reach.right) / 2;
  const x = (mm: number) => width / 2 + (mm - middle) * scale;
  const y = (mm: number) => height - 3 - (mm - reach.bottom) * scale;
  const path = pathOf(polygon, x, y);
  return (
    <svg viewBox={`0 0 ${width} ${height}`} className="small-section" {...spoken}>
      <LiquidPatterns id={id} />
      <clipPath id={`${id}-shell`}>
        <path d={path} />
      </clipPath>
      <path d={path} fill="var(--sheet)" />
      {levelMm !== null && (
        <g clipPath={`url(#${id}-shell)`}>
          <rect x="0" y={y(levelMm)} width={width} height={height} fill={`url(#${id}-${pattern})`} />
        </g>
      )}
      <path d={path} fill="none" stroke="var(--ink)" strokeWidth="1.4" />
      {levelMm !== null && (
        <line x1="0" x2={width} y1={y(levelMm)} y2={y(levelMm)} stroke="var(--line)" strokeWidth="1.4" />
      )}
    </svg>
  );
}
