"""Seals over what never changes: whole as it is written, and every edit behind the application's back shows."""

from __future__ import annotations

from contextlib import contextmanager
from unittest.mock import patch

from django.db import DatabaseError, connection, transaction
from django.test import TransactionTestCase

from rasante.core.quantities.errors import InputError
from rasante.devices.models import FoundSheet
from rasante.devices.services import keep_found, write_sheet
from rasante.proving.models import Proof
from rasante.seals.hashing import digest_of
from rasante.seals.models import Seal
from rasante.seals.services import broken_seals, head
from rasante.tanks.issued import issue_table
from rasante.tanks.models import IssuedTable, Tank
from rasante.tanks.services import TableOrder, read_step

from .base import ApiTest


class Sealed(ApiTest):
    def setUp(self) -> None:
        super().setUp()
        self.proof = self.signed()
        self.issued = issue_table(
            self.tank, TableOrder(read_step("100", "mm")), "first", self.technician, self.tank.revision
        )
        self.sheet = write_sheet(self.tank, "metric", "", self.technician)
        keep_found(self.sheet, "key,value\nsensor.high,2400 mm\n", "", self.technician)

    @contextmanager
    def behind_the_back(self):
        """Without the triggers, as whoever edits the file has it; everything is as before afterwards."""
        with transaction.atomic(), connection.cursor() as cursor:
            cursor.execute("SELECT name FROM sqlite_master WHERE type = 'trigger'")
            for (name,) in cursor.fetchall():
                cursor.execute(f"DROP TRIGGER {name}")
            yield cursor
            transaction.set_rollback(True)

    def test_what_is_written_is_sealed_and_whole(self) -> None:
        self.assertEqual(
            list(Seal.objects.values_list("model", flat=True)),
            ["proving.Proof", "tanks.IssuedTable", "devices.DeviceSheet", "devices.FoundSheet"],
        )
        self.assertEqual(list(broken_seals()), [])
        count, link = head()
        self.assertEqual((count, len(link)), (4, 64))

    def test_a_draft_has_no_seal(self) -> None:
        self.send("post", f"tanks/{self.tank.pk}/proofs/", {"system": "metric"})
        self.assertEqual(Proof.objects.count(), 2)
        self.assertEqual(list(broken_seals()), [])

    def test_an_edit_of_the_file_shows(self) -> None:
        edits = {
            "a value of a record": (
                "UPDATE tanks_issuedtable SET rows = replace(rows, '0.0', '0.1')",
                f"tanks.IssuedTable {self.issued.pk} is not what was sealed",
            ),
            "a verdict": (
                "UPDATE proving_proof SET record = replace(record, 'pass', 'fail')",
                f"proving.Proof {self.proof.pk} is not what was sealed",
            ),
            "a record taken out": (
                "DELETE FROM devices_foundsheet",
                "devices.FoundSheet 1 is gone",
            ),
            "a seal made to fit": ("UPDATE seals_seal SET digest = 'x' WHERE id = 2", "seal 2 of tanks.IssuedTable"),
            "a seal taken out": ("DELETE FROM seals_seal WHERE id = 1", "or one before it was taken out"),
            "a record slipped in": (
                'INSERT INTO devices_foundsheet SELECT id + 50, made_at, "values", note, made_by_id, sheet_id'
                " FROM devices_foundsheet",
                "was never sealed",
            ),
        }
        first = Seal.objects.order_by("pk").first()
        assert first is not None
        found_pk = FoundSheet.objects.get().pk
        for name, (sql, words) in edits.items():
            with self.subTest(name), self.behind_the_back() as cursor:
                cursor.execute(sql.replace("id = 1", f"id = {first.pk}").replace("id = 2", f"id = {first.pk + 1}"))
                expected = words.replace("seal 2", f"seal {first.pk + 1}")
                expected = expected.replace("FoundSheet 1", f"FoundSheet {found_pk}")
                self.assertGreater(cursor.rowcount, 0)
                found = "\n".join(broken_seals())
                self.assertIn(expected, found)
        self.assertEqual(list(broken_seals()), [])

    def test_a_seal_yields_to_nobody(self) -> None:
        one = Seal.objects.order_by("pk").first()
        assert one is not None
        for act in (one.save, one.delete, Seal.objects.all().delete, lambda: Seal.objects.update(digest="x")):
            with self.assertRaises(InputError):
                act()
        for sql in (
            "UPDATE seals_seal SET digest = 'x'",
            "DELETE FROM seals_seal",
            f"REPLACE INTO seals_seal SELECT * FROM seals_seal WHERE id = {one.pk}",
        ):
            with self.subTest(sql), self.assertRaises(DatabaseError), transaction.atomic():
                connection.cursor().execute(sql)

    def test_nothing_is_frozen_without_its_seal(self) -> None:
        """Issuing that fails at the seal leaves no table."""
        with patch("rasante.tanks.issued.seal", side_effect=RuntimeError), self.assertRaises(RuntimeError):
            issue_table(self.tank, TableOrder(read_step("100", "mm")), "again", self.technician, self.tank.revision)
        self.assertEqual(IssuedTable.objects.count(), 1)


class OldRecords(ApiTest):
    def test_a_record_with_half_a_character_is_sealed_as_it_stands(self) -> None:
        """An older version took such; upgrading must not fail at it."""
        tank = Tank(site=self.site, document={"name": "Quay \ud800"})
        other = Tank(site=self.site, document={"name": "Quay \ud801"})
        names = ["document", "changed_at"]
        self.assertEqual(len(digest_of(tank, names)), 64)
        self.assertNotEqual(digest_of(tank, names), digest_of(other, names))


class Guards(TransactionTestCase):
    def test_the_triggers_stand_after_every_migration(self) -> None:
        """A migration that makes a table anew would drop them unseen."""
        frozen = ("scaling_proof", "tanks_issuedtable", "devices_devicesheet", "devices_foundsheet",
                  "devices_rescaling", "seals_seal")  # fmt: skip
        with connection.cursor() as cursor:
            cursor.execute("SELECT lower(name) FROM sqlite_master WHERE type = 'trigger'")
            names = {name for (name,) in cursor.fetchall()}
        for table in frozen:
            for verb in ("update", "delete"):
                self.assertTrue(
                    any(name.startswith(table) and name.endswith(verb) for name in names), f"{table} {verb}: {names}"
                )
