import { useId } from "react";

import { keys } from "../../api/keys";
import { api, ask, Refused, wordsOf } from "../../api/client";
import { useAsking } from "../../frame/asking";
import { useUnits } from "../../frame/units";
import { useLine } from "../../line/line";
import type { Tank } from "../tank";
import { liquidQuery, type LiquidTyped } from "./table";

interface Props {
  tank: Tank;
  liquid: LiquidTyped;
  onChange: (liquid: LiquidTyped) => void;
}

/** The liquid at the line: gross and standard volume, mass, water under the product. */
export function LiquidPane({ tank, liquid, onChange }: Props) {
  const { line } = useLine();
  const units = useUnits();
  const query = {
    ...liquidQuery(liquid),
    system: units.system,
    innage_mm: Math.round(line.innage_mm * 10) / 10,
  };
  const { answer: data, error } = useAsking(keys.tank(tank.id, "contents"), query, (asked, signal) =>
    ask(api.GET("/api/tanks/{id}/contents/", { params: { path: { id: tank.id }, query: asked }, signal })),
  );
  const problem = (key: string) => (error instanceof Refused ? error.at(key) : undefined);
  const other = error instanceof Refused ? error.problems.filter((one) => !(one.where in liquid)) : [];
  const us = units.system === "us";
  // To the place that the table's ± carries there, as at the line; water on the floor is not hidden by it.
  const litres = (of: number) =>
    `${units.worth("volume", of, line.u95_l ?? null)} ${units.unit("volume").name}`;
  const field = (key: "density" | "density_at" | "temperature" | "water", label: string, example: string) => (
    <Field
      label={label}
      example={example}
      value={liquid[key]}
      problem={problem(key)}
      onChange={(text) => onChange({ ...liquid, [key]: text })}
    />
  );
  return (
    <div className="pane">
      <div className="pane-fields">
        {field("temperature", "Liquid at", us ? "60 °F" : "15 °C")}
        {field("density", "Observed density", us ? "7.0 lb/gal" : "840 kg/m³")}
        {field("density_at", "Observed at", us ? "60 °F" : "15 °C")}
        {field("water", "Water up to", us ? "0 in" : "0 mm")}
        <div className="switch" role="group" aria-label="Standard temperature">
          {(["15C", "60F"] as const).map((key) => (
            <button
              key={key}
              type="button"
              aria-pressed={liquid.standard === key}
              onClick={() => onChange({ ...liquid, standard: key })}
            >
              {key === "15C" ? "15 °C" : "60 °F"}
            </button>
          ))}
        </div>
      </div>
      {error && !(error instanceof Refused) && <p className="problem">{wordsOf(error)}</p>}
      {other.map((one) => (
        <p key={one.what} className="problem">
          {one.what}
        </p>
      ))}
      {data && !error && (
        <>
          <dl className="contents">
            <div>
              <dt>Product, gross</dt>
              <dd>{litres(data.gross_l)}</dd>
            </div>
            <div>
              <dt>Product at {data.liquid.standard}</dt>
              <dd>{litres(data.standard_l)}</dd>
            </div>
            <div>
              <dt>Mass</dt>
              <dd>{units.text("mass", data.mass_kg)}</dd>
            </div>
            <div>
              <dt>Water under it</dt>
              <dd>{units.text("volume", data.water_l)}</dd>
            </div>
          </dl>
          <p className="text-quiet">
            Density {data.liquid.density} at {data.liquid.standard}, {data.liquid.density_in_tank} in the tank
            at {data.liquid.temperature}; volume correction factor {data.liquid.correction.toFixed(5)}
            {data.liquid.assumed && `; ${data.liquid.assumed}`}.
          </p>
          <label className="tick">
            <input
              type="checkbox"
              checked={liquid.shown}
              onChange={(event) => onChange({ ...liquid, shown: event.target.checked })}
            />{" "}
            Put standard volume and mass into the rows and files of the table
          </label>
        </>
      )}
    </div>
  );
}

interface FieldProps {
  label: string;
  example: string;
  value: string;
  problem: string | undefined;
  onChange: (text: string) => void;
}

function Field({ label, example, value, problem, onChange }: FieldProps) {
  const id = useId();
  return (
    <div className="pane-field">
      <label htmlFor={id}>{label}</label>
      <input
        id={id}
        className="form-control mono"
        autoComplete="off"
        placeholder={example}
        value={value}
        onChange={(event) => onChange(event.target.value)}
      />
      {problem && <span className="problem">{problem}</span>}
    </div>
  );
}
