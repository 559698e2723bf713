import { useQuery } from "@tanstack/react-query";
import { useCallback, useLayoutEffect } from "react";

import { keys } from "../../api/keys";
import { api, ask } from "../../api/client";
import { useDraft } from "../../frame/draft";
import { useKept } from "../../frame/kept";
import { type Quantity, type System, useUnits } from "../../frame/units";
import { useWords } from "../../frame/words";
import type { Tank } from "../tank";

export type StepUnit = "mm" | "cm" | "m" | "in" | "ft";
export type VolumeUnit = "l" | "m3" | "usgal" | "impgal";

/** What a table is made of. */
export interface TableChoice {
  step: string;
  stepUnit: StepUnit;
  volumeUnit: VolumeUnit;
  by: "innage" | "ullage";
  /** The range of innage as typed; empty for all of it. */
  start: string;
  end: string;
  /** The number of an issued table, to be looked at instead of the tank as it stands. */
  issued: number | null;
}

const WHOLE = { by: "innage", start: "", end: "", issued: null } as const;
const USUAL: Record<System, TableChoice> = {
  metric: { step: "10", stepUnit: "mm", volumeUnit: "l", ...WHOLE },
  us: { step: "1/8", stepUnit: "in", volumeUnit: "usgal", ...WHOLE },
};

/** A liquid as it was observed, as typed. */
export interface LiquidTyped {
  density: string;
  density_at: string;
  temperature: string;
  water: string;
  standard: "15C" | "60F";
  /** Whether the table carries its columns. */
  shown: boolean;
}

/** The liquid typed for a tank, kept on this device; its water begins from the day's dip at Survey. */
export function useLiquid(tank: Tank): [LiquidTyped, (liquid: LiquidTyped) => void] {
  const units = useUnits();
  const { value, system, change, adopt } = useDraft<LiquidTyped>(`liquid:${tank.id}`, {
    name: `Liquid, ${tank.facts.name}`,
    page: `/tanks/${tank.id}/table`,
  });
  const dipped = tank.entries["dip.read"] === "ullage" ? "" : (tank.entries["dip.water"] ?? "");
  const liquid: LiquidTyped = value ?? {
    density: "",
    density_at: "",
    temperature: "",
    water: dipped,
    standard: system === "us" ? "60F" : "15C",
    shown: false,
  };
  const words = useWords();
  const bare = useCallback(
    (quantity: string) =>
      words?.bare_units[quantity]?.[system] ?? units.bareUnit(quantity as Quantity, system).name,
    [words, units, system],
  );
  const other = value !== null && system !== units.system;
  useLayoutEffect(() => {
    if (value && other) adopt(withUnits(value, bare));
  }, [value, other, bare, adopt]);
  return [other ? withUnits(liquid, bare) : liquid, change];
}

/** A liquid with the units behind its bare numbers that they had in the system in which they were typed. */
function withUnits(liquid: LiquidTyped, bare: (quantity: string) => string): LiquidTyped {
  const named = (text: string, quantity: string) =>
    /[^\s\d.,/-]/.test(text) || !text.trim() ? text : `${text} ${bare(quantity)}`;
  return {
    ...liquid,
    density: named(liquid.density, "density"),
    density_at: named(liquid.density_at, "temperature"),
    temperature: named(liquid.temperature, "temperature"),
    water: named(liquid.water, "length"),
  };
}

/** What the API is asked of a liquid. */
export function liquidQuery({ density, density_at, temperature, water, standard }: LiquidTyped) {
  const typed = Object.entries({ density, density_at, temperature, water }).filter(([, text]) => text.trim());
  return { ...Object.fromEntries(typed), standard };
}

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
  return useKept(`rasante:table:${tank}:${system}`, USUAL[system]);
}

function orderOf(choice: TableChoice, liquid: LiquidTyped, system: System) {
  const { step, stepUnit, by, start, end, issued } = choice;
  return {
    step,
    step_unit: stepUnit,
    // An issued table is what it is: by innage, and whole.
    ...(issued === null ? { by, ...(start.trim() && { start }), ...(end.trim() && { end }) } : { issued }),
    ...(liquid.shown ? liquidQuery(liquid) : {}),
    system,
  };
}

/** The volume table of a tank, by columns. */
export function useTable(tank: number, choice: TableChoice, liquid: LiquidTyped) {
  const { system } = useUnits();
  const query = orderOf(choice, liquid, system);
  return useQuery({
    queryKey: keys.tank(tank, "table", query),
    queryFn: () => ask(api.GET("/api/tanks/{id}/table/", { params: { path: { id: tank }, query } })),
    placeholderData: (old) => old,
    throwOnError: false,
  });
}

/** The address of a file of the table. */
export function tableFile(
  tank: number,
  ending: "csv" | "xlsx" | "json" | "pdf",
  choice: TableChoice,
  liquid: LiquidTyped,
  system: System,
): string {
  const order = { ...orderOf(choice, liquid, system), volume_unit: choice.volumeUnit };
  const query = new URLSearchParams(Object.entries(order).map(([key, value]) => [key, String(value)]));
  return `/api/tanks/${tank}/table.${ending}/?${query}`;
}

/** The tables issued for a tank, the newest first. */
export function useIssued(tank: number) {
  return useQuery({
    queryKey: keys.tank(tank, "issued"),
    queryFn: () =>
      ask(api.GET("/api/tanks/{id}/issued/", { params: { path: { id: tank }, query: { page_size: 200 } } })),
  });
}
