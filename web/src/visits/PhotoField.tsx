import { useId, useState } from "react";

import { useEntry } from "../frame/outbox";
import { usePerson } from "../people/session";
import { shrunk } from "../register/picture";
import { doingsOf, type Queue, queue, queueOf } from "./queue";
import type { Step, Visit } from "./visit";

interface Props {
  visit: Visit;
  step: Step;
  /** What the next one shows, as far as it is typed. */
  note: string;
  fixed: boolean;
  onNote: (note: string) => void;
}

/** Photographs of a step: by the camera or from a file, made small here before they wait to be sent. */
export function PhotoField({ visit, step, note, fixed, onNote }: Props) {
  const id = useId();
  const person = usePerson();
  const waiting = doingsOf(useEntry<Queue>(queueOf(visit.id))).filter(
    (one) => one.kind === "photo" && one.body.step === step.key,
  );
  const [place, setPlace] = useState(false);
  const [problem, setProblem] = useState("");
  async function take(file: File | undefined) {
    if (!file || !person) return;
    setProblem("");
    try {
      const picture = await shrunk(file, place);
      queue(visit, person.username, {
        kind: "photo",
        title: `${step.title}, photograph`,
        body: {
          uid: crypto.randomUUID(),
          step: step.key,
          picture,
          note,
          keep_place: place,
          at: new Date().toISOString(),
        },
      });
      onNote("");
    } catch {
      setProblem("This is no picture that can be read: take a PNG, JPEG or WebP.");
    }
  }
  return (
    <div className="photos">
      {!fixed && (
        <>
          <div className="form-field">
            <label htmlFor={`${id}-n`}>What it shows</label>
            <input
              id={`${id}-n`}
              className="form-control"
              value={note}
              maxLength={200}
              onChange={(event) => onNote(event.target.value)}
            />
          </div>
          <label className="tick" htmlFor={`${id}-p`}>
            <input
              id={`${id}-p`}
              type="checkbox"
              checked={place}
              onChange={(event) => setPlace(event.target.checked)}
            />
            Keep where it was taken
          </label>
          <label htmlFor={id} className="btn btn-outline-secondary photo-take">
            Take a photograph
          </label>
          <input
            id={id}
            type="file"
            accept="image/*"
            capture="environment"
            className="visually-hidden"
            onChange={(event) => {
              void take(event.target.files?.[0]);
              event.target.value = "";
            }}
          />
          {problem && (
            <p role="alert" className="problem">
              {problem}
            </p>
          )}
        </>
      )}
      <ul className="photo-list" aria-label="Photographs">
        {step.photos.map((photo) => (
          <li key={photo.id}>
            <img src={`/api/visit-photos/${photo.id}/`} alt={photo.note || step.title} loading="lazy" />
            <span className="text-quiet">{photo.note}</span>
          </li>
        ))}
        {waiting.map((one) =>
          one.kind === "photo" ? (
            <li key={one.body.uid}>
              <img src={`data:image/jpeg;base64,${one.body.picture}`} alt={one.body.note || step.title} />
              <span className="text-quiet">waits to be sent</span>
            </li>
          ) : null,
        )}
      </ul>
    </div>
  );
}
