import type { QueryClient } from "@tanstack/react-query";

import { registerDrafts, wake } from "../frame/outbox";
import { registerPlan } from "../frame/plan";
import { PARTING, TROUBLE } from "../faults/trouble";
import { GAUGE, WET_ENDS } from "../gauges/gauge";
import { LOAD } from "../loading/load";
import { POURS } from "../pouring/pour";
import { registerProof } from "../proving/useDraftProof";
import { CHAIN, MARKS, SLOPES } from "../scaling/chain";
import { registerSurvey } from "../tanks/survey/keeping";
import { registerVisits } from "../visits/queue";
import { WIRING } from "../wiring/wiring";

/** Everything that is typed and kept, by how it goes to the server: whatever page is open, what waits is sent. */
export function registerSenders(queries: QueryClient): void {
  registerSurvey(queries);
  for (const calls of [GAUGE, WET_ENDS, WIRING, CHAIN, MARKS, SLOPES, LOAD, POURS, PARTING, TROUBLE])
    registerPlan(calls, queries);
  registerProof(queries);
  registerVisits(queries);
  registerDrafts(
    "new-visit",
    "mail",
    "own-steps",
    "customer",
    "device",
    "register",
    "new-tank",
    "profile",
    "issue",
    "rescale",
    "source",
    "dip",
    "pours-issue",
    "trouble-close",
  );
  // What was left on this device goes now that it is known how.
  wake();
}
