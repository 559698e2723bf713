import Button from "react-bootstrap/Button";

import { api, ask } from "../api/client";
import { useDraft } from "../frame/draft";
import type { FormState } from "../frame/FormField";
import { useAsking } from "../frame/asking";
import { Scroll } from "../frame/Scroll";
import type { Tank } from "../tanks/tank";
import type { WiringReading } from "./wiring";

interface Props {
  tank: Tank;
  form: FormState;
  reading: WiringReading;
}

interface Matrix {
  pins: string[];
  conductors: string[];
  ohms: string[][];
  drawn: string[];
}

const SHAPES = { joined: "●", open: "○", short: "▲", doubtful: "◆", unread: "·" } as const;

function blank(count: number): Matrix {
  const numbers = Array.from({ length: count }, (_, index) => String(index + 1));
  return {
    pins: numbers,
    conductors: numbers.map((number) => `conductor ${number}`),
    ohms: numbers.map(() => Array.from({ length: count }, () => "")),
    drawn: numbers.map(() => ""),
  };
}

/** Ring a cable out: ohms pin by conductor, and which is which. */
export function RingOutPane({ tank, form, reading }: Props) {
  const draft = useDraft<Matrix>(`ring-out:${tank.id}`, {
    name: `Ring-out, ${tank.facts.name}`,
    page: `/tanks/${tank.id}/wiring`,
  });
  const matrix = draft.value ?? blank(Math.max(reading.cores, 2));
  const { answer: found } = useAsking(["ring-out"], matrix, (body, signal) =>
    ask(api.POST("/api/ring-out/", { body, signal })),
  );
  const change = (changes: Partial<Matrix>) => draft.change({ ...matrix, ...changes });
  const cell = (i: number, j: number, text: string) =>
    change({
      ohms: matrix.ohms.map((row, r) => (r === i ? row.map((old, c) => (c === j ? text : old)) : row)),
    });
  const renamed = (list: string[], index: number, text: string) =>
    list.map((old, i) => (i === index ? text : old));
  const joined = found?.findings.filter((finding) => finding.state === "joined") ?? [];
  const whole = joined.length >= reading.cores && reading.cores > 0;
  return (
    <>
      <p className="text-quiet pane-words">
        Power off and proven dead, both ends free. Type what the meter shows between each pin and each
        conductor; OL where it shows nothing. Name the conductors as they look; nothing is assumed of a
        colour.
      </p>
      <Scroll label="Ohms, pin by conductor">
        <table className="plain-table ring-out">
          <thead>
            <tr>
              <th>Pin</th>
              <th>Should be</th>
              {matrix.conductors.map((name, j) => (
                <th key={j}>
                  <input
                    className="form-control"
                    aria-label={`Conductor ${j + 1}, name`}
                    value={name}
                    onChange={(event) =>
                      change({ conductors: renamed(matrix.conductors, j, event.target.value) })
                    }
                  />
                </th>
              ))}
              <th>Found</th>
            </tr>
          </thead>
          <tbody>
            {matrix.pins.map((pin, i) => {
              const finding = found?.findings[i];
              return (
                <tr key={i}>
                  <td>
                    <input
                      className="form-control"
                      aria-label={`Pin ${i + 1}, name`}
                      value={pin}
                      onChange={(event) => change({ pins: renamed(matrix.pins, i, event.target.value) })}
                    />
                  </td>
                  <td>
                    <select
                      className="form-select"
                      aria-label={`Pin ${pin}, should be`}
                      value={matrix.drawn[i] ?? ""}
                      onChange={(event) => change({ drawn: renamed(matrix.drawn, i, event.target.value) })}
                    >
                      <option value="">not drawn</option>
                      {matrix.conductors.map((name) => (
                        <option key={name}>{name}</option>
                      ))}
                    </select>
                  </td>
                  {matrix.conductors.map((name, j) => (
                    <td key={j}>
                      <input
                        className="form-control mono"
                        aria-label={`Pin ${pin} to ${name}`}
                        value={matrix.ohms[i]?.[j] ?? ""}
                        onChange={(event) => cell(i, j, event.target.value)}
                      />
                    </td>
                  ))}
                  <td className={`finding ${finding?.state ?? ""}`}>
                    {finding && (
                      <>
                        <span aria-hidden="true">{SHAPES[finding.state]}</span> {finding.says}
                      </>
                    )}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </Scroll>
      {found?.swapped.map(([first, second]) => (
        <p key={`${first}${second}`} className="problem">
          Pins {first} and {second} are swapped against the drawing.
        </p>
      ))}
      {found && found.unused.length > 0 && <p>No pin goes to {found.unused.join(", ")}.</p>}
      <p className="ring-out-acts">
        <Button
          variant="outline-secondary"
          disabled={matrix.pins.length >= 12}
          onClick={() =>
            change({
              pins: [...matrix.pins, String(matrix.pins.length + 1)],
              ohms: [...matrix.ohms, matrix.conductors.map(() => "")],
              drawn: [...matrix.drawn, ""],
            })
          }
        >
          Add a pin
        </Button>
        <Button
          variant="outline-secondary"
          disabled={matrix.conductors.length >= 12}
          onClick={() =>
            change({
              conductors: [...matrix.conductors, `conductor ${matrix.conductors.length + 1}`],
              ohms: matrix.ohms.map((row) => [...row, ""]),
            })
          }
        >
          Add a conductor
        </Button>
        <Button variant="outline-secondary" onClick={draft.clear}>
          Begin anew
        </Button>
        <Button
          disabled={!whole}
          onClick={() =>
            form.change(
              Object.fromEntries(
                joined
                  .slice(0, reading.cores)
                  .map((finding, index) => [
                    `core[${index}]`,
                    `${finding.conductors[0] ?? ""}, pin ${finding.pin}`,
                  ]),
              ),
            )
          }
        >
          Write these on the cores
        </Button>
      </p>
    </>
  );
}
