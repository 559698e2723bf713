import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";

import { keys, refresh } from "../api/keys";
import { api, ask } from "../api/client";
import { ConfirmDelete } from "../people/ConfirmDelete";
import { Conflict } from "../frame/Conflict";
import { clock, day } from "../frame/times";
import { useUnits } from "../frame/units";
import { Choice } from "../frame/Choice";
import { TakeButton, takenWords, useTakes } from "../readings/TakeButton";
import type { Tank } from "../tanks/tank";
import { DipFields } from "./DipFields";
import { ImportReadings } from "./ImportReadings";
import { Points } from "./Points";
import type { Entries, Proof } from "./proof";
import { noted, TakeIntoProof } from "./TakeIntoProof";
import { Signature } from "./Signature";
import { type DraftProofState, useDraftProof } from "./useDraftProof";
import { Verdict } from "./Verdict";

/** A proof being taken: every keystroke is kept, every reading judged as it is typed. */
export function DraftProof({ initial, tank }: { initial: Proof; tank: Tank }) {
  const save = useDraftProof(initial, tank);
  const queries = useQueryClient();
  const units = useUnits();
  const { entries, proof } = save;
  const take = useTakes(tank.id).find((one) => one.station === entries.read_as);
  const change = (changes: Partial<Entries>) => save.change({ ...entries, ...changes });
  useEffect(
    () => () => {
      void refresh(queries, keys.tank(tank.id, "proofs"), keys.tank(tank.id, "stations"));
    },
    [queries, tank.id],
  );
  const result = proof.result;
  const problemAt = (where: string) => result.problems.find((problem) => problem.where === where)?.what;
  const tolerance =
    result.tolerance_mm === null
      ? ""
      : `± ${units.text("length", result.tolerance_mm)}, ${result.tolerance_pct?.toFixed(2)} % of span`;
  return (
    <div className="draft-proof">
      <SaveState save={save} />
      <div className="proof-set">
        <Choice
          label="Applied"
          value={entries.applied_as}
          options={Object.entries(proof.places.applied)}
          onChange={(value) => change({ applied_as: value, points: applying(value, entries, proof) })}
        />
        <Choice
          label="Read"
          value={entries.read_as}
          options={Object.entries(proof.places.read)}
          onChange={(value) => change({ read_as: value })}
        />
        <div className="choice-field">
          <label htmlFor="tolerance">Tolerance</label>
          <div>
            <input
              id="tolerance"
              className="form-control mono"
              value={entries.tolerance}
              onChange={(event) => change({ tolerance: event.target.value })}
            />
            <div className="field-says">
              {problemAt("tolerance") ? <span className="problem">{problemAt("tolerance")}</span> : tolerance}
            </div>
          </div>
        </div>
      </div>
      <label className="tick">
        <input
          type="checkbox"
          checked={entries.control_in_manual}
          onChange={(event) => change({ control_in_manual: event.target.checked })}
        />{" "}
        Control is in manual and the operator is told
      </label>
      <TakeIntoProof entries={entries} take={take} onChange={change} />
      <Points entries={entries} result={result} system={proof.system} onChange={change} />
      <ImportReadings
        proof={proof}
        kept={proof.kept}
        ready={save.state === "saved"}
        before={entries}
        save={save}
      />
      <Verdict result={result} entries={entries} />
      <DipFields entries={entries} result={result} problemAt={problemAt} onChange={change} />
      <TakeButton
        take={take}
        label="what is indicated now"
        onTake={(text, taken) =>
          change({
            dip: { ...entries.dip, indicated: text },
            remarks: noted(entries.remarks, `Indicated at the dip ${text}: taken from ${takenWords(taken)}`),
          })
        }
      />
      <label className="remarks">
        Remarks
        <textarea
          className="form-control"
          rows={2}
          maxLength={2000}
          value={entries.remarks}
          onChange={(event) => change({ remarks: event.target.value })}
        />
      </label>
      <label className="tick">
        <input
          type="checkbox"
          checked={entries.control_restored}
          onChange={(event) => change({ control_restored: event.target.checked })}
        />{" "}
        Control is restored
      </label>
      <Signature save={save} tank={tank.id} />
      <ConfirmDelete
        label="Delete this draft"
        name={`the draft of ${day(proof.made_at)}, ${clock(proof.made_at)}`}
        maker={proof.made_by}
        remove={() => ask(api.DELETE("/api/proofs/{id}/", { params: { path: { id: proof.id } } }))}
        onDone={async () => {
          save.forget();
          await refresh(queries, keys.tank(tank.id), keys.board);
        }}
      >
        Its readings and remarks go. Signed proofs are not touched.
      </ConfirmDelete>
    </div>
  );
}

/** The points under another way of applying: what still stands as it was proposed is proposed anew, the rest stays. */
function applying(place: string, entries: Entries, proof: Proof): Entries["points"] {
  const { usual } = proof.places;
  return entries.points.map((point, index) => {
    const untouched = !point.applied?.trim() || point.applied === usual[entries.applied_as]?.[index];
    return untouched ? { ...point, applied: usual[place]?.[index] ?? "" } : point;
  });
}

function SaveState({ save }: { save: DraftProofState }) {
  const { state, proof, problem, typed } = save;
  return (
    <>
      <div className="keep-bar" role="status">
        {state === "saved" && <span className="save-state">saved {clock(proof.changed_at)}</span>}
        {state === "saving" && <span className="save-state">saving…</span>}
        {state === "retrying" && (
          <span className="save-state waiting">
            not saved yet, retrying; what you typed is kept on this device.
          </span>
        )}
        {state === "refused" && <span className="save-state waiting">not saved: {problem}</span>}
        {state === "conflict" && <span className="save-state waiting">not saved: see below</span>}
      </div>
      {state === "conflict" && (
        <Conflict
          typed={typed}
          newer={`it was kept again at ${clock(proof.changed_at)}, from another device`}
        />
      )}
    </>
  );
}
