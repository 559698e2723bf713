import { Fragment, useState } from "react";
import { Link } from "react-router";

import { keys } from "../api/keys";
import { api, ask, type Schema } from "../api/client";
import type { FormState } from "../frame/FormField";
import { TextField } from "../frame/FormField";
import { Judgements } from "../frame/Judgements";
import { useAsking } from "../frame/asking";
import { PlanBar } from "../frame/PlanBar";
import { usePlan } from "../frame/plan";
import { SettingField } from "../frame/SettingField";
import { useUnits } from "../frame/units";
import type { Tank } from "../tanks/tank";
import { AtTheLine } from "./AtTheLine";
import { CHAIN, type ChainReading } from "./chain";
import { ChainExtras } from "./ChainExtras";
import { GoTo } from "../line/GoTo";
import { useLine } from "../line/line";
import { Opening } from "../frame/Opening";

type Stop = Schema["Stop"];

/** The settings that are typed first, above the ladder: once there, they are not asked for again in it. */
const ENDS = ["sensor.quantity", "signal.kind", "sensor.low", "sensor.high", "sensor.zero"];

/** The whole chain from the liquid to the screen, hop by hop, read at the line. */
export function ChainPane({ tank }: { tank: Tank }) {
  const plan = usePlan(tank, CHAIN);
  const { line } = useLine();
  const { system } = useUnits();
  const [chosen, setChosen] = useState<{ meter_unit: Schema["MeterUnitEnum"]; meter_digits: number } | null>(
    null,
  );
  const meter = chosen ?? {
    meter_unit: system === "us" ? ("in" as const) : ("mm" as const),
    meter_digits: 4,
  };
  const { answer } = useAsking(
    keys.tank(tank.id, "chain-line"),
    plan
      ? { entries: plan.form.entries, system: plan.typed.system, innage_mm: line.innage_mm, ...meter }
      : null,
    (body, signal) =>
      ask(api.POST("/api/tanks/{id}/chain/line/", { params: { path: { id: tank.id } }, body, signal })),
  );
  if (!plan) return <Opening />;
  const { form, reading } = plan;
  const read = answer?.line ?? null;
  const find = async (station: string, text: string) => {
    const body = {
      entries: form.entries,
      system: plan.typed.system,
      station: station as Stop["station"],
      text,
    };
    const path = { params: { path: { id: tank.id } } };
    return (await ask(api.POST("/api/tanks/{id}/chain/find/", { ...path, body }))).innage_mm;
  };
  return (
    <>
      <PlanBar
        plan={plan}
        action="Keep this chain"
        nothing="Not kept yet: it stands as the tank's gauge and wiring have it. Type the sensor's two ends, and open a hop to say how its device is set."
      />
      {reading && <SensorEnds form={form} reading={reading} />}
      {reading && <Judgements list={reading.judgements} />}
      {plan.kept.revision > 0 && <AtTheLine unsaved={plan.changed} />}
      {reading && <Ladder form={form} reading={reading} stops={read?.stops ?? []} find={find} />}
      <p className="pane-words">
        Does a reading differ from the truth?{" "}
        <Link to={`/tanks/${tank.id}/trouble?pane=parting`}>Find where it parts</Link>
      </p>
      {read && <ChainExtras read={read} meter={meter} onMeter={setChosen} />}
      {reading && (
        <p className="text-quiet pane-words">
          {reading.table_number
            ? `Volumes come from issued table ${reading.table_number}.`
            : "Volumes come from the survey: no table is issued yet."}
        </p>
      )}
    </>
  );
}

/** The chain's first hops: what the sensor reports, its two ends, and where its zero stands. */
function SensorEnds({ form, reading }: { form: FormState; reading: ChainReading }) {
  const settings = ENDS.map((path) => reading.settings.find((setting) => setting.path === path));
  return (
    <fieldset className="sensor-ends">
      <legend>Sensor</legend>
      <div className="facts">
        {settings.map(
          (setting) => setting && <SettingField key={setting.path} form={form} setting={setting} />,
        )}
        <TextField form={form} path="sensor.serial" label="Serial or tag" />
      </div>
    </fieldset>
  );
}

