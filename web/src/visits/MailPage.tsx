import "../frame/fields.css";
import "./visits.css";

import { useQuery } from "@tanstack/react-query";

import { api, ask } from "../api/client";
import { keys } from "../api/keys";
import { Opening } from "../frame/Opening";
import { useTitle } from "../frame/title";

/** What was written into files instead of being sent, where no mail server is set. */
export function MailPage() {
  const { data } = useQuery({ queryKey: keys.mail, queryFn: () => ask(api.GET("/api/sent-mail/")) });
  useTitle("Mail");
  if (!data) return <Opening className="page" />;
  return (
    <main className="page">
      <h1>Mail</h1>
      {data.length === 0 && (
        <p className="empty">
          Nothing is here. Where no mail server is set (RASANTE_MAIL_HOST), what is sent is written into files
          and shown here.
        </p>
      )}
      {data.map((one) => (
        <article key={one.date + one.to} className="person-form" aria-label={one.subject}>
          <h2>{one.subject}</h2>
          <p className="text-quiet">
            To {one.to}, {one.date}
            {one.attached.length > 0 && `, with ${one.attached.join(", ")}`}
          </p>
          <pre className="mail-text">{one.text}</pre>
        </article>
      ))}
    </main>
  );
}
