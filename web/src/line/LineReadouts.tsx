import { api, ask, type Schema } from "../api/client";
import { type Quantity, useUnits } from "../frame/units";
import { beyondSignal, type Line } from "./curve";
import { GoTo } from "./GoTo";
import { useLine } from "./line";

type Station = Schema["StationText"]["key"];
type Plain = "innage" | "ullage" | "volume" | "volume_pct" | "linear_pct";

interface Reading {
  by: Plain;
  label: string;
  quantity: Quantity;
  value: (line: Line) => number;
  /** What it may be off by, where that is known. */
  half?: (line: Line, capacityL: number) => number | null;
}

const READINGS: Reading[] = [
  { by: "innage", label: "Innage", quantity: "length", value: (line) => line.innage_mm },
  {
    by: "volume",
    label: "Volume",
    quantity: "volume",
    value: (line) => line.volume_l,
    half: (line) => line.u95_l,
  },
  {
    by: "volume_pct",
    label: "True per cent",
    quantity: "ratio",
    value: (line) => line.volume_pct,
    half: (line, capacityL) => line.u95_l && (line.u95_l / capacityL) * 100,
  },
  { by: "ullage", label: "Ullage", quantity: "length", value: (line) => line.ullage_mm },
  {
    by: "linear_pct",
    label: "A linear float shows",
    quantity: "ratio",
    value: (line) => line.linear_pct,
    // Its dial is read to a per cent at best.
    half: () => 1,
  },
];

/** The stations of the chain that are read out beside the section; station Scale has them all. */
const READ_OUT: Station[] = ["sensed", "arriving", "shown"];

/** Everything that reads at the line; any of them can be typed, and the line goes there. */
export function LineReadouts() {
  const { line, curve } = useLine();
  const units = useUnits();
  return (
    <section className="readouts" aria-label="At the line">
      {READINGS.map(({ by, label, quantity, value, half }) => (
        <Readout
          key={by}
          by={by}
          label={label}
          number={units.worth(quantity, value(line), half?.(line, curve.capacity_l) ?? null)}
          unit={units.unit(quantity).name}
          note={by === "volume" && line.u95_l !== null ? `${units.half("volume", line.u95_l)} (k = 2)` : ""}
        />
      ))}
      {READ_OUT.map((key) => {
        const station = line.stations.find((one) => one.key === key);
        if (!station) return null;
        const [number = "", ...unit] = station.text.split(" ");
        return <Readout key={key} by={key} label={station.label} number={number} unit={unit.join(" ")} />;
      })}
      <Differences line={line} />
    </section>
  );
}

interface ReadoutProps {
  by: Plain | Station;
  label: string;
  number: string;
  unit: string;
  note?: string;
}

function Readout({ by, label, number, unit, note = "" }: ReadoutProps) {
  const { tank } = useLine();
  const { system } = useUnits();
  const find = async (text: string) => {
    const query = { by, text, system };
    const there = await ask(api.GET("/api/tanks/{id}/line/", { params: { path: { id: tank }, query } }));
    return there.innage_mm;
  };
  return (
    <div className={`readout readout-${by}`} data-reading={by}>
      <span className="readout-label">{label}</span>
      <GoTo label={label} text={`${number} ${unit}`.trim()} find={find}>
        <span className="mono">{number}</span> <span className="readout-unit">{unit}</span>
      </GoTo>
      {note && <span className="readout-note">{note}</span>}
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
  const { curve } = useLine();
  const sent = line.stations.find((station) => station.key === "sent");
  // One square metre of surface is one litre a millimetre.
  const perStep = line.surface_m2 * units.fromShown("length", 1);
  return (
    <p className="readout-words">
      {words} One {units.system === "metric" ? "mm" : "inch"} is {units.text("volume", perStep)}.
      {sent && beyondSignal(curve, line.innage_mm) && (
        <strong> The signal stands at {sent.text}: this level is outside the range.</strong>
      )}
    </p>
  );
}
