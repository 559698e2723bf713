"""Kills of server and listener while readings arrive."""

from __future__ import annotations

import os
import subprocess
import threading
import time
from collections.abc import Callable
from datetime import UTC, datetime

import requests

from tests.browser.harness import Server

from .base import LEAD, Person, checked


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
