import { type PointerEvent, useId, useState } from "react";
import { flushSync } from "react-dom";

import type { Schema } from "../api/client";
import { useUnits } from "../frame/units";
import type { Curve } from "../line/curve";
import { levelOf } from "../line/curve";
import { HANDLE, useDrag } from "./drag";
import { extent, pathOf, topAt } from "./geometry";
import { GaugeMark } from "./GaugeMark";
import { LimitFlags } from "./LimitFlags";
import { MarkFlags } from "./MarkFlags";
import { LiquidPatterns } from "./patterns";
import { type PortMark, Ports } from "./Ports";
import { Ruler } from "./Rulers";
import { useWidth } from "../frame/useSize";

interface Props {
  drawing: Schema["Drawing"];
  pattern: string;
  product: string;
  capacityL: number;
  ports: PortMark[];
  limits?: Schema["Limits"];
  /** The line, unless only the shape is looked at. */
  levelMm?: number;
  volumeL?: number;
  /** What it may be off by. */
  volumeU95L?: number | null;
  curve?: Curve;
  /** The gauge as it is kept, if one is. */
  gauge?: Schema["DrawnGauge"] | null | undefined;
  /** The marks that are kept, if any are. */
  marks?: Schema["Mark"][] | undefined;
  onMove?: (innageMm: number) => void;
  onNudge?: (steps: number) => void;
  /** The most height the drawing may take, in pixels. */
  tallest?: number;
}

const LEFT = 78;
const RIGHT = 108;
const TOP = 48;
const BOTTOM = 16;

