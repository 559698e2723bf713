import { useState } from "react";

import { keys } from "../api/keys";
import { api, ask } from "../api/client";
import type { FormState } from "../frame/FormField";
import { useAsking } from "../frame/asking";
import { useUnits } from "../frame/units";
import { useLine } from "../line/line";
import type { Tank } from "../tanks/tank";
import type { WiringWords, WiringReading } from "./wiring";
import { WiringDrawing } from "./WiringDrawing";

interface Props {
  tank: Tank;
  form: FormState;
  reading: WiringReading;
  words: WiringWords;
}

type Setting = "V" | "mA" | "Ω";

/** A process meter with its leads on any two terminals of the drawing. */
export function MeterPane({ tank, form, reading, words }: Props) {
  const { line } = useLine();
  const { system } = useUnits();
  const sensor = reading.parts.at(-1) && reading.parts.find((part) => part.id === "sensor");
  const ends = reading.drawing.spots.filter((spot) => spot.point.startsWith("sensor."));
  const [setting, setSetting] = useState<Setting>("V");
  const [redOn, setRed] = useState("");
  const [blackOn, setBlack] = useState("");
  const [next, setNext] = useState<"red" | "black">("red");
  const [power, setPower] = useState(true);
  const [lifted, setLifted] = useState<string[]>([]);
  const [closed, setClosed] = useState(true);
  const [current, setCurrent] = useState<number | null>(null);
  const share = line.linear_pct;
  const sent = line.stations.find((station) => station.key === "sent")?.text ?? "";
  const there = new Set([
    ...reading.drawing.spots.map((spot) => spot.point),
    ...lifted.map((id) => `${id}~`),
  ]);
  // A terminal that went with another circuit leaves its lead at the sensor.
  const red = there.has(redOn) ? redOn : (ends[0]?.point ?? "");
  const black = there.has(blackOn) ? blackOn : (ends.at(-1)?.point ?? "");
  const wires = reading.wires.filter((wire) => !wire.id.startsWith("earth"));
  const { answer: shown } = useAsking(
    keys.tank(tank.id, "meter"),
    there.has(red) && there.has(black)
      ? {
          entries: form.entries,
          system,
          setting,
          red,
          black,
          power,
          current_ma: current,
          sent,
          share_pct: share,
          closed,
          lifted,
        }
      : null,
    (body, signal) =>
      ask(api.POST("/api/tanks/{id}/wiring/meter/", { params: { path: { id: tank.id } }, body, signal })),
  );
  const touch = (point: string) => {
    if (next === "red") setRed(point);
    else setBlack(point);
    setNext(next === "red" ? "black" : "red");
  };
  const options = (
    <>
      {reading.drawing.spots.map((spot) => (
        <option key={spot.point} value={spot.point}>
          {spot.name}
        </option>
      ))}
      {lifted.map((id) => (
        <option key={id} value={`${id}~`}>
          free end of wire {reading.wires.find((wire) => wire.id === id)?.number}
        </option>
      ))}
    </>
  );
  return (
    <>
      <div className="meter">
        <div
          className={shown?.caution ? "meter-face caution" : "meter-face"}
          role="status"
          aria-label="The meter shows"
        >
          <span className="meter-shows mono">{shown?.shows ?? "—"}</span>
          <span className="meter-says">{shown?.says}</span>
        </div>
        <div className="meter-knobs">
          <div className="switch" role="group" aria-label="Dial">
            {Object.keys(words.settings).map((key) => (
              <button
                key={key}
                type="button"
                aria-pressed={setting === key}
                title={words.settings[key]}
                onClick={() => setSetting(key as Setting)}
              >
                {key}
              </button>
            ))}
          </div>
          <div className="switch" role="group" aria-label="Power">
            <button type="button" aria-pressed={power} onClick={() => setPower(true)}>
              Power on
            </button>
            <button type="button" aria-pressed={!power} onClick={() => setPower(false)}>
              Off
            </button>
          </div>
          {(reading.kind === "two_wire" || reading.kind === "four_wire") && shown && (
            <label className="meter-current">
              Sensor means
              <input
                type="range"
                min={shown.least_ma}
                max={shown.most_ma}
                step={0.1}
                value={current ?? shown.current_ma}
                aria-label="Current that the sensor means to send"
                onChange={(event) => setCurrent(Number(event.target.value))}
              />
              <span className="mono">{(current ?? shown.current_ma).toFixed(1)} mA</span>
              {current !== null && (
                <button type="button" className="how-open" onClick={() => setCurrent(null)}>
                  as at the line
                </button>
              )}
            </label>
          )}
          {reading.kind === "three_wire" && (
            <span>
              Sensor means <span className="mono">{share.toFixed(1)} %</span> of its output, as at the line.
            </span>
          )}
          {reading.kind === "contact" && (
            <label className="tick">
              <input type="checkbox" checked={closed} onChange={(event) => setClosed(event.target.checked)} />
              Contact closed
            </label>
          )}
        </div>
      </div>
      <p className="text-quiet pane-words">
        Touch two terminals of the drawing, red first. To read mA, lift a wire and put the leads on its free
        end and its terminal.
      </p>
      <WiringDrawing drawing={reading.drawing} red={red} black={black} lifted={lifted} onTerminal={touch} />
      <div className="facts">
        <div className="form-field">
          <label htmlFor="meter-red">Red lead on</label>
          <select
            id="meter-red"
            className="form-select"
            value={red}
            onChange={(event) => setRed(event.target.value)}
          >
            {options}
          </select>
        </div>
        <div className="form-field">
          <label htmlFor="meter-black">Black lead on</label>
          <select
            id="meter-black"
            className="form-select"
            value={black}
            onChange={(event) => setBlack(event.target.value)}
          >
            {options}
          </select>
        </div>
        <div className="form-field">
          <label htmlFor="meter-lift">Lift a wire off its first terminal</label>
          <select
            id="meter-lift"
            className="form-select"
            value={lifted[0] ?? ""}
            onChange={(event) => {
              const id = event.target.value;
              setLifted(id ? [id] : []);
              const wire = reading.wires.find((one) => one.id === id);
              if (wire && setting === "mA") {
                setRed(wire.a);
                setBlack(`${id}~`);
              }
            }}
          >
            <option value="">none lifted</option>
            {wires.map((wire) => (
              <option key={wire.id} value={wire.id}>
                {wire.number}: {wire.from} to {wire.to}
              </option>
            ))}
          </select>
        </div>
      </div>
      {!sensor && <p className="problem">There is no sensor in this circuit.</p>}
    </>
  );
}
