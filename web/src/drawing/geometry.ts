/** A polygon in millimetres, x along (or across) the tank and z up from its inside bottom. */
export type Polygon = number[][];

export interface Extent {
  left: number;
  right: number;
  top: number;
}

/** How far a polygon reaches; the bottom is at zero. */
export function extent(polygon: Polygon): Extent {
  const xs = polygon.map(([x = 0]) => x);
  const zs = polygon.map(([, z = 0]) => z);
  return { left: Math.min(...xs), right: Math.max(...xs), top: Math.max(...zs) };
}

/** Write a polygon as an SVG path, through a placing from millimetres to pixels. */
export function pathOf(polygon: Polygon, x: (mm: number) => number, y: (mm: number) => number): string {
  return `M${polygon.map(([px = 0, pz = 0]) => `${x(px).toFixed(2)} ${y(pz).toFixed(2)}`).join("L")}Z`;
}
