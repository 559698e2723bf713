"""Loads over HTTP: worked out, kept, closed as records that never change, and printed from themselves."""

from __future__ import annotations

import io
import time

from django.db import IntegrityError, connection
from pypdf import PdfReader
from scipy import constants

from rasante.core.quantities.errors import InputError
from rasante.loading.models import LoadRecord
from rasante.readings.intake import Batch, channels_of, take_in
from rasante.readings.services import keep_source
from rasante.seals.services import broken_seals
from rasante.tanks.models import Tank
from rasante.tanks.services import import_tank
from tests.core.samples import example, text

from .base import ApiTest

ENTRIES = {
    "temperature": "15 °C",
    "density": "507 kg/m³",
    "density.at": "15c",
    "confirmed": "yes",
    "before": "4000 L",
    "meter": "9000 L",
}


class Loads(ApiTest):
    vessel: Tank

    @classmethod
    def setUpTestData(cls) -> None:
        super().setUpTestData()
        document = example(name="Bobtail", product="propane", deadwood=None)
        cls.vessel = import_tank(cls.site, text(document), cls.technician)

    @property
    def path(self) -> str:
        return f"tanks/{self.vessel.pk}/load/"

    def check(self, entries: dict[str, str]) -> dict:
        return self.send("post", self.path, {"entries": entries}).json()

    def keep(self, entries: dict[str, str], revision: int = 0) -> dict:
        return self.send("put", self.path, {"entries": entries, "revision": revision}).json()

    def test_it_is_worked_out_as_it_is_typed(self) -> None:
        found = self.check(ENTRIES | {"weight": "7000 kg"})
        capacity = self.vessel.file.tank.capacity * 1000
        self.assertAlmostEqual(found["capacity_l"], capacity, places=6)
        self.assertAlmostEqual(found["targets"]["by_weight_l"], 7000 / 507 * 1000, places=3)
        self.assertEqual(found["targets"]["rule"], "weight")
        self.assertAlmostEqual(found["progress"]["volume_l"], 13_000)
        self.assertAlmostEqual(found["loaded_l"], 9000)
        self.assertIn("check the code in force", found["source"])
        self.assertEqual(self.check(ENTRIES)["targets"]["rule"], "filling")
        over = self.check(ENTRIES | {"meter": "25000 L"})
        self.assertEqual((over["progress"]["state"], over["judgements"][0]["weight"]), ("over", "stop"))

    def test_pounds_and_gallons(self) -> None:
        entries = {"density": "4.21 lb/gal", "density.at": "60f", "weight": "15400 lb", "temperature": "60 °F"}
        found = self.send("post", self.path, {"entries": entries, "system": "us"}).json()
        gallons = found["targets"]["by_weight_l"] / 1000 / constants.gallon_US
        self.assertAlmostEqual(gallons, 3658.0, delta=0.05)

    def test_what_is_not_under_pressure_is_refused(self) -> None:
        problems = self.refused(self.send("post", f"tanks/{self.tank.pk}/load/", {"entries": {}}))
        self.assertIn("nothing under pressure", problems["product"])

    def send_levels(self, late_s: int = 0) -> None:
        """Readings of a gauge that rises by 0.2 mm a second, up to so many seconds ago."""
        entries = {"kind": "push", "name": "gauge", "period": "10 s"}
        channel = {"name": "level", "kind": "level", "tank": str(self.vessel.pk)}
        entries |= {f"channels[0].{key}": value for key, value in channel.items()}
        source = keep_source(None, entries, "metric", self.technician, 0)
        now = int((time.time() - late_s) * 1000)
        at = list(range(now - 300_000, now, 10_000))
        levels = [1000.0 + i * 2.0 for i in range(len(at))]
        take_in({channels_of(source)["level"]: Batch(at, levels, [0] * len(at))}, now)

    def test_a_sensor_says_what_is_in_it(self) -> None:
        self.send_levels()
        found = self.check({"confirmed": "yes", "before": "8000 L"})
        self.assertTrue(found["live"]["live"])
        self.assertAlmostEqual(found["progress"]["volume_l"], found["live"]["volume_l"], places=1)
        # It fills at 0.2 mm a second, so the word to stop comes before the target.
        self.assertGreater(found["progress"]["overshoot_l"], 10)
        self.assertGreater(found["progress"]["to_stop_s"], 0)

    def test_a_load_is_kept_closed_and_printed_from_itself(self) -> None:
        self.refused(self.send("post", f"tanks/{self.vessel.pk}/loads/", {"revision": 0}))
        self.keep({key: value for key, value in ENTRIES.items() if key != "confirmed"})
        path = f"tanks/{self.vessel.pk}/loads/"
        self.assertIn("confirm the density", self.refused(self.send("post", path, {"revision": 1}))["confirmed"])
        self.keep(ENTRIES | {"weight": "7000 kg"}, 1)
        self.refused(self.send("post", path, {"revision": 1}), 409)
        closed = self.send("post", path, {"revision": 2})
        self.assertEqual(closed.status_code, 201)
        self.assertEqual((closed.json()["number"], closed.json()["rule"]), (1, "weight"))
        # The next begins with what stays the same, and asks for its density anew.
        self.assertEqual(self.send("get", self.path).json()["entries"], {"weight": "7000 kg"})
        self.vessel.document["name"] = "Renamed"
        self.vessel.save()
        # Nor does it forget by what name they went who closed it.
        name = closed.json()["closed_by"]
        self.technician.first_name, self.technician.last_name = "Another", "Name"
        self.technician.save()
        printed = self.client.get(f"/api/loads/{closed.json()['id']}/sheet.pdf/").content
        page = PdfReader(io.BytesIO(printed)).pages[0].extract_text()
        for words in (
            "Bobtail",
            "507.0 kg/m³",
            "13000 L",
            f"by {name}",
            "the meter, from what was in it before",
            "The target was set by its weight",
            "check the code in force",
        ):
            self.assertIn(words, page)
        listed = self.send("get", path).json()
        self.assertEqual((listed["count"], listed["results"][0]["closed_by"]), (1, name))

    def test_what_is_listed_and_what_was_in_it_before_close_no_load(self) -> None:
        path = f"tanks/{self.vessel.pk}/loads/"
        self.keep({key: value for key, value in ENTRIES.items() if key != "density"})
        self.assertIn("typed off its paper", self.refused(self.send("post", path, {"revision": 1}))["confirmed"])
        self.keep({key: value for key, value in ENTRIES.items() if key != "meter"}, 1)
        self.assertIn("what came", self.refused(self.send("post", path, {"revision": 2}))["before"])
        self.assertFalse(LoadRecord.objects.exists())

    def test_a_sensor_that_falls_silent_is_not_gone_by(self) -> None:
        self.send_levels(late_s=300)
        found = self.check(ENTRIES | {"meter": ""})
        self.assertFalse(found["live"]["live"])
        self.assertIsNone(found["progress"])
        self.assertEqual(found["judgements"][0]["code"], "sensor-silent")
        self.assertAlmostEqual(self.check(ENTRIES)["progress"]["volume_l"], 13_000)

    def test_a_closed_load_never_changes(self) -> None:
        self.keep(ENTRIES)
        self.send("post", f"tanks/{self.vessel.pk}/loads/", {"revision": 1})
        record = LoadRecord.objects.get()
        for act in (
            record.save,
            record.delete,
            LoadRecord.objects.all().delete,
            lambda: LoadRecord.objects.update(number=2),
        ):
            with self.assertRaises(InputError):
                act()
        self.assertEqual(list(broken_seals()), [])
        with self.assertRaises(IntegrityError), connection.cursor() as cursor:
            cursor.execute("UPDATE loading_loadrecord SET number = 9")

    def test_nothing_above_the_limit_without_the_codes_figure(self) -> None:
        refused = self.send("put", self.path, {"entries": ENTRIES | {"code.filling": "90 %"}, "revision": 0})
        self.assertIn("say which code", self.refused(refused)["code.reason"])
        kept = self.keep(ENTRIES | {"code.filling": "90 %", "code.reason": "the inspector's letter of 3 May"})
        self.assertEqual(kept["revision"], 1)
