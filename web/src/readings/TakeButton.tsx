import "./readings.css";

import { useQuery } from "@tanstack/react-query";

import { api, ask } from "../api/client";
import { keys } from "../api/keys";
import { useUnits } from "../frame/units";
import type { Take } from "./now";

/** The live values of a tank, one for each station that a channel stands at. */
export function useTakes(tank: number): Take[] {
  const { system } = useUnits();
  const { data } = useQuery({
    queryKey: keys.tank(tank, "takes", system),
    queryFn: () =>
      ask(api.GET("/api/tanks/{id}/takes/", { params: { path: { id: tank }, query: { system } } })),
    refetchInterval: 3000,
    staleTime: 0,
    throwOnError: false,
  });
  return data?.takes ?? [];
}

interface Props {
  take: Take | undefined;
  /** What the field is, for whoever hears the page. */
  label: string;
  onTake: (text: string, take: Take) => void;
}

/** Takes the live value into a field once it is still; until then it says why not, and how long yet. */
export function TakeButton({ take, label, onTake }: Props) {
  if (!take) return null;
  return (
    <button
      type="button"
      className="take"
      disabled={!take.still}
      aria-label={take.still ? `Take ${take.text} as ${label}: ${take.words}` : `${take.words}: ${label}`}
      title={`${take.source}, ${take.age} ago: ${take.words}`}
      onClick={() => onTake(take.text, take)}
    >
      {take.still ? `Take ${take.text}` : take.words}
    </button>
  );
}

/** Where a value was taken from, and when: kept in words beside it. */
export function takenWords(take: Take): string {
  return `${take.source}, ${new Date(take.at).toISOString().slice(0, 19).replace("T", " ")} UTC`;
}
