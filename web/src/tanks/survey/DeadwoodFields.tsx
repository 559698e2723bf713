import type { Entries, Reading } from "./form";
import { RowsFields } from "./RowsFields";

interface Props {
  entries: Entries;
  reading: Reading | undefined;
  onChange: (entries: Entries) => void;
}

const COLUMNS = [
  { key: "from_mm", label: "from" },
  { key: "to_mm", label: "to" },
  { key: "volume_l", label: "volume" },
];

/** What stands inside and takes room, each part spread over its height. */
export function DeadwoodFields({ entries, reading, onChange }: Props) {
  return (
    <fieldset>
      <legend>Deadwood</legend>
      <RowsFields
        path="deadwood"
        label="Deadwood"
        one="deadwood"
        columns={COLUMNS}
        entries={entries}
        reading={reading}
        onReplace={onChange}
      />
      <span className="text-quiet">Coils, stiffeners and dip tubes take room (−); a pocket adds it (+).</span>
    </fieldset>
  );
}
