import { ChoiceField, type FormState, TextField } from "../frame/FormField";
import { Judgements } from "../frame/Judgements";
import { Scroll } from "../frame/Scroll";
import type { WiringWords, WiringReading } from "./wiring";

interface Props {
  form: FormState;
  reading: WiringReading;
  words: WiringWords;
}

/** What arrived against what was ordered, the supply before it is connected, and the kit to take along. */
export function ArrivedPane({ form, reading, words }: Props) {
  const has = (key: string) => reading.received.some((check) => check.key === key);
  return (
    <>
      <h2>The supply, before anything is connected</h2>
      <div className="facts">
        <TextField
          form={form}
          path="got.measured"
          label="Measured at the terminals"
          hint="Volts DC, red on +"
        />
      </div>
      {reading.supply && <Judgements list={[reading.supply]} />}
      <h2>Is it what was ordered?</h2>
      {reading.received.length === 0 ? (
        <p className="empty">Keep a gauge at Gauge first: then what arrives can be compared with it.</p>
      ) : (
        <>
          <Scroll label="Ordered and arrived">
            <table className="plain-table">
              <thead>
                <tr>
                  <th>What</th>
                  <th>Ordered</th>
                  <th>Arrived</th>
                  <th>Agrees</th>
                </tr>
              </thead>
              <tbody>
                {reading.received.map((check) => (
                  <tr key={check.key} className={check.agrees === false ? "short" : undefined}>
                    <td>{check.label}</td>
                    <td>{check.ordered}</td>
                    <td>{check.arrived || "not checked yet"}</td>
                    <td>
                      {check.agrees === true && "● agrees"}
                      {check.agrees === false && `▲ ${check.says}`}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </Scroll>
          <div className="facts">
            <TextField form={form} path="got.range" label="Range on the label" />
            {has("output") && (
              <ChoiceField
                form={form}
                path="got.output"
                label="Output"
                options={words.outputs}
                empty="not checked yet"
              />
            )}
            {has("wires") && <TextField form={form} path="got.wires" label="Wires that come out" />}
            {has("supply") && (
              <>
                <TextField form={form} path="got.supply_least" label="Supply, from" />
                <TextField form={form} path="got.supply_most" label="Supply, to" />
              </>
            )}
            {has("cable") && <TextField form={form} path="got.cable" label="Cable, measured" />}
            {has("materials") && (
              <ChoiceField
                form={form}
                path="got.materials"
                label="Materials"
                options={{ yes: "as ordered", no: "others" }}
                empty="not checked yet"
              />
            )}
          </div>
        </>
      )}
      {reading.kit.length > 0 && (
        <>
          <h2>Take along</h2>
          <ul className="kit">
            {reading.kit.map((item) => (
              <li key={item}>{item}</li>
            ))}
          </ul>
        </>
      )}
    </>
  );
}
