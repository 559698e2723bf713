import { useMutation, useQueryClient } from "@tanstack/react-query";
import Button from "react-bootstrap/Button";
import { Link, useParams } from "react-router";

import { keys, refresh } from "../api/keys";
import { api, ask, type Schema, wordsOf } from "../api/client";
import { placeWords, valueWords } from "../frame/merge";
import { Opening } from "../frame/Opening";
import { More, usePages } from "../frame/pages";
import { clock, day } from "../frame/times";
import { useTitle } from "../frame/title";
import { useTank } from "../tanks/tank";

type Keeping = Schema["Keeping"];

/** What was changed on a tank: who, when, and every field from what to what; with going back as a new revision. */
export function HistoryPage() {
  const id = Number(useParams().id);
  const queries = useQueryClient();
  const { data: tank } = useTank(id);
  useTitle(tank && `History of ${tank.facts.name}`);
  const pages = usePages<Keeping, Schema["History"]>(keys.tank(id, "history"), (page) =>
    ask(api.GET("/api/tanks/{id}/history/", { params: { path: { id }, query: { page } } })),
  );
  const back = useMutation({
    mutationFn: (one: Keeping) =>
      ask(
        api.POST("/api/tanks/{id}/history/", {
          params: { path: { id } },
          body: { kind: one.kind, id: one.id, revision: pages.first?.revisions[one.kind] ?? 0 },
        }),
      ),
    onSettled: async () => {
      await refresh(queries, keys.tank(id), keys.board);
    },
  });
  if (!tank || !pages.all) return <Opening className="page" />;
  return (
    <main className="page history">
      <h1>
        History of <Link to={`/tanks/${id}/survey`}>{tank.facts.name}</Link>
      </h1>
      <p className="text-quiet">
        Everything that was kept of it. Going back keeps what stood then as a new revision; nothing is taken
        out. Signed proofs and issued tables stay with what they were made from.
      </p>
      {back.error && (
        <p role="alert" className="problem">
          {wordsOf(back.error)}
        </p>
      )}
      <ol className="keepings">
        {pages.all.map((one) => (
          <li key={`${one.kind} ${one.id}`}>
            <KeepingLine one={one} busy={back.isPending} onBack={() => back.mutate(one)} />
          </li>
        ))}
      </ol>
      <More pages={pages} what="of before" />
    </main>
  );
}

interface LineProps {
  one: Keeping;
  busy: boolean;
  onBack: () => void;
}

function KeepingLine({ one, busy, onBack }: LineProps) {
  return (
    <>
      <p>
        <b>
          {one.label}, revision {one.revision}
        </b>
        {one.current && " (stands now)"}: {day(one.at)} {clock(one.at)}, {one.by || "unknown"}
        {one.why && `, ${one.why}`}{" "}
        {!one.current && (
          <Button size="sm" variant="outline-secondary" disabled={busy} onClick={onBack}>
            Go back to {one.label.toLowerCase()} of revision {one.revision}
          </Button>
        )}
      </p>
      {one.changes.length === 0 ? (
        <p className="text-quiet">Kept again with nothing changed in its fields.</p>
      ) : (
        <details open={one.changes.length <= 6}>
          <summary>
            {one.changes.length} {one.changes.length === 1 ? "field" : "fields"}
          </summary>
          <table className="plain-table">
            <thead>
              <tr>
                <th scope="col">Field</th>
                <th scope="col">Before</th>
                <th scope="col">After</th>
              </tr>
            </thead>
            <tbody>
              {one.changes.map((change) => (
                <tr key={change.path}>
                  <th scope="row">{placeWords([change.path])}</th>
                  <td className="mono">{valueWords(change.old)}</td>
                  <td className="mono">{valueWords(change.new)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </details>
      )}
    </>
  );
}
