import { Choice } from "../../frame/Choice";
import type { SurveyForm } from "../survey/form";
import { useProfiles, withProfile } from "./profile";

interface Props {
  form: SurveyForm;
  onChange: (form: SurveyForm) => void;
}

/** Begin a survey from a profile: its dimensions fill in, and can be measured again from there. */
export function FromProfile({ form, onChange }: Props) {
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
        if (profile) void withProfile(form, profile).then(onChange);
        else onChange({ ...form, profile: null });
      }}
    />
  );
}
