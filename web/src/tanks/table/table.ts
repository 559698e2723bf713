import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { api, ask } from "../../api/client";
import { type System, useUnits } from "../../frame/units";

export type StepUnit = "mm" | "cm" | "m" | "in" | "ft";
export type VolumeUnit = "l" | "m3" | "usgal" | "impgal";

/** What a table is made in. */
export interface TableChoice {
  step: string;
  stepUnit: StepUnit;
  volumeUnit: VolumeUnit;
}

const USUAL: Record<System, TableChoice> = {
  metric: { step: "10", stepUnit: "mm", volumeUnit: "l" },
  us: { step: "1/8", stepUnit: "in", volumeUnit: "usgal" },
};

/** The steps offered by name; any other may be typed. */
export const STEPS: [string, StepUnit, string][] = [
  ["1", "mm", "1 mm"],
  ["5", "mm", "5 mm"],
  ["10", "mm", "10 mm"],
  ["1", "cm", "1 cm"],
  ["10", "cm", "10 cm"],
  ["1/8", "in", "1/8 in"],
  ["1/4", "in", "1/4 in"],
  ["1", "in", "1 in"],
  ["1", "ft", "1 ft"],
];

/** The choice for a tank: the system's usual one until another is made, kept on this device. */
export function useTableChoice(tank: number): [TableChoice, (choice: TableChoice) => void] {
  const { system } = useUnits();
  const key = `rasante:table:${tank}:${system}`;
  const [, redraw] = useState(0);
  const kept = localStorage.getItem(key);
  const choice = kept ? { ...USUAL[system], ...(JSON.parse(kept) as TableChoice) } : USUAL[system];
  return [
    choice,
    (next) => {
      localStorage.setItem(key, JSON.stringify(next));
      redraw((count) => count + 1);
    },
  ];
}

/** The volume table of a tank, by columns. */
export function useTable(tank: number, { step, stepUnit }: TableChoice) {
  return useQuery({
    queryKey: ["tank", tank, "table", step, stepUnit],
    queryFn: () =>
      ask(
        api.GET("/api/tanks/{id}/table/", {
          params: { path: { id: tank }, query: { step, step_unit: stepUnit } },
        }),
      ),
    placeholderData: (old) => old,
  });
}

/** The address of a file of the table. */
export function tableFile(tank: number, ending: "csv" | "pdf", choice: TableChoice): string {
  const query = new URLSearchParams({
    step: choice.step,
    step_unit: choice.stepUnit,
    volume_unit: choice.volumeUnit,
  });
  return `/api/tanks/${tank}/table.${ending}/?${query}`;
}
