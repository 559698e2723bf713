import { KeepBar } from "./KeepBar";
import type { Plan } from "./plan";
import { clock, day } from "./times";
import { SYSTEM_NAMES, useUnits } from "./units";

interface Props {
  plan: Plan<unknown>;
  /** What the button says, for instance “Keep this chain”. */
  action: string;
  /** The words before anything is kept. */
  nothing: string;
  /** Whether it asks to be kept although nothing was typed, and in which words. */
  pressing?: string;
  /** What is kept, by its name, where it has one. */
  kept?: string | undefined;
}

/** Keep and discard above what is planned for a tank, with where it stands. */
export function PlanBar({ plan, action, nothing, pressing = "", kept: name = "" }: Props) {
  const { kept, typed, reading, changed, form } = plan;
  const { system } = useUnits();
  const wrong = [...form.fields.values()].filter((field) => field.state === "wrong");
  const stale = kept.stale ? "The tank was surveyed again since: look at it and keep it again." : pressing;
  return (
    <KeepBar
      action={action}
      typed={typed}
      value={form.entries}
      changed={changed || stale !== ""}
      ready={reading !== undefined && wrong.length === 0}
      refused={plan.refused}
      newer={newerWords(kept)}
      kept={
        kept.revision
          ? `${name ? `${name}. ` : ""}Kept, revision ${kept.revision}, ${kept.changed_at ? day(kept.changed_at) : ""}.`
          : nothing
      }
      waiting={
        wrong.length > 0 ? (
          `To be put right first: ${[...new Set(wrong.map((field) => field.problem))].slice(0, 2).join("; ")}`
        ) : changed ? (
          <>
            Changed {typed.at ? clock(typed.at) : ""}, on this device only.
            {typed.system !== system && ` Bare numbers in it are ${SYSTEM_NAMES[typed.system]} units.`}
          </>
        ) : (
          stale
        )
      }
      discards={changed}
    />
  );
}

function newerWords({ revision, changed_by, changed_at }: Plan<unknown>["kept"]): string {
  if (!revision) return "nothing is kept of it on the server";
  const when = changed_at ? ` on ${day(changed_at)}, ${clock(changed_at)}` : "";
  return `${changed_by} has kept revision ${revision}${when}`;
}
