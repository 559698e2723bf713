import { type FormEvent, useEffect, useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";

import { api, ask, wordsOf } from "../api/client";
import { Brand } from "../frame/Brand";

/** Where the person goes after the door: only ever inside this application. */
function nextPage(): string {
  const next = new URLSearchParams(window.location.search).get("next") ?? "/";
  return next.startsWith("/") && !next.startsWith("//") && !next.includes("\\") ? next : "/";
}

/** The door. */
export function SignIn() {
  const [username, setUsername] = useState("");
  const [password, setPassword] = useState("");
  const [problem, setProblem] = useState("");
  const [busy, setBusy] = useState(false);

  useEffect(() => {
    document.title = "Sign in · Rasante";
    // The first answer brings the token that signing in needs.
    void ask(api.GET("/api/session/")).then(({ person }) => {
      if (person) window.location.assign(nextPage());
    });
  }, []);

  async function submit(event: FormEvent) {
    event.preventDefault();
    setBusy(true);
    setProblem("");
    try {
      await ask(api.POST("/api/session/", { body: { username, password } }));
      window.location.assign(nextPage());
    } catch (error) {
      setProblem(wordsOf(error).replace(/^\w+: /, ""));
      setBusy(false);
    }
  }

  return (
    <main className="sign-in">
      <Form onSubmit={submit} className="sign-in-sheet">
        <h1>
          <Brand />
        </h1>
        <p className="text-quiet">One line through the tank, read everywhere.</p>
        <Form.Group className="mb-3" controlId="username">
          <Form.Label>Name</Form.Label>
          <Form.Control
            value={username}
            onChange={(event) => setUsername(event.target.value)}
            autoComplete="username"
            autoCapitalize="none"
            autoFocus
            required
          />
        </Form.Group>
        <Form.Group className="mb-3" controlId="password">
          <Form.Label>Password</Form.Label>
          <Form.Control
            type="password"
            value={password}
            onChange={(event) => setPassword(event.target.value)}
            autoComplete="current-password"
            required
          />
        </Form.Group>
        {problem && (
          <p role="alert" className="problem">
            {problem}
          </p>
        )}
        <Button type="submit" disabled={busy} className="w-100">
          Sign in
        </Button>
      </Form>
    </main>
  );
}
