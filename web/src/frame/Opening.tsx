import { useReach } from "../api/reach";

/** What stands in the place of something whose first answer is under way. */
export function Opening({ className }: { className?: string }) {
  const { since } = useReach();
  return (
    <p className={className} aria-live="polite">
      {since === null ? "Opening…" : "Not opened yet: it is asked for again until the server answers."}
    </p>
  );
}
