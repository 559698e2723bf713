import { useId } from "react";

import type { Schema } from "../api/client";
import { Scroll } from "../frame/Scroll";
import { useUnits } from "../frame/units";
import type { ChainLine } from "./chain";

interface Meter {
  meter_unit: Schema["MeterUnitEnum"];
  meter_digits: number;
}

interface Props {
  read: ChainLine;
  meter: Meter;
  onMeter: (meter: Meter) => void;
}

const UNITS: Record<Schema["MeterUnitEnum"], string> = {
  mm: "mm",
  cm: "cm",
  m: "m",
  in: "in",
  ft: "ft",
  pct: "% of height",
};

/** What makes the reading unsure, a panel meter's ends, level and distance confused, and what a fault shows. */
export function ChainExtras({ read, meter, onMeter }: Props) {
  const units = useUnits();
  const length = (mm: number) => units.text("length", mm);
  const most = read.parts[0];
  // What is less than a hundredth of the largest changes nothing that is shown.
  const shown = read.parts.filter((part) => part.u95_mm >= (most?.u95_mm ?? 0) / 100);
  return (
    <>
      <h2>How sure, at the line</h2>
      {most && (
        <p>
          Together <b className="mono">{units.half("length", read.u95_mm)}</b>,{" "}
          <b className="mono">{units.half("volume", read.u95_l)}</b>; most of it from the{" "}
          {most.name.replace(/^the /, "")}.
        </p>
      )}
      <ul className="unsure-parts">
        {shown.map((part) => (
          <li key={part.name}>
            <span>{part.name}</span>
            <span className="unsure-bar">
              <span style={{ width: `${(part.u95_mm / (most?.u95_mm || 1)) * 100}%` }} />
            </span>
            <span className="mono">{units.half("length", part.u95_mm)}</span>
          </li>
        ))}
      </ul>
      <PanelMeter read={read} meter={meter} onMeter={onMeter} />
      {read.trap.length > 0 && (
        <>
          <h2>Level taken for distance</h2>
          <Scroll label="Level taken for distance">
            <table className="plain-table">
              <caption>What the far end has, as it is set, and with the two confused</caption>
              <thead>
                <tr>
                  <th>Level in the tank</th>
                  <th>As set</th>
                  <th>Confused</th>
                </tr>
              </thead>
              <tbody>
                {read.trap.map((trap, index) => (
                  <tr key={index}>
                    <td className="mono">
                      {length(trap.level_mm)} {["at the line", "empty", "full"][index]}
                    </td>
                    <td className="mono">{length(trap.right_mm)}</td>
                    <td className="mono">{length(trap.wrong_mm)}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </Scroll>
        </>
      )}
      {(read.fault.length > 0 || read.beyond.length > 0) && <h2>Beyond the range, and on a fault</h2>}
      {read.beyond.length > 0 && (
        <p>
          Beyond its range the signal stands still:{" "}
          {read.beyond.map((part, index) => (
            <span key={part.label}>
              {index > 0 && ", "}
              <span className="mono">{part.label}</span> shows <b className="mono">{part.text}</b>
            </span>
          ))}
          .
        </p>
      )}
      {read.fault.length > 0 && (
        <p>
          A sensor that has failed or lost its echo:{" "}
          {read.fault.map((part, index) => (
            <span key={part.label}>
              {index > 0 && " → "}
              {part.label.toLowerCase()} <span className="mono">{part.text}</span>
            </span>
          ))}
          .
        </p>
      )}
    </>
  );
}

function PanelMeter({ read, meter, onMeter }: Props) {
  const id = useId();
  const units = useUnits();
  const ends = read.meter;
  return (
    <>
      <h2>A panel meter in the loop</h2>
      <div className="meter-ends">
        <div>
          <label htmlFor={`${id}-unit`}>It shows</label>
          <select
            id={`${id}-unit`}
            className="form-select"
            value={meter.meter_unit}
            onChange={(event) =>
              onMeter({ ...meter, meter_unit: event.target.value as Schema["MeterUnitEnum"] })
            }
          >
            {Object.entries(UNITS).map(([key, name]) => (
              <option key={key} value={key}>
                {name}
              </option>
            ))}
          </select>
        </div>
        <div>
          <label htmlFor={`${id}-digits`}>Digits</label>
          <select
            id={`${id}-digits`}
            className="form-select"
            value={meter.meter_digits}
            onChange={(event) => onMeter({ ...meter, meter_digits: Number(event.target.value) })}
          >
            {[3, 4, 5, 6].map((count) => (
              <option key={count}>{count}</option>
            ))}
          </select>
        </div>
        {ends ? (
          <p>
            At {ends.signal_low} <b className="mono">{ends.low}</b>, at {ends.signal_high}{" "}
            <b className="mono">{ends.high}</b>, {ends.decimals} place{ends.decimals === 1 ? "" : "s"}; its
            ends are off by at most {units.text("length", ends.error_mm)}.
            {ends.falls && " It falls as the signal rises: many meters ask for that by name."}
          </p>
        ) : (
          <p className="problem">{read.meter_problem}</p>
        )}
      </div>
    </>
  );
}
