import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import Button from "react-bootstrap/Button";
import { Link } from "react-router";

import { keys, refresh } from "../../api/keys";
import { api, ask, Refused, wordsOf } from "../../api/client";
import { useDraft } from "../../frame/draft";
import { type System, useUnits } from "../../frame/units";
import type { SurveyForm } from "../survey/form";
import type { Tank } from "../tank";
import { STANDING, useProfiles, withProfile } from "./profile";

interface Props {
  tank: Tank;
  form: SurveyForm;
  /** What a bare number in it means. */
  system: System;
  /** Whether something typed is not kept yet. */
  changed: boolean;
  onChange: (form: SurveyForm) => void;
}

/** The profile of a tank: how it stands to it, taking over a newer one, bringing it up to date, saving one. */
export function ProfileField({ tank, form, system, changed, onChange }: Props) {
  const queries = useQueryClient();
  const [saving, setSaving] = useState(false);
  const profiles = useProfiles().data?.results ?? [];
  const mine = profiles.find((one) => one.id === tank.profile?.id);
  const again = async () => {
    await refresh(queries, keys.profiles, keys.tank(tank.id));
  };
  const update = useMutation({
    mutationFn: () =>
      ask(
        api.PUT("/api/profiles/{id}/", {
          params: { path: { id: mine?.id ?? 0 } },
          body: { tank: tank.id, revision: mine?.revision ?? 0 },
        }),
      ),
    onSuccess: again,
  });
  const taking = profiles.find((one) => one.id === form.profile);
  return (
    <fieldset className="profile-field">
      <legend>Profile</legend>
      {tank.profile ? (
        <p>
          <Link to="/profiles">{tank.profile.name}</Link>, revision {tank.profile.revision}:{" "}
          {STANDING[tank.profile.standing]}
          {tank.profile.standing === "newer" && ` (revision ${tank.profile.profile_revision})`}.
        </p>
      ) : (
        <p className="text-quiet">None. Save these dimensions as one, and tanks of the kind begin from it.</p>
      )}
      {taking && changed && (
        <p className="save-state waiting">
          Takes {taking.name}, revision {taking.revision}, over as soon as the survey is kept.
        </p>
      )}
      <div className="site-row">
        {mine && tank.profile && tank.profile.standing !== "same" && (
          <>
            <Button
              variant="outline-secondary"
              onClick={() => void withProfile(form, system, mine).then(onChange)}
            >
              Take the profile&apos;s dimensions
            </Button>
            <Button
              variant="outline-secondary"
              disabled={changed || update.isPending}
              onClick={() => update.mutate()}
            >
              Bring the profile up to date from this tank
            </Button>
          </>
        )}
        {!saving && (
          <Button variant="outline-secondary" disabled={changed} onClick={() => setSaving(true)}>
            Save as a profile
          </Button>
        )}
      </div>
      {update.error && (
        <p role="alert" className="problem">
          {wordsOf(update.error)}
        </p>
      )}
      {saving && (
        <SaveProfile
          tank={tank}
          onDone={async () => {
            setSaving(false);
            await again();
          }}
          onBack={() => setSaving(false)}
        />
      )}
    </fieldset>
  );
}

interface SaveProps {
  tank: Tank;
  onDone: () => Promise<void>;
  onBack: () => void;
}

type Naming = Record<"capacity" | "overall" | "notes", string>;

/** Name a profile by what tells tanks of a kind apart: nominal capacity and overall diameter. */
function SaveProfile({ tank, onDone, onBack }: SaveProps) {
  const id = useId();
  const units = useUnits();
  const draft = useDraft<Naming>(`profile:${tank.id}`, {
    name: `Profile from ${tank.facts.name}`,
    page: `/tanks/${tank.id}/survey`,
  });
  const typed = draft.value ?? {
    capacity: "",
    overall: tank.entries["how.shape.diameter_mm.outside"] ?? "",
    notes: "",
  };
  const { capacity, overall, notes } = typed;
  const save = useMutation({
    mutationFn: ({ capacity, overall, notes }: Naming) =>
      ask(
        api.POST("/api/profiles/", {
          body: { tank: tank.id, capacity, overall_diameter: overall, notes, system: draft.system },
        }),
      ),
    onSuccess: async (_, sent) => {
      draft.used(sent);
      await onDone();
    },
  });
  const problem = (where: string) => (save.error instanceof Refused ? save.error.at(where) : undefined);
  return (
    <div className="how-field">
      <label htmlFor={`${id}-c`}>Nominal capacity</label>
      <div>
        <input
          id={`${id}-c`}
          className="form-control mono"
          placeholder={units.text("volume", tank.facts.capacity_l)}
          value={capacity}
          onChange={(event) => draft.change({ ...typed, capacity: event.target.value })}
        />
        <div className="field-says">
          {problem("capacity") ? (
            <span className="problem">{problem("capacity")}</span>
          ) : (
            "As on the data plate"
          )}
        </div>
      </div>
      <label htmlFor={`${id}-d`}>Overall diameter</label>
      <div>
        <input
          id={`${id}-d`}
          className="form-control mono"
          value={overall}
          onChange={(event) => draft.change({ ...typed, overall: event.target.value })}
        />
        <div className="field-says">
          {problem("overall_diameter") ? (
            <span className="problem">{problem("overall_diameter")}</span>
          ) : (
            "Outside, or the overall height of a box: tanks of one capacity differ in it"
          )}
        </div>
      </div>
      <label htmlFor={`${id}-n`}>Notes</label>
      <input
        id={`${id}-n`}
        className="form-control"
        maxLength={2000}
        value={notes}
        onChange={(event) => draft.change({ ...typed, notes: event.target.value })}
      />
      <span />
      <div className="site-row">
        <Button disabled={save.isPending} onClick={() => save.mutate(typed)}>
          Save the profile
        </Button>
        <Button variant="outline-secondary" onClick={onBack}>
          Back
        </Button>
      </div>
      {save.error && !(save.error instanceof Refused) && <p className="problem">{wordsOf(save.error)}</p>}
    </div>
  );
}
