import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";

import { api, ask, wordsOf } from "../api/client";
import { keys, refresh } from "../api/keys";
import { useDraft } from "../frame/draft";
import { day } from "../frame/times";
import { PersonField, problemAt, ProblemLine } from "../people/fields";
import type { Visit } from "./visit";

/** Links by which a customer reads this record and nothing else. */
export function CustomerLinks({ visit }: { visit: Visit }) {
  const queries = useQueryClient();
  const params = { path: { id: visit.id } };
  const key = keys.visit(visit.id, "links");
  const { data } = useQuery({
    queryKey: key,
    queryFn: () => ask(api.GET("/api/visits/{id}/links/", { params })),
    throwOnError: false,
  });
  const [days, setDays] = useState("90");
  const [live, setLive] = useState(false);
  const make = useMutation({
    mutationFn: () =>
      ask(api.POST("/api/visits/{id}/links/", { params, body: { days: Number(days), live, note: "" } })),
    onSuccess: () => refresh(queries, key),
  });
  const withdraw = useMutation({
    mutationFn: (id: number) =>
      ask(api.POST("/api/visit-links/{id}/withdraw/", { params: { path: { id } } })),
    onSuccess: () => refresh(queries, key),
  });
  return (
    <section className="person-form" aria-label="A link for the customer">
      <h2>A link for the customer</h2>
      <PersonField
        label="Opens for how many days"
        value={days}
        onChange={setDays}
        problem={problemAt(make.error, "days")}
      />
      <label className="tick">
        <input type="checkbox" checked={live} onChange={(event) => setLive(event.target.checked)} />
        Show the level now as well
      </label>
      <ProblemLine error={make.error} but={["days"]} />
      <div className="person-acts">
        <Button variant="outline-secondary" disabled={make.isPending} onClick={() => make.mutate()}>
          Make a link
        </Button>
      </div>
      {make.data && (
        <p role="status">
          Send this; it is shown once:
          <br />
          <code>
            {window.location.origin}
            {make.data.path}
          </code>
        </p>
      )}
      <ul className="links">
        {data?.map((link) => (
          <li key={link.id}>
            Opened {link.openings} {link.openings === 1 ? "time" : "times"}, until {day(link.expires_at)}
            {link.live && ", with the level"}
            {link.withdrawn_at ? (
              ", withdrawn"
            ) : (
              <>
                {" "}
                <Button size="sm" variant="outline-danger" onClick={() => withdraw.mutate(link.id)}>
                  Withdraw
                </Button>
              </>
            )}
          </li>
        ))}
      </ul>
      {withdraw.error && <p className="problem">{wordsOf(withdraw.error)}</p>}
    </section>
  );
}

type Letter = { to: string; note: string };

/** The record by e-mail, as a sheet. */
export function SendMail({ visit }: { visit: Visit }) {
  const queries = useQueryClient();
  const draft = useDraft<Letter>(`mail:${visit.id}`, {
    name: `Mail of the visit to ${visit.tank_name}`,
    page: `/visits/${visit.id}/record`,
  });
  const typed = draft.value ?? { to: "", note: "" };
  const { to, note } = typed;
  const [sent, setSent] = useState("");
  const send = useMutation({
    mutationFn: (body: Letter) =>
      ask(api.POST("/api/visits/{id}/mail/", { params: { path: { id: visit.id } }, body })),
    onSuccess: async (_, letter) => {
      setSent(letter.to);
      draft.used(letter);
      await refresh(queries, keys.mail);
    },
  });
  return (
    <section className="person-form" aria-label="By e-mail">
      <h2>By e-mail</h2>
      <PersonField
        label="To"
        type="email"
        value={to}
        onChange={(text) => draft.change({ to: text, note })}
        problem={problemAt(send.error, "to")}
      />
      <PersonField label="A few words" value={note} onChange={(text) => draft.change({ to, note: text })} />
      <ProblemLine error={send.error} but={["to"]} />
      <Button
        variant="outline-secondary"
        disabled={!to.trim() || send.isPending}
        onClick={() => send.mutate(typed)}
      >
        {send.isPending ? "Sending…" : "Send the sheet"}
      </Button>
      {sent && <p role="status">Sent to {sent}.</p>}
    </section>
  );
}
