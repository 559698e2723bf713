import { keepPreviousData, useQuery } from "@tanstack/react-query";
import Button from "react-bootstrap/Button";

import { keys } from "../api/keys";
import { api, ask, type Schema, wordsOf } from "../api/client";
import { type FormState, TextField } from "../frame/FormField";
import { useUnits } from "../frame/units";
import type { Tank } from "../tanks/tank";
import { type GaugeReading, spotOf } from "./gauge";
import { PlanDrawing } from "./PlanDrawing";

type Tilt = Schema["Tilt"];

interface Props {
  tank: Tank;
  form: FormState;
  reading: GaugeReading;
}

const STEPS = 7;

/** The tilt map: what a level sensor errs at every spot of the plan while the tank pitches and rolls. */
export function TiltPane({ tank, form, reading }: Props) {
  const units = useUnits();
  const asked = Object.fromEntries(
    ["tilt.pitch", "tilt.roll", "tilt.fill"].map((path) => [path, form.entries[path] ?? ""]),
  );
  const { data, error, isFetching } = useQuery({
    queryKey: keys.tank(tank.id, "tilt", tank.revision, asked, units.system),
    queryFn: () =>
      ask(
        api.POST("/api/tanks/{id}/gauge/tilt/", {
          params: { path: { id: tank.id } },
          body: { entries: asked, system: units.system },
        }),
      ),
    placeholderData: keepPreviousData,
    throwOnError: false,
    retry: false,
  });
  const fields = new Map([
    ...form.fields,
    ...(data?.fields_read ?? []).map((field) => [field.path, field] as const),
  ]);
  const mine = { ...form, fields };
  return (
    <>
      <div className="facts">
        <TextField form={mine} path="tilt.pitch" label="Pitches either way" hint="Fore and aft" />
        <TextField form={mine} path="tilt.roll" label="Rolls either way" hint="To the sides" />
        <TextField form={mine} path="tilt.fill" label="At fills of" hint="Of the capacity, one or several" />
      </div>
      {error && (
        <p role="alert" className="problem">
          {wordsOf(error)}
        </p>
      )}
      {isFetching && <progress aria-label="Working the tilt map out" />}
      {data && reading.plan && (
        <>
          <TiltWords tilt={data} />
          <TiltDrawing tilt={data} form={form} reading={reading} plan={reading.plan} />
        </>
      )}
    </>
  );
}

/** Why fore and aft counts more than across, in numbers for this very tank. */
function TiltWords({ tilt }: { tilt: Tilt }) {
  const units = useUnits();
  const litres = (value: number) =>
    `${units.worth("volume", Math.abs(value), value)} ${units.unit("volume").name}`;
  const [first, second] =
    tilt.along_l >= tilt.across_l ? ["Fore and aft", "across"] : ["Across", "fore and aft"];
  const ratio = Math.max(tilt.along_l, tilt.across_l) / Math.max(Math.min(tilt.along_l, tilt.across_l), 1e-9);
  return (
    <p className="tilt-words">
      In the middle it errs {units.half("volume", tilt.middle_l)} at worst. A quarter of the length off it,{" "}
      {units.tape(tilt.along_off_mm)}, pitching costs {litres(tilt.along_l)}; a quarter of the width,{" "}
      {units.tape(tilt.across_off_mm)}, rolling costs {litres(tilt.across_l)}.{" "}
      {ratio < 1000 && ratio > 1.05 && `${first} counts ${ratio.toFixed(1)} times as much as ${second}.`}
    </p>
  );
}

interface MapProps {
  tilt: Tilt;
  form: FormState;
  reading: GaugeReading;
  plan: NonNullable<GaugeReading["plan"]>;
}

function TiltDrawing({ tilt, form, reading, plan }: MapProps) {
  const units = useUnits();
  const sizes = tilt.worst_l.flat().flatMap((value) => (value === null ? [] : [Math.abs(value)]));
  const most = Math.max(...sizes, 1e-9);
  const step = (value: number) => Math.min(Math.floor((Math.abs(value) / most) * STEPS), STEPS - 1);
  const spot = spotOf(form.entries, reading.situation);
  const at = nearest(tilt, spot.x, spot.y);
  const [bestX = 0, bestY = 0] = tilt.best_mm;
  return (
    <>
      <PlanDrawing
        plan={plan}
        label="Map of the error, from above"
        tallest={330}
        x={spot.x}
        y={spot.y}
        onMove={(x, y) => form.change({ "spot.x": `${x} mm`, "spot.y": `${y} mm` })}
        below={(x, y) => {
          const wide = (x(tilt.x_mm[1] ?? 1) - x(tilt.x_mm[0] ?? 0)) * 1.02;
          const tall = (y(tilt.y_mm[0] ?? 0) - y(tilt.y_mm[1] ?? 1)) * 1.02;
          return tilt.worst_l.map((row, j) =>
            row.map((value, i) =>
              value === null ? null : (
                <rect
                  key={`${i}-${j}`}
                  x={x(tilt.x_mm[i] ?? 0) - wide / 2}
                  y={y(tilt.y_mm[j] ?? 0) - tall / 2}
                  width={wide}
                  height={tall}
                  className={`tilt-${step(value)}`}
                />
              ),
            ),
          );
        }}
        above={(x, y) => (
          <g className="tilt-best">
            <path d={`M${x(bestX)} ${y(bestY) - 8}l8 8l-8 8l-8 -8z`} />
            <text x={x(bestX) + 13} y={y(bestY) - 8}>
              best {units.half("volume", tilt.best_l)}
            </text>
          </g>
        )}
      />
      <div className="tilt-scale" aria-hidden="true">
        <span>0</span>
        {Array.from({ length: STEPS }, (_, index) => (
          <svg key={index} width={22} height={12}>
            <rect width={22} height={12} className={`tilt-${index}`} />
          </svg>
        ))}
        <span>{units.half("volume", most)}</span>
      </div>
      <p className="tilt-here">
        {at === null ? (
          "The spot is beside the tank."
        ) : (
          <>
            At the spot, {units.tape(spot.x)} along and {units.tape(spot.y)} across:{" "}
            <span className="mono">{units.half("volume", at)}</span> at worst.
          </>
        )}{" "}
        <Button
          variant="outline-secondary"
          onClick={() =>
            form.change({ "spot.x": `${Math.round(bestX)} mm`, "spot.y": `${Math.round(bestY)} mm` })
          }
        >
          Put it at the best spot
        </Button>
      </p>
    </>
  );
}

/** The error at the map's spot that is nearest to a place; null beside the tank. */
function nearest(tilt: Tilt, x: number, y: number): number | null {
  const index = (list: number[], value: number) =>
    list.reduce((best, v, i) => (Math.abs(v - value) < Math.abs((list[best] ?? 0) - value) ? i : best), 0);
  return tilt.worst_l[index(tilt.y_mm, y)]?.[index(tilt.x_mm, x)] ?? null;
}
