import type { Schema } from "../api/client";
import { clock, day } from "./draft";
import { KeepBar } from "./KeepBar";
import type { Plan } from "./plan";

interface Props {
  plan: Plan<{ fields_read: Schema["FormField"][] }>;
  /** What the button says, for instance “Keep this chain”. */
  action: string;
  /** The words before anything is kept. */
  nothing: string;
}

/** Keep and discard above what is planned for a tank, with where it stands. */
export function PlanBar({ plan, action, nothing }: Props) {
  const { kept, draft, keep, reading, changed } = plan;
  const wrong = reading?.fields_read.filter((field) => field.state === "wrong") ?? [];
  return (
    <KeepBar
      action={action}
      changed={changed || kept.stale}
      ready={!keep.pending && reading !== undefined && wrong.length === 0}
      error={keep.error}
      kept={
        kept.revision
          ? `Kept, revision ${kept.revision}, ${kept.changed_at ? day(kept.changed_at) : ""}.`
          : nothing
      }
      waiting={
        wrong.length > 0 ? (
          <>To be put right first: {wrong[0]?.problem}</>
        ) : changed ? (
          <>Changed {draft.at ? clock(draft.at) : ""}, on this device only.</>
        ) : (
          "The tank was surveyed again since: look at it and keep it again."
        )
      }
      onKeep={keep.run}
      onDiscard={changed ? draft.discard : undefined}
      onUndo={draft.undo}
    />
  );
}
