import { Suspense, useCallback, useEffect, useState } from "react";
import { Navigate, NavLink, Outlet, useLocation, useNavigate } from "react-router";

import { writeAs } from "../api/client";
import { Away } from "../frame/Away";
import { Brand } from "../frame/Brand";
import { beforehand, later } from "../frame/later";
import { useKeys } from "../frame/keys";
import { openOutbox, useOutbox } from "../frame/outbox";
import { Refusal } from "../frame/Refusal";
import { TypedAhead } from "./TypedAhead";
import { usePerson } from "../people/session";
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

const DIALOGS = {
  find: async () => (await import("./Find")).Find,
  keys: async () => (await import("./KeyList")).KeyList,
};
// Menus come a moment after the page: what they are made of is a good part of all scripts.
const KeepState = later(async () => (await import("../frame/KeepState")).KeepState);
const PersonMenu = later(async () => (await import("./PersonMenu")).PersonMenu);
const Find = later(DIALOGS.find);
const KeyList = later(DIALOGS.keys);

/** Whether something has ever been so. */
function useOnce(now: boolean): boolean {
  const [once, setOnce] = useState(now);
  if (now && !once) setOnce(true);
  useEffect(() => beforehand(Object.values(DIALOGS)), []);
  return once;
}

function Frame({ name, role }: { name: string; role: string }) {
  const [finding, setFinding] = useState(false);
  const [listing, setListing] = useState(false);
  const units = useUnits();
  const words = useWords();
  const navigate = useNavigate();
  // The stations of one tank are one page.
  const place = useLocation().pathname.split("/").slice(0, 3).join("/");
  useKeys({
    "/": () => setFinding(true),
    "?": () => setListing(true),
    l: () => void navigate("/line"),
    u: () => units.choose(units.system === "metric" ? "us" : "metric"),
  });
  const asked = useOnce(finding || listing);
  const [ahead, setAhead] = useState("");
  const typeAhead = useCallback((letter: string) => setAhead((text) => text + letter), []);
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
          <NavLink to="/visits">Visits</NavLink>
        </nav>
        <button type="button" className="find-open" onClick={() => setFinding(true)}>
          <span className="find-word">Find</span> <kbd>/</kbd>
        </button>
        <Suspense fallback={<span className="keep-state" />}>
          <KeepState />
        </Suspense>
        <SystemSwitch />
        <Suspense fallback={<span className="person">{name}</span>}>
          <PersonMenu name={name} role={role} onKeys={() => setListing(true)} />
        </Suspense>
      </header>
      <Away />
      <div id="content">
        <Refusal key={place}>
          <Outlet />
        </Refusal>
      </div>
      {words && <footer className="standing">{words.standing_caution}</footer>}
      <Suspense fallback={finding && <TypedAhead onType={typeAhead} />}>
        {asked && <Find show={finding} start={ahead} onHide={closeFind} />}
        {asked && <KeyList show={listing} onHide={() => setListing(false)} />}
      </Suspense>
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
