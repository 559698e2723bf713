import type { Schema } from "../api/client";

export type Curve = Schema["Curve"];
export type Line = Schema["Line"];

/** Index of the node at or below a value in a rising list. */
function below(nodes: number[], value: number): number {
  let low = 0;
  let high = nodes.length - 1;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if ((nodes[middle] ?? 0) <= value) low = middle;
    else high = middle;
  }
  return low;
}

function straight(values: number[] | null, index: number, share: number): number | null {
  if (!values) return null;
  const from = values[index] ?? 0;
  return from + ((values[index + 1] ?? from) - from) * share;
}

/**
 * Read the curve at a level while the line moves: the server's nodes, joined by cubic Hermite pieces in volume
 * and by straight ones in what is straight. Exact values follow as soon as the line stands still.
 */
export function readCurve(curve: Curve, innage: number): Line {
  const h = Math.min(Math.max(innage, 0), curve.inside_height_mm);
  const i = below(curve.innage_mm, h);
  const x0 = curve.innage_mm[i] ?? 0;
  const dx = (curve.innage_mm[i + 1] ?? x0 + 1) - x0;
  const t = (h - x0) / dx;
  const [v0, v1] = [curve.volume_l[i] ?? 0, curve.volume_l[i + 1] ?? 0];
  const [s0, s1] = [curve.slope_l_per_mm[i] ?? 0, curve.slope_l_per_mm[i + 1] ?? 0];
  const volume =
    v0 * (1 + 2 * t) * (1 - t) ** 2 +
    s0 * dx * t * (1 - t) ** 2 +
    v1 * t * t * (3 - 2 * t) -
    s1 * dx * t * t * (1 - t);
  return {
    innage_mm: h,
    ullage_mm: curve.reference_height_mm - h,
    volume_l: volume,
    u95_l: straight(curve.u95_l, i, t),
    volume_pct: (volume / curve.capacity_l) * 100,
    linear_pct: (h / curve.inside_height_mm) * 100,
    surface_m2: straight(curve.slope_l_per_mm, i, t) ?? 0,
    stations: curve.stations.map((station) => ({
      key: station.key,
      label: station.label,
      text: stationText(straight(station.values, i, t) ?? 0, station),
    })),
  };
}

/** A station's value as it is read out while the line moves. */
function stationText(value: number, station: Curve["stations"][number]): string {
  const fixed = value.toFixed(station.decimals);
  const digits = station.key === "shown" || !fixed.includes(".") ? fixed : fixed.replace(/\.?0+$/, "");
  return `${digits.replace("-", "−")} ${station.unit}`.trim();
}

/** Whether a level lies beyond what the signal can say. */
export function beyondSignal(curve: Curve, innage: number): boolean {
  const levels = curve.signal_marks.map((mark) => mark.innage_mm);
  if (levels.length === 0) return false;
  return innage < Math.min(...levels) - 1e-6 || innage > Math.max(...levels) + 1e-6;
}

/** The level at which the curve holds a volume, close enough to place a tick on a ruler. */
export function levelOf(curve: Curve, volume: number): number {
  const i = below(curve.volume_l, volume);
  const [v0, v1] = [curve.volume_l[i] ?? 0, curve.volume_l[i + 1] ?? 1];
  const [x0, x1] = [curve.innage_mm[i] ?? 0, curve.innage_mm[i + 1] ?? 0];
  // A sloped tank holds something below its gauge's zero already.
  if (volume <= v0 || v1 === v0) return x0;
  return x0 + ((volume - v0) / (v1 - v0)) * (x1 - x0);
}
