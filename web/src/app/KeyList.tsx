import { useState } from "react";

import { STATIONS } from "../board/stations";
import { Dialog } from "../frame/Dialog";
import { keysAct, letKeysAct } from "../frame/keys";

const KEYS: [string, string][] = [
  [`1 … ${STATIONS.length}`, `${STATIONS.map((station) => station.label).join(", ")} of the open tank`],
  ["↑ ↓", "With the drawing in focus: move the line by 1 mm, or 1/8 in"],
  ["Shift ↑ ↓", "Move it ten times as far"],
  ["/", "Find a tank or a station"],
  ["l", "The line without a tank"],
  ["u", "Metric or US"],
  ["?", "This list"],
];

/** The list of keys. */
export function KeyList({ show, onHide }: { show: boolean; onHide: () => void }) {
  const [act, setAct] = useState(keysAct);
  return (
    <Dialog title="Keys" show={show} onHide={onHide}>
      <dl className="key-list">
        {KEYS.map(([key, words]) => (
          <div key={key}>
            <dt>
              <kbd>{key}</kbd>
            </dt>
            <dd>{words}</dd>
          </div>
        ))}
      </dl>
      <label className="tick">
        <input
          type="checkbox"
          checked={act}
          onChange={(event) => {
            letKeysAct(event.target.checked);
            setAct(event.target.checked);
          }}
        />
        Single keys act
      </label>
    </Dialog>
  );
}
