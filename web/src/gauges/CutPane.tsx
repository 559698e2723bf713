import { ChoiceField, type FormState, TextField } from "../frame/FormField";
import { Judgements } from "../frame/Judgements";
import { useUnits } from "../frame/units";
import type { Tank } from "../tanks/tank";
import type { GaugeReading, GaugeWords } from "./gauge";
import { WetEndsPane } from "./WetEndsPane";

interface Props {
  tank: Tank;
  form: FormState;
  reading: GaugeReading;
  words: GaugeWords;
  kept: boolean;
}

/** How long to cut: a probe by its school of gap, or a submersible sensor's cable. */
export function CutPane({ tank, form, reading, words, kept }: Props) {
  const { system } = useUnits();
  if (!reading.chosen)
    return <p className="empty">Choose a method first: what is cut, and to which length, follows from it.</p>;
  if (!reading.probe && !reading.cable)
    return <p className="empty">Nothing of this gauge is cut to length: it is mounted as it comes.</p>;
  return (
    <>
      {reading.probe && <Probe form={form} reading={reading} probe={reading.probe} words={words} />}
      {reading.cable && <Cable form={form} reading={reading} cable={reading.cable} />}
      {reading.probe && reading.probe.wet_l !== null && (
        <>
          <h2>Wet ends</h2>
          <WetEndsPane tank={tank} />
        </>
      )}
      {kept ? (
        <p>
          <a href={`/api/tanks/${tank.id}/gauge/cut-sheet.pdf?system=${system}`} download>
            Cut sheet to print
          </a>
          , with room to write what was cut.
        </p>
      ) : (
        <p className="text-quiet">Keep this gauge, then its cut sheet can be printed.</p>
      )}
    </>
  );
}

interface ProbeProps {
  form: FormState;
  reading: GaugeReading;
  probe: NonNullable<GaugeReading["probe"]>;
  words: GaugeWords;
}

function Probe({ form, reading, probe, words }: ProbeProps) {
  const units = useUnits();
  const length = (mm: number) => units.tape(mm);
  return (
    <>
      <div className="cut-answer">
        <span className="cut-big mono">{length(probe.cut_mm)}</span>
        <span className="text-quiet">
          = {length(probe.depth_mm)} deep − {length(probe.gap_mm)} gap
          {probe.pieces_mm.length > 1 && `, from ${probe.pieces_mm.map(length).join(" + ")}`}
        </span>
      </div>
      <div className="facts">
        <TextField
          form={form}
          path="cut.depth"
          label="Depth at the very spot"
          usual={length(reading.situation.depth_mm)}
          hint="Flange to floor, by tape"
        />
        <ChoiceField
          form={form}
          path="cut.school"
          label="Bottom gap"
          options={words.schools}
          otherwise={probe.school}
        />
        <TextField form={form} path="cut.gap" label="Gap" usual={length(probe.gap_mm)} />
        <TextField form={form} path="cut.done" label="As cut" hint="Measure it again before it goes in" />
      </div>
      <p className="text-quiet pane-words">
        By school:{" "}
        {probe.schools
          .map(
            (one) =>
              `${one.label.toLowerCase()} ${one.cut_mm === null ? "not in a tank this deep" : length(one.cut_mm)}`,
          )
          .join("; ")}
        .
      </p>
      <Judgements list={probe.judgements} />
      <ol className="steps">
        {probe.steps.map((step) => (
          <li key={step}>{step}</li>
        ))}
      </ol>
    </>
  );
}

interface CableProps {
  form: FormState;
  reading: GaugeReading;
  cable: NonNullable<GaugeReading["cable"]>;
}

function Cable({ form, reading, cable }: CableProps) {
  const units = useUnits();
  const length = units.run;
  return (
    <>
      <div className="cut-answer">
        <span className="cut-big mono">
          {cable.stock_mm ? length(cable.stock_mm) : "none is long enough"}
        </span>
        <span className="text-quiet">
          of cable to order; needed {length(cable.need_mm)} = {length(cable.down_mm)} down +{" "}
          {length(cable.run_mm)} run + {length(cable.loop_mm)} drip loop
        </span>
        <span className="cut-other">
          Measuring range <span className="mono">{units.tape(cable.range_mm)}</span> of water
        </span>
      </div>
      <div className="facts">
        <TextField
          form={form}
          path="cut.depth"
          label="Depth at the very spot"
          usual={units.tape(reading.situation.depth_mm)}
        />
        <TextField
          form={form}
          path="cable.off_floor"
          label="Off the floor"
          usual={units.tape(cable.off_floor_mm)}
        />
        <TextField form={form} path="cable.run" label="Run to the box" usual={length(cable.run_mm)} />
        <TextField form={form} path="cable.loop" label="Drip loop" usual={length(cable.loop_mm)} />
        <TextField form={form} path="cable.have" label="Cable that arrived" hint="Measured, not the label" />
      </div>
      <Judgements list={cable.judgements} />
    </>
  );
}
