import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type SubmitEvent, useState } from "react";
import Button from "react-bootstrap/Button";

import { keys, refresh } from "../api/keys";
import { api, ask, type Schema } from "../api/client";
import { Choice } from "../frame/Choice";
import { Opening } from "../frame/Opening";
import { More, usePages } from "../frame/pages";
import { day } from "../frame/times";
import { useTitle } from "../frame/title";
import { PersonField, problemAt, ProblemLine } from "./fields";

type Row = Schema["PersonRow"];

const ROLES: [Row["role"], string][] = [
  ["technician", "Technician: surveys, scales, proves, signs"],
  ["lead", "Lead: also deletes, and looks after people"],
];

/** The people who may sign in: a lead adds, renames, shuts out and gives other passwords. */
export function PeoplePage() {
  const [open, setOpen] = useState<number | null>(null);
  const [adding, setAdding] = useState(false);
  useTitle("People");
  const pages = usePages(keys.people, (page) =>
    ask(api.GET("/api/people/", { params: { query: { page } } })),
  );
  if (!pages.all) return <Opening className="page" />;
  return (
    <main className="page people">
      <div className="page-head">
        <h1>People</h1>
        <Button onClick={() => setAdding(!adding)}>{adding ? "Add nobody" : "Add a person"}</Button>
      </div>
      {adding && <NewPerson onDone={() => setAdding(false)} />}
      <table className="plain-table">
        <thead>
          <tr>
            <th scope="col">Name</th>
            <th scope="col">Signs in as</th>
            <th scope="col">Role</th>
            <th scope="col">Last signed in</th>
            <th scope="col">
              <span className="visually-hidden">Change</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {pages.all.map((row) => (
            <tr key={row.id} className={row.active ? "" : "text-quiet"}>
              <th scope="row">{row.name}</th>
              <td>{row.username}</td>
              <td>{row.active ? row.role : `${row.role}, shut out`}</td>
              <td>{row.last_login ? day(row.last_login) : "never"}</td>
              <td>
                <Button
                  size="sm"
                  variant="outline-secondary"
                  aria-expanded={open === row.id}
                  onClick={() => setOpen(open === row.id ? null : row.id)}
                >
                  Change {row.name}
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <More pages={pages} what="people" />
      {pages.all
        .filter((row) => row.id === open)
        .map((row) => (
          <ChangePerson key={`${row.id} ${row.name} ${row.role} ${row.active}`} row={row} />
        ))}
    </main>
  );
}

function useRenew() {
  const queries = useQueryClient();
  return () => refresh(queries, keys.people, keys.session);
}

function NewPerson({ onDone }: { onDone: () => void }) {
  const renew = useRenew();
  const [username, setUsername] = useState("");
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const [role, setRole] = useState<Row["role"]>("technician");
  const add = useMutation({
    mutationFn: () => ask(api.POST("/api/people/", { body: { username, name, password, role } })),
    onSuccess: async () => {
      await renew();
      onDone();
    },
  });
  const submit = (event: SubmitEvent) => {
    event.preventDefault();
    add.mutate();
  };
  return (
    <form onSubmit={submit} className="person-form" aria-label="A new person">
      <PersonField
        label="Full name"
        hint="As it stands on signed records"
        value={name}
        onChange={setName}
        problem={problemAt(add.error, "name")}
      />
      <PersonField
        label="Signs in as"
        value={username}
        onChange={setUsername}
        problem={problemAt(add.error, "username")}
      />
      <PersonField
        label="First password"
        hint="They change it at My account"
        type="password"
        autoComplete="new-password"
        value={password}
        onChange={setPassword}
        problem={problemAt(add.error, "password")}
      />
      <Choice label="Role" value={role} options={ROLES} onChange={(to) => setRole(to as Row["role"])} />
      <Button type="submit" disabled={!name || !username || !password || add.isPending}>
        Add this person
      </Button>
      <ProblemLine error={add.error} but={["name", "username", "password"]} />
    </form>
  );
}

function ChangePerson({ row }: { row: Row }) {
  const renew = useRenew();
  const was = { name: row.name, role: row.role, active: row.active };
  const [name, setName] = useState(row.name);
  const [role, setRole] = useState(row.role);
  const [password, setPassword] = useState("");
  const change = useMutation({
    mutationFn: (wanted: typeof was) =>
      ask(api.PUT("/api/people/{id}/", { params: { path: { id: row.id } }, body: { wanted, was } })),
    onSettled: renew,
  });
  const reset = useMutation({
    mutationFn: () =>
      ask(api.POST("/api/people/{id}/password/", { params: { path: { id: row.id } }, body: { password } })),
    onSuccess: () => setPassword(""),
  });
  return (
    <section className="person-form" aria-label={`Change ${row.name}`}>
      <h2>{row.name}</h2>
      <PersonField
        label="Full name"
        value={name}
        onChange={setName}
        problem={problemAt(change.error, "name")}
      />
      <Choice label="Role" value={role} options={ROLES} onChange={(to) => setRole(to as Row["role"])} />
      {problemAt(change.error, "role") && <p className="problem">{problemAt(change.error, "role")}</p>}
      <p className="person-acts">
        <Button
          disabled={change.isPending || (name === row.name && role === row.role)}
          onClick={() => change.mutate({ name, role, active: row.active })}
        >
          Keep the change
        </Button>
        <Button
          variant={row.active ? "outline-danger" : "outline-secondary"}
          disabled={change.isPending}
          onClick={() => change.mutate({ ...was, active: !row.active })}
        >
          {row.active ? `Shut ${row.name} out` : `Let ${row.name} in again`}
        </Button>
      </p>
      <p className="text-quiet">
        {row.active
          ? "Shut out, a person is signed out everywhere; what they signed stays, and so does what waits on their devices."
          : "They cannot sign in. What they signed stays."}
      </p>
      <PersonField
        label="Another password"
        hint="Signs them out everywhere; tell it to them yourself"
        type="password"
        autoComplete="new-password"
        value={password}
        onChange={setPassword}
        problem={problemAt(reset.error, "password")}
      />
      <Button
        variant="outline-secondary"
        disabled={!password || reset.isPending}
        onClick={() => reset.mutate()}
      >
        Give this password
      </Button>
      {reset.isSuccess && <p role="status">Given.</p>}
      <ProblemLine error={change.error ?? reset.error} but={["name", "role", "password"]} />
    </section>
  );
}
