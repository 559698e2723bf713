import { useState } from "react";
import Button from "react-bootstrap/Button";

import { countRows, type Entries, type Reading, type Words, withoutRow } from "./form";
import { useUnitOnLeaving } from "../../frame/unitOnLeaving";
import { fieldAt } from "./useSurvey";

type Column = Pick<Words["shapes"][number]["rows"][number]["columns"][number], "key" | "label">;

interface Props {
  /** The list's path, ``shape.courses`` for instance. */
  path: string;
  label: string;
  /** One row's name. */
  one: string;
  columns: Column[];
  entries: Entries;
  reading: Reading | undefined;
  /** The whole of the entries. */
  onReplace: (entries: Entries) => void;
}

/** A list of rows of numbers: courses, corners, points, widths. */
export function RowsFields({ path, label, one, columns, entries, reading, onReplace }: Props) {
  const first = columns[0]?.key ?? "";
  const count = countRows(entries, path, first);
  const problem = fieldAt(reading, path);
  function add() {
    const blank = Object.fromEntries(columns.map((column) => [`${path}[${count}].${column.key}`, ""]));
    onReplace({ ...entries, ...blank });
  }
  return (
    <div className="rows-fields" role="group" aria-label={label}>
      {count > 0 && (
        <p className="rows-fields-head" style={{ "--columns": columns.length } as React.CSSProperties}>
          <span />
          {columns.map((column) => (
            <span key={column.key}>{column.label}</span>
          ))}
        </p>
      )}
      {Array.from({ length: count }, (_, index) => (
        <RowFields
          key={index}
          path={`${path}[${index}]`}
          name={`${one} ${index + 1}`}
          number={index + 1}
          columns={columns}
          entries={entries}
          reading={reading}
          onChange={(changes) => onReplace({ ...entries, ...changes })}
          onRemove={() => onReplace(withoutRow(entries, path, index))}
        />
      ))}
      <Button variant="outline-secondary" onClick={add}>
        Add {one}
      </Button>
      {problem?.problem && (
        <p className={problem.state === "wrong" ? "problem" : "text-quiet rows-fields-problem"}>
          {problem.problem}
        </p>
      )}
    </div>
  );
}

interface RowProps {
  path: string;
  name: string;
  number: number;
  columns: Column[];
  entries: Entries;
  reading: Reading | undefined;
  onChange: (changes: Entries) => void;
  onRemove: () => void;
}

function RowFields({ path, name, number, columns, entries, reading, onChange, onRemove }: RowProps) {
  const problems = [path, ...columns.map((column) => `${path}.${column.key}`)]
    .map((at) => fieldAt(reading, at))
    .filter((field) => field?.state === "wrong" && field.problem);
  return (
    <>
      <div
        className="rows-fields-row"
        role="group"
        aria-label={name}
        style={{ "--columns": columns.length } as React.CSSProperties}
      >
        <span className="rows-fields-number" aria-hidden="true">
          {number}
        </span>
        {columns.map((column) => (
          <Cell
            key={column.key}
            label={`${name}: ${column.label}`}
            path={`${path}.${column.key}`}
            entries={entries}
            reading={reading}
            onChange={onChange}
          />
        ))}
        <Button variant="outline-secondary" aria-label={`Remove ${name}`} onClick={onRemove}>
          ×
        </Button>
      </div>
      {problems.map((field) => (
        <p key={field?.path} className="problem">
          {field?.problem}
        </p>
      ))}
    </>
  );
}

interface CellProps {
  label: string;
  path: string;
  entries: Entries;
  reading: Reading | undefined;
  onChange: (changes: Entries) => void;
}

function Cell({ label, path, entries, reading, onChange }: CellProps) {
  const [left, setLeft] = useState(false);
  const typed = entries[path] ?? "";
  const read = fieldAt(reading, path);
  useUnitOnLeaving(left, typed, read, (text) => onChange({ [path]: text }));
  return (
    <input
      className="form-control mono"
      aria-label={label}
      aria-invalid={read?.state === "wrong" ? true : undefined}
      autoComplete="off"
      value={typed}
      onChange={(event) => onChange({ [path]: event.target.value })}
      onFocus={() => setLeft(false)}
      onBlur={() => setLeft(true)}
    />
  );
}
