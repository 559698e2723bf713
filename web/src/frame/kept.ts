import { useState } from "react";

/** A choice kept on this device under a key, with what it begins from; parts that are new to it begin so too. */
export function useKept<T extends object>(key: string, begin: T): [T, (value: T) => void] {
  const [, redraw] = useState(0);
  const text = localStorage.getItem(key);
  let value = begin;
  try {
    if (text) value = { ...begin, ...(JSON.parse(text) as T) };
  } catch {
    // What another version kept and cannot be read begins anew.
  }
  return [
    value,
    (next) => {
      localStorage.setItem(key, JSON.stringify(next));
      redraw((count) => count + 1);
    },
  ];
}
