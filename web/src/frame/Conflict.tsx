import { type ReactNode, useId, useMemo, useState } from "react";
import Button from "react-bootstrap/Button";

import type { Typed } from "./draft";
import { type Difference, differences, placeWords, valueWords } from "./merge";

interface Props<T> {
  typed: Typed<T>;
  /** Who kept the newer one, and when. */
  newer?: ReactNode;
  /** A value in words, where what is kept is none: null leaves it as it stands. */
  say?: (field: string, value: unknown) => string | null;
}

/** Two people changed the same thing: both, field by field, to choose from; nothing is overwritten unasked. */
export function Conflict<T>({ typed, newer, say }: Props<T>) {
  const id = useId();
  const { entry, kept } = typed;
  const rows = useMemo(
    () => (entry && kept ? differences(entry.from, entry.value, kept.value) : []),
    [entry, kept],
  );
  const [chosen, choose] = useState<Record<string, "mine" | "theirs">>({});
  if (!entry || !kept) return null;
  const words = (row: Difference, value: unknown) => say?.(row.place.join("."), value) ?? valueWords(value);
  const of = (row: Difference) => chosen[row.place.join("\n")] ?? row.usual;
  const open = rows.filter((row) => of(row) === null).length;
  const all = (side: "mine" | "theirs") =>
    choose(Object.fromEntries(rows.map((row) => [row.place.join("\n"), side])));
  return (
    <section className="conflict" aria-labelledby={id} role="alert">
      <h2 id={id}>Changed by somebody else since you began</h2>
      <p>
        {entry.base >= 0 && `You typed on revision ${entry.base}; `}
        {newer ?? `revision ${kept.revision} is kept now`}. Where only one of you changed something, that
        stands; where both did, choose. Nothing is kept before you ask for it.
      </p>
      <table className="plain-table">
        <thead>
          <tr>
            <th scope="col">Field</th>
            <th scope="col">Typed here</th>
            <th scope="col">Kept now</th>
            <th scope="col">Before</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => {
            const name = row.place.join("\n");
            return (
              <tr key={name}>
                <th scope="row">{placeWords(row.place)}</th>
                {(["mine", "theirs"] as const).map((side) => (
                  <td key={side}>
                    <label className="tick mono">
                      <input
                        type="radio"
                        name={`${id}${name}`}
                        checked={of(row) === side}
                        onChange={() => choose({ ...chosen, [name]: side })}
                        aria-label={`${placeWords(row.place)}: ${side === "mine" ? "as typed here" : "as kept now"}`}
                      />
                      {words(row, row[side])}
                    </label>
                  </td>
                ))}
                <td className="mono text-quiet">{words(row, row.from)}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <p className="conflict-acts">
        <Button disabled={open > 0} onClick={() => typed.settle(rows.filter((row) => of(row) === "mine"))}>
          Go on with these
        </Button>
        <Button variant="outline-secondary" onClick={() => all("mine")}>
          All as typed here
        </Button>
        <Button variant="outline-secondary" onClick={() => all("theirs")}>
          All as kept now
        </Button>
        {open > 0 && (
          <span className="save-state waiting">
            {open} {open === 1 ? "field is" : "fields are"} still to be chosen.
          </span>
        )}
      </p>
    </section>
  );
}