interface LadderProps {
  form: FormState;
  reading: ChainReading;
  stops: Stop[];
  /** Gives the innage [mm] at which a station reads what is typed. */
  find: (station: string, text: string) => Promise<number>;
}

/** The hops down the page, each with the value that it gives at the line; one of them open for its settings. */
function Ladder({ form, reading, stops, find }: LadderProps) {
  const [open, setOpen] = useState<string | null>(null);
  const at = new Map(stops.map((stop) => [stop.station as string, stop]));
  const hops = reading.hops.length
    ? reading.hops
    : [...new Set(reading.settings.map((setting) => setting.hop))].map((key) => ({ key, label: key }));
  const wrong = reading.fields_read.filter((field) => field.state === "wrong").map((field) => field.path);
  const level = at.get("level");
  return (
    <table className="ladder">
      <caption className="visually-hidden">The chain at the line</caption>
      <thead>
        <tr>
          <th scope="col">Hop</th>
          <th scope="col">At the line</th>
          <th scope="col">± so far, k = 2</th>
        </tr>
      </thead>
      <tbody>
        <tr className="rung">
          <td>
            <span className="rung-name">The liquid</span>
            <span className="rung-station">Level</span>
          </td>
          <td className="mono rung-value">{level?.text ?? "…"}</td>
          <td />
        </tr>
        {hops.map(({ key: hop, label: name }) => {
          const settings = reading.settings.filter(
            (setting) => setting.hop === hop && !ENDS.includes(setting.path),
          );
          const stop = at.get(hop);
          const bad = settings.some((setting) => wrong.includes(setting.path));
          const here = open === hop || bad;
          return (
            <Fragment key={hop}>
              <tr className="rung">
                <td>
                  <button
                    type="button"
                    className="rung-open"
                    aria-expanded={here}
                    onClick={() => setOpen(open === hop ? null : hop)}
                  >
                    <span className="rung-name">{name}</span>
                    <span className="rung-station">{stop?.label ?? ""}</span>
                  </button>
                </td>
                <td className="rung-value">
                  {stop ? (
                    <GoTo label={stop.label} text={stop.text} find={(text) => find(hop, text)}>
                      <span className="mono">{stop.text}</span>
                    </GoTo>
                  ) : (
                    "…"
                  )}
                  {stop && <StepWords stop={stop} />}
                </td>
                <td className="mono rung-unsure">{stop && <Unsure stop={stop} />}</td>
              </tr>
              {here && (
                <tr className="rung-settings">
                  <td colSpan={3}>
                    <div className="facts">
                      {settings.map((setting) => (
                        <SettingField key={setting.path} form={form} setting={setting} />
                      ))}
                      {hop === "sensed" && (
                        <TextField
                          form={form}
                          path="liquid.temperature"
                          label="Temperature of the liquid"
                          hint="Its density follows, where none is typed"
                        />
                      )}
                      {hop === "shown" && (
                        <TextField
                          form={form}
                          path="shown.points"
                          label="Points it holds of the table"
                          hint="0: the whole table"
                        />
                      )}
                    </div>
                  </td>
                </tr>
              )}
            </Fragment>
          );
        })}
      </tbody>
    </table>
  );
}

function StepWords({ stop }: { stop: Stop }) {
  const units = useUnits();
  if (!stop.words && stop.step_mm === null) return null;
  return (
    <span className="rung-step">
      {stop.words && `${stop.words}${stop.step_mm === null ? "" : "; "}`}
      {stop.step_mm !== null &&
        `one step ${units.text("length", stop.step_mm)}, ${units.text("volume", stop.step_l ?? 0)}`}
    </span>
  );
}

function Unsure({ stop }: { stop: Stop }) {
  const units = useUnits();
  return (
    <>
      {units.half("length", stop.u95_mm)}
      <span className="rung-step">{units.half("volume", stop.u95_l)}</span>
    </>
  );
}
