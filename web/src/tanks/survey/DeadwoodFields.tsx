import Button from "react-bootstrap/Button";

import { deadwoodCount, type Entries, type Reading, withoutDeadwood } from "./form";
import { fieldAt } from "./useSurvey";

interface Props {
  entries: Entries;
  reading: Reading | undefined;
  onChange: (entries: Entries) => void;
}

const PARTS = [
  ["from_mm", "from", "250 mm"],
  ["to_mm", "to", "700 mm"],
  ["volume_l", "volume", "-12 L"],
] as const;

/** What stands inside and takes room, each part spread over its height. */
export function DeadwoodFields({ entries, reading, onChange }: Props) {
  const count = deadwoodCount(entries);
  return (
    <fieldset>
      <legend>Deadwood</legend>
      {Array.from({ length: count }, (_, index) => {
        const problems = PARTS.map(([key]) => fieldAt(reading, `deadwood[${index}].${key}`)).filter(
          (field) => field?.state === "wrong",
        );
        return (
          <div key={index}>
            <div className="deadwood-row" role="group" aria-label={`Deadwood ${index + 1}`}>
              {PARTS.map(([key, label, example]) => (
                <input
                  key={key}
                  className="form-control mono"
                  aria-label={`Deadwood ${index + 1}: ${label}`}
                  placeholder={`${label}, ${example}`}
                  value={entries[`deadwood[${index}].${key}`] ?? ""}
                  onChange={(event) =>
                    onChange({ ...entries, [`deadwood[${index}].${key}`]: event.target.value })
                  }
                  onBlur={() => {
                    const field = fieldAt(reading, `deadwood[${index}].${key}`);
                    if (field?.state === "read" && field.kept)
                      onChange({ ...entries, [`deadwood[${index}].${key}`]: field.kept });
                  }}
                />
              ))}
              <Button
                variant="outline-secondary"
                aria-label={`Remove deadwood ${index + 1}`}
                onClick={() => onChange(withoutDeadwood(entries, index))}
              >
                Remove
              </Button>
            </div>
            {problems.map((field) => (
              <p key={field?.path} className="problem">
                {field?.problem}
              </p>
            ))}
          </div>
        );
      })}
      <Button
        variant="outline-secondary"
        onClick={() =>
          onChange({
            ...entries,
            [`deadwood[${count}].from_mm`]: "",
            [`deadwood[${count}].to_mm`]: "",
            [`deadwood[${count}].volume_l`]: "",
          })
        }
      >
        Add deadwood
      </Button>{" "}
      <span className="text-quiet">Coils, stiffeners and dip tubes take room (−); a sump adds it (+).</span>
    </fieldset>
  );
}
