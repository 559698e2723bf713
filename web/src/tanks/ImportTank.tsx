import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type DragEvent, useId, useState } from "react";
import Button from "react-bootstrap/Button";
import { useNavigate } from "react-router";

import { keys, refresh } from "../api/keys";
import { api, ask, Refused, wordsOf } from "../api/client";
import { Dialog } from "../frame/Dialog";
import { base64Of } from "../frame/files";
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
  const [trouble, setTrouble] = useState("");
  const [over, setOver] = useState(false);
  const chosen = site ?? sites?.[0]?.id ?? null;
  const take = useMutation({
    mutationFn: () => ask(api.POST("/api/tanks/import/", { body: { site: chosen ?? 0, text } })),
    onSuccess: async (tank) => {
      await refresh(queries, keys.tanks, keys.board);
      onHide();
      setText("");
      await navigate(`/tanks/${tank.id}/table`);
    },
  });

  async function read(file: File | undefined) {
    if (!file) return;
    take.reset();
    setName(file.name);
    if (file.size > (file.type.startsWith("image/") ? 12 : 4) * LARGEST) {
      setText("");
      setTrouble(
        `${file.name} is ${(file.size / 1e6).toFixed(1)} MB; a tank file has at most 1 MB: check that it is the right file.`,
      );
      return;
    }
    setTrouble("");
    if (!file.type.startsWith("image/")) {
      setText(await file.text());
      return;
    }
    setText("");
    try {
      const picture = await base64Of(file);
      setText((await ask(api.POST("/api/tanks/read-picture/", { body: { picture } }))).text);
    } catch (error) {
      setTrouble(error instanceof Refused ? error.message : wordsOf(error));
    }
  }

  return (
    <Dialog
      title="Import a tank file or label"
      show={show}
      onHide={onHide}
      size="lg"
      holds
      footer={
        <>
          <Button variant="outline-secondary" onClick={onHide}>
            Back
          </Button>
          <Button disabled={!text.trim() || chosen === null || take.isPending} onClick={() => take.mutate()}>
            {take.isPending ? "Reading…" : "Import"}
          </Button>
        </>
      }
    >
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
        <label htmlFor={`${id}-file`}>Drop a tank file or a picture of a QR label here, or pick one:</label>
        <input
          id={`${id}-file`}
          type="file"
          className="form-control"
          onClick={(event) => {
            // The same file may be picked again once it is put right.
            event.currentTarget.value = "";
          }}
          accept=".json,application/json,image/*"
          onChange={(event) => void read(event.target.files?.[0])}
        />
      </div>
      <label htmlFor={`${id}-text`} className="mt-2">
        Or paste the text of the file, or of a label{" "}
        {name && <span className="text-quiet">(from {name})</span>}
      </label>
      <textarea
        id={`${id}-text`}
        className="form-control mono"
        rows={8}
        spellCheck={false}
        value={text}
        placeholder='{ "format": "rasante.tank/1", … }   or   RASANTE1:…'
        onChange={(event) => {
          take.reset();
          setName("");
          setTrouble("");
          setText(event.target.value);
        }}
      />
      {trouble && (
        <p role="alert" className="problem">
          {trouble}
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
          <p className="text-quiet">Nothing was kept. Put it right here or in the file, then import again.</p>
        </div>
      )}
    </Dialog>
  );
}
