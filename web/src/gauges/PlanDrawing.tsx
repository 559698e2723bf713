import type { KeyboardEvent, PointerEvent, ReactNode } from "react";

import type { Schema } from "../api/client";
import { HANDLE, useDrag } from "../drawing/drag";
import { useWidth } from "../frame/useSize";

interface Props {
  plan: Schema["PlanView"];
  label: string;
  /** The spot [mm]. */
  x: number;
  y: number;
  tallest?: number;
  /** Moves the spot [mm]. */
  onMove?: (x: number, y: number) => void;
  /** Drawn below the outline, in the plan's own place: x and y give pixels. */
  below?: (x: (mm: number) => number, y: (mm: number) => number, scale: number) => ReactNode;
  above?: (x: (mm: number) => number, y: (mm: number) => number, scale: number) => ReactNode;
}

const EDGE = 26;

/** The tank seen from above, true to scale, with the gauge's spot to drag. */
export function PlanDrawing({ plan, label, x: spotX, y: spotY, tallest = 230, onMove, below, above }: Props) {
  const [box, width] = useWidth<HTMLDivElement>();
  const [left = 0, low = 0] = plan.low_mm;
  const [right = 1, high = 1] = plan.high_mm;
  const scale = Math.min((width - 2 * EDGE) / (right - left), (tallest - 2 * EDGE) / (high - low));
  const height = (high - low) * scale + 2 * EDGE;
  const start = (width - (right - left) * scale) / 2;
  const x = (mm: number) => start + (mm - left) * scale;
  const y = (mm: number) => EDGE + (high - mm) * scale;
  const path = `M${plan.outline_mm.map(([px = 0, py = 0]) => `${x(px)} ${y(py)}`).join("L")}Z`;
  const clamp = (value: number, least: number, most: number) =>
    Math.round(Math.min(Math.max(value, least), most));

  function dragTo(event: PointerEvent<SVGSVGElement>) {
    if (!onMove) return;
    const rect = event.currentTarget.getBoundingClientRect();
    onMove(
      clamp(left + (event.clientX - rect.left - start) / scale, left, right),
      clamp(high - (event.clientY - rect.top - EDGE) / scale, low, high),
    );
  }

  function nudge(event: KeyboardEvent) {
    const ways: Record<string, [number, number]> = {
      ArrowLeft: [-1, 0],
      ArrowRight: [1, 0],
      ArrowUp: [0, 1],
      ArrowDown: [0, -1],
    };
    const way = ways[event.key];
    if (!way || !onMove) return;
    event.preventDefault();
    event.stopPropagation();
    const by = event.shiftKey ? 100 : 10;
    onMove(clamp(spotX + way[0] * by, left, right), clamp(spotY + way[1] * by, low, high));
  }

  const drag = useDrag(onMove && dragTo);
  return (
    <div ref={box} className="plan-box">
      {width > 0 && (
        <svg
          {...drag}
          width={width}
          height={height}
          className={onMove ? "plan draggable" : "plan"}
          role="group"
          aria-label={label}
        >
          <path d={path} className="shell-inside" />
          {below?.(x, y, scale)}
          <path d={path} className="shell" />
          <line x1={x(left) - 14} x2={x(right) + 14} y1={y(0)} y2={y(0)} className="plan-axis" />
          {above?.(x, y, scale)}
          <g
            className="plan-spot"
            {...(onMove
              ? {
                  role: "slider",
                  tabIndex: 0,
                  "aria-label": "The gauge's spot: arrows move it",
                  "aria-valuenow": Math.round(spotX),
                  "aria-valuemin": Math.round(left),
                  "aria-valuemax": Math.round(right),
                  "aria-valuetext": `${Math.round(spotX)} mm along, ${Math.round(spotY)} mm across`,
                  onKeyDown: nudge,
                }
              : {})}
          >
            <path
              d={`M${x(spotX) - 9} ${y(spotY)}h18M${x(spotX)} ${y(spotY) - 9}v18`}
              className="plan-cross"
            />
            <circle cx={x(spotX)} cy={y(spotY)} r={5} className="plan-dot" />
            <circle cx={x(spotX)} cy={y(spotY)} r={22} className={HANDLE} />
          </g>
        </svg>
      )}
    </div>
  );
}
