import { QueryErrorResetBoundary } from "@tanstack/react-query";
import { Component, type ReactNode } from "react";
import Button from "react-bootstrap/Button";

import { wordsOf } from "../api/client";

interface Props {
  children: ReactNode;
  onAgain: () => void;
}

class Boundary extends Component<Props, { error: Error | null }> {
  override state: { error: Error | null } = { error: null };

  static getDerivedStateFromError(error: Error) {
    return { error };
  }

  override render() {
    const { error } = this.state;
    if (!error) return this.props.children;
    return (
      <div role="alert">
        <p className="problem">{wordsOf(error)}</p>
        <Button
          variant="outline-secondary"
          onClick={() => {
            this.props.onAgain();
            this.setState({ error: null });
          }}
        >
          Try again
        </Button>
      </div>
    );
  }
}

/** Part of a page whose first question may be refused: the words and another try stand in its place alone. */
export function Refusal({ children }: { children: ReactNode }) {
  return (
    <QueryErrorResetBoundary>
      {({ reset }) => <Boundary onAgain={reset}>{children}</Boundary>}
    </QueryErrorResetBoundary>
  );
}
