import { type ReactNode, useState } from "react";
import Button from "react-bootstrap/Button";
import Dropdown from "react-bootstrap/Dropdown";

import { wordsOf } from "../../api/client";
import { Panes, usePane } from "../../frame/Panes";
import { places } from "../../frame/numbers";
import { useUnits } from "../../frame/units";
import type { Tank } from "../tank";
import { Budget } from "./Budget";
import { Curve } from "./Curve";
import { DevicePoints } from "./DevicePoints";
import { IssuedPane } from "./IssuedPane";
import { LabelDialog } from "./LabelDialog";
import { LiquidPane } from "./LiquidPane";
import { OrderBar } from "./OrderBar";
import { Rows } from "./Rows";
import { tableFile, useLiquid, useTable, useTableChoice } from "./table";

const PANES = [
  ["rows", "Rows"],
  ["uncertainty", "± where from"],
  ["liquid", "Liquid"],
  ["pour", "Pour"],
  ["device", "Few points"],
  ["issued", "Issue and compare"],
] as const;
const ENDINGS = [
  ["csv", "CSV"],
  ["xlsx", "XLSX workbook"],
  ["json", "JSON"],
  ["pdf", "PDF sheet"],
] as const;

/** Station Table: the volume table and its curve, both at the line, and what is made of them. */
export function TableStation({ tank, pour }: { tank: Tank; pour: ReactNode }) {
  const [choice, choose] = useTableChoice(tank.id);
  const [liquid, setLiquid] = useLiquid(tank);
  const { data, error, isFetching } = useTable(tank.id, choice, liquid);
  const [pane, choosePane] = usePane(PANES);
  // Nobody pours into a vessel under pressure: it is loaded at Watch.
  const pours = tank.facts.limits.filling_level_mm === null;
  const panes = PANES.filter(([key]) => pours || key !== "pour");
  const [label, setLabel] = useState(false);
  const units = useUnits();
  const length = units.unitByKey(choice.stepUnit);
  const volume = units.unitByKey(choice.volumeUnit);
  const worst = data?.worst_gauge;
  return (
    <section aria-label="Table" className="table-station">
      <div className="table-bar">
        <OrderBar tank={tank.id} choice={choice} onChange={choose} />
        <span className="files">
          <Dropdown>
            <Dropdown.Toggle variant="outline-secondary">Files</Dropdown.Toggle>
            <Dropdown.Menu>
              {ENDINGS.map(([ending, name]) => (
                <Dropdown.Item
                  key={ending}
                  href={tableFile(tank.id, ending, choice, liquid, units.system)}
                  download
                >
                  Table, {name}
                </Dropdown.Item>
              ))}
              <Dropdown.Item href={`/api/tanks/${tank.id}/file/`} download>
                Tank file
              </Dropdown.Item>
            </Dropdown.Menu>
          </Dropdown>
          <Button variant="outline-secondary" onClick={() => setLabel(true)}>
            QR label
          </Button>
        </span>
      </div>
      {error && (
        <p role="alert" className="problem">
          {wordsOf(error)}
        </p>
      )}
      {isFetching && !data && <progress aria-label="Making the table" />}
      {pane !== "device" && pane !== "issued" && pane !== "pour" && <Curve volume={volume} />}
      <Panes label="What of the table" panes={panes} here={pane} onChoose={choosePane} />
      {pane === "rows" && data && (
        <>
          <Rows
            table={data}
            byUllage={choice.by === "ullage" && data.issued === null}
            length={length}
            volume={volume}
          />
          <p className="text-quiet table-words">
            {places(data.innage_mm.length, 0)} rows in steps of {data.step}
            {data.issued !== null && `, as issued under number ${data.issued}`}
            {isFetching && ", making the next one…"}
            {worst &&
              Math.abs(worst.difference_pct) >= 0.05 &&
              `. The old float gauge reads ${Math.abs(worst.difference_pct).toFixed(1)} points ${worst.difference_pct > 0 ? "high" : "low"} at ${units.tape(worst.innage_mm)}: there it is worst`}
            .{!data.u95_l && " No uncertainty is stated: say at Survey how the dimensions were measured."}
          </p>
        </>
      )}
      {pane === "uncertainty" && <Budget tank={tank.id} />}
      {pane === "liquid" && <LiquidPane tank={tank} liquid={liquid} onChange={setLiquid} />}
      {pane === "pour" &&
        (pours ? pour : <p className="empty">It is under pressure: it is loaded at Watch, never poured.</p>)}
      {pane === "device" && <DevicePoints tank={tank.id} />}
      {pane === "issued" && <IssuedPane tank={tank} choice={choice} onChoose={choose} />}
      <LabelDialog tank={tank} show={label} onHide={() => setLabel(false)} />
    </section>
  );
}
