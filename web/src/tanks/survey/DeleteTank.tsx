import { useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";

import { keys, refresh } from "../../api/keys";
import { api, ask } from "../../api/client";
import { ConfirmDelete } from "../../people/ConfirmDelete";
import type { Tank } from "../tank";

/** Deleting a tank. */
export function DeleteTank({ tank }: { tank: Tank }) {
  const navigate = useNavigate();
  const queries = useQueryClient();
  return (
    <ConfirmDelete
      label="Delete this tank"
      name={tank.facts.name}
      remove={() => ask(api.DELETE("/api/tanks/{id}/", { params: { path: { id: tank.id } } }))}
      onDone={async () => {
        await navigate("/tanks");
        await refresh(queries, keys.tanks, keys.board);
      }}
    >
      The tank, its scale and its history of {tank.revision} revision(s) go. A tank with proofs stays: their
      records refer to it.
    </ConfirmDelete>
  );
}
