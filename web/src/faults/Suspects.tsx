import type { CSSProperties } from "react";

import type { FormState } from "../frame/FormField";
import { WiringDrawing } from "../wiring/WiringDrawing";
import { type Case, percent, sharesOf } from "./trouble";

/** So many suspects are listed; what is left is summed. */
const LISTED = 7;

/** The loop as it is wired and the chain behind it, each part shaded and labelled by how likely it is what is wrong. */
export function Suspects({ found, form }: { found: Case; form: FormState }) {
  const leads = leadsOf(found, form);
  return (
    <section aria-label="Suspects">
      <h2>What it may be</h2>
      <SuspectList found={found} />
      {found.drawing && (
        <WiringDrawing drawing={found.drawing} shares={sharesOf(found)} red={leads[0]} black={leads[1]} />
      )}
      <ChainShares found={found} />
    </section>
  );
}

function leadsOf(found: Case, form: FormState): string[] {
  const typed = [form.entries["now.red"] ?? "", form.entries["now.black"] ?? ""];
  if (typed[0] || typed[1]) return typed;
  const test = form.entries["now.test"] || found.choices[0]?.test;
  return found.choices.find((one) => one.test === test)?.leads ?? [];
}

function ChainShares({ found }: { found: Case }) {
  const hops = Object.entries(found.stations).map(([key, label]) => ({
    key,
    label,
    share: found.parts.filter((one) => one.hop === key).reduce((sum, one) => sum + one.share, 0),
  }));
  return (
    <ol className="chain-shares" aria-label="Along the chain">
      {hops.map(({ key, label, share }) => (
        <li key={key} style={shareStyle(share)}>
          {label}
          <span className="mono">{share >= 0.01 ? percent(share) : "–"}</span>
        </li>
      ))}
    </ol>
  );
}

function SuspectList({ found }: { found: Case }) {
  const listed = found.parts.filter((one) => one.share >= 0.01).slice(0, LISTED);
  const rest = 1 - listed.reduce((sum, one) => sum + one.share, 0);
  return (
    <ul className="suspects">
      {listed.map((one) => (
        <li key={one.part}>
          <span className="suspect-bar" style={shareStyle(one.share)} aria-hidden="true" />
          <span className="mono">{percent(one.share)}</span> {one.says}
        </li>
      ))}
      {rest >= 0.01 && (
        <li className="text-quiet">
          <span className="suspect-bar" style={shareStyle(rest)} aria-hidden="true" />
          <span className="mono">{percent(rest)}</span> all the rest
        </li>
      )}
    </ul>
  );
}

function shareStyle(share: number): CSSProperties {
  return { "--share": share } as CSSProperties;
}
