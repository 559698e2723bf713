import { Link, useRouteError } from "react-router";

import { wordsOf } from "../api/client";

/** An address that leads nowhere. */
export function NotFound() {
  return (
    <main className="page">
      <h1>There is no such page</h1>
      <p>
        The address may be mistyped, or what stood here was deleted. Go to the <Link to="/">Board</Link> or to{" "}
        <Link to="/tanks">Tanks</Link>.
      </p>
    </main>
  );
}

/** A page that could not be opened; what was typed is kept on this device. */
export function RouteFailed() {
  const error = useRouteError();
  return (
    <main className="page">
      <h1>This page could not be opened</h1>
      <p>{error instanceof Error ? error.message : wordsOf(error)}</p>
      <p>
        What you typed is kept on this device. <a href={window.location.href}>Load the page again</a>.
      </p>
    </main>
  );
}
