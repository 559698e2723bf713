import "../frame/fields.css";
import "../frame/lists.css";
import "./readings.css";

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link } from "react-router";

import { api, ask, type Schema, wordsOf } from "../api/client";
import { keys, refresh } from "../api/keys";
import { useTold } from "../frame/asking";
import { Opening } from "../frame/Opening";
import { useTitle } from "../frame/title";
import { ConfirmDelete } from "../people/ConfirmDelete";
import { LogFile } from "./LogFile";
import { when } from "./Moves";
import { SourceDialog } from "./SourceDialog";
import { Trial } from "./Trial";

export type Source = Schema["Source"];
export type SourceList = Schema["SourceList"];

const SHAPES: Record<string, string> = { off: "○", failing: "▲", late: "◌", waiting: "◌", heard: "●" };

/** Where readings come from: made, changed, tried, switched off. */
export function SourcesPage() {
  const [opened, setOpened] = useState<number | "new" | null>(null);
  const queries = useQueryClient();
  const query = useQuery({
    queryKey: keys.sources,
    queryFn: () => ask(api.GET("/api/sources/")),
    refetchInterval: 10_000,
    throwOnError: false,
  });
  useTitle("Sources");
  const { data } = query;
  const told = useTold(query);
  if (!data) return told ? <p className="page problem">{wordsOf(told)}</p> : <Opening className="page" />;
  const source = data.sources.find((one) => one.id === opened) ?? null;
  return (
    <main className="page">
      <div className="page-head">
        <h1>Sources of readings</h1>
        <Button onClick={() => setOpened("new")}>New source</Button>
        <Link to="/tanks" className="btn btn-outline-secondary">
          Tanks
        </Link>
      </div>
      {told && <p className="problem">{wordsOf(told)}</p>}
      {data.sources.length === 0 && (
        <p className="empty">
          Nothing is listened to yet. Make a source: a controller that is asked over Modbus TCP, a unit that
          sends by HTTP or through an MQTT broker, or a logger&apos;s file.
        </p>
      )}
      {data.sources.map((source) => (
        <SourceRow key={source.id} source={source} list={data} onChange={() => setOpened(source.id)} />
      ))}
      {(opened === "new" || source) && (
        <SourceDialog
          source={source}
          list={data}
          onHide={() => setOpened(null)}
          onDone={async () => {
            setOpened(null);
            await refresh(queries, keys.sources, keys.everyTank, keys.board);
          }}
        />
      )}
    </main>
  );
}

interface RowProps {
  source: Source;
  list: SourceList;
  onChange: () => void;
}

function SourceRow({ source, list, onChange }: RowProps) {
  const queries = useQueryClient();
  const [trying, setTrying] = useState(false);
  const [file, setFile] = useState(false);
  const again = () => refresh(queries, keys.sources, keys.everyTank, keys.board);
  const params = { path: { id: source.id } };
  const token = useMutation({
    mutationFn: () => ask(api.POST("/api/sources/{id}/token/", { params })),
    onSuccess: again,
  });
  const revoke = useMutation({
    mutationFn: () => ask(api.DELETE("/api/sources/{id}/token/", { params })),
    onSuccess: again,
  });
  const turn = useMutation({
    mutationFn: () =>
      ask(
        api.POST("/api/sources/{id}/switch/", {
          params,
          body: { on: !source.on, revision: source.revision },
        }),
      ),
    onSuccess: again,
  });
  const failed = token.error ?? revoke.error ?? turn.error;
  const editable = source.kind !== "hand";
  return (
    <article className="source" aria-label={source.name}>
      <div className="source-head">
        <h2>{source.name}</h2>
        <span className="text-quiet">{list.kinds[source.kind]}</span>
        <span className={`source-state ${source.state.key}`}>
          <span aria-hidden="true">{SHAPES[source.state.key]}</span>{" "}
          {source.state.words ||
            (source.heard_at
              ? `${source.state.key === "late" ? "late, last " : ""}heard ${when(source.heard_at)}`
              : "")}
        </span>
        <span className="source-acts">
          {editable && (
            <Button size="sm" variant="outline-secondary" onClick={onChange}>
              Change
            </Button>
          )}{" "}
          <Button size="sm" variant="outline-secondary" onClick={() => setTrying(!trying)}>
            Try it
          </Button>{" "}
          {source.kind === "csv" && (
            <Button size="sm" variant="outline-secondary" onClick={() => setFile(!file)}>
              Take a file in
            </Button>
          )}{" "}
          <Button size="sm" variant="outline-secondary" onClick={() => turn.mutate()}>
            {source.on ? "Switch off" : "Switch on"}
          </Button>{" "}
          {source.kind === "push" && (
            <>
              <Button size="sm" variant="outline-secondary" onClick={() => token.mutate()}>
                {source.token_end ? "Renew its token" : "Give it a token"}
              </Button>{" "}
              {source.token_end && (
                <ConfirmDelete
                  label="Revoke its token"
                  name={`the token of ${source.name}`}
                  remove={() => revoke.mutateAsync()}
                  onDone={again}
                >
                  What comes with it is refused from then on, until the unit has a new one.
                </ConfirmDelete>
              )}
            </>
          )}{" "}
          <ConfirmDelete
            label="Delete"
            name={source.name}
            remove={() => ask(api.DELETE("/api/sources/{id}/", { params }))}
            onDone={again}
          >
            One that has brought readings is not deleted: switch it off.
          </ConfirmDelete>
        </span>
      </div>
      {failed && <p className="problem">{wordsOf(failed)}</p>}
      {token.data && (
        <TokenOnce key={token.data.token} token={token.data.token} onHide={() => token.reset()} />
      )}
      {source.kind === "push" && source.token_end && !token.data && (
        <p className="text-quiet">
          Sends to <code>{window.location.origin}/api/push/</code> with the token that ends in{" "}
          <code>{source.token_end}</code>.
        </p>
      )}
      <ul className="source-channels">
        {source.channels.map((channel) => (
          <li key={channel.id} className={channel.on ? "" : "text-quiet"}>
            {channel.name}
            {channel.name.toLowerCase() !== channel.label.toLowerCase() && `: ${channel.label.toLowerCase()}`}
            {channel.tank && (
              <>
                {" of "}
                <Link to={`/tanks/${channel.tank}/watch`}>{channel.tank_name}</Link>
              </>
            )}
            {!channel.on && ", put away"}
          </li>
        ))}
      </ul>
      {trying && <Trial source={source.id} />}
      {file && <LogFile source={source} />}
    </article>
  );
}

function TokenOnce({ token, onHide }: { token: string; onHide: () => void }) {
  const [copied, setCopied] = useState(false);
  return (
    <div className="token" role="status">
      <p>This is its token. It is shown now and never again: type it into the unit, or copy it there.</p>
      <code>{token}</code>{" "}
      <Button
        size="sm"
        variant="outline-secondary"
        onClick={() => void navigator.clipboard.writeText(token).then(() => setCopied(true))}
      >
        {copied ? "Copied" : "Copy"}
      </Button>{" "}
      <Button size="sm" variant="outline-secondary" onClick={onHide}>
        Done with it
      </Button>
      <p className="text-quiet">
        The unit sends <code>{`Authorization: Bearer ${token.slice(0, 6)}…`}</code> to{" "}
        <code>{window.location.origin}/api/push/</code>.
      </p>
    </div>
  );
}
