import { useState } from "react";
import Dropdown from "react-bootstrap/Dropdown";
import { Link } from "react-router";

import { wordsOf } from "../api/client";
import { chooseTheme, theme } from "../frame/theme";
import { useSignOut } from "../people/session";

interface Props {
  name: string;
  role: string;
  onKeys: () => void;
}

/** What belongs to the person: theme, keys, account, signing out. */
export function PersonMenu({ name, role, onKeys }: Props) {
  const signOut = useSignOut();
  const [problem, setProblem] = useState("");
  const [look, setLook] = useState(theme());
  const other = look === "dusk" ? "paper" : "dusk";
  return (
    <>
      {problem && (
        <span role="alert" className="problem">
          Not signed out: {problem}
        </span>
      )}
      <Dropdown align="end">
        <Dropdown.Toggle variant="link" className="person" id="person">
          <span className="person-name">{name}</span>
          <span className="person-short" aria-hidden="true">
            {name
              .split(" ")
              .map((part) => part[0])
              .join("")}
          </span>
        </Dropdown.Toggle>
        <Dropdown.Menu>
          <Dropdown.Header>
            {name}, {role}
          </Dropdown.Header>
          <Dropdown.Item
            as="button"
            onClick={() => {
              chooseTheme(other);
              setLook(other);
            }}
          >
            {other === "dusk" ? "Dusk theme" : "Paper theme"}
          </Dropdown.Item>
          <Dropdown.Item as="button" onClick={onKeys}>
            Keys
          </Dropdown.Item>
          <Dropdown.Item as={Link} to="/register">
            Customers and devices
          </Dropdown.Item>
          <Dropdown.Item as={Link} to="/account">
            My account
          </Dropdown.Item>
          {role === "lead" && (
            <Dropdown.Item as={Link} to="/people">
              People
            </Dropdown.Item>
          )}
          <Dropdown.Item
            as="button"
            onClick={() => void signOut().catch((error: unknown) => setProblem(wordsOf(error)))}
          >
            Sign out
          </Dropdown.Item>
        </Dropdown.Menu>
      </Dropdown>
    </>
  );
}
