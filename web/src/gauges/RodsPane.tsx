import { useState } from "react";

import type { Schema } from "../api/client";
import { ChoiceField, type FormState, TextField } from "../frame/FormField";
import { Judgements } from "../frame/Judgements";
import { useUnits } from "../frame/units";
import { Scroll } from "../frame/Scroll";
import { useLine } from "../line/line";
import type { Tank } from "../tanks/tank";
import type { GaugeWords } from "./gauge";
import { bandAt, follow, type RelayState } from "./relays";

type RodSet = Schema["RodSet"];

interface Props {
  tank: Tank;
  form: FormState;
  rods: RodSet;
  words: GaugeWords;
  kept: boolean;
}

/** Four rods cut to their levels, and the relays that they switch, acting at the line. */
export function RodsPane({ tank, form, rods, words, kept }: Props) {
  const units = useUnits();
  const length = (mm: number) => units.tape(mm);
  return (
    <>
      <Relays rods={rods} tank={tank} />
      <div className="facts">
        {rods.rods.map((rod) => (
          <TextField
            key={rod.key}
            form={form}
            path={`rods.${rod.key}`}
            label={`${rod.name}, tip at`}
            usual={length(rod.tip_mm)}
          />
        ))}
        <TextField form={form} path="rods.piece" label="Rods come in pieces of" />
      </div>
      <Scroll label="Rods, as they are cut">
        <table className="plain-table">
          <thead>
            <tr>
              <th>Rod</th>
              <th>Cut to</th>
              <th>Sheath</th>
              <th>Pieces</th>
              <th>Couplings</th>
            </tr>
          </thead>
          <tbody>
            {rods.rods.map((rod) => (
              <tr key={rod.key}>
                <td>{rod.name}</td>
                <td className="mono">{length(rod.length_mm)}</td>
                <td className="mono">{length(rod.sheath_mm)}</td>
                <td className="mono">{rod.pieces_mm.map(length).join(" + ")}</td>
                <td className="mono">{rod.couplings}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Scroll>
      <p className="text-quiet pane-words">
        Each rod goes {length(rods.engaged_mm)} into its coupling, to its middle, with lock nuts on both
        sides; the spacer sits {length(rods.spacer_mm)} above the longest rod&apos;s tip.
      </p>
      <Judgements list={rods.judgements} />
      <h2>As it is wired</h2>
      <div className="facts">
        <ChoiceField form={form} path="rods.pump_on" label="Well pump on the" options={words.contacts} />
        <ChoiceField form={form} path="rods.booster_on" label="Booster on the" options={words.contacts} />
        {Object.entries(words.rods).map(([key, name], index) => (
          <ChoiceField
            key={key}
            form={form}
            path={`rods.terminal[${index}]`}
            label={`Terminal ${index + 1}, ${name.toLowerCase()}`}
            options={words.rods}
          />
        ))}
      </div>
      <TruthTable rods={rods} />
      {kept && (
        <p>
          <a href={`/api/tanks/${tank.id}/gauge/cut-sheet.pdf?system=${units.system}`} download>
            Cut sheet to print
          </a>
          , with room to write what was cut.
        </p>
      )}
    </>
  );
}

/** The relays at the line: each holds between start and stop what it was. */
function Relays({ rods, tank }: { rods: RodSet; tank: Tank }) {
  const { line, move } = useLine();
  const units = useUnits();
  const level = line.innage_mm;
  const state = useRelays(rods, level);
  const top = tank.facts.inside_height_mm;
  const band = rods.bands[bandAt(rods.bands, level)];
  return (
    <div className="relays">
      <RodDrawing rods={rods} level={level} top={top} wet={band?.wet ?? []} />
      <div className="relay-states">
        <label className="relay-level">
          Level <span className="mono">{units.tape(level)}</span>
          <input
            type="range"
            min={0}
            max={top}
            step={1}
            value={level}
            aria-label="Level, to watch the relays act"
            onChange={(event) => move(Number(event.target.value))}
          />
        </label>
        <Lamp on={state.fill} name="Fill relay" yes="energised, lamp lit" no="at rest" />
        <Lamp on={state.cutout} name="Cut-out relay" yes="energised, lamp lit" no="at rest" />
        <Lamp on={state.pump} name="Well pump" yes="runs" no="stands" />
        <Lamp on={state.booster} name="Booster" yes="may run" no="locked out" />
      </div>
    </div>
  );
}

/** Follow the relays as the level moves. */
function useRelays(rods: RodSet, level: number): RelayState {
  const begin = rods.bands[bandAt(rods.bands, level)]?.rising ?? {
    fill: false,
    cutout: false,
    pump: false,
    booster: false,
  };
  const [seen, setSeen] = useState({ bands: rods.bands, level, state: begin });
  if (seen.bands === rods.bands && seen.level === level) return seen.state;
  // Other rods or other wiring begin anew; another level is followed to.
  const next = follow(rods.bands, seen.bands === rods.bands ? seen.level : level, level, seen.state);
  setSeen({ bands: rods.bands, level, state: next });
  return next;
}

function Lamp({ on, name, yes, no }: { on: boolean; name: string; yes: string; no: string }) {
  return (
    <p className={on ? "lamp on" : "lamp"}>
      <span aria-hidden="true">{on ? "●" : "○"}</span> {name} <strong>{on ? yes : no}</strong>
    </p>
  );
}

const TALL = 190;

function RodDrawing({ rods, level, top, wet }: { rods: RodSet; level: number; top: number; wet: string[] }) {
  const y = (mm: number) => 26 + TALL - (Math.min(mm, top) / top) * TALL;
  return (
    <svg className="rod-drawing" viewBox={`0 0 230 ${TALL + 44}`} role="img" aria-label="Rods in the tank">
      <rect x={8} y={26} width={214} height={TALL} className="shell-inside" />
      <rect x={8} y={y(level)} width={214} height={Math.max(26 + TALL - y(level), 0)} className="rod-water" />
      <rect x={8} y={26} width={214} height={TALL} className="shell" />
      <rect x={24} y={10} width={182} height={16} className="rod-head" />
      {rods.rods.map((rod, index) => {
        const x = 46 + index * 46;
        return (
          <g key={rod.key} className={wet.includes(rod.key) ? "rod wet" : "rod"}>
            <line x1={x} x2={x} y1={26} y2={y(rod.tip_mm) - 8} className="rod-sheath" />
            <line x1={x} x2={x} y1={y(rod.tip_mm) - 8} y2={y(rod.tip_mm)} className="rod-tip" />
            <text x={x} y={22} textAnchor="middle">
              {index + 1}
            </text>
          </g>
        );
      })}
      <line x1={4} x2={226} y1={y(level)} y2={y(level)} className="rod-line" />
      <text x={115} y={TALL + 40} textAnchor="middle">
        1 common · 2 cut-out · 3 start · 4 stop
      </text>
    </svg>
  );
}

function TruthTable({ rods }: { rods: RodSet }) {
  const units = useUnits();
  const { line } = useLine();
  const here = bandAt(rods.bands, line.innage_mm);
  const both = (rising: boolean, falling: boolean, yes: string, no: string) =>
    rising === falling ? (rising ? yes : no) : `rising ${rising ? yes : no}, falling ${falling ? yes : no}`;
  return (
    <Scroll label="What runs at every level">
      <table className="plain-table">
        <caption>What runs at every level</caption>
        <thead>
          <tr>
            <th>Level</th>
            <th>Fill relay</th>
            <th>Well pump</th>
            <th>Cut-out relay</th>
            <th>Booster</th>
          </tr>
        </thead>
        <tbody>
          {[...rods.bands.entries()].reverse().map(([index, band]) => (
            <tr key={band.from_mm} aria-current={index === here ? "true" : undefined}>
              <td className="mono">
                {units.tape(band.from_mm)} – {units.tape(band.to_mm)}
              </td>
              <td>{both(band.rising.fill, band.falling.fill, "on", "off")}</td>
              <td>{both(band.rising.pump, band.falling.pump, "runs", "stands")}</td>
              <td>{both(band.rising.cutout, band.falling.cutout, "on", "off")}</td>
              <td>{both(band.rising.booster, band.falling.booster, "may run", "locked out")}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </Scroll>
  );
}
