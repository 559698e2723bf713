import { useCallback, useEffect, useState } from "react";
import Dropdown from "react-bootstrap/Dropdown";
import { Link, Navigate, NavLink, Outlet, useLocation, useNavigate } from "react-router";

import { writeAs } from "../api/client";
import { Away } from "../frame/Away";
import { Brand } from "../frame/Brand";
import { Find } from "./Find";
import { KeepState } from "../frame/KeepState";
import { useKeys } from "../frame/keys";
import { KeyList } from "./KeyList";
import { openOutbox, useOutbox } from "../frame/outbox";
import { Refusal } from "../frame/Refusal";
import { usePerson, useSignOut } from "../people/session";
import { chooseTheme, theme } from "../frame/theme";
import { SYSTEM_NAMES, type System, UnitsProvider, useUnits } from "../frame/units";
import { useWords } from "../frame/words";
import { Opening } from "../frame/Opening";

/** The frame around every page: name, places, find, units, person. */
export function Shell() {
  const person = usePerson();
  const location = useLocation();
  const ready = useOwnOutbox(person?.username);
  if (person === null)
    return <Navigate to={`/sign-in?next=${encodeURIComponent(location.pathname + location.search)}`} />;
  if (person === undefined || !ready)
    return (
      <>
        <Away />
        <Opening className="p-4" />
      </>
    );
  return (
    <UnitsProvider>
      <Frame name={person.name} role={person.role} />
    </UnitsProvider>
  );
}

/** Open what the person left to be kept on this device; true once it is there. */
function useOwnOutbox(username: string | undefined): boolean {
  const { person } = useOutbox();
  useEffect(() => {
    if (username === undefined) return;
    writeAs(username);
    void openOutbox(username);
  }, [username]);
  return username !== undefined && person === username;
}

function Frame({ name, role }: { name: string; role: string }) {
  const [finding, setFinding] = useState(false);
  const [listing, setListing] = useState(false);
  const units = useUnits();
  const words = useWords();
  const navigate = useNavigate();
  const location = useLocation();
  useKeys({
    "/": () => setFinding(true),
    "?": () => setListing(true),
    l: () => void navigate("/line"),
    u: () => units.choose(units.system === "metric" ? "us" : "metric"),
  });
  const closeFind = useCallback(() => setFinding(false), []);
  return (
    <>
      <a className="skip" href="#content">
        Skip to the page
      </a>
      <header className="top">
        <NavLink to="/" className="top-brand" aria-label="Rasante, to the board">
          <Brand />
        </NavLink>
        <nav aria-label="Places" className="places">
          <NavLink to="/" end>
            Board
          </NavLink>
          <NavLink to="/tanks">Tanks</NavLink>
          <NavLink to="/line">Line</NavLink>
        </nav>
        <button type="button" className="find-open" onClick={() => setFinding(true)}>
          <span className="find-word">Find</span> <kbd>/</kbd>
        </button>
        <KeepState />
        <SystemSwitch />
        <PersonMenu name={name} role={role} onKeys={() => setListing(true)} />
      </header>
      <Away />
      <div id="content">
        <Refusal key={location.pathname}>
          <Outlet />
        </Refusal>
      </div>
      {words && <footer className="standing">{words.standing_caution}</footer>}
      <Find show={finding} onHide={closeFind} />
      <KeyList show={listing} onHide={() => setListing(false)} />
    </>
  );
}

const SYSTEMS: System[] = ["metric", "us"];

function SystemSwitch() {
  const { system, choose } = useUnits();
  return (
    <div className="switch" role="group" aria-label="Units">
      {SYSTEMS.map((key) => (
        <button key={key} type="button" aria-pressed={system === key} onClick={() => choose(key)}>
          {SYSTEM_NAMES[key]}
        </button>
      ))}
    </div>
  );
}

function PersonMenu({ name, role, onKeys }: { name: string; role: string; onKeys: () => void }) {
  const signOut = useSignOut();
  const [look, setLook] = useState(theme());
  const other = look === "dusk" ? "paper" : "dusk";
  return (
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
        <Dropdown.Item as={Link} to="/account">
          My account
        </Dropdown.Item>
        {role === "lead" && (
          <Dropdown.Item as={Link} to="/people">
            People
          </Dropdown.Item>
        )}
        <Dropdown.Item as="button" onClick={() => void signOut()}>
          Sign out
        </Dropdown.Item>
      </Dropdown.Menu>
    </Dropdown>
  );
}
