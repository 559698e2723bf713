import { Link } from "react-router";

import { classOf, SHAPES, span, STATE_WORDS, type Step, type Visit } from "./visit";

interface Props {
  visit: Visit;
  here: string;
  onOpen: (key: string) => void;
}

/** Every step by its phase, with how it stands; anything left out or overridden is marked. */
export function StepList({ visit, here, onOpen }: Props) {
  const phases = [...new Set(visit.steps.map((step) => step.phase))];
  return (
    <nav className="step-list" aria-label="Steps">
      {phases.map((phase) => (
        <section key={phase}>
          <h2>{phase}</h2>
          <ul>
            {visit.steps
              .filter((step) => step.phase === phase)
              .map((step) => (
                <li key={step.key}>
                  <button
                    type="button"
                    aria-current={step.key === here ? "step" : undefined}
                    className={`step-line ${classOf(step.state)}`}
                    onClick={() => onOpen(step.key)}
                  >
                    <span aria-hidden="true">{SHAPES[step.state]}</span>
                    <span className="step-title">{step.title}</span>
                    <span className="step-note">{note(step)}</span>
                  </button>
                </li>
              ))}
          </ul>
        </section>
      ))}
      {visit.state === "open" && (
        <p>
          <Link to={`/visits/${visit.id}/record`}>What the record will hold</Link>
        </p>
      )}
    </nav>
  );
}

function note(step: Step): string {
  if (step.state !== "open") return STATE_WORDS[step.state];
  if (step.needs.length > 0) return "held up";
  return span(step.minutes[1] ?? 0);
}
