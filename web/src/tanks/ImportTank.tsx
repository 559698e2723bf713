import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type DragEvent, useId, useState } from "react";
import Button from "react-bootstrap/Button";
import Modal from "react-bootstrap/Modal";
import { useNavigate } from "react-router";

import { api, ask, Refused, wordsOf } from "../api/client";
import { SitePicker, useSites } from "./SitePicker";

const LARGEST = 1_000_000;

interface Props {
  show: boolean;
  onHide: () => void;
}

/** Take in a tank file: dropped, picked or pasted. */
export function ImportTank({ show, onHide }: Props) {
  const id = useId();
  const sites = useSites();
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [site, setSite] = useState<number | null>(null);
  const [text, setText] = useState("");
  const [name, setName] = useState("");
  const [tooLarge, setTooLarge] = useState("");
  const [over, setOver] = useState(false);
  const chosen = site ?? sites?.[0]?.id ?? null;
  const take = useMutation({
    mutationFn: () => ask(api.POST("/api/tanks/import/", { body: { site: chosen ?? 0, text } })),
    onSuccess: async (tank) => {
      await queries.invalidateQueries({ queryKey: ["tanks"] });
      await queries.invalidateQueries({ queryKey: ["board"] });
      onHide();
      setText("");
      await navigate(`/tanks/${tank.id}/table`);
    },
  });

  async function read(file: File | undefined) {
    if (!file) return;
    take.reset();
    setName(file.name);
    if (file.size > 4 * LARGEST) {
      setText("");
      setTooLarge(
        `${file.name} is ${(file.size / 1e6).toFixed(1)} MB; a tank file has at most 1 MB: check that it is the right file.`,
      );
      return;
    }
    setTooLarge("");
    setText(await file.text());
  }

  return (
    <Modal show={show} onHide={onHide} size="lg" aria-labelledby={`${id}-title`}>
      <Modal.Header closeButton>
        <Modal.Title id={`${id}-title`} as="h2">
          Import a tank file
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <SitePicker value={chosen} onChange={setSite} />
        <div
          className={over ? "drop over" : "drop"}
          onDragOver={(event: DragEvent) => {
            event.preventDefault();
            setOver(true);
          }}
          onDragLeave={() => setOver(false)}
          onDrop={(event: DragEvent) => {
            event.preventDefault();
            setOver(false);
            void read(event.dataTransfer.files[0]);
          }}
        >
          <label htmlFor={`${id}-file`}>Drop a tank file here, or pick one:</label>
          <input
            id={`${id}-file`}
            type="file"
            className="form-control"
            accept=".json,application/json"
            onChange={(event) => void read(event.target.files?.[0])}
          />
        </div>
        <label htmlFor={`${id}-text`} className="mt-2">
          Or paste its text {name && <span className="text-quiet">(from {name})</span>}
        </label>
        <textarea
          id={`${id}-text`}
          className="form-control mono"
          rows={8}
          spellCheck={false}
          value={text}
          placeholder='{ "format": "rasante.tank/1", … }'
          onChange={(event) => {
            take.reset();
            setName("");
            setTooLarge("");
            setText(event.target.value);
          }}
        />
        {tooLarge && (
          <p role="alert" className="problem">
            {tooLarge}
          </p>
        )}
        {take.isError && (
          <div role="alert">
            {take.error instanceof Refused ? (
              take.error.problems.map((problem) => (
                <p key={problem.where + problem.what} className="problem">
                  {problem.where && <code>{problem.where}</code>} {problem.what}
                </p>
              ))
            ) : (
              <p className="problem">{wordsOf(take.error)}</p>
            )}
            <p className="text-quiet">
              Nothing was kept. Put it right here or in the file, then import again.
            </p>
          </div>
        )}
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-secondary" onClick={onHide}>
          Back
        </Button>
        <Button disabled={!text.trim() || chosen === null || take.isPending} onClick={() => take.mutate()}>
          {take.isPending ? "Reading…" : "Import"}
        </Button>
      </Modal.Footer>
    </Modal>
  );
}
