import { type ComponentType, lazy, type LazyExoticComponent } from "react";

const PAUSE = 2000;

/** Load a part of the application; where the server does not answer, again until it does. */
async function loaded<T>(load: () => Promise<T>): Promise<T> {
  for (;;) {
    try {
      return await load();
    } catch {
      await new Promise((resolve) => setTimeout(resolve, PAUSE));
    }
  }
}

/** A part of a page that is loaded when it is first shown. */
export function later<P>(load: () => Promise<ComponentType<P>>): LazyExoticComponent<ComponentType<P>> {
  return lazy(async () => ({ default: await loaded(load) }));
}

/** How long after a page was opened there is likely nothing else to be fetched for it [ms]. */
const SETTLED = 4000;

/** Load parts while nothing else is to be done, so that they are there when the server is not. */
export function beforehand(loads: (() => Promise<unknown>)[]): () => void {
  const timer = setTimeout(() => {
    for (const load of loads) load().catch(() => undefined);
  }, SETTLED);
  return () => clearTimeout(timer);
}
