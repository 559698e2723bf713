import { createContext, type ReactNode, use, useCallback, useMemo, useState } from "react";

import type { Schema } from "../api/client";
import { useWords } from "./words";
import { places, placesBy, toPlace } from "./numbers";
import { Opening } from "./Opening";

export type System = "metric" | "us";
/** The systems as they are called on the screen. */
export const SYSTEM_NAMES: Record<System, string> = { metric: "Metric", us: "US" };

export type Quantity = "length" | "volume" | "area" | "mass" | "current" | "ratio";
export type Unit = Schema["Unit"];

/** The API's own units: mm, litres, m², kg, mA, per cent. */
const API_UNITS: Record<Quantity, string> = {
  length: "mm",
  volume: "l",
  area: "m2",
  mass: "kg",
  current: "ma",
  ratio: "pct",
};

export interface Units {
  system: System;
  choose: (system: System) => void;
  /** The unit a quantity is shown in. */
  unit: (quantity: Quantity) => Unit;
  unitByKey: (key: string) => Unit;
  /** The unit that a bare number of a quantity means in any system. */
  bareUnit: (quantity: Quantity, system: System) => Unit;
  /** A value in the API's unit, in the unit it is shown in. */
  toShown: (quantity: Quantity, value: number) => number;
  /** The other way: a value as it is shown, in the API's unit. */
  fromShown: (quantity: Quantity, value: number) => number;
  /** A value in the API's unit, in any unit of the same quantity. */
  convert: (quantity: Quantity, value: number, unit: Unit) => number;
  /** A value in the API's unit as text, without its unit. */
  number: (quantity: Quantity, value: number, unit?: Unit) => string;
  /** A value in the API's unit as text, with its unit. */
  text: (quantity: Quantity, value: number, unit?: Unit) => string;
  /** A value in the API's unit to what its half-width (k = 2) is worth, without its unit; without one as a reading. */
  worth: (quantity: Quantity, value: number, half: number | null) => string;
  /** What a value may be off by, to two digits, with its unit: "± 24 L". */
  half: (quantity: Quantity, half: number) => string;
  /** A length [mm] that a tape or a saw gives: to the millimetre, or to a hundredth of an inch. */
  tape: (mm: number) => string;
  /** A cable run [mm], which nobody measures so: to a tenth of a metre or foot, a long one to the whole. */
  run: (mm: number) => string;
}

const Context = createContext<Units | null>(null);
const KEY = "rasante:system";
/** Runs from here on are told in whole metres or feet. */
const LONG = 20;

/** The system chosen on this device. */
export function systemOfScreen(): System {
  return localStorage.getItem(KEY) === "us" ? "us" : "metric";
}

/** Gives every screen the chosen units; waits until the factors are there. */
export function UnitsProvider({ children }: { children: ReactNode }) {
  const words = useWords();
  const [system, setSystem] = useState<System>(systemOfScreen);
  const choose = useCallback((chosen: System) => {
    localStorage.setItem(KEY, chosen);
    setSystem(chosen);
  }, []);
  const units = useMemo<Units | null>(() => {
    if (!words) return null;
    const byKey = new Map(words.units.map((unit) => [unit.key, unit]));
    const unitByKey = (key: string): Unit => {
      const unit = byKey.get(key);
      if (!unit) throw new Error(`no unit ${key}`);
      return unit;
    };
    const bareUnit = (quantity: Quantity, of: System) =>
      unitByKey(words.systems[of]?.[quantity] ?? API_UNITS[quantity]);
    const unit = (quantity: Quantity) => bareUnit(quantity, system);
    const convert = (quantity: Quantity, value: number, to: Unit) =>
      (value * unitByKey(API_UNITS[quantity]).si) / to.si;
    const number = (quantity: Quantity, value: number, to = unit(quantity)) =>
      places(convert(quantity, value, to), to.decimals);
    const text = (quantity: Quantity, value: number, to = unit(quantity)) =>
      `${number(quantity, value, to)} ${to.name}`;
    const worth = (quantity: Quantity, value: number, half: number | null) => {
      const to = unit(quantity);
      return toPlace(convert(quantity, value, to), placesBy(convert(quantity, half ?? 0, to), to.decimals));
    };
    const long = unitByKey(system === "us" ? "ft" : "m");
    return {
      system,
      choose,
      unit,
      unitByKey,
      bareUnit,
      convert,
      fromShown: (quantity, value) => (value * unit(quantity).si) / unitByKey(API_UNITS[quantity]).si,
      toShown: (quantity, value) => convert(quantity, value, unit(quantity)),
      number,
      text,
      worth,
      half: (quantity, half) => `± ${worth(quantity, Math.abs(half), half)} ${unit(quantity).name}`,
      tape: (mm) => (system === "us" ? text("length", mm) : `${places(Number(mm.toFixed(6)), 0)} mm`),
      run: (mm) => {
        const size = convert("length", mm, long);
        return `${places(size, Math.abs(size) >= LONG ? 0 : 1)} ${long.name}`;
      },
    };
  }, [words, system, choose]);
  if (!units) return <Opening className="p-4" />;
  return <Context value={units}>{children}</Context>;
}

/** The units of the screen. */
export function useUnits(): Units {
  const units = use(Context);
  if (!units) throw new Error("useUnits needs a UnitsProvider");
  return units;
}
