import type { Take } from "../readings/now";
import { TakeButton, takenWords } from "../readings/TakeButton";
import { CELLS, type CellName, type Entries } from "./proof";

interface Props {
  entries: Entries;
  take: Take | undefined;
  onChange: (changes: Partial<Entries>) => void;
}

/** Takes the live value into the next reading of the run under way: rising from the first point, falling from the last. */
export function TakeIntoProof({ entries, take, onChange }: Props) {
  const next = nextEmpty(entries);
  if (!take || !next) return null;
  const cell = CELLS.find((one) => one.name === next.name);
  const where = `point ${next.index + 1}, ${cell?.run.toLowerCase()}, ${cell?.way}`;
  const points = (text: string) =>
    entries.points.map((point, index) => (index === next.index ? { ...point, [next.name]: text } : point));
  return (
    <p className="take-into">
      <TakeButton
        take={take}
        label={where}
        onTake={(text, taken) =>
          onChange({
            points: points(text),
            remarks: noted(
              entries.remarks,
              `${where[0]?.toUpperCase()}${where.slice(1)}: taken from ${takenWords(taken)}`,
            ),
          })
        }
      />{" "}
      <span className="text-quiet">into {where}</span>
    </p>
  );
}

/** Remarks with a line more, as long as there is room. */
export function noted(remarks: string, line: string): string {
  const more = remarks ? `${remarks}\n${line}` : line;
  return more.length <= 2000 ? more : remarks;
}

function nextEmpty(entries: Entries): { name: CellName; index: number } | null {
  const order = entries.points.map((_, index) => index);
  for (const name of CELLS.map((cell) => cell.name)) {
    const way = name.endsWith("down") ? [...order].reverse() : order;
    const index = way.find((at) => !entries.points[at]?.[name]?.trim());
    if (index !== undefined) return { name, index };
  }
  return null;
}
