import { api, ask } from "../api/client";
import { type Quantity, useUnits } from "../frame/units";
import type { Line } from "./curve";
import { GoTo } from "./GoTo";
import { useLine } from "./line";

type By = "innage" | "ullage" | "volume" | "volume_pct" | "linear_pct" | "sensed" | "current";

interface Reading {
  by: By;
  label: string;
  quantity: Quantity;
  value: (line: Line) => number | null;
}

const READINGS: Reading[] = [
  { by: "innage", label: "Innage", quantity: "length", value: (line) => line.innage_mm },
  { by: "volume", label: "Volume", quantity: "volume", value: (line) => line.volume_l },
  { by: "volume_pct", label: "True per cent", quantity: "ratio", value: (line) => line.volume_pct },
  { by: "ullage", label: "Ullage", quantity: "length", value: (line) => line.ullage_mm },
  { by: "current", label: "Current", quantity: "current", value: (line) => line.current_ma },
  { by: "linear_pct", label: "A linear float shows", quantity: "ratio", value: (line) => line.linear_pct },
  { by: "sensed", label: "Transmitter senses", quantity: "length", value: (line) => line.sensed_mm },
];

/** Everything that reads at the line; any of them can be typed, and the line goes there. */
export function LineReadouts() {
  const { line } = useLine();
  return (
    <section className="readouts" aria-label="At the line">
      {READINGS.map((reading) => (
        <Readout key={reading.by} reading={reading} line={line} />
      ))}
      <Differences line={line} />
    </section>
  );
}

function Readout({ reading, line }: { reading: Reading; line: Line }) {
  const { tank } = useLine();
  const units = useUnits();
  const value = reading.value(line);
  if (value === null) return null;
  const find = async (text: string) => {
    const query = { by: reading.by, text, system: units.system };
    const there = await ask(api.GET("/api/tanks/{id}/line/", { params: { path: { id: tank }, query } }));
    return there.innage_mm;
  };
  return (
    <div className={`readout readout-${reading.by}`} data-reading={reading.by}>
      <span className="readout-label">{reading.label}</span>
      <GoTo label={reading.label} text={units.text(reading.quantity, value)} find={find}>
        <span className="mono">{units.number(reading.quantity, value)}</span>{" "}
        <span className="readout-unit">{units.unit(reading.quantity).name}</span>
      </GoTo>
      {reading.by === "volume" && line.u95_l !== null && (
        <span className="readout-note">± {units.text("volume", line.u95_l)} (k = 2)</span>
      )}
    </div>
  );
}

function Differences({ line }: { line: Line }) {
  const units = useUnits();
  const gap = line.linear_pct - line.volume_pct;
  const way = gap > 0 ? "high" : "low";
  const words =
    Math.abs(gap) < 0.05
      ? "A linear float gauge reads true here."
      : `A linear float gauge reads ${Math.abs(gap).toFixed(1)} points ${way} here.`;
  const held =
    line.current_ma !== null && line.signal_ma !== null && Math.abs(line.current_ma - line.signal_ma) > 1e-9;
  // One square metre of surface is one litre a millimetre.
  const perStep = line.surface_m2 * units.fromShown("length", 1);
  return (
    <p className="readout-words">
      {words} One {units.system === "metric" ? "mm" : "inch"} is {units.text("volume", perStep)}.
      {held && (
        <strong>
          {" "}
          The signal stands at {units.text("current", line.signal_ma ?? 0)}: this level is outside the range.
        </strong>
      )}
    </p>
  );
}
