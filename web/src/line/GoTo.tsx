import { type SubmitEvent, type ReactNode, useEffect, useRef, useState } from "react";

import { Refused, wordsOf } from "../api/client";
import { useLine } from "./line";

interface Props {
  /** What it is, for instance “Volume”. */
  label: string;
  /** Its value as it is read out, and as it can be typed. */
  text: string;
  /** Gives the innage [mm] at which it would be what is typed. */
  find: (typed: string) => Promise<number>;
  children: ReactNode;
}

/** A value that reads at the line: another one can be typed, and the line goes there. */
export function GoTo({ label, text, find, children }: Props) {
  const { move } = useLine();
  const [typed, setTyped] = useState<string | null>(null);
  const [problem, setProblem] = useState("");
  const input = useRef<HTMLInputElement>(null);
  const editing = typed !== null;
  useEffect(() => {
    if (editing) input.current?.select();
  }, [editing]);

  async function go(event: SubmitEvent) {
    event.preventDefault();
    try {
      move(await find(typed ?? ""));
      setTyped(null);
      setProblem("");
    } catch (error) {
      setProblem(error instanceof Refused ? (error.problems[0]?.what ?? "") : wordsOf(error));
    }
  }

  return (
    <>
      {editing ? (
        <form onSubmit={(event) => void go(event)}>
          <input
            ref={input}
            className="form-control mono"
            aria-label={`${label}: go to`}
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
            onBlur={() => {
              if (!problem) setTyped(null);
            }}
            onKeyDown={(event) => {
              if (event.key === "Escape") {
                setTyped(null);
                setProblem("");
              }
            }}
          />
        </form>
      ) : (
        <button
          type="button"
          className="readout-value"
          title="Type a value here and the line goes there"
          aria-label={`${label} ${text}: type another`}
          onClick={() => setTyped(text.replace(/\u202f/g, "").replace("−", "-"))}
        >
          {children}
        </button>
      )}
      {problem && (
        <span role="alert" className="problem">
          {problem}
        </span>
      )}
    </>
  );
}
