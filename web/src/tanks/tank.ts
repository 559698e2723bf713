import { queryOptions, useQuery } from "@tanstack/react-query";

import { keys } from "../api/keys";
import { api, ask, type Schema } from "../api/client";
import type { PortMark } from "../drawing/Ports";

export type Tank = Schema["Tank"];
export type Port = Schema["Port"];

/** One tank. */
export function useTank(id: number) {
  return useQuery(tankQuery(id));
}

export function tankQuery(id: number) {
  return queryOptions({
    queryKey: keys.tank(id),
    queryFn: () => ask(api.GET("/api/tanks/{id}/", { params: { path: { id } } })),
  });
}

/** Openings as they stand on the drawing. */
export function portMarks(ports: Port[], positions: (number | null)[]): PortMark[] {
  return ports.map((port, index) => ({
    name: port.name,
    uses: port.uses,
    positionMm: positions[index] ?? null,
  }));
}
