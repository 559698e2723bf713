import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import Modal from "react-bootstrap/Modal";
import { useNavigate } from "react-router";

import { api, ask, wordsOf } from "../../api/client";
import { usePerson } from "../../frame/session";
import type { Tank } from "../tank";

/** Deleting a tank: for a lead, and never without asking. */
export function DeleteTank({ tank }: { tank: Tank }) {
  const person = usePerson();
  const [asking, setAsking] = useState(false);
  const navigate = useNavigate();
  const queries = useQueryClient();
  const remove = useMutation({
    mutationFn: () => ask(api.DELETE("/api/tanks/{id}/", { params: { path: { id: tank.id } } })),
    onSuccess: async () => {
      await navigate("/tanks");
      await queries.invalidateQueries({ queryKey: ["tanks"] });
      await queries.invalidateQueries({ queryKey: ["board"] });
    },
  });
  if (person?.role !== "lead") return null;
  return (
    <>
      <Button variant="outline-danger" className="mt-3" onClick={() => setAsking(true)}>
        Delete this tank
      </Button>
      <Modal show={asking} onHide={() => setAsking(false)} aria-labelledby="delete-title">
        <Modal.Header closeButton>
          <Modal.Title id="delete-title" as="h2">
            Delete {tank.facts.name}?
          </Modal.Title>
        </Modal.Header>
        <Modal.Body>
          <p>
            The tank, its scale and its history of {tank.revision} revision(s) go. A tank with proofs stays:
            their records refer to it.
          </p>
          {remove.isError && (
            <p role="alert" className="problem">
              {wordsOf(remove.error)}
            </p>
          )}
        </Modal.Body>
        <Modal.Footer>
          <Button variant="outline-secondary" onClick={() => setAsking(false)}>
            Leave it
          </Button>
          <Button variant="outline-danger" disabled={remove.isPending} onClick={() => remove.mutate()}>
            Delete {tank.facts.name}
          </Button>
        </Modal.Footer>
      </Modal>
    </>
  );
}
