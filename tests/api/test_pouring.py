"""Pours over HTTP: worked out, kept, issued as a table with all of them frozen, and read from others' files."""

from __future__ import annotations

import csv
import io
import time
from typing import Any

import numpy as np
from django.db import DatabaseError, connection

from rasante.core.quantities.errors import InputError
from rasante.core.tanks.tank_file import check_document
from rasante.pouring.models import PourRecord
from rasante.readings.intake import Batch, channels_of, take_in
from rasante.readings.services import keep_source
from rasante.scaling.chains import keep_chain
from rasante.seals.services import broken_seals
from rasante.tanks.models import IssuedTable, Tank
from rasante.tanks.profiles import save_profile
from rasante.tanks.services import import_tank
from tests.core.samples import example, text

from .base import ApiTest

#: A made-up box on a tub: 0.5 m² up to 200 mm, 0.9 m² above.
LEVELS = np.array([0, 100, 200, 300, 450, 600, 800])
VOLUMES = np.array([0, 50, 100, 190, 325, 460, 640])
BOX = {
    "format": "rasante.tank/1", "name": "Port side", "product": "diesel", "reference_height_mm": 1000,
    "shape": {"kind": "box", "length_mm": 1000, "width_mm": 900, "height_mm": 900}, "measured": {"all": "data_plate"},
}  # fmt: skip
DRAWN = (20.02, 20.0, 20.01)
METER = {f"draws[{at}].drawn": f"{litres} L" for at, litres in enumerate(DRAWN)} | {
    f"draws[{at}].metered": "20 L" for at in range(len(DRAWN))
}


def rows(levels: Any = LEVELS, volumes: Any = VOLUMES) -> dict[str, str]:
    """Entries of a run."""
    entries = {"start.reading": f"{levels[0]} mm", "start.volume": f"{volumes[0]} L", "top": "660 L", "target": "8 L"}
    for at, (level, amount) in enumerate(zip(levels[1:], np.diff(volumes), strict=True)):
        entries |= {f"pours[{at}].amount": f"{amount} L", f"pours[{at}].reading": f"{level} mm"}
    return entries


