export type StationKey = "survey" | "table" | "gauge" | "wiring" | "scale" | "prove";

/** The stations of a tank's work, in the order of the job. */
export const STATIONS: { key: StationKey; label: string }[] = [
  { key: "survey", label: "Survey" },
  { key: "table", label: "Table" },
  { key: "gauge", label: "Gauge" },
  { key: "wiring", label: "Wiring" },
  { key: "scale", label: "Scale" },
  { key: "prove", label: "Prove" },
];

/** The shape that goes with each state, beside its words. */
export const STATE_SHAPES: Record<string, string> = {
  "not started": "○",
  "in hand": "◐",
  done: "●",
  "needs you": "▲",
};
