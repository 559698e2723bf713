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
  return (
    <div className="panes" role="tablist" aria-label={label}>
      {panes.map(([key, name]) => (
        <button key={key} type="button" role="tab" aria-selected={here === key} onClick={() => onChoose(key)}>
          {name}
        </button>
      ))}
    </div>
  );
}
