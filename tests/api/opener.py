"""Asks for everything of every tank of a database, and writes what came, and what was refused, as JSON into a file.

``python -m tests.api.opener FILE`` with ``RASANTE_DATA`` on a data folder with somebody called tech in it.
"""

from __future__ import annotations

import io
import json
import os
import sys
from pathlib import Path
from typing import Any

import django

if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "tests.settings")
    django.setup()

from django.contrib.auth.models import User
from django.test import Client
from django.test.utils import setup_test_environment
from pypdf import PdfReader

from rasante.proving.models import Proof
from rasante.scaling.models import ScalingChain
from rasante.tanks.models import Tank

LINE = {"by": "innage", "text": "100 mm"}


class Opener:
    """Asks as a technician."""

    def __init__(self) -> None:
        self.client = Client()
        self.client.force_login(User.objects.get(username="tech"))
        self.failed: list[list[Any]] = []

    def get(self, path: str, **query: str) -> Any:
        answer = self.client.get(f"/api/{path}", query)
        if answer.status_code != 200:
            self.failed.append([path, answer.status_code, answer.content.decode()[:200]])
        return answer

    def judged(self, path: str, entries: dict[str, str]) -> None:
        """Have kept entries read and judged anew."""
        answer = self.client.post(f"/api/{path}", {"entries": entries}, content_type="application/json")
        wrong = [one for one in answer.json().get("fields_read", []) if one["state"] == "wrong"]
        if answer.status_code != 200 or wrong:
            self.failed.append([path, answer.status_code, wrong or answer.content.decode()[:200]])

    def tank(self, tank: Tank) -> dict[str, str]:
        """Everything of a tank; returns what is entered of its chain."""
        here, chain = f"tanks/{tank.pk}/", {}
        for path in ("", "stations/", "line/", "rescalings/", "device-sheets/", "proofs/", "table/"):
            self.get(here + path, **(LINE if path == "line/" else {}))
        for system in ("metric", "us"):
            self.get(here + "curve/", system=system)
        for kind in ("gauge/", "wiring/", "chain/", "marks/", "slopes/", "wet-ends/", "parting/"):
            entries = self.get(here + kind).json()["entries"]
            self.judged(here + kind, entries)
            if kind == "chain/":
                chain = entries
        for sheet in self.get(here + "device-sheets/").json()["results"]:
            self.get(f"device-sheets/{sheet['id']}/sheet.pdf/")
            self.get(f"device-sheets/{sheet['id']}/found/")
        return dict(chain)

    def proof(self, proof: Proof) -> str:
        """A proof, and the text of its record where it is signed."""
        self.get(f"proofs/{proof.pk}/")
        if proof.state != "signed":
            return ""
        pages = PdfReader(io.BytesIO(self.get(f"proofs/{proof.pk}/record.pdf/").content)).pages
        return "\n".join(page.extract_text() for page in pages)


def main(file: str) -> None:
    setup_test_environment()
    opener = Opener()
    opener.get("board/")
    chains = {tank.name: chain for tank in Tank.objects.all() if (chain := opener.tank(tank))}
    records = {str(proof.pk): text for proof in Proof.objects.all() if (text := opener.proof(proof))}
    found = {
        "failed": opener.failed, "chains": chains, "records": records, "history": ScalingChain.history.count()
    }  # fmt: skip
    Path(file).write_text(json.dumps(found), "utf-8")


if __name__ == "__main__":
    main(sys.argv[1])
