import { keys } from "../api/keys";
import { api, ask, type Schema } from "../api/client";
import { usePages } from "../frame/pages";

export type Proof = Schema["Proof"];
export type Entries = Schema["ProofEntries"];
export type PointEntries = Schema["PointEntries"];
export type Result = NonNullable<Proof["result"]>;
export type CellName = "found_up" | "found_down" | "left_up" | "left_down";

/** The four readings of a point: key, run, and the way the signal went. */
export const CELLS: { name: CellName; run: string; way: string; arrow: string }[] = [
  { name: "found_up", run: "As found", way: "rising", arrow: "↑" },
  { name: "found_down", run: "As found", way: "falling", arrow: "↓" },
  { name: "left_up", run: "As left", way: "rising", arrow: "↑" },
  { name: "left_down", run: "As left", way: "falling", arrow: "↓" },
];

/** The proofs of a tank, the newest first. */
export function useProofs(tank: number) {
  return usePages(keys.tank(tank, "proofs"), (page) =>
    ask(
      api.GET("/api/tanks/{id}/proofs/", { params: { path: { id: tank }, query: { page, page_size: 20 } } }),
    ),
  );
}
