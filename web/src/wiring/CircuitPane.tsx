import { useMutation } from "@tanstack/react-query";
import { useId, useState } from "react";
import Button from "react-bootstrap/Button";

import { api, ask, Refused, wordsOf } from "../api/client";
import { ChoiceField, type FormState, TextField, TickField } from "../frame/FormField";
import { Judgements } from "../frame/Judgements";
import { rowNumbers, withoutRow } from "../frame/plan";
import { useUnits } from "../frame/units";
import { Scroll } from "../frame/Scroll";
import type { Tank } from "../tanks/tank";
import type { WiringWords, WiringReading } from "./wiring";
import { WiringDrawing } from "./WiringDrawing";

interface Props {
  tank: Tank;
  form: FormState;
  reading: WiringReading;
  words: WiringWords;
  kept: boolean;
}

const MOST_RUNS = 4;
const PINS = Object.fromEntries(["1", "2", "3", "4"].map((pin) => [pin, `pin ${pin}`]));

/** The circuit: drawn, judged, chosen part by part, and listed terminal by terminal. */
export function CircuitPane({ tank, form, reading, words, kept }: Props) {
  const { system } = useUnits();
  return (
    <>
      <WiringDrawing drawing={reading.drawing} />
      <Judgements list={reading.rules} />
      <Choices form={form} reading={reading} words={words} />
      <TerminalList form={form} reading={reading} />
      <p>
        {kept && (
          <>
            <a href={`/api/tanks/${tank.id}/wiring/sheet.pdf?system=${system}`} download>
              Wiring sheet to print
            </a>{" "}
            ·{" "}
            <a href={`/api/tanks/${tank.id}/wiring/drawing.svg?system=${system}`} download>
              Drawing as SVG
            </a>{" "}
            ·{" "}
          </>
        )}
        <a href={`/api/tanks/${tank.id}/wiring/circuit.json`} download>
          Circuit as a file
        </a>
      </p>
      <ReadCircuit form={form} />
    </>
  );
}

/** A circuit's file in place of what is chosen: it stands as a draft until it is kept. */
function ReadCircuit({ form }: { form: FormState }) {
  const id = useId();
  const read = useMutation({
    mutationFn: (text: string) => ask(api.POST("/api/circuits/choices/", { body: { text } })),
    onSuccess: ({ entries }) => {
      const cleared = Object.fromEntries(Object.keys(form.entries).map((path) => [path, ""]));
      form.change({ ...cleared, ...entries });
    },
  });
  return (
    <div className="read-circuit">
      <label htmlFor={id}>Read a circuit from a file</label>
      <input
        id={id}
        type="file"
        className="form-control"
        accept=".json,application/json"
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) void file.text().then((text) => read.mutate(text.slice(0, 1_000_000)));
          event.target.value = "";
        }}
      />
      {read.isSuccess && <p role="status">Read; keep this wiring, or discard the changes.</p>}
      {read.error && (
        <p role="alert" className="problem">
          {read.error instanceof Refused
            ? read.error.problems.map((one) => [one.where, one.what].filter(Boolean).join(": ")).join("; ")
            : wordsOf(read.error)}{" "}
          Nothing was changed.
        </p>
      )}
    </div>
  );
}

