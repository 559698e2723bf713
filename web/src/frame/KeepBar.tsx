import type { ReactNode } from "react";
import Button from "react-bootstrap/Button";

import { wordsOf } from "../api/client";

interface Props {
  /** What the button says, for instance “Keep this survey”. */
  action: string;
  changed: boolean;
  /** Whether it can be kept as it stands. */
  ready: boolean;
  /** What was refused, if anything. */
  error: Error | null;
  /** The words while nothing is changed. */
  kept: ReactNode;
  /** The words while something is. */
  waiting: ReactNode;
  onKeep: () => void;
  /** Puts the changes away; not there where there are none to put away. */
  onDiscard?: () => void;
  /** Takes the discarding back, while that can be done. */
  onUndo: (() => void) | null;
}

/** What stands above fields that are kept on asking: keep, discard, and where they stand. */
export function KeepBar({ action, changed, ready, error, kept, waiting, onKeep, onDiscard, onUndo }: Props) {
  return (
    <>
      <div className="keep-bar">
        {changed ? (
          <>
            <Button onClick={onKeep} disabled={!ready}>
              {action}
            </Button>
            {onDiscard && (
              <Button variant="outline-secondary" onClick={onDiscard}>
                Discard changes
              </Button>
            )}
            <span className="save-state waiting" role="status">
              {waiting}
            </span>
          </>
        ) : (
          <span className="save-state" role="status">
            {kept}
            {onUndo && (
              <>
                {" "}
                The changes were discarded.{" "}
                <Button size="sm" variant="outline-secondary" onClick={onUndo}>
                  Undo
                </Button>
              </>
            )}
          </span>
        )}
      </div>
      {error && (
        <p role="alert" className="problem">
          {wordsOf(error)}
        </p>
      )}
    </>
  );
}
