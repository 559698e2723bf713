import { Choice } from "../../frame/Choice";
import type { System } from "../../frame/units";
import type { SurveyForm } from "../survey/form";
import { useProfiles, withProfile } from "./profile";

interface Props {
  form: SurveyForm;
  /** What a bare number in it means. */
  system: System;
  onChange: (form: SurveyForm) => void;
}

/** Begin a survey from a profile: its dimensions fill in, and can be measured again from there. */
export function FromProfile({ form, system, onChange }: Props) {
  const profiles = useProfiles().data?.results ?? [];
  if (profiles.length === 0) return null;
  return (
    <Choice
      label="Profile"
      value={String(form.profile ?? "")}
      options={[
        ["", "none: measure it"],
        ...profiles.map((profile): [string, string] => [String(profile.id), profile.name]),
      ]}
      onChange={(chosen) => {
        const profile = profiles.find((one) => String(one.id) === chosen);
        if (profile) void withProfile(form, system, profile).then(onChange);
        else onChange({ ...form, profile: null });
      }}
    />
  );
}