function Choices({ form, reading, words }: { form: FormState; reading: WiringReading; words: WiringWords }) {
  const { start, kind } = reading;
  const loop = kind === "two_wire" || kind === "four_wire";
  const powers = form.entries["input.mode"] === "active" && kind === "two_wire";
  const rows = Math.max(rowNumbers(form.entries, "cable").length, 1);
  const { system } = useUnits();
  return (
    <>
      <h2>Made of</h2>
      <div className="facts">
        <ChoiceField form={form} path="kind" label="Link" options={words.links} otherwise={kind} />
        {!powers && (
          <>
            <TextField form={form} path="supply.nominal" label="Supply" usual="24 V" />
            <TextField form={form} path="supply.least" label="Supply at its lowest" usual="a tenth less" />
            <TextField form={form} path="supply.most" label="Supply at its highest" usual="a tenth more" />
            <TextField form={form} path="fuse.rating" label="Fuse" usual="100 mA" />
          </>
        )}
        <TextField
          form={form}
          path="input.ohm"
          label="Input's resistance"
          usual={
            { two_wire: "250 Ω", four_wire: "250 Ω", three_wire: "1 MΩ", contact: "3 kΩ" }[kind] ?? "120 Ω"
          }
        />
        {loop && (
          <ChoiceField
            form={form}
            path="input.mode"
            label="Input is"
            options={words.input_modes}
            otherwise="passive"
          />
        )}
        {kind !== "contact" && (
          <>
            <TextField
              form={form}
              path="sensor.lift_off"
              label="Sensor works from"
              usual={start["sensor.lift_off"] ?? "10 V"}
            />
            <TextField
              form={form}
              path="sensor.most"
              label="Sensor bears up to"
              usual={start["sensor.most"] ?? "36 V"}
            />
          </>
        )}
        {(kind === "three_wire" || kind === "four_wire" || kind === "digital") && (
          <TextField form={form} path="sensor.draw" label="Sensor draws" usual="as its kind" />
        )}
        {kind === "three_wire" && (
          <ChoiceField
            form={form}
            path="output"
            label="Output"
            options={Object.fromEntries(words.voltages.map((key) => [key, `${key.replace("-", "–")} V`]))}
            otherwise={start["output"] ?? "0-10"}
          />
        )}
        {loop && (
          <TextField
            form={form}
            path="burden.ohm"
            label="Added burden"
            usual="none"
            hint="For instance 250 Ω"
          />
        )}
        {form.entries["barrier"] !== "no" &&
          (start["barrier"] === "yes" || form.entries["barrier"] === "yes") && (
            <TextField form={form} path="barrier.ohm" label="Barrier, each line" usual="150 Ω" />
          )}
        {form.entries["calibrator"] === "yes" && loop && (
          <TextField form={form} path="calibrator.current" label="Calibrator sends" usual="12 mA" />
        )}
        {form.entries["meter"] === "yes" && loop && (
          <TextField form={form} path="meter.ohm" label="Panel meter" usual="50 Ω" />
        )}
        <ChoiceField
          form={form}
          path="shield"
          label="Shield earthed"
          options={words.shields}
          otherwise="panel"
        />
        <TextField form={form} path="hottest" label="Cable gets as hot as" usual="50 °C" />
      </div>
      {reading.parts.some((part) => part.kind === "barrier") && <Certificates form={form} words={words} />}
      {form.entries["connector"] === "yes" && (
        <div className="facts">
          {reading.signals.map((signal, index) => (
            <ChoiceField
              key={signal}
              form={form}
              path={`pin[${index}]`}
              label={`Sensor ${signal} on`}
              options={PINS}
              otherwise={String(index + 1)}
            />
          ))}
        </div>
      )}
      <div className="ticks">
        {!powers && <TickField form={form} path="fuse" label="Fuse" usual />}
        {loop && <TickField form={form} path="meter" label="Panel meter in the loop" />}
        {loop && <TickField form={form} path="calibrator" label="Calibrator left in the loop" />}
        <TickField form={form} path="connector" label="Four-pin plug at the sensor" />
        {kind === "two_wire" && (
          <TickField form={form} path="barrier" label="Barrier" usual={start["barrier"] === "yes"} />
        )}
      </div>
      <h2>Cable runs, from the panel on</h2>
      {Array.from({ length: rows }, (_, row) => (
        <div key={row} className="obstacle-row">
          <TextField
            form={form}
            path={`cable[${row}].length`}
            label={`Run ${row + 1}, length`}
            usual={system === "metric" ? "10 m" : "33 ft"}
          />
          <TextField
            form={form}
            path={`cable[${row}].size`}
            label="Wire size"
            usual={system === "metric" ? "0.5 mm²" : "20 AWG"}
          />
          <TextField
            form={form}
            path={`cable[${row}].temperature`}
            label="Its own temperature"
            usual="20 °C"
          />
          <TextField form={form} path={`cable[${row}].name`} label="Name" usual="Cable" />
          {row > 0 && (
            <Button
              variant="outline-secondary"
              aria-label={`Remove run ${row + 1}`}
              onClick={() => form.change(withoutRow(form.entries, "cable", row))}
            >
              ×
            </Button>
          )}
        </div>
      ))}
      {rows < MOST_RUNS && (
        <Button
          variant="outline-secondary"
          onClick={() =>
            form.change({
              "cable[0].length": form.entries["cable[0].length"] || "10 m",
              [`cable[${rows}].length`]: "10 m",
            })
          }
        >
          Add a run behind a junction box
        </Button>
      )}
    </>
  );
}

