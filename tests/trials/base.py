"""What every trial stands on: a demo server of its own, a person at it, and what is looked at afterwards."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

import requests

from tests.browser.harness import ROOT, Server

LEAD = ("lead", "skerrow-lead")

TECHNICIAN = ("tech", "skerrow-tech")

#: What no answer may take [s]; a server that is being killed answers nothing.
PATIENCE_S = 60

PLANS = ("gauge", "wet-ends", "wiring", "chain", "marks", "parting", "slopes", "load", "pours", "trouble")


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
