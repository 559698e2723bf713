/** A polygon in millimetres, x along (or across) the tank and z up from where innage is zero. */
export type Polygon = number[][];

export interface Extent {
  left: number;
  right: number;
  bottom: number;
  top: number;
}

/** How far a polygon reaches; a sloped tank may reach below zero. */
export function extent(polygon: Polygon): Extent {
  const xs = polygon.map(([x = 0]) => x);
  const zs = polygon.map(([, z = 0]) => z);
  return { left: Math.min(...xs), right: Math.max(...xs), bottom: Math.min(0, ...zs), top: Math.max(...zs) };
}

/** Write a polygon as an SVG path, through a placing from millimetres to pixels. */
export function pathOf(polygon: Polygon, x: (mm: number) => number, y: (mm: number) => number): string {
  return `M${polygon.map(([px = 0, pz = 0]) => `${x(px).toFixed(2)} ${y(pz).toFixed(2)}`).join("L")}Z`;
}

/** Where the top of the shell is in the long section, above a place along the tank: the highest of its outline. */
export function topAt(polygon: Polygon, along: number): number {
  let top = -Infinity;
  polygon.forEach(([x0 = 0, z0 = 0], index) => {
    const [x1 = 0, z1 = 0] = polygon[(index + 1) % polygon.length] ?? [];
    if (along < Math.min(x0, x1) || along > Math.max(x0, x1)) return;
    const z = x1 === x0 ? Math.max(z0, z1) : z0 + ((along - x0) / (x1 - x0)) * (z1 - z0);
    top = Math.max(top, z);
  });
  return top;
}
