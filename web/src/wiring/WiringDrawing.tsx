import type { Schema } from "../api/client";

type Drawing = Schema["WiringDrawing"];

/** On which side of its terminal a label stands. */
const LABELS: Record<string, { off: number; anchor: "start" | "middle" | "end" }> = {
  right: { off: -7, anchor: "end" },
  left: { off: 7, anchor: "start" },
  middle: { off: 0, anchor: "middle" },
};

interface Props {
  drawing: Drawing;
  /** Terminals that the meter's leads touch. */
  red?: string | undefined;
  black?: string | undefined;
  lifted?: string[];
  /** Wires that are told apart, by their tags. */
  marked?: string;
  /** How likely each part is to be what is wrong, by its tag: it is shaded, and labelled with per cent. */
  shares?: Map<string, number>;
  onTerminal?: (point: string) => void;
}

/** The wiring as it is, with every terminal and wire numbered; what is not as planned stands out dashed. */
export function WiringDrawing({ drawing, red, black, lifted = [], marked, shares, onTerminal }: Props) {
  return (
    <div className="wiring-box" role="region" aria-label="Drawing" tabIndex={0}>
      <svg
        viewBox={`0 0 ${drawing.width} ${drawing.height}`}
        style={{ maxWidth: drawing.width * 1.25, minWidth: Math.min(drawing.width, 560) }}
        className="wiring"
        role="group"
        aria-label="Wiring drawing"
      >
        {drawing.boxes.map((box) => (
          <g key={box.id} className={`part ${box.kind}`}>
            <rect x={box.x} y={box.y} width={box.width} height={box.height} />
            <Share box={box} share={shares?.get(box.id)} />
            <text x={box.x + 5} y={box.y + 15} className="part-name">
              {box.name}
            </text>
            <text x={box.x + 5} y={box.y + 29} className="part-detail">
              {box.detail}
            </text>
          </g>
        ))}
        {drawing.boxes
          .filter((box) => box.kind === "cable")
          .map((box) => (
            <g key={`${box.id}-cores`} className="cores">
              {drawing.spots
                .filter((spot) => spot.point.startsWith(`${box.id}.`) && spot.side === "left")
                .map((spot) => (
                  <line key={spot.point} x1={spot.x} x2={spot.x + box.width} y1={spot.y} y2={spot.y} />
                ))}
            </g>
          ))}
        {drawing.lines.map((line) => {
          const [numberX, numberY] = line.number_at;
          const up = lifted.includes(line.id);
          return (
            <g
              key={line.id}
              className={`wire${line.planned ? "" : " moved"}${up ? " lifted" : ""}${line.id === marked ? " marked" : ""}`}
            >
              <path d={`M${line.points.map(([px, py]) => `${px} ${py}`).join("L")}`} />
              <text x={numberX} y={numberY}>
                {line.number}
              </text>
              {line.mark && line.mark !== "shield" && <title>{`wire ${line.number}: ${line.mark}`}</title>}
            </g>
          );
        })}
        {drawing.spots.map((spot) => (
          <g key={spot.point} className="terminal">
            <circle
              cx={spot.x}
              cy={spot.y}
              r={3.2}
              className={spot.point === red ? "lead-red" : spot.point === black ? "lead-black" : undefined}
            />
            {spot.label && (
              <text
                x={spot.x + (LABELS[spot.side]?.off ?? 0)}
                y={spot.y + (spot.side === "middle" ? -5 : 4)}
                textAnchor={LABELS[spot.side]?.anchor}
              >
                {spot.label}
              </text>
            )}
            {(spot.point === red || spot.point === black) && (
              <text
                x={spot.x + (spot.side === "left" ? -8 : 8)}
                y={spot.y - 6}
                className="lead-name"
                textAnchor={spot.side === "left" ? "end" : "start"}
              >
                {spot.point === red ? "red" : "black"}
              </text>
            )}
            {onTerminal && (
              <circle
                cx={spot.x}
                cy={spot.y}
                r={11}
                className="terminal-touch"
                onClick={() => onTerminal(spot.point)}
              >
                <title>{spot.name}</title>
              </circle>
            )}
          </g>
        ))}
      </svg>
    </div>
  );
}

/** A part's shade by how likely it is what is wrong; under one in a hundred it has none. */
function Share({ box, share }: { box: Drawing["boxes"][number]; share: number | undefined }) {
  if (share === undefined || share < 0.01) return null;
  return (
    <>
      <rect
        className="suspect"
        x={box.x}
        y={box.y}
        width={box.width}
        height={box.height}
        style={{ opacity: 0.1 + 0.5 * share }}
      />
      <text x={box.x + box.width - 5} y={box.y + box.height - 5} className="suspect-share" textAnchor="end">
        {Math.round(share * 100)} %
      </text>
    </>
  );
}