/** What the certificates of barrier and sensor state: what may come out, and what may go in. */
function Certificates({ form, words }: { form: FormState; words: WiringWords }) {
  return (
    <>
      <h2>Intrinsically safe, by the certificates</h2>
      <div className="facts">
        {words.entity.map(({ path, label, hint }) => (
          <TextField key={path} form={form} path={path} label={label} usual="not stated" hint={hint} />
        ))}
      </div>
    </>
  );
}

/** The wires terminal by terminal; an end can be moved to where it is found to be. */
function TerminalList({ form, reading }: { form: FormState; reading: WiringReading }) {
  const [moving, setMoving] = useState(false);
  const marks = Array.from({ length: reading.cores }, (_, index) => index);
  const extras = rowNumbers(form.entries, "extra");
  return (
    <>
      <h2>Terminal by terminal</h2>
      <p className="text-quiet pane-words">
        Conductors are what was rung out, never what a colour promises. Move an end to see what a swapped or a
        loose wire does.
      </p>
      <div className="facts">
        {marks.map((index) => (
          <TextField
            key={index}
            form={form}
            path={`core[${index}]`}
            label={`Core ${index + 1}, rung out as`}
            usual="not rung out"
          />
        ))}
      </div>
      <label className="tick">
        <input type="checkbox" checked={moving} onChange={(event) => setMoving(event.target.checked)} />
        Move ends
      </label>
      <Scroll label="Terminal by terminal">
        <table className="plain-table terminal-list">
          <thead>
            <tr>
              <th>No.</th>
              <th>From</th>
              <th>To</th>
              <th>Conductor</th>
            </tr>
          </thead>
          <tbody>
            {moving
              ? reading.planned.map((wire, index) => (
                  <tr key={wire.id}>
                    <td className="mono">{index + 1}</td>
                    {(["a", "b"] as const).map((end) => (
                      <td key={end}>
                        <select
                          className="form-select"
                          aria-label={`Wire ${index + 1}, ${end === "a" ? "from" : "to"}`}
                          value={form.entries[`end.${wire.id}.${end}`] || wire[end]}
                          onChange={(event) =>
                            form.change({
                              [`end.${wire.id}.${end}`]:
                                event.target.value === wire[end] ? "" : event.target.value,
                            })
                          }
                        >
                          {Object.entries(reading.terminals).map(([point, name]) => (
                            <option key={point} value={point}>
                              {name}
                            </option>
                          ))}
                        </select>
                      </td>
                    ))}
                    <td />
                  </tr>
                ))
              : reading.wires.map((wire) => (
                  <tr key={wire.id}>
                    <td className="mono">{wire.number}</td>
                    <td>{wire.from}</td>
                    <td>{wire.to}</td>
                    <td>{wire.mark}</td>
                  </tr>
                ))}
            {moving &&
              extras.map((row) => (
                <tr key={`extra${row}`}>
                  <td>+</td>
                  {(["a", "b"] as const).map((end) => (
                    <td key={end}>
                      <select
                        className="form-select"
                        aria-label={`Added wire ${row + 1}, ${end === "a" ? "from" : "to"}`}
                        value={form.entries[`extra[${row}].${end}`] ?? "nowhere"}
                        onChange={(event) => form.change({ [`extra[${row}].${end}`]: event.target.value })}
                      >
                        {Object.entries(reading.terminals).map(([point, name]) => (
                          <option key={point} value={point}>
                            {name}
                          </option>
                        ))}
                      </select>
                    </td>
                  ))}
                  <td>
                    <Button
                      variant="outline-secondary"
                      aria-label={`Remove added wire ${row + 1}`}
                      onClick={() => form.change(withoutRow(form.entries, "extra", row))}
                    >
                      ×
                    </Button>
                  </td>
                </tr>
              ))}
          </tbody>
        </table>
      </Scroll>
      {moving && (
        <Button
          variant="outline-secondary"
          onClick={() =>
            form.change({
              [`extra[${extras.length}].a`]: "nowhere",
              [`extra[${extras.length}].b`]: "nowhere",
            })
          }
        >
          Add a wire
        </Button>
      )}
    </>
  );
}
