"""``make trials``: long trials of what must hold under hostile bodies, kills and colleagues. Minutes, not seconds.

Each runs against servers of its own with the demo data, prints what it did, and fails if anything did not hold.
"""

from __future__ import annotations

import json
import os
import random
import subprocess
import sys
import threading
import time
from collections import Counter
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from typing import Any

import requests
import schemathesis
from hypothesis import HealthCheck, Phase, given, settings
from schemathesis.core.failures import FailureGroup

from tests.browser.harness import ROOT, Server

from .api.promises import CHECKS

LEAD = ("lead", "skerrow-lead")
TECHNICIAN = ("tech", "skerrow-tech")
#: What no answer may take [s]; a server that is being killed answers nothing.
PATIENCE_S = 60
PLANS = ("gauge", "wet-ends", "wiring", "chain", "marks", "parting", "slopes")


class Person(requests.Session):
    """Somebody signed in, over HTTP alone."""

    def __init__(self, server: Server, name: str, password: str) -> None:
        super().__init__()
        self.base = f"{server.url}/api/"
        self.get(f"{server.url}/sign-in", timeout=PATIENCE_S)
        answer = self.ask("POST", "session/", {"username": name, "password": password})
        assert answer.status_code == 200, answer.text

    def ask(self, method: str, path: str, body: Any = None, raw: bytes | None = None) -> requests.Response:
        """Send a body as JSON, or as it is; never follow a redirect."""
        content = json.dumps(body).encode() if raw is None and body is not None else raw
        headers = {"Content-Type": "application/json", "X-CSRFToken": self.cookies.get("csrftoken") or ""}
        return self.request(
            method, self.base + path, data=content, headers=headers, timeout=PATIENCE_S, allow_redirects=False
        )


@contextmanager
def demo() -> Iterator[Server]:
    """A server with the demo data, ended afterwards."""
    server = Server()
    server.start()
    try:
        yield server
    finally:
        server.stop()


def pages_of(person: Person) -> list[str]:
    """Every page's question: lists, and all that is asked of each tank."""
    found = ["board/", "tanks/?page_size=200", "sites/", "profiles/", "people/", "gauge-models/", "mark-sets/"]
    for tank in person.ask("GET", "tanks/?page_size=200").json()["results"]:
        parts = (
            "",
            "file/",
            "curve/",
            "stations/",
            "issued/",
            "proofs/",
            "history/",
            "rescalings/",
            *(f"{p}/" for p in PLANS),
        )
        found += [f"tanks/{tank['id']}/{part}" for part in parts]
    return found


def every_page_opens(person: Person) -> int:
    """Open them all, and return how many there are."""
    pages = pages_of(person)
    for page in pages:
        answer = person.ask("GET", page)
        assert answer.status_code == 200, f"{page}: {answer.status_code} {answer.text[:200]}"
    return len(pages)


