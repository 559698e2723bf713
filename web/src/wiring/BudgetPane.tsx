import { type FormState, TextField } from "../frame/FormField";
import { Judgements } from "../frame/Judgements";
import { places } from "../frame/numbers";
import { useUnits } from "../frame/units";
import { Scroll } from "../frame/Scroll";
import type { WiringReading } from "./wiring";

interface Props {
  form: FormState;
  reading: WiringReading;
}

/** Whether the link carries it: a loop's volts at every current, or what a voltage link falsifies. */
export function BudgetPane({ form, reading }: Props) {
  if (reading.budget) return <Loop form={form} reading={reading} budget={reading.budget} />;
  if (reading.voltage) return <Voltage reading={reading} link={reading.voltage} />;
  return (
    <p className="empty">
      This link has no loop to budget: a contact and a digital port take what the supply gives. The rules at
      Circuit say whether it is wired right.
    </p>
  );
}

const signed = (volts: number) => `${volts < 0 ? "−" : "+"}${Math.abs(volts).toFixed(2)} V`;

interface LoopProps extends Props {
  budget: NonNullable<WiringReading["budget"]>;
}

function Loop({ form, reading, budget }: LoopProps) {
  const units = useUnits();
  const metres = (value: number) => units.run(value * 1000);
  const most = Math.max(...budget.at.map((at) => at.volts), budget.lift_off_v);
  return (
    <>
      <Judgements list={budget.judgements} />
      <Scroll label="Volts at the transmitter">
        <table className="plain-table">
          <caption>At the transmitter, lowest supply, cable at {places(reading.hottest_c, 0)} °C</caption>
          <thead>
            <tr>
              <th>Meant</th>
              <th>Volts</th>
              <th>Over its {places(budget.lift_off_v, 1)} V</th>
              <th>Flows</th>
              <th>Volts, and what it needs</th>
            </tr>
          </thead>
          <tbody>
            {budget.at.map((at) => (
              <tr key={at.current_ma} className={at.margin_v < 0 ? "short" : undefined}>
                <td className="mono">{places(at.current_ma, 1)} mA</td>
                <td className="mono">{places(at.volts, 2)} V</td>
                <td className="mono">{signed(at.margin_v)}</td>
                <td className="mono">{places(at.flows_ma, 2)} mA</td>
                <td>
                  <svg width={140} height={14} className="volts-bar" aria-hidden="true">
                    <rect width={Math.max((Math.max(at.volts, 0) / most) * 140, 1)} height={14} />
                    <line
                      x1={(budget.lift_off_v / most) * 140}
                      x2={(budget.lift_off_v / most) * 140}
                      y1={0}
                      y2={14}
                    />
                  </svg>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </Scroll>
      <p>
        At 22.5 mA{" "}
        {budget.shares.map((share) => `${share.name} takes ${places(share.volts, 2)} V`).join(", ")}. Another
        250 Ω would leave <span className="mono">{signed(budget.burden_margin_v)}</span>. At most{" "}
        {places(budget.most_v, 1)} V ever reach the transmitter.
      </p>
      <Scroll label="Longest run by wire size">
        <table className="plain-table">
          <caption>
            Longest run by wire size; this one is {metres(budget.run_m)}
            {budget.smallest ? `, ${budget.smallest} carries it` : ", no size here carries it"}
          </caption>
          <thead>
            <tr>
              {budget.cables.map((cable) => (
                <th key={cable.name}>{cable.name}</th>
              ))}
            </tr>
          </thead>
          <tbody>
            <tr>
              {budget.cables.map((cable) => (
                <td key={cable.name} className="mono">
                  {cable.longest_m === null ? "none" : metres(cable.longest_m)}
                </td>
              ))}
            </tr>
          </tbody>
        </table>
      </Scroll>
      <div className="facts">
        <TextField form={form} path="cable[0].length" label="Run 1, length" />
        <TextField form={form} path="cable[0].size" label="Wire size" />
        <TextField form={form} path="burden.ohm" label="Added burden" />
        <TextField form={form} path="hottest" label="Cable gets as hot as" />
      </div>
    </>
  );
}

function Voltage({ reading, link }: { reading: WiringReading; link: NonNullable<WiringReading["voltage"]> }) {
  const units = useUnits();
  return (
    <>
      <Judgements list={link.judgements} />
      <Scroll label="What the input reads">
        <table className="plain-table">
          <caption>
            What the input reads, lowest supply, cable at {places(reading.hottest_c, 0)} °C; as levels of this
            tank
          </caption>
          <thead>
            <tr>
              <th>Sensor means</th>
              <th>Input reads</th>
              <th>Ground lifted</th>
              <th>Loaded</th>
              <th>Error</th>
              <th>Level</th>
              <th>Volume</th>
            </tr>
          </thead>
          <tbody>
            {link.at.map((at) => (
              <tr key={at.share}>
                <td className="mono">{places(at.meant_v, 2)} V</td>
                <td className="mono">{places(at.read_v, 3)} V</td>
                <td className="mono">{places(at.lift_v * 1000, 1)} mV</td>
                <td className="mono">{places(at.loading_v * 1000, 1)} mV</td>
                <td className="mono">{places(at.error_share * 100, 2)} %</td>
                <td className="mono">{units.text("length", at.error_mm)}</td>
                <td className="mono">{units.text("volume", at.error_l)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Scroll>
      <p>
        {places(link.sensor_v, 1)} V reach the sensor; it needs {places(link.lift_off_v, 1)} V.
      </p>
    </>
  );
}
