"""A database made by the code before the rooms were moved: migrated, everything in it opens and nothing is lost."""

from __future__ import annotations

import gzip
import json
import os
import sqlite3
import tempfile
from contextlib import closing
from pathlib import Path
from typing import Any, ClassVar
from unittest import TestCase

from tests.prepared import BEFORE_ROOMS, copy_of
from tests.tags import slow
from tests.warm import begin, module

DATA = Path(__file__).parent / "data"


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
        was = Path(folder.name) / "was.sqlite3"
        with closing(sqlite3.connect(was)) as connection:
            connection.executescript(gzip.decompress(BEFORE_ROOMS.read_bytes()).decode())
        cls.before = {
            table: ask(was, f"SELECT * FROM scaling_{table} ORDER BY id")
            for table in ("transmitter", "historicaltransmitter", "historicalscalingchain", "proof", "devicesheet")
        }
        data = Path(folder.name) / "data"
        copy_of("before_rooms", data)
        cls.database, told = data / "rasante.sqlite3", Path(folder.name) / "told.json"
        environment = {**os.environ, "RASANTE_DATA": str(data), "TZ": "UTC"}
        process = begin(module, ["tests.api.opener", str(told)], environment)
        process.join()
        assert process.exitcode == 0, "not everything was asked for: python -m tests.api.opener says why"
        cls.found = json.loads(told.read_text("utf-8"))

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
