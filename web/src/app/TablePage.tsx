import { PourPane } from "../pouring/PourPane";
import type { Tank } from "../tanks/tank";
import { TableStation } from "../tanks/table/TableStation";

/** Station Table; where the shape is not known, its table is poured. */
export function TablePage({ tank }: { tank: Tank }) {
  return <TableStation tank={tank} pour={<PourPane tank={tank} />} />;
}
