import { useQuery } from "@tanstack/react-query";

import { api, ask, type Schema } from "../api/client";
import type { PortMark } from "../drawing/Ports";
import { useUnits } from "../frame/units";

export type Tank = Schema["Tank"];
export type Port = Schema["Port"];

/** One tank. */
export function useTank(id: number) {
  return useQuery({
    queryKey: ["tank", id],
    queryFn: () => ask(api.GET("/api/tanks/{id}/", { params: { path: { id } } })),
  });
}

/** The gauge kept for a tank: its fields, and how it stands in the section. */
export function useKeptGauge(id: number) {
  return useQuery({
    queryKey: ["tank", id, "gauge"],
    queryFn: () => ask(api.GET("/api/tanks/{id}/gauge/", { params: { path: { id } } })),
  });
}

/** How far the work on a tank has come. */
export function useStations(id: number) {
  const { system } = useUnits();
  return useQuery({
    queryKey: ["tank", id, "stations", system],
    queryFn: () => ask(api.GET("/api/tanks/{id}/stations/", { params: { path: { id }, query: { system } } })),
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
