import Button from "react-bootstrap/Button";

import { ChoiceField, type FormState, TextField } from "../frame/FormField";
import { Judgements } from "../frame/Judgements";
import { rowNumbers, withoutRow } from "../frame/plan";
import { useUnits } from "../frame/units";
import type { Tank } from "../tanks/tank";
import { type GaugeReading, type GaugeWords, spotOf } from "./gauge";
import { PlanDrawing } from "./PlanDrawing";
import { SpotSection } from "./SpotSection";

interface Props {
  tank: Tank;
  form: FormState;
  reading: GaugeReading;
  words: GaugeWords;
}

const MOST = 20;

/** Where the gauge sits: by an opening or by dragging, with what is in its way. */
export function SpotPane({ tank, form, reading, words }: Props) {
  const units = useUnits();
  const { situation: there, plan, obstacles } = reading;
  const spot = spotOf(form.entries, there);
  const rows = rowNumbers(form.entries, "obstacles");
  const place = (x: number, y: number) => form.change({ "spot.x": `${x} mm`, "spot.y": `${y} mm` });
  const ports = tank.ports.map((port, index) => ({ ...port, at: tank.port_positions_mm[index] ?? null }));
  const takePort = (name: string) => {
    const at = ports.find((port) => port.name === name)?.at ?? null;
    form.change({
      "spot.port": name,
      ...(at === null ? {} : { "spot.x": `${at} mm`, "spot.y": "" }),
    });
  };
  // Every thing carries its word: above it, or at the lower wall where it runs across the tank; the beam below its edge.
  const names = obstacles
    .filter((thing) => !ports.some((port) => port.name === thing.name))
    .map((thing) => {
      const runs = thing.kind === "baffle" || thing.kind === "seam";
      const across = runs ? (plan?.low_mm[1] ?? 0) : thing.y_mm + thing.radius_mm;
      return { name: thing.name, at: thing.x_mm, across, drop: -5 };
    });
  if (reading.beam_reach_mm > 0)
    names.push({ name: "beam", at: spot.x, across: spot.y - reading.beam_reach_mm, drop: 14 });
  const shell = tank.facts.drawing.upright ? null : tank.facts.drawing.gauge_position_mm;
  return (
    <>
      {plan ? (
        <div className="spot-drawings">
          <PlanDrawing
            plan={plan}
            label="The tank from above"
            x={spot.x}
            y={spot.y}
            onMove={place}
            below={(x, y, scale) => (
              <>
                {reading.beam_reach_mm > 0 && (
                  <circle cx={x(spot.x)} cy={y(spot.y)} r={reading.beam_reach_mm * scale} className="beam" />
                )}
                {obstacles.map((thing, index) =>
                  thing.kind === "baffle" || thing.kind === "seam" ? (
                    <line
                      key={index}
                      x1={x(thing.x_mm)}
                      x2={x(thing.x_mm)}
                      y1={y(plan.low_mm[1] ?? 0)}
                      y2={y(plan.high_mm[1] ?? 0)}
                      className={`obstacle ${thing.kind}`}
                    />
                  ) : (
                    <circle
                      key={index}
                      cx={x(thing.x_mm)}
                      cy={y(thing.y_mm)}
                      r={Math.max(thing.radius_mm * scale, 3)}
                      className="obstacle"
                    />
                  ),
                )}
              </>
            )}
            above={(x, y) => (
              <>
                {names.map(({ name, at, across, drop }) => (
                  <text key={`${name}${at}`} x={x(at)} y={y(across) + drop} className="plan-name">
                    {name}
                  </text>
                ))}
                {ports.map(
                  (port) =>
                    port.at !== null && (
                      <g key={port.name} className="plan-port">
                        <circle cx={x(port.at)} cy={y(0)} r={7} />
                        <text x={x(port.at)} y={y(plan.high_mm[1] ?? 0) - 8} textAnchor="middle">
                          {port.name}
                        </text>
                      </g>
                    ),
                )}
                {shell !== null && (
                  <path d={`M${x(shell)} ${y(plan.low_mm[1] ?? 0)}v9`} className="plan-gauge">
                    <title>The place that the table is made for</title>
                  </path>
                )}
              </>
            )}
          />
          <Judgements list={reading.placement} />
          <SpotSection tank={tank} reading={reading} />
        </div>
      ) : (
        <p className="empty">
          Only a table of points is known of this tank: there is no plan to drag a spot on. Type where it is.
        </p>
      )}
      {!plan && <Judgements list={reading.placement} />}
      <div className="facts">
        {ports.length > 0 && (
          <div className="form-field">
            <label htmlFor="spot-port">Opening</label>
            <select
              id="spot-port"
              className="form-select"
              value={form.entries["spot.port"] ?? ""}
              onChange={(event) => takePort(event.target.value)}
            >
              <option value="">a new one, or none</option>
              {ports.map((port) => (
                <option key={port.name} value={port.name}>
                  {port.name} {port.size && `(${port.size})`}
                </option>
              ))}
            </select>
            <div className="form-says">As noted at Survey</div>
          </div>
        )}
        <TextField form={form} path="spot.x" label="Along, from the left" usual={units.tape(there.x_mm)} />
        <TextField form={form} path="spot.y" label="Across, from the middle" usual={units.tape(there.y_mm)} />
        {reading.drawn?.mount === "below" && (
          <TextField
            form={form}
            path="spot.pad_tilt"
            label="Tilt read on the pad"
            hint="By the three-axis level"
          />
        )}
      </div>
      <h2>What stands in the tank</h2>
      {rows.map((row) => (
        <div key={row} className="obstacle-row">
          <ChoiceField
            form={form}
            path={`obstacles[${row}].kind`}
            label={`Thing ${row + 1}`}
            options={words.obstacles}
          />
          <TextField form={form} path={`obstacles[${row}].x`} label="Along" />
          <TextField form={form} path={`obstacles[${row}].y`} label="Across" />
          <TextField form={form} path={`obstacles[${row}].radius`} label="Reach around" />
          <Button
            variant="outline-secondary"
            aria-label={`Remove thing ${row + 1}`}
            onClick={() => form.change(withoutRow(form.entries, "obstacles", row))}
          >
            ×
          </Button>
        </div>
      ))}
      {rows.length < MOST && (
        <Button
          variant="outline-secondary"
          onClick={() => form.change({ [`obstacles[${rows.length}].kind`]: "float" })}
        >
          Add a float, baffle, pipe, seam…
        </Button>
      )}
    </>
  );
}