class Pours(ApiTest):
    boat: Tank

    @classmethod
    def setUpTestData(cls) -> None:
        super().setUpTestData()
        cls.boat = import_tank(cls.site, text(BOX), cls.technician)

    @property
    def path(self) -> str:
        return f"tanks/{self.boat.pk}/pours/"

    def check(self, entries: dict[str, str], system: str = "metric") -> dict[str, Any]:
        answer = self.send("post", self.path, {"entries": entries, "system": system})
        self.assertEqual(answer.status_code, 200, answer.content[:300])
        return answer.json()

    def keep(self, entries: dict[str, str], revision: int = 0) -> dict[str, Any]:
        answer = self.send("put", self.path, {"entries": entries, "system": "metric", "revision": revision})
        self.assertEqual(answer.status_code, 200, answer.content[:300])
        return answer.json()

    def issue(self, **more: Any):
        body = {"take": "pours", "why": "First table", "system": "metric", "revision": 1,
                "tank_revision": self.boat.revision} | more  # fmt: skip
        return self.send("post", f"tanks/{self.boat.pk}/pour-records/", body)

    def test_it_is_worked_out_as_it_is_typed(self) -> None:
        first = self.check({})
        self.assertIsNone(first["advice"])
        self.assertIn("Hold the meter", " ".join(one["text"] for one in first["judgements"]))
        begun = self.check({"start.reading": "0 mm", "cans[0].size": "20 L"})
        # Half of what safe fill allows, in whole cans; by the box as surveyed that is 95 % of 810 L.
        self.assertEqual(begun["advice"]["amount_l"], 380.0)
        found = self.check(rows() | METER | {"target": "5 L"})
        self.assertAlmostEqual(found["factor"], 1.0005, 4)
        self.assertEqual([one["row"] for one in found["curve"]["at"]], [-1, 0, 1, 2, 3, 4, 5])
        self.assertAlmostEqual(found["curve"]["at"][-1]["volume_l"], 640 * found["factor"], 6)
        self.assertFalse(found["shape"]["agrees"])
        self.assertGreater(found["advice"]["to_go"], 0)

    def test_what_is_typed_wrong_stays_at_its_field(self) -> None:
        entries = rows() | {"pours[2].reading": "150 mm", "pours[3].amount": "about a can"}
        wrong = {one["path"]: one["problem"] for one in self.check(entries)["fields_read"] if one["problem"]}
        self.assertIn("pours[3].amount", wrong)
        del entries["pours[3].amount"]
        refused = self.send("put", self.path, {"entries": rows() | {"pours[3].amount": "about a can"}, "revision": 0})
        self.assertIn("pours[3].amount", self.refused(refused))
        lower = self.check(rows() | {"pours[2].reading": "150 mm"})
        wrong = {one["path"]: one["problem"] for one in lower["fields_read"] if one["problem"]}
        self.assertIn("more reads lower", wrong["pours[2].reading"])
        # Nothing refused is kept.
        self.assertEqual(self.client.get(f"/api/{self.path}").json()["revision"], 0)

    def test_pulses_and_minutes_are_amounts(self) -> None:
        pulses = self.check({"meter.pulses": "100", "start.reading": "0 mm", "pours[0].pulses": "5000",
                             "pours[0].reading": "100 mm"})  # fmt: skip
        self.assertAlmostEqual(pulses["curve"]["at"][-1]["volume_l"], 50.0)
        rate = self.check({"way": "rate", "rate": "25 L", "start.reading": "0 mm", "pours[0].minutes": "2",
                           "pours[0].reading": "100 mm"})  # fmt: skip
        self.assertAlmostEqual(rate["curve"]["at"][-1]["volume_l"], 50.0)

    def test_us_units_mean_the_same(self) -> None:
        us = self.check({"start.reading": "0", "pours[0].amount": "10", "pours[0].reading": "4"}, "us")
        self.assertAlmostEqual(us["curve"]["at"][-1]["volume_l"], 37.854, 3)
        self.assertAlmostEqual(us["curve"]["at"][-1]["reading"], 101.6, 6)

    def test_nobody_pours_into_a_vessel_under_pressure(self) -> None:
        gas = import_tank(self.site, text(example(name="Bullet", product="propane", deadwood=None)), self.technician)
        answer = self.send("post", f"tanks/{gas.pk}/pours/", {"entries": rows()})
        self.assertIn("never poured", self.refused(answer)["product"])
        self.refused(self.send("put", f"tanks/{gas.pk}/pours/", {"entries": rows(), "revision": 0}))

    def test_above_safe_fill_it_says_stop(self) -> None:
        found = self.check(rows() | {"top": "500 L"})
        self.assertEqual((found["judgements"][0]["weight"], found["advice"]), ("stop", None))

    def test_a_table_is_issued_with_all_its_pours(self) -> None:
        self.keep(rows() | METER)
        self.assertIn("why", self.refused(self.issue(why=" ")))
        self.refused(self.issue(revision=0), 409)
        self.refused(self.issue(tank_revision=9), 409)
        made = self.issue()
        self.assertEqual(made.status_code, 201, made.content[:300])
        record = made.json()
        self.assertEqual((record["number"], record["table"], record["pours"]), (1, 1, 6))
        tank = Tank.objects.get(pk=self.boat.pk)
        self.assertEqual(tank.document["shape"]["kind"], "points")
        self.assertNotIn("measured", tank.document)
        table = IssuedTable.objects.get(tank=tank)
        self.assertIn("by pouring, 6 pours", table.why)
        # At a poured level the table says what was poured, by the meter's factor.
        at = table.rows["innage_mm"].index(450.0)
        self.assertAlmostEqual(table.rows["volume_l"][at], 325 * 1.0005, 1)
        self.assertGreater(table.rows["u95_l"][at], 0)
        # The next run begins with the meter, and without pours.
        after = self.client.get(f"/api/{self.path}").json()["entries"]
        self.assertEqual(after["draws[0].metered"], "20 L")
        self.assertFalse([path for path in after if path.startswith("pours[")])
        document = self.client.get(f"/api/pour-records/{record['id']}/pours.json/").json()
        self.assertEqual(document["format"], "rasante.pours/1")
        self.assertEqual(len(document["pours"]), 6)
        lines = list(csv.reader(io.StringIO(
            self.client.get(f"/api/pour-records/{record['id']}/table.csv/?points=4").content.decode()
        )))  # fmt: skip
        self.assertEqual((lines[0], len(lines)), (["reading, mm", "volume, L"], 5))
        self.assertIn(
            "points", self.refused(self.client.get(f"/api/pour-records/{record['id']}/table.csv/?points=1"))
        )

    def test_what_was_issued_never_changes(self) -> None:
        self.keep(rows() | METER)
        record = PourRecord.objects.get(pk=self.issue().json()["id"])
        record.document = {**record.document, "why": "other"}
        with self.assertRaisesMessage(InputError, "never change"):
            record.save()
        for sql in ("UPDATE pouring_pourrecord SET number = 9", "DELETE FROM pouring_pourrecord"):
            with self.assertRaises(DatabaseError), connection.cursor() as cursor:
                cursor.execute(sql)
        self.assertEqual(list(broken_seals()), [])

    def test_a_pour_that_does_not_fit_is_not_issued(self) -> None:
        level = np.arange(0, 1000, 80)
        volume = 0.9 * level
        entries = rows(level[:12], volume[:12]) | {"top": "900 L"}
        entries["pours[5].amount"] = "52 L"
        found = self.check(entries)
        self.assertEqual((found["misfit"]["row"], round(found["misfit"]["should_be_l"])), (5, 72))
        self.keep(entries)
        self.assertIn("pours[5].amount", self.refused(self.issue()))
        # Looked at again, it is right: the tank is so. Nobody is held up by a guess.
        sure = self.check(entries | {"pours[5].sure": "yes"})
        self.assertIsNone(sure["misfit"])
        entries |= {"pours[5].amount": "72 L"}
        self.keep(entries, 1)
        self.assertEqual(self.issue(revision=2).status_code, 201)

    def test_the_shape_is_taken_where_pours_agree_with_one(self) -> None:
        true = check_document({**BOX, "shape": {**BOX["shape"], "length_mm": 1008}}).tank
        level = np.array([0.0, 0.2, 0.45, 0.7])
        self.keep(rows(np.round(level * 1000), np.round(true.volume(level) * 1000, 1)) | METER)
        made = self.issue(take="shape")
        self.assertEqual(made.status_code, 201, made.content[:300])
        shape = Tank.objects.get(pk=self.boat.pk).document["shape"]
        self.assertEqual(shape["kind"], "box")
        now = check_document(Tank.objects.get(pk=self.boat.pk).document).tank
        self.assertLess(abs(now.volume(0.6) - true.volume(0.6)) / true.volume(0.6), 0.003)

    def test_by_the_sensors_own_reading_a_device_table_is_made_and_the_survey_stays(self) -> None:
        signal = 4 + 16 * LEVELS / 1000
        entries = rows(LEVELS, VOLUMES) | {"reads": "sent", "start.reading": f"{signal[0]} mA"}
        entries |= {f"pours[{at}].reading": f"{one:.3f} mA" for at, one in enumerate(signal[1:])}
        self.keep(entries | METER)
        made = self.issue().json()
        self.assertIsNone(made["table"])
        self.assertEqual(Tank.objects.get(pk=self.boat.pk).document["shape"]["kind"], "box")
        got = self.client.get(f"/api/pour-records/{made['id']}/table.csv/").content.decode()
        self.assertTrue(got.startswith('"reading, mA"'), got[:60])

    def test_by_the_signal_the_table_is_issued_where_the_sensors_ends_are_known(self) -> None:
        keep_chain(self.boat, {"sensor.low": "0 mm", "sensor.high": "800 mm"}, "metric", self.technician, 0)
        entries = rows(LEVELS, VOLUMES) | {"reads": "sent", "start.reading": "4 mA"}
        entries |= {f"pours[{at}].reading": f"{4 + 16 * one / 800:.4f} mA" for at, one in enumerate(LEVELS[1:])}
        self.keep(entries | METER)
        self.assertEqual(self.issue().json()["table"], 1)
        points = Tank.objects.get(pk=self.boat.pk).document["shape"]["points"]
        self.assertEqual([round(level) for level, _ in points], LEVELS.tolist())

    def test_two_readings_that_differ_still_move(self) -> None:
        found = self.check(rows() | {"pours[5].later": "812 mm"})
        self.assertIn("still moved, 800 mm to 812 mm", " ".join(one["text"] for one in found["judgements"]))
        self.assertEqual(found["curve"]["at"][-1]["reading"], 812.0)
        still = self.check(rows() | {"pours[5].later": "800.5 mm"})
        self.assertNotIn("still moved", " ".join(one["text"] for one in still["judgements"]))

    def test_a_run_that_was_issued_is_read_in_again(self) -> None:
        self.keep(rows() | METER)
        record = self.issue().json()["id"]
        file = self.client.get(f"/api/pour-records/{record}/pours.json/").content.decode()
        again = self.send("post", f"{self.path}file/", {"text": file}).json()["entries"]
        self.assertEqual(again, rows() | METER)
        for bad in ('{"format": "rasante.pours/1"}', '{"format": "other", "entries": {}}', "{"):
            self.assertIn("file", self.refused(self.send("post", f"{self.path}file/", {"text": bad})))

    def test_deliveries_that_watch_saw(self) -> None:
        source = keep_source(
            None, {"kind": "push", "name": "unit", "channels[0].name": "level", "channels[0].kind": "level",
                   "channels[0].tank": str(self.boat.pk)}, "metric", self.technician, 0,
        )  # fmt: skip
        end = int(time.time()) // 60 * 60
        at = np.arange(end - 4 * 3600, end, 60)
        level = np.where(at < end - 2 * 3600, 200.0, np.minimum(200 + (at - end + 2 * 3600) / 600 * 300, 500))
        batch = Batch((at * 1000).tolist(), level.tolist(), [0] * len(at))
        take_in({channels_of(source)["level"]: batch}, int(at[-1] * 1000) + 1000)
        (one,) = self.client.get(f"/api/{self.path}seen/").json()
        self.assertEqual((one["before_mm"], one["after_mm"]), (200.0, 500.0))
        self.assertAlmostEqual(one["volume_l"], 270, delta=15)

    def test_a_delivery_whose_end_was_not_heard_is_no_pour(self) -> None:
        """The link was lost as it ended: what is read hours later may be after another draw."""
        source = keep_source(
            None, {"kind": "push", "name": "unit", "channels[0].name": "level", "channels[0].kind": "level",
                   "channels[0].tank": str(self.boat.pk)}, "metric", self.technician, 0,
        )  # fmt: skip
        end = int(time.time()) // 60 * 60
        at = np.arange(end - 8 * 3600, end, 60)
        level = np.where(at < end - 6 * 3600, 200.0, 500.0)
        silent = (at >= end - 6 * 3600 - 600) & (at < end - 2 * 3600)
        batch = Batch((at[~silent] * 1000).tolist(), level[~silent].tolist(), [0] * int((~silent).sum()))
        take_in({channels_of(source)["level"]: batch}, int(at[-1] * 1000) + 1000)
        self.assertEqual(self.client.get(f"/api/{self.path}seen/").json(), [])

    def test_the_station_and_a_visit_tell_how_far_it_has_come(self) -> None:
        self.keep(rows() | METER)
        table = next(
            one for one in self.client.get(f"/api/tanks/{self.boat.pk}/stations/").json()
            if one["key"] == "table"
        )  # fmt: skip
        self.assertEqual(table["state"], "in hand")
        self.assertRegex(table["words"], "^being poured: 6 pours, off by at most [0-9.]+ L")
        proposed = self.client.get(f"/api/tanks/{self.boat.pk}/visit/").json()["proposed"]
        body = {"tank": self.boat.pk, "facts": proposed | {"job": "install"}, "system": "metric"}
        visit = self.send("post", "visits/", body).json()["id"]
        step = self.send("post", f"visits/{visit}/steps/table/", {"values": {}, "system": "metric"}).json()
        shown = {line["label"]: line["text"] for line in step["lines"]}
        self.assertEqual(shown["Pours so far"], "6")
        self.assertTrue(shown["Off by at most"].startswith("±"))
        self.assertIn("go on at Table, Pour", step["judgements"][0]["text"])
        self.issue()
        step = self.send("post", f"visits/{visit}/steps/table/", {"values": {}, "system": "metric"}).json()
        self.assertNotIn("Pours so far", {line["label"] for line in step["lines"]})
        stations = self.client.get(f"/api/tanks/{self.boat.pk}/stations/").json()
        self.assertEqual(next(one["state"] for one in stations if one["key"] == "table"), "done")

    def test_an_older_run_is_had_back_from_the_history(self) -> None:
        self.keep(rows() | METER)
        self.keep(METER, 1)
        kept = self.client.get(f"/api/tanks/{self.boat.pk}/history/").json()["results"]
        first = [one for one in kept if one["kind"] == "pours"][-1]
        self.client.force_login(self.lead)
        back = self.send(
            "post", f"tanks/{self.boat.pk}/history/", {"kind": "pours", "id": first["id"], "revision": 2}
        )
        self.assertLess(back.status_code, 300, back.content[:300])
        now = self.client.get(f"/api/{self.path}").json()
        self.assertEqual((now["revision"], now["entries"]["pours[5].reading"]), (3, "800 mm"))

    def test_a_colleagues_newer_run_is_not_written_over(self) -> None:
        self.keep(rows() | METER)
        stale = self.send("put", self.path, {"entries": rows(), "system": "metric", "revision": 0})
        self.assertIn("someone else", self.refused(stale, 409)[""])
        self.assertIn("draws[0].metered", self.client.get(f"/api/{self.path}").json()["entries"])

    def test_a_table_of_one_pour_is_none(self) -> None:
        self.refused(self.issue(revision=0))
        self.keep({"start.reading": "0 mm", "pours[0].amount": "50 L", "pours[0].reading": "100 mm"})
        self.assertIn("two pours", self.refused(self.issue())[""])
        self.assertFalse(PourRecord.objects.exists())

    def test_the_profile_that_the_survey_began_from_is_not_said_to_be_followed(self) -> None:
        profile = save_profile(self.boat, "660 L", "900 mm", "", "metric", self.technician)
        tank = Tank.objects.get(pk=self.boat.pk)
        tank.profile, tank.profile_revision = profile, 0
        tank.save()
        self.keep(rows() | METER)
        self.assertEqual(self.issue(tank_revision=tank.revision).status_code, 201)
        self.assertEqual(Tank.objects.get(pk=self.boat.pk).profile_revision, 0)

    def test_other_peoples_pours(self) -> None:
        for file in (
            "reading mm;poured L\n0;0\n100;50\n200;50,0\n",
            "Dip (mm),Total in tank\n0,0\n100,50\n200,100\n",
            "0\t0\n50\t100\n50\t200\n",
        ):
            answer = self.send("post", f"{self.path}file/", {"text": file})
            self.assertEqual(answer.status_code, 200, answer.content[:200])
            entries = answer.json()["entries"]
            self.assertEqual(entries["start.reading"], "0", file)
            self.assertEqual((entries["pours[1].amount"], entries["pours[1].reading"]), ("50", "200"), file)
        bad = self.send("post", f"{self.path}file/", {"text": "level,amount\n0,0\n100,some\n"})
        self.assertIn("line 3", self.refused(bad))
        self.assertIn("columns", self.refused(self.send("post", f"{self.path}file/", {"text": "a,b\n1,2\n"})))
        chosen = self.send(
            "post", f"{self.path}file/", {"text": "a,b\n1,2\n2,8\n", "columns": {"amount": 0, "reading": 1}}
        )
        self.assertEqual(chosen.json()["entries"]["pours[1].reading"], "8")
