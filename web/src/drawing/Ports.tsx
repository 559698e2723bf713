export interface PortMark {
  name: string;
  uses: string[];
  positionMm: number | null;
}

interface Placed {
  x: number;
  anchor: "start" | "middle" | "end";
}

/**
 * Where the openings' names go: over each; beside the reference point's mark where a name would stand on that.
 * A name that would stand on another, or over another opening, is left to the opening's title.
 */
function placeNames(names: string[], at: number[], gauge: number): (Placed | null)[] {
  const taken: [number, number][] = [[gauge - 28, gauge + 28]];
  const placed: (Placed | null)[] = names.map(() => null);
  const reach = names.map((name) => name.length * 6.6 + 6);
  const free = (from: number, to: number, index: number) =>
    taken.every(([low, high]) => to < low || from > high) &&
    at.every((other, i) => i === index || other < from - 5 || other > to + 5);
  const order = names
    .map((_, i) => i)
    .sort((i, j) => Math.abs((at[j] ?? 0) - gauge) - Math.abs((at[i] ?? 0) - gauge));
  for (const i of order) {
    const [x = 0, wide = 0] = [at[i], reach[i]];
    const beside = Math.abs(x - gauge) < 34;
    const tries: [number, number, Placed][] = [
      [x - wide / 2, x + wide / 2, { x, anchor: "middle" }],
      ...(beside
        ? ([
            [gauge + 30, gauge + 30 + wide, { x: gauge + 32, anchor: "start" }],
            [gauge - 30 - wide, gauge - 30, { x: gauge - 32, anchor: "end" }],
          ] as [number, number, Placed][])
        : []),
    ];
    const found = tries.find(([from, to]) => free(from, to, i));
    if (!found) continue;
    taken.push([found[0], found[1]]);
    placed[i] = found[2];
  }
  return placed;
}

interface PortsProps {
  ports: PortMark[];
  x: (mm: number) => number;
  /** Where the shell's top is above a place along the tank. */
  top: (mm: number) => number;
  /** Whether there is room for their names. */
  named: boolean;
  /** Where the reference point stands: a name there goes beside it. */
  gauge: number;
}

/** The openings in the top, each with its name where there is room for it. */
export function Ports({ ports, x, top, named, gauge }: PortsProps) {
  const there = ports.filter((port): port is PortMark & { positionMm: number } => port.positionMm !== null);
  const at = there.map((port) => x(port.positionMm));
  const names = named
    ? placeNames(
        there.map((port) => port.name),
        at,
        gauge,
      )
    : [];
  return (
    <g className="ports">
      {there.map((port, index) => {
        const name = names[index];
        const px = at[index] ?? 0;
        return (
          <g key={`${port.name}-${index}`} transform={`translate(${px} ${top(port.positionMm)})`}>
            <title>{`${port.name}: ${port.uses.join(", ")}`}</title>
            <path d="M-4 1v-10h8v10" />
            {name && (
              <text x={name.x - px} y={-14} textAnchor={name.anchor}>
                {port.name}
              </text>
            )}
          </g>
        );
      })}
    </g>
  );
}
