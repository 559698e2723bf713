import { useQuery } from "@tanstack/react-query";

import { keys } from "../../api/keys";
import { api, ask, type Schema } from "../../api/client";
import type { System } from "../../frame/units";
import type { SurveyForm } from "../survey/form";

export type Profile = Schema["Profile"];

/** How a tank stands to its profile, in words. */
export const STANDING: Record<string, string> = {
  same: "the same dimensions",
  newer: "the profile is newer",
  own: "dimensions of its own",
};

/** All profiles. */
export function useProfiles() {
  return useQuery({
    queryKey: keys.profiles,
    queryFn: () => ask(api.GET("/api/profiles/", { params: { query: { page_size: 200 } } })),
  });
}

/** A survey with the dimensions of a profile in place of its own. */
export async function withProfile(form: SurveyForm, system: System, profile: Profile): Promise<SurveyForm> {
  const { entries } = await ask(
    api.POST("/api/profiles/{id}/apply/", {
      params: { path: { id: profile.id } },
      body: { entries: form.entries, system },
    }),
  );
  return { ...form, entries, profile: profile.id };
}
