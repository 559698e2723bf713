import type { Schema } from "../api/client";

export type Band = Schema["Band"];
export type RelayState = Schema["RelayState"];

/** The band that a level lies in. */
export function bandAt(bands: Band[], level: number): number {
  const found = bands.findIndex((band) => level < band.to_mm);
  return found < 0 ? bands.length - 1 : found;
}

/**
 * Follow the relays from one level to another, through every band between, by what the server says holds in each
 * after relays that were filling or at rest.
 */
export function follow(bands: Band[], from: number, to: number, before: RelayState): RelayState {
  const [start, end] = [bandAt(bands, from), bandAt(bands, to)];
  const step = start <= end ? 1 : -1;
  let state = before;
  for (let index = start; ; index += step) {
    const band = bands[index];
    if (!band) return state;
    state = state.fill ? band.filling : band.resting;
    if (index === end) return state;
  }
}
