import "./panes.css";

import type { KeyboardEvent } from "react";
import { useSearchParams } from "react-router";

/** The pane that the address names, the first one where it names none. */
export function usePane<K extends string>(
  panes: readonly [readonly [K, string], ...(readonly [K, string])[]],
): [K, (key: K) => void] {
  const [params, setParams] = useSearchParams();
  const first = panes[0][0];
  const pane = panes.find(([key]) => key === params.get("pane"))?.[0] ?? first;
  return [pane, (key) => setParams(key === first ? {} : { pane: key }, { replace: true })];
}

interface Props<K extends string> {
  label: string;
  panes: readonly (readonly [K, string])[];
  /** The pane that is open; one that is none of these is open beside them. */
  here: string;
  onChoose: (key: K) => void;
}

/** The names of a station's panes, to be chosen from. */
export function Panes<K extends string>({ label, panes, here, onChoose }: Props<K>) {
  // One of them is in the order of Tab; the arrow keys go from one to the next.
  const reached = panes.some(([key]) => key === here) ? here : panes[0]?.[0];
  const step = (event: KeyboardEvent<HTMLButtonElement>) => {
    const tabs = [...(event.currentTarget.parentElement?.querySelectorAll<HTMLElement>("[role=tab]") ?? [])];
    const at = tabs.indexOf(event.currentTarget);
    const to = { ArrowRight: at + 1, ArrowLeft: at - 1, Home: 0, End: panes.length - 1 }[event.key];
    if (to === undefined) return;
    const number = (to + panes.length) % panes.length;
    const next = panes[number];
    if (!next) return;
    event.preventDefault();
    onChoose(next[0]);
    tabs[number]?.focus();
  };
  return (
    <div className="panes" role="tablist" aria-label={label}>
      {panes.map(([key, name]) => (
        <button
          key={key}
          type="button"
          role="tab"
          aria-selected={here === key}
          tabIndex={key === reached ? 0 : -1}
          onClick={() => onChoose(key)}
          onKeyDown={step}
        >
          {name}
        </button>
      ))}
    </div>
  );
}
