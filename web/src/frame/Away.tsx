import { useQueryClient } from "@tanstack/react-query";
import Button from "react-bootstrap/Button";

import { wake } from "./outbox";
import { useReach } from "../api/reach";
import { clock } from "./times";

/** What stands above every page while the server does not answer; it goes by itself. */
export function Away() {
  const { since, failing } = useReach();
  const queries = useQueryClient();
  if (since === null) return null;
  return (
    <div className="away" aria-live="polite">
      <span>
        {failing ? "The server fails" : "The server does not answer"} since {clock(since)}. What stands here
        is what it said last; what you type is kept on this device and goes when it is back.
      </span>
      <Button
        size="sm"
        variant="outline-secondary"
        onClick={() => {
          wake();
          void queries.refetchQueries({ type: "active" });
        }}
      >
        Try again
      </Button>
    </div>
  );
}
