import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { api, ask, type Schema } from "../api/client";
import { keys } from "../api/keys";
import { useSettled } from "../frame/asking";
import type { Entries } from "../frame/FormField";
import type { Tank } from "../tanks/tank";

interface Props {
  tank: Tank;
  entries: Entries;
  system: "metric" | "us";
}

type Branch = Schema["NearBranch"];

/** How long nothing more must have been entered before it is looked ahead [ms]. */
const SETTLE = 2000;

/** The next three tests for whatever they find: worked out before going up, to be read where there is no network. */
export function Ahead({ tank, entries, system }: Props) {
  // What is being typed changes nothing of what comes; only what was entered does.
  const entered = Object.fromEntries(Object.entries(entries).filter(([key]) => !key.startsWith("now.")));
  const text = JSON.stringify(entered);
  // Of findings that are entered one after another only the last asks: to look ahead is much work for the server.
  const found = useSettled(entered, text, SETTLE);
  const settled = JSON.stringify(found);
  const { data, isPending, isPlaceholderData } = useQuery({
    queryKey: keys.tank(tank.id, "trouble-ahead", settled, system),
    queryFn: () =>
      ask(
        api.POST("/api/tanks/{id}/trouble/ahead/", {
          params: { path: { id: tank.id } },
          body: { entries: found, system },
        }),
      ),
    staleTime: Infinity,
    // Where the server does not answer, what was worked out before the last finding still says what to do.
    placeholderData: keepPreviousData,
  });
  return (
    <details>
      <summary>The next three tests, for where there is no network</summary>
      {isPending && <progress aria-label="Looking ahead" />}
      {data && data.branches.length > 0 && (
        <>
          <p>
            {data.do}
            {(isPlaceholderData || settled !== text) && (
              <span className="text-quiet"> (as it stood before the last finding)</span>
            )}
          </p>
          <ul className="ahead">
            {data.branches.map((one) => (
              <Near key={one.reads + one.means} branch={one}>
                {one.branches.map((next) => (
                  <Near key={next.reads + next.means} branch={next}>
                    {next.branches.map((last) => (
                      <li key={last.reads + last.means}>
                        <strong className="mono">{last.reads}</strong>: {last.means || "many things"}
                      </li>
                    ))}
                  </Near>
                ))}
              </Near>
            ))}
          </ul>
        </>
      )}
    </details>
  );
}

function Near({ branch, children }: { branch: Branch; children: React.ReactNode[] }) {
  return (
    <li>
      <strong className="mono">{branch.reads}</strong>: {branch.means || "many things"}.{" "}
      {branch.then
        ? `Then ${branch.then}, ${Math.ceil(branch.minutes)} min.`
        : branch.verdict === "found" && "That is it."}
      {children.length > 0 && <ul>{children}</ul>}
    </li>
  );
}
