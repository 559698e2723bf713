import { useMutation } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import Button from "react-bootstrap/Button";

import { wordsOf } from "../api/client";
import { Dialog } from "../frame/Dialog";
import { usePerson } from "./session";

interface Props {
  /** What the button that opens it says. */
  label: string;
  /** What would go, as it is called. */
  name: string;
  /** What goes with it, and what does not. */
  children: ReactNode;
  /** The name of whoever made it, where they may delete it as well as a lead. */
  maker?: string;
  remove: () => Promise<unknown>;
  onDone: () => Promise<unknown>;
}

/** Deleting: for a lead, and never without asking and naming what goes. */
export function ConfirmDelete({ label, name, children, maker, remove, onDone }: Props) {
  const person = usePerson();
  const [asking, setAsking] = useState(false);
  const act = useMutation({ mutationFn: remove, onSuccess: onDone });
  if (!person || (person.role !== "lead" && person.name !== maker)) return null;
  return (
    <>
      <Button variant="outline-danger" className="mt-3" onClick={() => setAsking(true)}>
        {label}
      </Button>
      <Dialog
        title={`Delete ${name}?`}
        show={asking}
        onHide={() => setAsking(false)}
        footer={
          <>
            <Button variant="outline-secondary" onClick={() => setAsking(false)}>
              Leave it
            </Button>
            <Button variant="outline-danger" disabled={act.isPending} onClick={() => act.mutate()}>
              Delete {name}
            </Button>
          </>
        }
      >
        <p>{children}</p>
        {act.isError && (
          <p role="alert" className="problem">
            {wordsOf(act.error)}
          </p>
        )}
      </Dialog>
    </>
  );
}
