import { type FormEvent, useEffect, useRef, useState } from "react";

import { api, ask, Refused, wordsOf } from "../api/client";
import { type Quantity, useUnits } from "../frame/units";
import type { Line } from "./curve";
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
  const { tank, move } = useLine();
  const units = useUnits();
  const [typed, setTyped] = useState<string | null>(null);
  const [problem, setProblem] = useState("");
  const input = useRef<HTMLInputElement>(null);
  const editing = typed !== null;
  useEffect(() => {
    if (editing) input.current?.select();
  }, [editing]);
  const value = reading.value(line);
  const unit = units.unit(reading.quantity);
  if (value === null) return null;

  async function go(event: FormEvent) {
    event.preventDefault();
    try {
      const query = { by: reading.by, text: typed ?? "", system: units.system };
      const there = await ask(api.GET("/api/tanks/{id}/line/", { params: { path: { id: tank }, query } }));
      move(there.innage_mm);
      setTyped(null);
      setProblem("");
    } catch (error) {
      setProblem(error instanceof Refused ? (error.problems[0]?.what ?? "") : wordsOf(error));
    }
  }

  return (
    <div className={`readout readout-${reading.by}`} data-reading={reading.by}>
      <span className="readout-label">{reading.label}</span>
      {editing ? (
        <form onSubmit={(event) => void go(event)}>
          <input
            ref={input}
            className="form-control mono"
            aria-label={`${reading.label}: go to`}
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
            onBlur={() => {
              if (!problem) setTyped(null);
            }}
            onKeyDown={(event) => {
              if (event.key === "Escape") {
                setTyped(null);
                setProblem("");
              }
            }}
          />
        </form>
      ) : (
        <button
          type="button"
          className="readout-value"
          title="Type a value here and the line goes there"
          aria-label={`${reading.label} ${units.text(reading.quantity, value)}: type another`}
          onClick={() =>
            setTyped(
              units
                .number(reading.quantity, value)
                .replace(/\u202f/g, "")
                .replace("−", "-") + ` ${unit.name}`,
            )
          }
        >
          <span className="mono">{units.number(reading.quantity, value)}</span>{" "}
          <span className="readout-unit">{unit.name}</span>
        </button>
      )}
      {reading.by === "volume" && line.u95_l !== null && (
        <span className="readout-note">± {units.text("volume", line.u95_l)} (k = 2)</span>
      )}
      {problem && (
        <span role="alert" className="problem">
          {problem}
        </span>
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
