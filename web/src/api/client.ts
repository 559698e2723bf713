import createClient, { type Middleware } from "openapi-fetch";

import { reached, unreached } from "./reach";
import type { components, paths } from "./schema.d";

export type Schema = components["schemas"];
export type Problem = Schema["Problem"];

/** What the server refused, with each problem at its place. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    readonly problems: Problem[],
  ) {
    super(problems.map((problem) => problem.what).join("; "));
  }

  /** The problem at one place, if there is one. */
  at(where: string): string | undefined {
    return this.problems.find((problem) => problem.where === where)?.what;
  }
}

/** No answer came at all. */
export class Unreachable extends Error {
  constructor() {
    super("the server does not answer");
  }
}

/** The person whose pages these are: what is written says so, and a server that knows another one refuses it. */
let writer = "";

export function writeAs(username: string): void {
  writer = username;
}

function cookie(name: string): string {
  return document.cookie.match(new RegExp(`(?:^|; )${name}=([^;]*)`))?.[1] ?? "";
}

const csrf: Middleware = {
  onRequest({ request }) {
    if (request.method !== "GET") request.headers.set("X-CSRFToken", cookie("csrftoken"));
    if (request.method !== "GET" && writer)
      request.headers.set("X-Rasante-Person", encodeURIComponent(writer));
    return request;
  },
};

export const api = createClient<paths>({ baseUrl: window.location.origin });
api.use(csrf);

interface Answer<T> {
  data?: T;
  error?: unknown;
  response: Response;
}

/** Unwrap an answer: the data, or a `Refused` with the server's words. */
export async function ask<T>(call: Promise<Answer<T>>): Promise<T> {
  const { data, error, response } = await call.catch((failed: unknown) => {
    // A question that was given up says nothing of the server.
    if (failed instanceof DOMException && failed.name === "AbortError") throw failed;
    unreached(false);
    throw new Unreachable();
  });
  // An answer that this device kept says that the network gave none.
  if (response.headers.has("X-Rasante-Kept")) unreached(false);
  else if (response.status >= 500) unreached(true);
  else reached();
  if (response.ok) return data as T;
  const problems = (error as { problems?: Problem[] } | undefined)?.problems;
  if (response.status === 401 && !window.location.pathname.startsWith("/sign-in")) {
    const next = encodeURIComponent(window.location.pathname + window.location.search);
    window.location.assign(`/sign-in?next=${next}`);
  }
  const fallback = `the server answered ${response.status}: try again, and tell whoever keeps it if it stays`;
  throw new Refused(response.status, problems ?? [{ where: "", what: fallback }]);
}

/** Whether something was refused because somebody else has changed it meanwhile. */
export function isConflict(error: unknown): boolean {
  return error instanceof Refused && error.status === 409;
}

/** Whether the server has refused something, so that asking again the same way brings the same answer. */
export function isRefusal(error: unknown): boolean {
  return error instanceof Refused && error.status < 500 && error.status !== 429;
}

/** The words for anything that went wrong, a lost connection included. */
export function wordsOf(error: unknown): string {
  if (error instanceof Refused)
    return error.problems.map((p) => (p.where ? `${p.where}: ${p.what}` : p.what)).join("\n");
  if (error instanceof Error && !(error instanceof Unreachable)) return error.message;
  return "The server cannot be reached. What you typed is kept here: go on when the server is back.";
}

/** Forget what this device keeps of the server's answers: the next person starts from nothing of this one's. */
export async function forgetAnswers(): Promise<void> {
  if ("caches" in window) await caches.delete("rasante-answers");
}
