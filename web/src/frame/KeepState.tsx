import Dropdown from "react-bootstrap/Dropdown";
import { Link } from "react-router";

import { type Entry, isKeepable, keepingWords, useOutbox, wake } from "./outbox";
import { useReach } from "../api/reach";
import { clock } from "./times";

const STATES = {
  typed: "typed here, not yet asked to be kept",
  waiting: "waits to be kept",
  refused: "refused",
  conflict: "changed by somebody else meanwhile",
} as const;

/** The state of keeping, in the frame of every page: all kept, or what is not and where it was typed. */
export function KeepState() {
  const outbox = useOutbox();
  useReach();
  const words = keepingWords(outbox);
  const entries = [...outbox.entries.values()].filter(isKeepable);
  const calm = words === "all kept";
  return (
    <Dropdown align="end" className="keep-state">
      <Dropdown.Toggle variant="link" id="keep-state" className={calm ? "" : "waiting"}>
        <span aria-hidden="true">{calm ? "●" : "◐"}</span> {words}
      </Dropdown.Toggle>
      <span aria-live="polite" className="visually-hidden">
        {words}
      </span>
      <Dropdown.Menu>
        {entries.length === 0 && (
          <Dropdown.ItemText>All that was typed on this device is with the server.</Dropdown.ItemText>
        )}
        {entries.map((entry) => (
          <Dropdown.Item key={entry.what} as={Link} to={entry.page}>
            <EntryLine entry={entry} />
          </Dropdown.Item>
        ))}
        {entries.some((entry) => entry.state === "waiting") && (
          <Dropdown.Item as="button" onClick={wake}>
            Send now
          </Dropdown.Item>
        )}
      </Dropdown.Menu>
    </Dropdown>
  );
}

function EntryLine({ entry }: { entry: Entry }) {
  return (
    <>
      <strong>{entry.name}</strong>
      <span className="keep-entry">
        {clock(entry.at)}, {STATES[entry.state]}
        {entry.state === "refused" && `: ${entry.problem}`}
      </span>
    </>
  );
}
