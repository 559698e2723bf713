import { useEffect } from "react";
import Modal from "react-bootstrap/Modal";

import { STATIONS } from "./stations";

/** Whether a key press belongs to a field that is being typed in. */
function isTyping(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName))
  );
}

/** Listen to single keys while nothing is being typed and no dialog is open. */
export function useKeys(keys: Record<string, (event: KeyboardEvent) => void>): void {
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return;
      if (document.querySelector('[role="dialog"]')) return;
      const act = keys[event.key];
      if (!act) return;
      event.preventDefault();
      act(event);
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  });
}

const KEYS: [string, string][] = [
  [`1 … ${STATIONS.length}`, `${STATIONS.map((station) => station.label).join(", ")} of the open tank`],
  ["↑ ↓", "Move the line by 1 mm, or 1/8 in"],
  ["Shift ↑ ↓", "Move it ten times as far"],
  ["/", "Find a tank or a station"],
  ["u", "Metric or US"],
  ["?", "This list"],
];

/** The list of keys. */
export function KeyList({ show, onHide }: { show: boolean; onHide: () => void }) {
  return (
    <Modal show={show} onHide={onHide} aria-labelledby="keys-title">
      <Modal.Header closeButton>
        <Modal.Title id="keys-title" as="h2">
          Keys
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
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
      </Modal.Body>
    </Modal>
  );
}
