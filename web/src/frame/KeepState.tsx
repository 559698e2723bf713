import { Fragment, useEffect, useRef, useState } from "react";
import Button from "react-bootstrap/Button";
import Dropdown from "react-bootstrap/Dropdown";
import { Link } from "react-router";

import { dropEntry, type Entry, isKeepable, keepingWords, useOutbox, wake } from "./outbox";
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
          <Fragment key={entry.what}>
            <Dropdown.Item as={Link} to={entry.page}>
              <EntryLine entry={entry} />
            </Dropdown.Item>
            {entry.state !== "waiting" && <PutAway entry={entry} />}
          </Fragment>
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

/** What does not go by itself can be put away here, as its page may be gone with its tank; never without asking. */
function PutAway({ entry }: { entry: Entry }) {
  const [asking, setAsking] = useState(false);
  const leave = useRef<HTMLButtonElement>(null);
  // The button that was pressed is gone: the keys go on with the one that loses nothing.
  useEffect(() => {
    if (asking) leave.current?.focus();
  }, [asking]);
  return (
    <Dropdown.ItemText className="put-away">
      {asking ? (
        <>
          <p>What was typed goes for good.</p>
          <Button size="sm" variant="outline-danger" onClick={() => dropEntry(entry.what)}>
            Discard {entry.name}
          </Button>
          <Button ref={leave} size="sm" variant="outline-secondary" onClick={() => setAsking(false)}>
            Leave it here
          </Button>
        </>
      ) : (
        <Button size="sm" variant="outline-secondary" onClick={() => setAsking(true)}>
          Discard it…
        </Button>
      )}
    </Dropdown.ItemText>
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