def checked(server: Server) -> None:
    """The database by ``rasante check``."""
    environment = {**os.environ, "RASANTE_DATA": server.data}
    command = [sys.executable, "-m", "rasante.cli", "check"]
    done = subprocess.run(command, cwd=ROOT, env=environment, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stdout + done.stderr


def contract(minutes: float = 5.0) -> str:
    """Random calls of every operation, with DELETE: 0 × 5xx, and nothing that the document does not say."""
    statuses: Counter[int] = Counter()
    wrong: list[str] = []
    end = time.monotonic() + 60 * minutes
    while time.monotonic() < end:
        with demo() as server:
            round_ends = min(time.monotonic() + 75, end)
            person = Person(server, *LEAD)
            document = person.ask("GET", "schema/?format=json").json()
            ids = [tank["id"] for tank in person.ask("GET", "tanks/?page_size=200").json()["results"]]
            schema = schemathesis.openapi.from_dict(document)
            schema.config.update(base_url=server.url)
            operations = [result.ok() for result in schema.get_all_operations()]
            while time.monotonic() < round_ends:
                random.shuffle(operations)
                for operation in operations:
                    if time.monotonic() > round_ends:
                        break
                    _try(operation, person, server, ids, statuses, wrong)
    assert not wrong, "\n".join(wrong[:20])
    told = ", ".join(f"{count} × {status}" for status, count in sorted(statuses.items()))
    return f"{sum(statuses.values())} calls in {minutes:g} min: {told}"


def _try(
    operation: Any, person: Person, server: Server, ids: list[int], statuses: Counter[int], wrong: list[str]
) -> None:
    # Whoever was signed out, or shut out, by a call comes in again.
    if person.ask("GET", "session/").status_code != 200 or person.ask("GET", "tanks/?page_size=1").status_code != 200:
        person.cookies.clear()
        person.__init__(server, *LEAD)  # type: ignore[misc]

    @given(case=operation.as_strategy())
    @settings(
        max_examples=3, deadline=None, phases=[Phase.generate], suppress_health_check=list(HealthCheck), database=None
    )
    def run(case: Any) -> None:
        if "id" in case.path_parameters and random.random() < 0.8:
            case.path_parameters["id"] = random.choice(ids)
        headers = {"X-CSRFToken": person.cookies.get("csrftoken") or "", "Accept-Encoding": "identity"}
        answer = case.call(headers=headers, cookies=person.cookies.get_dict(), timeout=PATIENCE_S)
        statuses[answer.status_code] += 1
        try:
            case.validate_response(answer, checks=CHECKS)
        except FailureGroup as group:
            wrong.append(f"{operation.label}: " + "; ".join(str(one) for one in group.exceptions)[:600])

    run()


HOSTILE: tuple[Any, ...] = (
    "\ud800", "\x00", "a\x07b", "\u202e", "", " " * 300, "9" * 400, "1e999", "-1", "NaN", "½", "1,2,3",
    "𝟙𝟚", "<b>", "'; --",
    None, True, False, 0, -1, 10**30, 1e308, -0.0, [], {}, [[]], [None], {"": ""}, ["x"] * 500, {"kind": []},
)  # fmt: skip


def _spoil(body: Any) -> Any:
    """The body with one of its parts replaced, taken out, or doubled."""
    places: list[tuple[Any, Any]] = []

    def walk(part: Any) -> None:
        for key in list(part) if isinstance(part, dict) else range(len(part)) if isinstance(part, list) else ():
            places.append((part, key))
            walk(part[key])

    body = json.loads(json.dumps(body))
    walk(body)
    if not places or random.random() < 0.05:
        return random.choice(HOSTILE)
    for _ in range(random.choice((1, 1, 2, 4))):
        part, key = random.choice(places)
        if isinstance(part, dict) and random.random() < 0.15:
            part[random.choice(("\ud800", "x" * 200, "", "__proto__", "id"))] = random.choice(HOSTILE)
        elif isinstance(part, dict) and random.random() < 0.15:
            part.pop(key, None)
        else:
            part[key] = random.choice(HOSTILE)
    return body


def _raw(body: Any) -> bytes:
    """The spoiled body as it goes over the wire: now and then no JSON at all."""
    text = json.dumps(_spoil(body)).encode()
    match random.randrange(12):
        case 0:
            return text[: random.randrange(len(text) + 1)]
        case 1:
            return b"\xff\xfe" + text
        case 2:
            deep = random.choice((101, 1000, 50_000))
            return b'{"entries":' + b"[" * deep + b"]" * deep + b"}"
        case 3:
            return text.replace(b"1", b"1" * 5000, 1)
        case 4:
            return text.replace(b":", b':NaN,"x":', 1)
        case 5:
            return text[:-1] + b',"entries":1,"entries":{}}'
        case _:
            return text


def _bodies(person: Person) -> list[tuple[str, str, Any]]:
    """Whole bodies of every kind that is written, by their addresses."""
    tanks = person.ask("GET", "tanks/?page_size=200").json()["results"]
    found: list[tuple[str, str, Any]] = []
    for tank in tanks[:8]:
        number = tank["id"]
        whole = person.ask("GET", f"tanks/{number}/").json()
        survey = {key: whole[key] for key in ("entries", "ports", "notes", "revision")} | {"system": "metric"}
        found += [("PUT", f"tanks/{number}/", survey), ("POST", "tanks/survey/", survey)]
        found.append(("POST", "tanks/", {**survey, "site": whole["site"]}))
        for plan in PLANS:
            kept = person.ask("GET", f"tanks/{number}/{plan}/").json()
            body = {
                "entries": kept["entries"] or {"marks.high": "80 %"},
                "system": "us",
                "revision": kept["revision"],
            }
            found += [("PUT", f"tanks/{number}/{plan}/", body), ("POST", f"tanks/{number}/{plan}/", body)]
        for proof in person.ask("GET", f"tanks/{number}/proofs/").json()["results"]:
            found.append(("PUT", f"proofs/{proof['id']}/", {"entries": proof["entries"], "kept": proof["kept"]}))
            sign = {"signature": "x", "password": "y", "kept": proof["kept"], "basis": proof["basis"]}
            found.append(("POST", f"proofs/{proof['id']}/sign/", sign))
        found.append(("POST", f"tanks/{number}/proofs/", {"system": "metric"}))
        found.append(("POST", f"tanks/{number}/history/", {"kind": "survey", "id": 1, "revision": 1}))
        found.append(("POST", f"tanks/{number}/issued/", {"note": "n", "revision": 1}))
        meter = {"entries": {}, "setting": "V", "red": "sensor.+", "black": "sensor.−", "sent": "4 mA", "lifted": []}
        found.append(("POST", f"tanks/{number}/wiring/meter/", meter))
    model = person.ask("GET", "gauge-models/").json()[0]["document"]
    found.append(("POST", "gauge-models/", {"document": {**model, "name": "Own"}, "figures": {"bore_mm": "4"}}))
    found.append(("POST", "sites/", {"name": "s", "notes": ""}))
    found.append(
        ("POST", "people/", {"username": "u", "name": "n", "password": "long-enough-12", "role": "technician"})
    )
    found.append(("POST", "session/", {"username": "tech", "password": "wrong"}))
    found.append(("POST", "line/", {"entries": {"sensor.high": "15 psi", "value.sent": "10 mA"}, "system": "us"}))
    return found


def bad_bodies(count: int = 6000) -> str:
    """Hand-made bad bodies: 0 × 5xx, and afterwards every page opens."""
    with demo() as server:
        person = Person(server, *LEAD)
        bodies = _bodies(person)
        statuses: Counter[int] = Counter()
        wrong = []
        for _ in range(count):
            method, path, body = random.choice(bodies)
            raw = _raw(body)
            answer = person.ask(method, path, raw=raw)
            statuses[answer.status_code] += 1
            if answer.status_code >= 500:
                wrong.append(f"{method} {path} {raw[:300]!r}: {answer.status_code}")
        assert not wrong, f"{len(wrong)} × 5xx:\n" + "\n".join(wrong[:10])
        # Not by signing in anew: among the bodies were enough wrong passwords to be shut out for a while.
        pages = every_page_opens(person)
        checked(server)
    told = ", ".join(f"{number} × {status}" for status, number in sorted(statuses.items()))
    return f"{count} bodies: {told}; then {pages} pages opened"


def _writer(server: Server, tank: int, stop: threading.Event, kept: dict[int, str]) -> None:
    """Keep writing one tank's notes; note what the server said that it has."""
    try:
        person = Person(server, *TECHNICIAN)
        known = person.ask("GET", f"tanks/{tank}/").json()
        number = 0
        while not stop.is_set():
            number += 1
            note = f"{time.time_ns()}"
            body = {"entries": known["entries"], "ports": known["ports"], "notes": note, "system": "metric"}
            answer = person.ask("PUT", f"tanks/{tank}/", {**body, "revision": known["revision"]})
            if answer.status_code == 200:
                known = answer.json()
                kept[known["revision"]] = note
    except (requests.RequestException, AssertionError, ValueError, KeyError):
        # The server was killed: what was acknowledged stands noted.
        return


def kills(count: int = 50) -> str:
    """SIGKILL under writing: all acknowledged is there, nothing half kept, the chain of hashes whole."""
    server = Server()
    server.start()
    acknowledged = 0
    try:
        for _ in range(count):
            stop, kept = threading.Event(), [dict[int, str]() for _ in range(3)]
            writers = [
                threading.Thread(target=_writer, args=(server, tank, stop, mine))
                for tank, mine in zip((1, 2, 3), kept, strict=True)
            ]
            for one in writers:
                one.start()
            time.sleep(random.uniform(0.8, 2.5))
            server.kill()
            stop.set()
            for one in writers:
                one.join()
            checked(server)
            server.start()
            person = Person(server, *LEAD)
            for tank, mine in zip((1, 2, 3), kept, strict=True):
                now = person.ask("GET", f"tanks/{tank}/").json()
                last = max(mine, default=0)
                acknowledged += len(mine)
                assert now["revision"] in (last, last + 1) or not mine, (tank, now["revision"], last)
                if now["revision"] == last:
                    assert now["notes"] == mine[last], (tank, now["notes"], mine[last])
                history = person.ask("GET", f"tanks/{tank}/history/").json()["results"]
                kinds = [one for one in history if one["kind"] == "survey"]
                assert kinds, f"no history of tank {tank}"
        pages = every_page_opens(Person(server, *LEAD))
    finally:
        server.stop()
    return f"{count} kills under {acknowledged} acknowledged writes; then {pages} pages opened"


#: A field of each kind of document, and how a change is written there so that it can be found again.
EDITED = {
    "survey": ("name", "{who}{number}"),
    "gauge": ("choice.reason", "{who}{number}"),
    "wiring": ("cable[0].name", "{who}{number}"),
    "chain": ("sensor.serial", "{who}{number}"),
    "wet-ends": ("fuel", "{who}{number}"),
    "marks": ("fill_rate", "{number}.5 L"),
    "slopes": ("readings[0].level", "{number} mm"),
    "proof": ("remarks", "{who}{number}"),
}


def edits(count: int = 200) -> str:
    """Two people's interleaved edits of every kind of document: kept in their turn or refused, none lost unseen."""
    with demo() as server:
        people = [Person(server, *LEAD), Person(server, *TECHNICIAN)]
        tank = people[0].ask("GET", "tanks/?search=Process water").json()["results"][0]["id"]
        made = people[0].ask("POST", f"tanks/{tank}/proofs/", {"system": "metric"})
        path = {kind: f"tanks/{tank}/{kind}/" for kind in EDITED}
        path |= {"survey": f"tanks/{tank}/", "proof": f"proofs/{made.json()['id']}/"}
        revision = {kind: "kept" if kind == "proof" else "revision" for kind in EDITED}
        known = [{kind: one.ask("GET", path[kind]).json() for kind in EDITED} for one in people]
        kept: dict[str, list[tuple[int, str]]] = {kind: [] for kind in EDITED}
        refused = 0
        for number in range(count):
            kind, who = random.choice(list(EDITED)), random.randrange(2)
            now, (field, text) = known[who][kind], EDITED[kind]
            mark = text.format(who="AB"[who], number=number + 1)
            entries = {**now["entries"], field: mark}
            if kind == "slopes":
                entries["readings[0].signal"] = "10 mA"
            body = {"entries": entries, "system": "metric", revision[kind]: now[revision[kind]]}
            if kind == "survey":
                body |= {"ports": now["ports"], "notes": now["notes"]}
            answer = people[who].ask("PUT", path[kind], body)
            if answer.status_code == 200:
                kept[kind].append((answer.json()[revision[kind]], mark))
                known[who][kind] = answer.json()
            else:
                assert answer.status_code == 409, f"{kind}: {answer.status_code} {answer.text[:300]}"
                refused += 1
                known[who][kind] = people[who].ask("GET", path[kind]).json()
        for kind, changes in kept.items():
            numbers = [at for at, _ in changes]
            assert numbers == sorted(set(numbers)), f"{kind}: two were kept as one revision"
            last = people[0].ask("GET", path[kind]).json()
            assert changes and last[revision[kind]] == numbers[-1], f"{kind}: {last[revision[kind]]}, {numbers[-3:]}"
            assert last["entries"][EDITED[kind][0]] == changes[-1][1], f"{kind}: {last['entries']}"
        found = "".join(
            people[0].ask("GET", f"tanks/{tank}/history/?page={page}").text for page in range(1, 2 + count // 20)
        )
        # A draft's readings have no history: its revisions and its last words were looked at above.
        lost = [mark for kind in kept if kind != "proof" for _, mark in kept[kind] if f'"{mark}"' not in found]
        assert not lost, f"not in the history: {lost}"
        checked(server)
    total = sum(len(one) for one in kept.values())
    kinds = ", ".join(EDITED)
    return f"{count} edits of {kinds} by two people: {total} kept in their turn, {refused} refused as conflicts"


def _pusher(server: Server, token: str, number: int, stop: threading.Event, sent: dict[int, None]) -> None:
    """Push five hundred readings twice a second, each of its own moment; note those that were acknowledged."""
    head = {"Authorization": f"Bearer {token}", "Content-Type": "application/json"}
    begin = int(time.time() * 1000) - 20 * 86_400_000 + number * 5 * 86_400_000
    turn = 0
    while not stop.is_set():
        began = time.monotonic()
        at = [begin + turn * 500 + i for i in range(500)]
        rows = [{"channel": "level", "at": one, "value": 1000.0 + one % 7} for one in at]
        try:
            answer = requests.post(f"{server.url}/api/push/", json={"readings": rows}, headers=head, timeout=30)
        except requests.RequestException:
            # It may be there or not: it is sent again, as a unit would, until it is acknowledged.
            stop.wait(0.1)
            continue
        if answer.status_code == 200:
            sent.update(dict.fromkeys(at))
            turn += 1
        stop.wait(max(0.5 - (time.monotonic() - began), 0.0))


def readings(count: int = 12) -> str:
    """SIGKILL of the web server and of its listener while 2,000 readings a second arrive."""
    server = Server(live=True)
    server.start()
    stop = threading.Event()
    try:
        person = Person(server, *LEAD)
        entries = {"kind": "push", "name": "hail", "channels[0].name": "level", "channels[0].kind": "level"}
        tank = person.ask("GET", "tanks/").json()["results"][0]["id"]
        body = {"entries": {**entries, "channels[0].tank": str(tank)}, "revision": 0}
        source = person.ask("POST", "sources/", body).json()
        token = person.ask("POST", f"sources/{source['id']}/token/").json()["token"]
        channel = person.ask("GET", f"sources/{source['id']}/").json()["channels"][0]["id"]
        sent: dict[int, None] = {}
        pushers = [
            threading.Thread(target=_pusher, args=(server, token, number, stop, sent), daemon=True)
            for number in (0, 1)
        ]
        for pusher in pushers:
            pusher.start()
        slowest, began, first = 0.0, time.monotonic(), len(sent)
        for turn in range(count):
            time.sleep(4)
            if turn % 2:
                # The listener alone: whoever supervises it begins it anew, and it asks the controller again.
                (mine,) = _listeners(server)
                killed = datetime.now(UTC)
                os.kill(mine, 9)
                _until(lambda killed=killed: _heard(person) > killed, 30, "the listener was not begun anew")
                assert _listeners(server) != [mine]
                continue
            server.kill()
            here, had = time.monotonic(), len(sent)
            server.start()
            while len(sent) == had:
                assert time.monotonic() - here < 60, "it does not go on"
                time.sleep(0.02)
            slowest = max(slowest, time.monotonic() - here)
        stop.set()
        for pusher in pushers:
            pusher.join(60)
        rate = (len(sent) - first) / (time.monotonic() - began)
        checked(server)
        kept = _kept_at(server, channel)
        assert len(kept) == len(set(kept)), "some are there twice"
        missing = set(sent) - set(kept)
        assert not missing, f"{len(missing)} acknowledged readings are gone"
        return (
            f"{len(sent)} acknowledged at {rate:.0f} a second, all there once; on again {slowest:.1f} s after a start"
        )
    finally:
        stop.set()
        server.stop()


def _until(there: Callable[[], bool], seconds: float, what: str) -> None:
    end = time.monotonic() + seconds
    while not there():
        assert time.monotonic() < end, what
        time.sleep(0.2)


def _heard(person: Person) -> datetime:
    """When the yard's controller was last heard."""
    every = person.ask("GET", "sources/").json()["sources"]
    heard = next(one["heard_at"] for one in every if one["name"] == "Harbour controller")
    return datetime.fromisoformat(heard)


def _listeners(server: Server) -> list[int]:
    """The processes that listen for a server."""
    assert server.process is not None
    command = ["pgrep", "-P", str(server.process.pid), "-f", "rasante.cli listen"]
    found = subprocess.run(command, capture_output=True, text=True, check=False)
    return [int(one) for one in found.stdout.split()]


def _kept_at(server: Server, channel: int) -> list[int]:
    """When every kept reading of a channel is from [ms]."""
    import sqlite3

    with sqlite3.connect(f"{server.data}/rasante.sqlite3") as database:
        return [at for (at,) in database.execute("SELECT at FROM readings_reading WHERE channel_id = ?", [channel])]


TRIALS: dict[str, Callable[[], str]] = {
    "contract": contract,
    "bodies": bad_bodies,
    "kills": kills,
    "edits": edits,
    "readings": readings,
}


def main() -> int:
    seed = int(os.environ.get("SEED", random.randrange(10**6)))
    random.seed(seed)
    print(f"SEED={seed}")
    wrong = 0
    for name in sys.argv[1:] or TRIALS:
        try:
            print(f"{name}: {TRIALS[name]()}", flush=True)
        except AssertionError as error:
            wrong += 1
            print(f"{name}: NOT HELD: {error}", flush=True)
    return 1 if wrong else 0


if __name__ == "__main__":
    sys.exit(main())
