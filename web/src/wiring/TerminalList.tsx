import { useState } from "react";
import Button from "react-bootstrap/Button";

import { type FormState, TextField } from "../frame/FormField";
import { rowNumbers, withoutRow } from "../frame/plan";
import { Scroll } from "../frame/Scroll";
import type { WiringReading } from "./wiring";

/** The wires terminal by terminal; an end can be moved to where it is found to be. */
export function TerminalList({ form, reading }: { form: FormState; reading: WiringReading }) {
  const [moving, setMoving] = useState(false);
  const marks = Array.from({ length: reading.cores }, (_, index) => index);
  const extras = rowNumbers(form.entries, "extra");
  const terminals = Object.entries(reading.terminals).map(([point, name]) => (
    <option key={point} value={point}>
      {name}
    </option>
  ));
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
                          {terminals}
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
                        {terminals}
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
