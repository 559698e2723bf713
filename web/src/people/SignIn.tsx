import { type SubmitEvent, useEffect, useState } from "react";
import Button from "react-bootstrap/Button";

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

  async function submit(event: SubmitEvent) {
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
      <form onSubmit={(event) => void submit(event)} className="sign-in-sheet">
        <h1>
          <Brand />
        </h1>
        <p className="text-quiet">One line through the tank, read everywhere.</p>
        <div className="mb-3">
          <label htmlFor="username" className="form-label">
            Name
          </label>
          <input
            id="username"
            className="form-control"
            value={username}
            onChange={(event) => setUsername(event.target.value)}
            autoComplete="username"
            autoCapitalize="none"
            autoFocus
            required
          />
        </div>
        <div className="mb-3">
          <label htmlFor="password" className="form-label">
            Password
          </label>
          <input
            id="password"
            className="form-control"
            type="password"
            value={password}
            onChange={(event) => setPassword(event.target.value)}
            autoComplete="current-password"
            required
          />
        </div>
        {problem && (
          <p role="alert" className="problem">
            {problem}
          </p>
        )}
        <Button type="submit" disabled={busy} className="w-100">
          Sign in
        </Button>
      </form>
    </main>
  );
}
