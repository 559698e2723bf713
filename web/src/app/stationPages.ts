/** The page that is opened from any station when something reads wrong. */
export const loadTrouble = async () => (await import("../faults/TroublePage")).TroublePage;

/** The stations' pages, each loaded when it is first wanted. */
export const LOADS = {
  survey: async () => (await import("../tanks/survey/SurveyStation")).SurveyStation,
  table: async () => (await import("./TablePage")).TablePage,
  gauge: async () => (await import("../gauges/GaugeStation")).GaugeStation,
  wiring: async () => (await import("../wiring/WiringStation")).WiringStation,
  scale: async () => (await import("./ScaleStation")).ScaleStation,
  prove: async () => (await import("../proving/ProveStation")).ProveStation,
  watch: async () => (await import("./WatchPage")).WatchPage,
};
