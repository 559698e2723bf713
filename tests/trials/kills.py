"""Kills under writing: nothing acknowledged is lost, nothing is half kept."""

from __future__ import annotations

import random
import threading
import time

import requests

from tests.browser.harness import Server

from .base import LEAD, TECHNICIAN, Person, checked, every_page_opens


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
