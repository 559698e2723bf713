import type { QueryClient } from "@tanstack/react-query";

import { api, ask, isRefusal, type Problem, Refused, type Schema } from "../api/client";
import { keys, refresh } from "../api/keys";
import { type Entry, entryAt, dropEntry, putEntry, registerDrafts, registerSender } from "../frame/outbox";
import type { Step, Visit } from "./visit";

/** What is done at a visit waits in the outbox, in its order, until the server has it: in a dead spot too. */
export type Doing =
  | { kind: "entry"; title: string; body: Schema["EnterRequest"] }
  | { kind: "photo"; title: string; body: Schema["AddPhotoRequest"] };
/** By the name that each was given here: sent twice, the server enters it once. */
export type Queue = Record<string, string>;
/** What is typed at the steps of a visit and not done yet. */
export type TypedSteps = Record<string, Record<string, string>>;

export const queueOf = (visit: number) => `visit:${visit}`;
export const typedOf = (visit: number) => `visit-step:${visit}`;

/** What the server said to the thing that it refused last, by its name. */
const refusals = new Map<string, Problem[]>();

/** What stands in a queue, in its order. */
export function doingsOf(entry: Entry<Queue> | undefined): Doing[] {
  return entry ? Object.values(entry.value).map((text) => JSON.parse(text) as Doing) : [];
}

/** Why something of a queue was refused, at its places; after a reload only its words are left. */
export function refusalOf(entry: Entry<Queue> | undefined): { doing: Doing; problems: Problem[] } | null {
  if (entry?.state !== "refused" && entry?.state !== "conflict") return null;
  const all = doingsOf(entry);
  const doing = all.find((one) => refusals.has(one.body.uid)) ?? all[0];
  if (!doing) return null;
  return { doing, problems: refusals.get(doing.body.uid) ?? [{ where: "", what: entry.problem }] };
}

/** Put something into the queue of a visit, behind what waits there. */
export function queue(visit: Visit, person: string, doing: Doing): void {
  const what = queueOf(visit.id);
  const old = entryAt<Queue>(what);
  const value = { ...old?.value, [doing.body.uid]: JSON.stringify(doing) };
  putEntry<Queue>({
    what,
    person,
    system: visit.system,
    base: 0,
    from: {},
    value,
    at: Date.now(),
    asked: { value, at: Date.now() },
    state: "waiting",
    problem: "",
    name: `Visit to ${visit.tank_name}`,
    page: `/visits/${visit.id}`,
  });
}

/** Take something out of the queue again: it is not done. */
export function takeOut(visit: number, uid: string): void {
  const entry = entryAt<Queue>(queueOf(visit));
  if (!entry) return;
  refusals.delete(uid);
  const value = Object.fromEntries(Object.entries(entry.value).filter(([name]) => name !== uid));
  if (Object.keys(value).length === 0) dropEntry(entry.what);
  else putEntry({ ...entry, value, asked: { value, at: Date.now() }, state: "waiting", problem: "" });
}

/** Send what was refused once more, as after a gate was given by somebody else. */
export function tryAgain(visit: number): void {
  const entry = entryAt<Queue>(queueOf(visit));
  if (entry)
    putEntry({ ...entry, asked: { value: entry.value, at: Date.now() }, state: "waiting", problem: "" });
}

/** Forget what was typed at a step: it is done. */
function forget(visit: number, step: string): void {
  const typed = entryAt<TypedSteps>(typedOf(visit));
  if (!typed) return;
  const value = Object.fromEntries(Object.entries(typed.value).filter(([key]) => key !== step));
  if (Object.keys(value).length === 0) dropEntry(typed.what);
  else putEntry({ ...typed, value });
}

async function sendOne(visit: number, doing: Doing): Promise<void> {
  const params = { path: { id: visit } };
  if (doing.kind === "photo") await ask(api.POST("/api/visits/{id}/photos/", { params, body: doing.body }));
  else {
    await ask(api.POST("/api/visits/{id}/entries/", { params, body: doing.body }));
    forget(visit, doing.body.step);
  }
}

/** Say how what is done at visits goes to the server. */
export function registerVisits(queries: QueryClient): void {
  registerDrafts("visit-step");
  registerSender<Queue>("visit", {
    send: async (visit, entry) => {
      const value = entry.asked.value;
      for (const [uid, text] of Object.entries(value)) {
        const doing = JSON.parse(text) as Doing;
        try {
          await sendOne(visit, doing);
          refusals.delete(uid);
        } catch (error) {
          await refresh(queries, keys.visit(visit));
          if (!isRefusal(error) || !(error instanceof Refused)) throw error;
          refusals.set(uid, error.problems);
          throw new Refused(
            error.status,
            error.problems.map(({ what }) => ({ where: doing.title, what })),
          );
        }
      }
      await refresh(queries, keys.visits, keys.everyTank, keys.registered);
      return { value, revision: 0 };
    },
    read: () => Promise.resolve({ value: {}, revision: 0 }),
  });
}

/** A visit as it will stand once what waits here is with the server. */
export function ahead(visit: Visit, doings: Doing[]): Visit {
  if (doings.length === 0) return visit;
  const steps = new Map(visit.steps.map((step) => [step.key, { ...step }]));
  for (const { kind, body } of doings) {
    const step = steps.get(body.step);
    if (!step || kind === "photo") continue;
    if (body.did === "undo") Object.assign(step, { state: "open", values: {}, at: null });
    else if (body.did === "begin")
      Object.assign(step, {
        state: "running",
        began: body.at,
        ends: new Date(Date.parse(body.at) + (step.minutes[1] ?? 0) * 60_000).toISOString(),
      });
    else
      Object.assign(step, {
        state: body.did,
        values: body.values ?? {},
        at: body.at,
        reason: body.reason,
      });
  }
  const all = [...steps.values()];
  const over = (step: Step) => step.state === "done" || step.state === "override";
  const given = new Set(all.filter(over).flatMap((step) => step.gives));
  const ended = new Set(all.filter((step) => over(step) || step.state === "skip").map((step) => step.title));
  return {
    ...visit,
    steps: all.map((step) => ({
      ...step,
      needs: step.needs.filter((gate) => !given.has(gate)),
      before: step.before.filter((title) => !ended.has(title)),
    })),
  };
}

/** The step to do next, one just done apart: the first that nothing holds up, as they were planned; the signature last. */
export function nextStep(visit: Visit, but?: Step): Step | undefined {
  const open = visit.steps.filter((step) => step.state === "open" && step.key !== but?.key);
  const planned = new Map(visit.schedule.map((one, at) => [one.key, at]));
  const rank = (step: Step) => (step.kind === "sign" ? 2000 : (planned.get(step.key) ?? 1000));
  const free = (step: Step) =>
    step.needs.every((gate) => but?.gives.includes(gate)) &&
    step.before.every((title) => title === but?.title);
  const order = [...open].sort((a, b) => rank(a) - rank(b));
  return order.find((step) => free(step) && step.kind !== "sign") ?? order[0];
}
