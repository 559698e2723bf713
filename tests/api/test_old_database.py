"""A database made by the code before the rooms were moved: migrated, everything in it opens and nothing is lost."""

from __future__ import annotations

import gzip
import json
import os
import sqlite3
import subprocess
import sys
import tempfile
from contextlib import closing
from pathlib import Path
from typing import Any, ClassVar
from unittest import TestCase

from tests.tags import slow

ROOT = Path(__file__).resolve().parents[2]
DATA = Path(__file__).parent / "data"
#: Migrates, then asks for everything of every tank, and prints what came.
OPEN = """
import io, json
import django
django.setup()
from django.core.management import call_command
call_command("migrate", verbosity=0)
from django.contrib.auth.models import User
from django.test import Client
from django.test.utils import setup_test_environment
from pypdf import PdfReader
from rasante.proving.models import Proof
from rasante.scaling.models import ScalingChain
from rasante.tanks.models import Tank
setup_test_environment()
client = Client()
client.force_login(User.objects.get(username="tech"))
failed, chains = [], {}
def get(path, **query):
    answer = client.get(f"/api/{path}", query)
    if answer.status_code != 200:
        failed.append([path, answer.status_code, answer.content.decode()[:200]])
    return answer
def judged(path, entries):
    answer = client.post(f"/api/{path}", {"entries": entries}, content_type="application/json")
    wrong = [one for one in answer.json().get("fields_read", []) if one["state"] == "wrong"]
    if answer.status_code != 200 or wrong:
        failed.append([path, answer.status_code, wrong or answer.content.decode()[:200]])
    return answer.json()
get("board/")
for tank in Tank.objects.all():
    here = f"tanks/{tank.pk}/"
    for path in ("", "stations/", "line/", "rescalings/", "device-sheets/", "proofs/", "table/"):
        get(here + path, **({"by": "innage", "text": "100 mm"} if path == "line/" else {}))
    for system in ("metric", "us"):
        get(here + "curve/", system=system)
    for kind in ("gauge/", "wiring/", "chain/", "marks/", "slopes/", "wet-ends/", "parting/"):
        entries = get(here + kind).json()["entries"]
        judged(here + kind, entries)
        if kind == "chain/" and entries:
            chains[tank.name] = entries
    for sheet in get(here + "device-sheets/").json()["results"]:
        get(f"device-sheets/{sheet['id']}/sheet.pdf/")
        get(f"device-sheets/{sheet['id']}/found/")
records = {}
for proof in Proof.objects.all():
    get(f"proofs/{proof.pk}/")
    if proof.state == "signed":
        pages = PdfReader(io.BytesIO(get(f"proofs/{proof.pk}/record.pdf/").content)).pages
        records[proof.pk] = "\\n".join(page.extract_text() for page in pages)
print(json.dumps({
    "failed": failed, "chains": chains, "records": records, "history": ScalingChain.history.count(),
}))
"""


def ask(database: Path, query: str) -> list[tuple[Any, ...]]:
    with closing(sqlite3.connect(database)) as connection:
        return connection.execute(query).fetchall()


@slow
class OldDatabase(TestCase):
    before: ClassVar[dict[str, list[tuple[Any, ...]]]]
    found: ClassVar[dict[str, Any]]
    database: ClassVar[Path]

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        folder = tempfile.TemporaryDirectory()
        cls.addClassCleanup(folder.cleanup)
        cls.database = Path(folder.name) / "rasante.sqlite3"
        with closing(sqlite3.connect(cls.database)) as connection:
            connection.executescript(gzip.decompress((DATA / "database_before_rooms.sql.gz").read_bytes()).decode())
        cls.before = {
            table: ask(cls.database, f"SELECT * FROM scaling_{table} ORDER BY id")
            for table in ("transmitter", "historicaltransmitter", "historicalscalingchain", "proof", "devicesheet")
        }
        environment = {
            **os.environ, "RASANTE_DATA": folder.name, "DJANGO_SETTINGS_MODULE": "tests.settings",
            "PYTHONPATH": str(ROOT), "TZ": "UTC",
        }  # fmt: skip
        done = subprocess.run(
            [sys.executable, "-c", OPEN], env=environment, check=False, capture_output=True, text=True
        )
        assert done.returncode == 0, done.stderr[-3000:]
        cls.found = json.loads(done.stdout)

    def test_everything_opens(self) -> None:
        self.assertEqual(self.found["failed"], [])

    def test_a_signed_proof_prints_as_it_did(self) -> None:
        printed = json.loads((DATA / "records_before_rooms.json").read_text("utf-8"))
        self.assertEqual(self.found["records"], printed)

    def test_no_proof_and_no_sheet_is_changed(self) -> None:
        kept = "SELECT id, state, record, system, made_at, signed_at FROM proving_proof ORDER BY id"
        names = ["id", "state", "entries", "system", "kept", "made_at", "changed_at", "signed_at", "record"]
        was = [dict(zip(names, row, strict=False)) for row in self.before["proof"]]
        wanted = [
            (one["id"], one["state"], one["record"], one["system"], one["made_at"], one["signed_at"]) for one in was
        ]
        self.assertEqual(ask(self.database, kept), wanted)
        sheets = ask(self.database, "SELECT * FROM devices_devicesheet ORDER BY id")
        self.assertEqual(
            [set(map(str, row)) for row in sheets], [set(map(str, row)) for row in self.before["devicesheet"]]
        )

    def test_every_scale_is_the_first_hops_of_a_chain_with_its_history(self) -> None:
        # A scale of 0 to 1.8 m from 60 mm, a distance of 5.6 m to 0.4 m from 250 mm up.
        south, water = self.found["chains"]["Quay diesel south"], self.found["chains"]["Process water"]
        self.assertIn("sensor.high", south)
        self.assertEqual((water["sensor.quantity"], water["sensor.serial"]), ("distance", "SK-2208"))
        self.assertEqual((water["sensor.low"], water["sensor.high"]), ("5600 mm", "400 mm"))
        self.assertGreaterEqual(len(self.found["chains"]), len(self.before["transmitter"]))
        former = len(self.before["historicaltransmitter"]) + len(self.before["historicalscalingchain"])
        self.assertGreaterEqual(self.found["history"], former)
