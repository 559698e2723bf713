"""What Watch shows of readings: series, moves, files, the newest with its age, values that are taken, dips."""

from __future__ import annotations

import csv
import io
import time

import numpy as np
from django.db import connection
from django.utils import timezone
from openpyxl import load_workbook

from rasante.readings.intake import Batch, take_in
from rasante.readings.models import Reading, Source
from rasante.readings.watching import newest_levels
from rasante.tanks.issued import issue_table
from rasante.tanks.models import Tank
from rasante.tanks.services import TableOrder, read_step
from tests.core.samples import EXAMPLE, example

from .listening import DAY, ReadingsTest, iso


class Shown(ReadingsTest):
    def week(self) -> int:
        """Ten days of five minutes each, with a delivery of 4 m³ on the fifth; returns when it began [ms]."""
        begin = int(time.time() * 1000) - 10 * DAY
        at = np.arange(begin, begin + 10 * DAY, 300_000)
        tank = self.tank.file.tank
        volume = np.interp(
            at, [begin, begin + 5 * DAY, begin + 5 * DAY + 1_800_000, at[-1]], [12.0, 10.0, 14.0, 11.0]
        )
        level = np.array([tank.level(float(one)) for one in volume[::12]])
        level = np.interp(at, at[::12], level)
        level += np.random.default_rng(3).normal(0, 0.0005, len(at))
        batch = Batch(at.tolist(), np.round(level * 1000, 1).tolist(), [0] * len(at))
        take_in({self.channel("level"): batch}, int(at[-1]) + 1000)
        return begin

    def test_watch_finds_what_came(self) -> None:
        begin = self.week()
        watch = self.client.get(f"/api/tanks/{self.tank.pk}/watch/?from={iso(begin)}").json()
        (delivery,) = watch["moves"]["deliveries"]
        self.assertAlmostEqual(delivery["volume_l"], 4000, delta=max(delivery["u95_l"], 60))
        shown = next(one for one in watch["series"] if one["channel"]["name"] == "level")
        self.assertLessEqual(len(shown["at"]), 1600)
        self.assertGreater(len(shown["at"]), 100)
        self.assertEqual(len(shown["at"]), len(shown["volume_l"]))

    def test_over_a_span_too_long_it_says_that_it_did_not_look(self) -> None:
        begin = self.week() - 200 * DAY
        moves = self.client.get(f"/api/tanks/{self.tank.pk}/watch/?from={iso(begin)}").json()["moves"]
        self.assertEqual(moves["deliveries"], [])
        self.assertIn("over at most 120 days", moves["words"])
        now = int(time.time() * 1000)
        path = f"/api/tanks/{self.tank.pk}/watch/?from={iso(now - DAY)}"
        self.assertIn("No delivery or draw of 2 %", self.client.get(path).json()["moves"]["words"])
        self.assertIn("Too few", self.client.get(f"{path}&to={iso(now - DAY + 60_000)}").json()["moves"]["words"])

    def test_a_span_that_makes_no_sense_is_refused(self) -> None:
        path = f"/api/tanks/{self.tank.pk}/watch/"
        for query in (
            "?from=yesterday",
            "?from=2025-01-01T00:00:00",
            "?from=2030-01-01T00:00:00Z&to=2029-01-01T00:00:00Z",
        ):
            self.refused(self.client.get(path + query))
        self.assertEqual(self.client.get(path).status_code, 200)

    def test_files_hold_what_was_read(self) -> None:
        begin = int(time.time() * 1000) - 120_000
        self.fill("level", [1000.0, 1001.5, 1003.0], start=begin)
        path = f"/api/tanks/{self.tank.pk}/readings"
        span = f"?from={iso(begin - 1000)}"
        rows = list(csv.DictReader(io.StringIO(self.client.get(f"{path}.csv/{span}").content.decode())))
        self.assertEqual([row["raw"] for row in rows], ["1000.0", "1001.5", "1003.0"])
        self.assertEqual([float(row["level_mm"]) for row in rows], [1000.0, 1001.5, 1003.0])
        self.assertEqual(rows[0]["chain"], "1")
        document = self.client.get(f"{path}.json/{span}").json()
        self.assertEqual((document["format"], len(document["rows"])), ("rasante.readings/1", 3))
        book = load_workbook(io.BytesIO(self.client.get(f"{path}.xlsx/{span}").content))
        self.assertEqual([row[2] for row in book.active.iter_rows(min_row=2, values_only=True)], [1000, 1001.5, 1003])
        hours = list(csv.DictReader(io.StringIO(self.client.get(f"{path}.csv/{span}&size=hour").content.decode())))
        self.assertEqual(sum(int(row["count"]) for row in hours), 3)
        self.refused(self.client.get(f"{path}.csv/{span}&size=century"))

    def test_now_is_told_with_its_age(self) -> None:
        now = int(time.time() * 1000)
        rng = np.random.default_rng(2)
        self.fill("level", (1200 + rng.normal(0, 0.3, 100)).round(1).tolist(), start=now - 1_000_000)
        told = self.client.get(f"/api/tanks/{self.tank.pk}/now/").json()["now"]
        self.assertTrue(told["live"])
        self.assertEqual(told["condition"], "still")
        self.assertAlmostEqual(told["level_mm"], 1200, delta=1.5)
        self.assertGreater(told["volume_u95_l"], 0)
        self.assertFalse(told["rate"]["moves"] and told["reached"])

    def test_what_is_not_live_has_no_rate_now(self) -> None:
        now = int(time.time() * 1000)
        self.fill("level", [1000.0 + 2 * i for i in range(100)], start=now - 100_000_000)
        told = self.client.get(f"/api/tanks/{self.tank.pk}/now/").json()["now"]
        self.assertEqual((told["condition"], told["rate"], told["reached"]), ("lost", None, []))

    def test_full_and_empty_are_foretold_where_no_mark_stands(self) -> None:
        now = int(time.time() * 1000)
        self.fill("level", [1000.0 + i for i in range(100)], start=now - 1_000_000)
        told = self.client.get(f"/api/tanks/{self.tank.pk}/now/").json()["now"]
        (full,) = told["reached"]
        self.assertEqual(full["key"], "safe")
        # 1 mm in ten seconds: litres to go by litres a minute, by hand from what the answer itself says.
        to_go = self.tank.file.tank.capacity * 1000 - told["volume_l"]
        self.assertAlmostEqual(full["in_s"], to_go / told["rate"]["l_min"] * 60, delta=0.02 * full["in_s"])

    def test_per_cent_is_of_the_table_that_it_was_read_through(self) -> None:
        now = int(time.time() * 1000)
        issue_table(self.tank, TableOrder(read_step("10", "mm")), "first", self.technician, self.tank.revision)
        capacity = self.tank.file.tank.capacity
        tank = Tank.objects.get(pk=self.tank.pk)
        tank.document = example(shape={**EXAMPLE["shape"], "shell_length_mm": 9000})
        tank.save()
        self.fill("level", [1000.0] * 20, start=now - 195_000)
        told = self.client.get(f"/api/tanks/{self.tank.pk}/now/").json()["now"]
        self.assertAlmostEqual(told["volume_pct"], told["volume_l"] / capacity / 10, places=2)
        shown = newest_levels([tank], now / 1000)[tank.pk]
        self.assertAlmostEqual(shown["volume_pct"], told["volume_pct"], places=2)

    def test_a_value_is_taken_once_it_stands_still(self) -> None:
        now = int(time.time() * 1000)
        self.fill("counts", [20000.0 + i * 30 for i in range(120)], start=now - 1_200_000)
        path = f"/api/tanks/{self.tank.pk}/takes/"
        (take,) = self.client.get(path).json()["takes"]
        self.assertFalse(take["still"])
        self.assertIn("it moves", take["words"])
        Reading.objects.all().delete()
        self.fill("counts", [20000.0] * 120, start=now - 1_195_000)
        (take,) = self.client.get(path).json()["takes"]
        self.assertEqual((take["station"], take["text"], take["still"]), ("counts", "20000", True))

    def test_a_dip_is_kept_beside(self) -> None:
        path = f"tanks/{self.tank.pk}/typed/"
        self.assertEqual(self.send("post", path, {"what": "level", "text": "120 cm"}).status_code, 201)
        self.assertAlmostEqual(Reading.objects.get().value, 1.2)
        self.assertEqual(self.send("post", path, {"what": "shown", "text": "1190"}).status_code, 201)
        for body, where in (
            ({"what": "level", "text": "9 m"}, "text"),
            ({"what": "level", "text": ""}, "text"),
            ({"what": "level", "text": "1 m", "at": "noon"}, "at"),
            ({"what": "level", "text": "1 m", "at": "2001-01-01T00:00:00Z"}, "at"),
        ):
            self.assertIn(where, self.refused(self.send("post", path, body)))
        self.assertEqual(Reading.objects.count(), 2)

    def test_a_dip_needs_no_answer_from_a_sensor(self) -> None:
        """A tank that is only dipped is told of as that, not as a sensor that fell silent."""
        self.send("post", f"tanks/{self.tank.pk}/typed/", {"what": "level", "text": "120 cm"})
        told = self.client.get(f"/api/tanks/{self.tank.pk}/now/").json()["now"]
        self.assertEqual((told["condition"], told["live"]), ("typed", False))

    def test_the_name_by_hand_is_nobody_elses(self) -> None:
        entries = {"kind": "push", "name": "by hand", "channels[0].name": "a", "channels[0].kind": "battery"}
        for body in (entries, entries | {"kind": "hand", "name": "mine"}):
            self.refused(self.send("post", "sources/", {"entries": body, "revision": 0}))
        self.send("post", f"tanks/{self.tank.pk}/typed/", {"what": "level", "text": "120 cm"})
        self.assertEqual(Source.objects.get(kind="hand").channels.count(), 1)

    def test_a_year_of_minutes_is_drawn_from_its_roll_ups(self) -> None:
        level = self.channel("level").pk
        with connection.cursor() as cursor:
            begin = int(timezone.now().timestamp()) // 3600 * 3600 - 366 * 86400
            cursor.executemany(
                "INSERT INTO readings_rollup (channel_id, size, start, count, worst, first, last, least, most, mean, "
                "volume_first, volume_last, volume_least, volume_most, volume_mean) "
                "VALUES (%s, 3600, %s, 60, 0, 1, 1, 0.9, 1.1, 1, 5, 5, 4.9, 5.1, 5)",
                [(level, begin + hour * 3600) for hour in range(366 * 24)],
            )
        watch = self.client.get(f"/api/tanks/{self.tank.pk}/watch/?from={iso(begin * 1000)}").json()
        shown = next(one for one in watch["series"] if one["channel"]["name"] == "level")
        self.assertEqual(shown["size_s"] % 3600, 0)
        self.assertLessEqual(len(shown["at"]), 1800)
        self.assertEqual((shown["least"][5], shown["most"][5], shown["volume_l"][5]), (900.0, 1100.0, 5000.0))
