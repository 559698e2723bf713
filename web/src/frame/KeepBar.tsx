import type { ReactNode } from "react";
import Button from "react-bootstrap/Button";

import { wordsOf } from "../api/client";
import { Conflict } from "./Conflict";
import type { Typed } from "./draft";
import { useReach } from "../api/reach";

interface Props<T> {
  /** What the button says, for instance “Keep this survey”. */
  action: string;
  typed: Typed<T>;
  /** Whether what stands here is to be kept: typed, or asking for it for another reason. */
  changed: boolean;
  /** Whether it can be kept as it stands. */
  ready: boolean;
  /** The words while nothing is changed. */
  kept: ReactNode;
  /** The words while something is. */
  waiting: ReactNode;
  /** What the server said instead of reading what is typed. */
  refused?: Error | null;
  /** Who kept the newer one, and when, where somebody has. */
  newer?: ReactNode;
  /** What is kept on asking; what was typed, if nothing else is said. */
  value?: T;
  /** Whether there are changes to put away. */
  discards?: boolean;
}

/** What stands above fields that are kept on asking: keep, discard, and where they stand. */
export function KeepBar<T>(props: Props<T>) {
  const { action, typed, changed, ready, kept, waiting, refused, newer, value, discards = true } = props;
  const { since } = useReach();
  const { entry } = typed;
  return (
    <>
      <div className="keep-bar">
        {changed || typed.waiting ? (
          <>
            <Button
              onClick={() => typed.keep(value)}
              disabled={
                !(ready || since !== null) ||
                typed.conflict ||
                (typed.waiting && entry?.value === entry?.asked?.value)
              }
            >
              {action}
            </Button>
            {discards && entry && (
              <Button variant="outline-secondary" onClick={typed.discard} disabled={typed.sending}>
                Discard changes
              </Button>
            )}
            <span className="save-state waiting" role="status">
              {!typed.waiting
                ? waiting
                : since === null
                  ? "Being kept…"
                  : "Waits here to be kept: the server does not answer. It goes by itself."}
            </span>
          </>
        ) : (
          <span className="save-state" role="status">
            {kept}
            {typed.undo && (
              <>
                {" "}
                The changes were discarded.{" "}
                <Button size="sm" variant="outline-secondary" onClick={typed.undo}>
                  Undo
                </Button>
              </>
            )}
          </span>
        )}
      </div>
      {entry?.problem && !typed.conflict && (
        <p role="alert" className="problem">
          {entry.problem}
        </p>
      )}
      {refused && <p className="problem">{wordsOf(refused)}</p>}
      {typed.conflict && <Conflict typed={typed} newer={newer} />}
    </>
  );
}
