import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type SubmitEvent, useState } from "react";
import Button from "react-bootstrap/Button";

import { keys, refresh } from "../api/keys";
import { api, ask, type Schema } from "../api/client";
import { Opening } from "../frame/Opening";
import { clock, day } from "../frame/times";
import { useTitle } from "../frame/title";
import { PersonField, problemAt, ProblemLine } from "./fields";
import { usePerson } from "./session";

/** One's own account: the password, and where one is signed in. */
export function AccountPage() {
  const person = usePerson();
  useTitle("My account");
  if (!person) return <Opening className="page" />;
  return (
    <main className="page account">
      <h1>{person.name}</h1>
      <p>
        Signs in as <b>{person.username}</b>, {person.role}. A lead changes names and roles, at People.
      </p>
      <OwnPassword />
      <Devices />
    </main>
  );
}

function OwnPassword() {
  const queries = useQueryClient();
  const [old, setOld] = useState("");
  const [fresh, setFresh] = useState("");
  const change = useMutation({
    mutationFn: () => ask(api.POST("/api/session/password/", { body: { password: old, new: fresh } })),
    onSuccess: async () => {
      setOld("");
      setFresh("");
      await refresh(queries, keys.devices);
    },
  });
  const submit = (event: SubmitEvent) => {
    event.preventDefault();
    change.mutate();
  };
  return (
    <form onSubmit={submit} className="person-form" aria-label="Password">
      <h2>Password</h2>
      <PersonField
        label="Your password now"
        type="password"
        autoComplete="current-password"
        value={old}
        onChange={setOld}
        problem={problemAt(change.error, "password")}
      />
      <PersonField
        label="The new one"
        type="password"
        autoComplete="new-password"
        value={fresh}
        onChange={setFresh}
        problem={problemAt(change.error, "new")}
        hint="Eight signs or more, no common one, and not like your name"
      />
      <Button type="submit" disabled={!old || !fresh || change.isPending}>
        Change my password
      </Button>
      {change.isSuccess && <p role="status">Changed. Every other device was signed out.</p>}
      <ProblemLine error={change.error} but={["password", "new"]} />
    </form>
  );
}

function Devices() {
  const queries = useQueryClient();
  const { data } = useQuery({ queryKey: keys.devices, queryFn: () => ask(api.GET("/api/session/devices/")) });
  const renew = () => refresh(queries, keys.devices);
  const end = useMutation({
    mutationFn: (id: number) => ask(api.DELETE("/api/session/devices/{id}/", { params: { path: { id } } })),
    onSettled: renew,
  });
  const endAll = useMutation({
    mutationFn: () => ask(api.DELETE("/api/session/devices/")),
    onSettled: renew,
  });
  if (!data) return <Opening />;
  return (
    <section aria-labelledby="devices">
      <h2 id="devices">Signed in on</h2>
      <ul className="records">
        {data.map((one) => (
          <li key={one.id}>
            <b>{deviceWords(one)}</b>{" "}
            <span className="text-quiet">
              {one.address}, since {day(one.begun_at)} {clock(one.begun_at)}
            </span>{" "}
            {one.here ? (
              "this device"
            ) : (
              <Button size="sm" variant="outline-secondary" onClick={() => end.mutate(one.id)}>
                Sign out there
              </Button>
            )}
          </li>
        ))}
      </ul>
      {data.length > 1 && (
        <Button variant="outline-secondary" onClick={() => endAll.mutate()}>
          Sign out everywhere but here
        </Button>
      )}
      <ProblemLine error={end.error ?? endAll.error} />
    </section>
  );
}

/** What a browser says of itself, as far as a person can use it. */
function deviceWords({ agent }: Schema["SignInPlace"]): string {
  const browser = /(Firefox|Edg|Chrome|Safari)\//.exec(agent)?.[1] ?? "a program";
  const system = /(Android|iPhone|iPad|Windows|Mac OS X|Linux)/.exec(agent)?.[1] ?? "";
  return system ? `${browser} on ${system}` : browser;
}
