import { useMutation } from "@tanstack/react-query";
import { useId } from "react";
import Button from "react-bootstrap/Button";

import { api, ask, Refused, wordsOf } from "../api/client";
import { ChoiceField, type FormState, TextField, TickField } from "../frame/FormField";
import { Judgements } from "../frame/Judgements";
import { rowNumbers, withoutRow } from "../frame/plan";
import { useUnits } from "../frame/units";
import type { Tank } from "../tanks/tank";
import type { WiringWords, WiringReading } from "./wiring";
import { TerminalList } from "./TerminalList";
import { WiringDrawing } from "./WiringDrawing";

interface Props {
  tank: Tank;
  form: FormState;
  reading: WiringReading;
  words: WiringWords;
  kept: boolean;
}

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

/** What a circuit can be made of, by the fields and their words; those of them are shown that this circuit has. */
const FIELDS: [path: string, label: string, hint?: string][] = [
  ["supply.nominal", "Supply"],
  ["supply.least", "Supply at its lowest"],
  ["supply.most", "Supply at its highest"],
  ["fuse.rating", "Fuse"],
  ["input.ohm", "Input's resistance"],
  ["input.volt", "Input gives"],
  ["sensor.lift_off", "Sensor works from"],
  ["sensor.most", "Sensor bears up to"],
  ["sensor.draw", "Sensor draws"],
  ["sensor.output_ohm", "Sensor's output resistance"],
  ["sensor.drives", "Sensor drives with"],
  ["sensor.closed_ohm", "Contact, closed"],
  ["burden.ohm", "Added burden", "For instance 250 Ω"],
  ["barrier.ohm", "Barrier, line"],
  ["barrier.return_ohm", "Barrier, return"],
  ["calibrator.current", "Calibrator sends"],
  ["meter.ohm", "Panel meter"],
  ["hottest", "Cable gets as hot as"],
];
const TICKS: [path: string, label: string][] = [
  ["fuse", "Fuse"],
  ["meter", "Panel meter in the loop"],
  ["calibrator", "Calibrator left in the loop"],
  ["connector", "Four-pin plug at the sensor"],
  ["barrier", "Barrier"],
];

function Choices({ form, reading, words }: { form: FormState; reading: WiringReading; words: WiringWords }) {
  const runs = rowNumbers(form.entries, "cable").length || 1;
  const volts = Object.fromEntries(words.voltages.map((key) => [key, `${key.replace("-", "–")} V`]));
  const there = ([path]: [string, ...unknown[]]) => form.fields.has(path);
  const choices: [path: string, label: string, options: Record<string, string>][] = [
    ["kind", "Link", words.links],
    ["input.mode", "Input is", words.input_modes],
    ["output", "Output", volts],
    ["shield", "Shield earthed", words.shields],
  ];
  const pins = reading.signals.flatMap((signal, index): [string, string][] => [
    [`pin[${index}]`, `Sensor ${signal} on`],
  ]);
  const length = (row: number) => `cable[${row}].length`;
  const usual = form.fields.get(length(0))?.usual ?? "";
  return (
    <>
      <h2>Made of</h2>
      <div className="facts">
        {choices.filter(there).map(([path, label, options]) => (
          <ChoiceField key={path} form={form} path={path} label={label} options={options} />
        ))}
        {FIELDS.filter(there).map(([path, label, hint]) => (
          <TextField key={path} form={form} path={path} label={label} hint={hint} />
        ))}
      </div>
      <Certificates form={form} words={words} />
      {pins.some(there) && (
        <div className="facts">
          {pins.filter(there).map(([path, label]) => (
            <ChoiceField key={path} form={form} path={path} label={label} options={words.pins} />
          ))}
        </div>
      )}
      <div className="ticks">
        {TICKS.filter(there).map(([path, label]) => (
          <TickField key={path} form={form} path={path} label={label} />
        ))}
      </div>
      <h2>Cable runs, from the panel on</h2>
      {Array.from({ length: runs }, (_, row) => (
        <div key={row} className="obstacle-row">
          <TextField form={form} path={length(row)} label={`Run ${row + 1}, length`} />
          <TextField form={form} path={`cable[${row}].size`} label="Wire size" />
          <TextField form={form} path={`cable[${row}].temperature`} label="Its own temperature" />
          <TextField form={form} path={`cable[${row}].name`} label="Name" />
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
      {runs < words.most_runs && (
        <Button
          variant="outline-secondary"
          onClick={() =>
            form.change({ [length(0)]: form.entries[length(0)] || usual, [length(runs)]: usual })
          }
        >
          Add a run behind a junction box
        </Button>
      )}
    </>
  );
}

/** What the certificates of barrier and sensor state, where there is a barrier: what may come out, and go in. */
function Certificates({ form, words }: { form: FormState; words: WiringWords }) {
  const stated = words.entity.filter(({ path }) => form.fields.has(path));
  if (stated.length === 0) return null;
  return (
    <>
      <h2>Intrinsically safe, by the certificates</h2>
      <div className="facts">
        {stated.map(({ path, label, hint }) => (
          <TextField key={path} form={form} path={path} label={label} hint={hint} />
        ))}
      </div>
    </>
  );
}
