import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";

import { keys } from "../../api/keys";
import { api, ask, wordsOf } from "../../api/client";
import { Dialog } from "../../frame/Dialog";
import { useUnits } from "../../frame/units";
import type { Tank } from "../tank";

interface Props {
  tank: Tank;
  show: boolean;
  onHide: () => void;
}

/** The tank file as a code to stick on the tank: a phone reads it as text, and the text makes the tank. */
export function LabelDialog({ tank, show, onHide }: Props) {
  const units = useUnits();
  const [copied, setCopied] = useState(false);
  const { data, error } = useQuery({
    throwOnError: false,
    queryKey: keys.tank(tank.id, "label", tank.revision),
    queryFn: () => ask(api.GET("/api/tanks/{id}/label/", { params: { path: { id: tank.id } } })),
    enabled: show,
    retry: false,
  });
  const query = new URLSearchParams({
    length_unit: units.unit("length").key,
    volume_unit: units.unit("volume").key,
  });
  return (
    <Dialog
      title={`QR label of ${tank.facts.name}`}
      show={show}
      onHide={onHide}
      footer={
        <>
          <Button
            variant="outline-secondary"
            disabled={!data}
            onClick={() => void navigator.clipboard.writeText(data?.text ?? "").then(() => setCopied(true))}
          >
            {copied ? "Copied" : "Copy the text"}
          </Button>
          <a className="btn btn-primary" href={`/api/tanks/${tank.id}/label.pdf/?${query}`} download>
            Label sheet, PDF
          </a>
        </>
      }
    >
      {error && <p className="problem">{wordsOf(error)}</p>}
      {data && (
        <>
          <img
            className="label-code"
            src={`/api/tanks/${tank.id}/label.svg/?revision=${tank.revision}`}
            alt="QR code that holds the tank file"
          />
          <p className="mt-2 mb-1">
            The whole tank file in {data.text.length} characters. Paste them, or a picture of the label, where
            tanks are imported.
          </p>
          <div className="label-text" tabIndex={0} role="group" aria-label="Text of the label">
            {data.text}
          </div>
        </>
      )}
    </Dialog>
  );
}
