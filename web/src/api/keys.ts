import type { QueryClient, QueryKey } from "@tanstack/react-query";

/**
 * What the app remembers of the server's answers, by what they are of: the one place where these keys are made. What
 * stands under a shorter key is renewed with it.
 */
export const keys = {
  session: ["session"],
  devices: ["devices"],
  people: ["people"],
  words: (room: string) => ["words", room],
  board: ["board"],
  onBoard: (page: number, callsPage: number) => ["board", page, callsPage],
  tanks: ["tanks"],
  tanksFound: (...asked: (string | number)[]) => ["tanks", ...asked],
  sites: ["sites"],
  profiles: ["profiles"],
  gaugeModels: ["gauge-models"],
  markSets: ["mark-sets"],
  everyTank: ["tank"],
  tank: (id: number, ...what: unknown[]) => ["tank", id, ...what],
  sources: ["sources"],
  events: ["events"],
  visits: ["visits"],
  visitsOf: (...asked: (string | number)[]) => ["visits", "list", ...asked],
  visit: (id: number, ...what: unknown[]) => ["visits", "one", id, ...what],
  ownSteps: ["own-steps"],
  mail: ["mail"],
  customers: ["customers"],
  registered: ["registered"],
  registeredFound: (...asked: (string | number)[]) => ["registered", ...asked],
  found: (sheet: number) => ["found", sheet],
} as const;

/**
 * Ask anew for what has changed, now where it is on the screen, else when it is shown again. A first answer that is still
 * under way is of before the change: it is not waited for. Whatever else is remembered may lean on what has changed, as
 * each tank of a profile does on the profile: it is asked for anew when it is shown again.
 */
export async function refresh(queries: QueryClient, ...changed: QueryKey[]): Promise<void> {
  const leans = ({ queryKey: [room] }: { queryKey: QueryKey }) => room !== keys.session[0];
  await queries.invalidateQueries({ refetchType: "none", predicate: leans });
  const first = (query: { state: { data?: unknown } }) => query.state.data === undefined;
  await Promise.all(changed.map((queryKey) => queries.cancelQueries({ queryKey, predicate: first })));
  await Promise.all(changed.map((queryKey) => queries.invalidateQueries({ queryKey })));
}
