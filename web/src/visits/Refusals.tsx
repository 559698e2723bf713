import Button from "react-bootstrap/Button";

import type { Problem } from "../api/client";
import { type Doing, takeOut, tryAgain } from "./queue";
import type { Visit } from "./visit";

interface Props {
  visit: Visit;
  refusal: { doing: Doing; problems: Problem[] };
  onOpen: (key: string) => void;
}

/** Something that the server refused: why, and what can be done with it. What was typed at its step is still there. */
export function Refusals({ visit, refusal, onOpen }: Props) {
  const { doing, problems } = refusal;
  return (
    <div className="refused" role="alert">
      <strong>{doing.title}: not entered.</strong>
      {problems.map((one) => (
        <p key={one.where + one.what} className="problem">
          {one.what}
        </p>
      ))}
      <div className="step-acts">
        <Button
          variant="outline-secondary"
          onClick={() => {
            takeOut(visit.id, doing.body.uid);
            onOpen(doing.body.step);
          }}
        >
          Go back to it
        </Button>
        <Button variant="outline-secondary" onClick={() => tryAgain(visit.id)}>
          Try again
        </Button>
      </div>
    </div>
  );
}
