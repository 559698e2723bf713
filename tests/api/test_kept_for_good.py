"""What is written once stays, by whatever way it is gone about: model, queryset, bulk, raw SQL, cascade."""

from __future__ import annotations

from typing import Any

from django.db import DatabaseError, connection, transaction
from django.db.models import ProtectedError

from rasante.core.quantities.errors import InputError
from rasante.devices.models import DeviceSheet, FoundSheet, Rescaling
from rasante.devices.rescales import begin_rescale, close_rescale, drop_rescale, tick
from rasante.devices.services import keep_found, to_json, write_sheet

from .base import ApiTest


class KeptForGood(ApiTest):
    def setUp(self) -> None:
        super().setUp()
        self.scaled()
        self.sheet = write_sheet(self.tank, "metric", "Commissioning", self.technician)
        self.found = keep_found(self.sheet, to_json(self.sheet), "as found", self.technician)

    def opened(self) -> Rescaling:
        entries = {"sensor.high": "3000 mm"}
        return begin_rescale(self.tank, entries, 1.0, "metric", "Deeper sensor", self.technician, 1)

    def closed(self) -> Rescaling:
        rescaling = self.opened()
        for index in range(len(rescaling.document["tasks"])):
            rescaling = tick(rescaling, index, True, rescaling.kept)
        return close_rescale(rescaling, rescaling.kept, self.technician)

    def stays(self, row: Any, field: str, value: Any) -> None:
        """Every way of changing or deleting a row is refused, and it is what it was."""
        model, table = type(row), type(row)._meta.db_table
        was = model.objects.filter(pk=row.pk).values().get()
        setattr(row, field, value)
        for way in (
            row.save,
            row.delete,
            lambda: model.objects.filter(pk=row.pk).update(**{field: value}),
            lambda: model.objects.bulk_update([row], [field]),
            lambda: model.objects.filter(pk=row.pk).delete(),
            lambda: model.objects.all().delete(),
        ):
            with self.assertRaises(InputError), transaction.atomic():
                way()
        columns = [one.column for one in model._meta.concrete_fields]
        copied = f"INSERT OR REPLACE INTO {table} ({', '.join(columns)}) SELECT {', '.join(columns)} FROM {table}"
        for command in (f"UPDATE {table} SET {field} = ''", f"DELETE FROM {table}", copied):
            with self.assertRaises(DatabaseError, msg=command), transaction.atomic(), connection.cursor() as cursor:
                cursor.execute(command)
        with self.assertRaises(DatabaseError), transaction.atomic():
            model._base_manager.filter(pk=row.pk)._raw_delete(using="default")
        self.assertEqual(model.objects.filter(pk=row.pk).values().get(), was)

    def test_a_device_sheet(self) -> None:
        self.stays(self.sheet, "note", "forged")

    def test_what_was_found(self) -> None:
        self.stays(self.found, "note", "forged")

    def test_a_closed_rescaling(self) -> None:
        self.stays(self.closed(), "why", "forged")

    def test_an_open_rescaling_may_still_be_ticked_and_dropped(self) -> None:
        rescaling = self.opened()
        ticked = tick(rescaling, 0, True, rescaling.kept)
        self.assertTrue(Rescaling.objects.get(pk=rescaling.pk).document["tasks"][0]["done"])
        drop_rescale(ticked, ticked.kept, self.technician)
        self.assertEqual(Rescaling.objects.get(pk=rescaling.pk).dropped_by, self.technician)

    def test_a_tank_and_a_person_they_refer_to_stay_too(self) -> None:
        with self.assertRaises(ProtectedError):
            self.tank.delete()
        with self.assertRaises(ProtectedError):
            self.technician.delete()
        self.client.force_login(self.lead)
        answer = self.client.delete(f"/api/tanks/{self.tank.pk}/")
        self.assertIn("signed or issued records", self.refused(answer, 409)[""])
        self.assertEqual((DeviceSheet.objects.count(), FoundSheet.objects.count()), (1, 1))
