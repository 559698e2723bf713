"""Hand-made bad bodies of everything that is written."""

from __future__ import annotations

import json
import random
from collections import Counter
from typing import Any
from uuid import uuid4

from .base import LEAD, PLANS, Person, checked, demo, every_page_opens

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


def _visit_bodies(person: Person) -> list[tuple[str, str, Any]]:
    """What is written at visits and in the register."""
    found: list[tuple[str, str, Any]] = []
    for visit in person.ask("GET", "visits/").json()["results"][:3]:
        path = f"visits/{visit['id']}/"
        whole = person.ask("GET", path).json()
        found.append(("PUT", path, {"facts": whole["facts"], "system": "metric", "revision": whole["revision"]}))
        for step in whole["steps"]:
            values = {field["to"]: "400 mm" for field in step["fields"]}
            entry = {"uid": str(uuid4()), "step": step["key"], "did": "done", "values": values, "reason": "",
                     "at": "2026-01-05T09:30:00Z", "begun_at": None, "system": "metric"}  # fmt: skip
            found.append(("POST", f"{path}entries/", entry))
            found.append(("POST", f"{path}steps/{step['key']}/", {"values": values, "system": "us"}))
        found.append(("POST", f"{path}sign/", {"signature": "x", "password": "y", "seen": "z"}))
        found.append(("POST", f"{path}mail/", {"to": "keeper@example.org", "note": "n"}))
    tank = person.ask("GET", "tanks/").json()["results"][0]["id"]
    noted = person.ask("GET", f"tanks/{tank}/register/").json()
    place = {"latitude": "57.4", "longitude": "4.2 W"}
    found.append(("PUT", f"tanks/{tank}/register/", {**noted, **place}))
    found += [("PUT", f"customers/{one['id']}/", one) for one in person.ask("GET", "customers/").json()["results"]]
    for one in person.ask("GET", "devices/").json()["results"]:
        found.append(("PUT", f"devices/{one['id']}/", one))
        move = {"state": "shelf", "tank": None, "why": "w", "revision": one["revision"]}
        found.append(("POST", f"devices/{one['id']}/move/", move))
    found.append(("POST", "scan/", {"picture": "iVBORw0KGgo="}))
    return found


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
        issue = {"take": "pours", "why": "w", "system": "metric", "revision": 1, "tank_revision": 1}
        found.append(("POST", f"tanks/{number}/pour-records/", issue))
        found.append(
            ("POST", f"tanks/{number}/pours/file/", {"text": "dip,poured\n0,0\n100,50\n", "columns": {"reading": 0}})
        )
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
    found += _visit_bodies(person)
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