/** The section of the tank, true to scale, with its liquid, its rulers and the line to drag. */
export function Section(props: Props) {
  const { drawing, pattern, product, ports, limits, levelMm, volumeL, curve, onMove, onNudge } = props;
  const { tallest = 340 } = props;
  const id = useId();
  const units = useUnits();
  const [box, width] = useWidth<HTMLDivElement>();
  const [view, setView] = useState<"along" | "across">(drawing.kind === "prism" ? "across" : "along");
  const { upright } = drawing;
  const polygon = view === "along" || upright ? drawing.along_mm : drawing.across_mm;
  const reach = extent(polygon);
  const tall = Math.max(reach.top, drawing.reference_height_mm);
  const room = Math.max(width - LEFT - RIGHT, 60);
  const scale = Math.min(room / (reach.right - reach.left), (tallest - TOP - BOTTOM) / (tall - reach.bottom));
  const height = (tall - reach.bottom) * scale + TOP + BOTTOM;
  const middle = LEFT + room / 2;
  const x = (mm: number) => middle + (mm - (reach.left + reach.right) / 2) * scale;
  const y = (mm: number) => TOP + (tall - mm) * scale;
  const path = pathOf(polygon, x, y);
  const [x0, x1] = [x(reach.left), x(reach.right)];
  const length = units.unit("length");
  const volume = units.unit("volume");

  function dragTo(event: PointerEvent<SVGSVGElement>) {
    if (!onMove) return;
    const rect = event.currentTarget.getBoundingClientRect();
    const mm = tall - (event.clientY - rect.top - TOP) / scale;
    const to = Math.min(Math.max(Math.round(mm * 10) / 10, 0), drawing.inside_height_mm);
    // What reads at the line is in the frame of the move itself, however busy the page is.
    flushSync(() => {
      onMove(to);
    });
  }

  const drag = useDrag(onMove && dragTo);
  return (
    <div ref={box} className="section-box">
      {width > 0 && (
        <svg
          {...drag}
          width={width}
          height={height}
          className={onMove ? "section draggable" : "section"}
          role="group"
          aria-label={`Section of the tank, ${view}`}
        >
          <LiquidPatterns id={id} />
          <clipPath id={`${id}-shell`}>
            <path d={path} />
          </clipPath>
          <path d={path} className="shell-inside" />
          {levelMm !== undefined && (
            <g clipPath={`url(#${id}-shell)`}>
              <rect x={x0} y={y(levelMm)} width={x1 - x0} height={height} fill={`url(#${id}-${pattern})`} />
            </g>
          )}
          <path d={path} className="shell" />
          {view === "along" &&
            drawing.seams_mm.map((seam) => (
              <path
                key={seam.flat().join(" ")}
                className="seam"
                d={`M${seam.map(([sx = 0, sz = 0]) => `${x(sx)} ${y(sz)}`).join("L")}`}
              />
            ))}
          <g clipPath={`url(#${id}-shell)`} className="deadwood">
            {drawing.deadwood_mm.map(([from = 0, to = 0]) => (
              <rect key={`${from}-${to}`} x={middle - 5} width={10} y={y(to)} height={(to - from) * scale}>
                <title>{`deadwood from ${units.text("length", from)} to ${units.text("length", to)}`}</title>
              </rect>
            ))}
          </g>
          {limits && (
            <LimitFlags
              limits={limits}
              topMm={drawing.inside_height_mm}
              x={x0 + 2}
              y={y}
              line={levelMm === undefined ? undefined : y(levelMm)}
            />
          )}
          {props.marks && (
            <MarkFlags
              marks={props.marks}
              x={x1 - 2}
              y={y}
              line={levelMm === undefined ? undefined : y(levelMm)}
            />
          )}
          {view === "along" && !upright && (
            <Ports
              ports={ports}
              x={x}
              top={(mm) => y(topAt(drawing.along_mm, mm))}
              named={room > 280}
              gauge={x(drawing.gauge_position_mm)}
            />
          )}
          {view === "along" && props.gauge && (
            <GaugeMark
              gauge={props.gauge}
              x={x}
              y={y}
              lift={((props.gauge.x_mm - drawing.gauge_position_mm) * drawing.slope_mm_per_m) / 1000}
            />
          )}
          <ReferencePoint
            x={view === "along" ? x(drawing.gauge_position_mm) : middle}
            y={y(drawing.reference_height_mm)}
            text={`reference point ${units.tape(drawing.reference_height_mm)}`}
            middle={middle}
          />
          <Ruler
            max={units.toShown("length", drawing.inside_height_mm)}
            unit={length.name}
            y={(value) => y(units.fromShown("length", value))}
            x={x0 - 6}
            side="left"
            here={levelMm === undefined ? undefined : units.toShown("length", levelMm)}
            hereText={units.number("length", levelMm ?? 0)}
            count={Math.max(3, Math.round((reach.top * scale) / 34))}
          />
          {curve && (
            <Ruler
              max={units.toShown("volume", curve.volume_l.at(-1) ?? props.capacityL)}
              unit={volume.name}
              y={(value) => y(levelOf(curve, units.fromShown("volume", value)))}
              x={x1 + 6}
              side="right"
              here={volumeL === undefined ? undefined : units.toShown("volume", volumeL)}
              hereText={units.worth("volume", volumeL ?? 0, props.volumeU95L ?? null)}
              count={Math.max(4, Math.round((reach.top * scale) / 18))}
            />
          )}
          {product && (
            <text
              className="liquid-name"
              x={middle}
              y={y(Math.min(0, reach.bottom / 2)) - 9}
              textAnchor="middle"
            >
              {product}
            </text>
          )}
          {levelMm !== undefined && (
            <g
              className="line"
              {...(onMove
                ? {
                    role: "slider",
                    tabIndex: 0,
                    "aria-label": "The line: level in the tank",
                    "aria-orientation": "vertical" as const,
                    "aria-valuemin": 0,
                    "aria-valuemax":
                      Math.round(units.toShown("length", drawing.inside_height_mm) * 100) / 100,
                    "aria-valuenow": Math.round(units.toShown("length", levelMm) * 100) / 100,
                    "aria-valuetext": `${units.text("length", levelMm)}, ${units.worth("volume", volumeL ?? 0, props.volumeU95L ?? null)} ${volume.name}`,
                  }
                : { role: "img", "aria-label": `Level ${units.text("length", levelMm)}` })}
              onKeyDown={(event) => {
                const way = { ArrowUp: 1, ArrowDown: -1 }[event.key];
                if (!way || !onNudge) return;
                event.preventDefault();
                event.stopPropagation();
                onNudge(way * (event.shiftKey ? 10 : 1));
              }}
            >
              <rect x={x0 - 12} y={y(levelMm) - 14} width={x1 - x0 + 112} height={28} fill="transparent" />
              <line x1={x0 - 8} x2={x1 + 8} y1={y(levelMm)} y2={y(levelMm)} />
              {onMove && (
                <>
                  <path d={`M${x1 + 76} ${y(levelMm) - 11}h22v22h-22z`} className="handle" />
                  <path d={`M${x1 + 82} ${y(levelMm) - 3}h10m-10 6h10`} className="grip" />
                  <rect x={x1 + 65} y={y(levelMm) - 22} width={44} height={44} className={HANDLE} />
                </>
              )}
            </g>
          )}
        </svg>
      )}
      {!upright && (
        <div className="switch section-view" role="group" aria-label="Cut">
          {(["along", "across"] as const).map((key) => (
            <button key={key} type="button" aria-pressed={view === key} onClick={() => setView(key)}>
              {key === "along" ? "Along" : "Across"}
            </button>
          ))}
        </div>
      )}
    </div>
  );
}

function ReferencePoint({ x, y, text, middle }: { x: number; y: number; text: string; middle: number }) {
  const right = x <= middle;
  return (
    <g className="reference">
      <path d={`M${x - 7} ${y - 10}h14l-7 10z`} />
      <line x1={x - 26} x2={x + 26} y1={y} y2={y} />
      <line x1={x} x2={x} y1={18} y2={y - 10} />
      <text x={right ? x - 7 : x + 7} y={14} textAnchor={right ? "start" : "end"}>
        {text}
      </text>
    </g>
  );
}
