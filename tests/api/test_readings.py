"""Readings that arrive: taken in once, read through chain and table of then, rolled up, shown, exported."""

from __future__ import annotations

import csv
import io
import time
from typing import Any

import numpy as np
from django.db import connection
from django.utils import timezone
from openpyxl import load_workbook

from rasante.gauges.services import keep_gauge
from rasante.readings import rollups
from rasante.readings.intake import KEPT_DAYS, Batch, channels_of, forget_old, take_in, through_of
from rasante.readings.models import Channel, Event, Newest, Reading, Rollup, Source
from rasante.readings.services import keep_source, renew_token
from rasante.readings.watching import newest_levels
from rasante.scaling.chains import keep_chain, kept_chain
from rasante.scaling.marking import keep_marks
from rasante.tanks.issued import issue_table
from rasante.tanks.models import Tank
from rasante.tanks.services import TableOrder, read_step
from tests.core.samples import EXAMPLE, example

from .base import SENSOR, ApiTest

NOW = 1_760_000_000_000
DAY = 86_400_000


class ReadingsTest(ApiTest):
    """A tank with a chain, and a unit that sends its level and what its card shows."""

    source: Source
    token: str

    @classmethod
    def setUpTestData(cls) -> None:
        super().setUpTestData()
        keep_chain(cls.tank, SENSOR, "metric", cls.technician, 0)
        cls.source = cls.make(
            "push", channels=[("level", "level"), ("counts", "counts"), ("temperature", "temperature")]
        )
        _, cls.token = renew_token(cls.source, cls.technician)

    @classmethod
    def make(cls, kind: str, channels: list[tuple[str, str]], **more: str) -> Source:
        entries = {"kind": kind, "name": f"{kind} source", **more}
        for number, (name, meaning) in enumerate(channels):
            entries |= {f"channels[{number}].name": name, f"channels[{number}].kind": meaning}
            entries[f"channels[{number}].tank"] = str(cls.tank.pk)
        return keep_source(None, entries, "metric", cls.technician, 0)

    def channel(self, name: str) -> Channel:
        return channels_of(self.source)[name]

    def push(self, rows: Any, token: str | None = None):
        self.client.logout()
        head = {"HTTP_AUTHORIZATION": f"Bearer {self.token if token is None else token}"}
        return self.client.post("/api/push/", data={"readings": rows}, content_type="application/json", **head)

    def fill(
        self, name: str, values: list[float], start: int = NOW, step: int = 10_000, now: int | None = None
    ) -> Any:
        at = [start + i * step for i in range(len(values))]
        batch = Batch(at, list(values), [0] * len(values))
        return take_in({self.channel(name): batch}, now or at[-1] + 1000)


class Pushed(ReadingsTest):
    def rows(self, count: int = 5) -> list[dict[str, Any]]:
        now = time.time()
        return [{"channel": "level", "at": now - 60 + i, "value": 1000.0 + i} for i in range(count)]

    def test_what_is_acknowledged_is_kept_once(self) -> None:
        rows = self.rows()
        answer = self.push(rows)
        self.assertEqual((answer.status_code, answer.json()), (200, {"new": 5, "again": 0, "refused": []}))
        again = self.push([*rows, {**rows[0], "at": rows[0]["at"] + 0.5}])
        self.assertEqual(again.json(), {"new": 1, "again": 5, "refused": []})
        self.assertEqual(Reading.objects.count(), 6)
        self.assertEqual(Newest.objects.get(channel=self.channel("level")).raw, 1004.0)
        kept = Reading.objects.order_by("at").first()
        assert kept is not None
        self.assertAlmostEqual(kept.value, 1.0)
        self.assertAlmostEqual(kept.volume, float(self.tank.file.tank.volume(1.0)), places=5)
        self.assertEqual((kept.chain, kept.table), (1, 0))

    def test_a_token_that_is_not_known_is_401(self) -> None:
        for token in ("", "wrong", self.token + "x"):
            answer = self.push(self.rows(), token)
            self.assertEqual(answer.status_code, 401)
            self.assertEqual(answer["WWW-Authenticate"], "Bearer")
        self.assertEqual(Reading.objects.count(), 0)

    def test_a_token_renewed_or_revoked_is_not_taken_any_more(self) -> None:
        self.client.force_login(self.technician)
        shown = self.send("post", f"sources/{self.source.pk}/token/").json()
        self.assertEqual(shown["source"]["token_end"], shown["token"][-4:])
        self.assertEqual(self.push(self.rows(), self.token).status_code, 401)
        self.assertEqual(self.push(self.rows(), shown["token"]).status_code, 200)
        self.client.force_login(self.lead)
        self.assertEqual(self.send("delete", f"sources/{self.source.pk}/token/").status_code, 200)
        self.assertEqual(self.push(self.rows(), shown["token"]).status_code, 401)
        # The token itself is kept nowhere, in the history neither.
        self.assertNotIn(shown["token"], str(list(Source.history.values())) + str(list(Source.objects.values())))

    def test_one_that_is_switched_off_is_not_listened_to(self) -> None:
        self.client.force_login(self.technician)
        body = {"on": False, "revision": self.source.revision}
        self.assertEqual(self.send("post", f"sources/{self.source.pk}/switch/", body).status_code, 200)
        self.assertEqual(self.push(self.rows()).status_code, 401)

    def test_what_cannot_be_read_is_refused_whole_and_at_its_place(self) -> None:
        good = self.rows(2)
        for bad, word in (
            ({"channel": "level", "value": "12"}, "finite number"),
            ({"channel": "level", "value": True}, "finite number"),
            ({"channel": "level", "value": 1, "at": "yesterday"}, "ISO 8601"),
            ({"channel": "level", "value": 1, "at": "2025-01-01T10:00:00"}, "zone"),
            ({"channel": 7, "value": 1}, "name of its channel"),
            ({"value": 1}, "name of its channel"),
            (5, "object"),
        ):
            problems = self.refused(self.push([*good, bad]))
            self.assertEqual(list(problems), ["readings[2]"])
            self.assertIn(word, problems["readings[2]"])
        for body in (b"", b"[", b"{}", b'{"readings": []}', b'{"readings": 5}', b'{"readings": [1e999]}'):
            head = {"HTTP_AUTHORIZATION": f"Bearer {self.token}"}
            answer = self.client.post("/api/push/", data=body, content_type="application/json", **head)
            self.assertEqual(answer.status_code, 400, body)
        self.assertEqual(Reading.objects.count(), 0)

    def test_fifty_thousand_in_one_body_are_refused_with_a_word(self) -> None:
        problems = self.refused(self.push([{"channel": "level", "value": 1.0}] * 50_000))
        self.assertIn("50000 readings in one body are too many: send at most 20000", problems["readings"])

    def test_a_clock_ten_years_off_is_told(self) -> None:
        row = {"channel": "level", "value": 1000.0}
        ahead = self.push([{**row, "at": time.time() + 10 * 365.25 * 86400}])
        self.assertIn("10 years ahead of this clock", self.refused(ahead)["readings"])
        behind = self.push([{**row, "at": time.time() - 10 * 365.25 * 86400}])
        self.assertIn("10 years behind this clock", self.refused(behind)["readings"])
        # Beside others that are right it is told too, and those are kept.
        mixed = self.push([{**row, "at": time.time() + 3e8}, row]).json()
        self.assertEqual((mixed["new"], len(mixed["refused"])), (1, 1))
        self.assertTrue(Event.objects.filter(kind="clock", source=self.source, closed_at=None).exists())
        self.push([row])
        self.assertFalse(Event.objects.filter(kind="clock", closed_at=None).exists())

    def test_a_channel_that_it_does_not_have_is_told(self) -> None:
        told = self.push([*self.rows(2), {"channel": "pressure", "value": 1.0}]).json()
        self.assertEqual(told["new"], 2)
        self.assertIn("pressure: 1 readings of a channel that push source does not have", told["refused"][0])

    def test_a_fault_is_no_reading(self) -> None:
        self.push([{"channel": "level", "value": None}])
        kept = Reading.objects.get()
        self.assertEqual((kept.raw, kept.value, kept.volume, kept.quality), (None, None, None, 2))
        self.client.force_login(self.technician)
        now = self.client.get(f"/api/tanks/{self.tank.pk}/now/").json()["now"]
        self.assertEqual((now["condition"], now["live"]), ("fault", False))


class ThroughTheChain(ReadingsTest):
    def test_counts_are_taken_back_to_the_level(self) -> None:
        # 6553 and 32767 counts at 4 and 20 mA of 0 to 2400 mm: common practice for a 15-bit card.
        middle = (6553 + 32767) / 2
        self.fill("counts", [6553.0, middle, 32767.0, 1310.0])
        kept = list(Reading.objects.order_by("at"))
        np.testing.assert_allclose([one.value for one in kept[:3]], [0.0, 1.2, 2.4], atol=1e-9)
        self.assertEqual([one.quality for one in kept], [1, 0, 1, 2])
        # 1310 counts are 0.8 mA: no sensor sends that, and nothing is made of it.
        self.assertIsNone(kept[3].value)

    def test_another_gauge_is_another_chain_though_nobody_kept_it_anew(self) -> None:
        before = through_of(self.tank).chain
        gauge = {"choice.model": "generic-radar-10-m-8-beam", "choice.output": "4-20mA two-wire"}
        keep_gauge(self.tank, gauge, "metric", self.technician, 0)
        now, kept = through_of(self.tank).chain, kept_chain(self.tank, "metric")
        assert before is not None and now is not None and kept is not None
        self.assertEqual(now.settings(), kept.ideal.settings())
        self.assertNotEqual(now.settings(), before.settings())

    def test_old_readings_stay_as_they_were_read(self) -> None:
        begin = int(time.time() * 1000) - 3_600_000
        self.fill("counts", [19660.0] * 30, start=begin)
        keep_chain(self.tank, {**SENSOR, "sensor.high": "1200 mm"}, "metric", self.technician, 1)
        self.fill("counts", [19660.0] * 30, start=begin + 600_000)
        old, new = Reading.objects.order_by("at")[0], Reading.objects.order_by("-at")[0]
        self.assertEqual((old.chain, new.chain), (1, 2))
        self.assertAlmostEqual(old.value, 2 * new.value, places=9)
        watch = self.client.get(f"/api/tanks/{self.tank.pk}/watch/?from={_iso(begin)}").json()
        shown = next(one for one in watch["series"] if one["channel"]["name"] == "counts")
        self.assertAlmostEqual(shown["value"][0], 2 * shown["value"][-1], places=1)
        # As it would be read now, every one of the older is what the newer are.
        self.assertEqual(len(watch["as_now"]["at"]), 30)
        self.assertAlmostEqual(watch["as_now"]["level_mm"][0], shown["value"][-1], places=1)

    def test_a_level_sent_as_such_needs_no_chain(self) -> None:
        tank = Tank.objects.create(site=self.site, document={**self.tank.document, "name": "Other"})
        entries = {"kind": "push", "name": "bare", "channels[0].name": "level", "channels[0].kind": "level"}
        source = keep_source(None, entries | {"channels[0].tank": str(tank.pk)}, "metric", self.technician, 0)
        take_in({channels_of(source)["level"]: Batch([NOW], [1500.0], [0])}, NOW)
        kept = Reading.objects.get()
        self.assertAlmostEqual(kept.volume, float(tank.file.tank.volume(1.5)), places=9)


class RolledUp(ReadingsTest):
    def test_every_span_is_what_its_readings_come_to(self) -> None:
        rng = np.random.default_rng(1)
        at = np.sort(rng.choice(np.arange(0, 3 * DAY, 1000), 3000, replace=False)) + NOW // DAY * DAY
        values = rng.uniform(200, 2200, len(at))
        order = rng.permutation(len(at))
        # Out of order, in pieces, some of it twice.
        for part in np.array_split(order, 17):
            piece = np.concatenate([part, part[:3]])
            batch = Batch(at[piece].tolist(), values[piece].tolist(), [0] * len(piece))
            take_in({self.channel("level"): batch}, int(at[-1]) + 1)
        self.assertEqual(Reading.objects.count(), 3000)
        for size in rollups.SIZES:
            starts = at // 1000 // size * size
            for start in rng.choice(np.unique(starts), 12):
                row = Rollup.objects.get(size=size, start=int(start))
                within = values[starts == start] / 1000
                self.assertEqual(row.count, len(within))
                np.testing.assert_allclose(
                    [row.first, row.last, row.least, row.most, row.mean],
                    [within[0], within[-1], within.min(), within.max(), within.mean()],
                )
                volumes = self.tank.file.tank.volume(within)
                self.assertAlmostEqual(row.volume_mean, float(volumes.mean()), places=5)
        total = {
            size: sum(Rollup.objects.filter(size=size).values_list("count", flat=True)) for size in rollups.SIZES
        }
        self.assertEqual(set(total.values()), {3000})

    def test_faults_count_and_bring_no_value(self) -> None:
        batch = Batch([NOW, NOW + 1000, NOW + 2000], [1000.0, None, 1200.0], [0, 2, 0])
        take_in({self.channel("level"): batch}, NOW + 5000)
        row = Rollup.objects.get(size=86400)
        self.assertEqual((row.count, row.worst, row.first, row.last), (3, 2, 1.0, 1.2))
        self.assertAlmostEqual(row.mean, 1.1)

    def test_raw_readings_go_after_their_time_and_their_roll_ups_stay(self) -> None:
        self.fill("level", [1000.0] * 5, start=NOW)
        later = NOW + (KEPT_DAYS + 1) * DAY
        self.fill("level", [1100.0] * 5, start=later, now=later + 60_000)
        self.assertEqual(forget_old(later), 5)
        self.assertEqual(Reading.objects.count(), 5)
        self.assertEqual(Rollup.objects.filter(size=86400).count(), 2)
        self.assertEqual(forget_old(later), 0)


class Told(ReadingsTest):
    def marks(self) -> None:
        keep_marks(self.tank, {"marks.high": "2000 mm", "marks.low": "400 mm"}, "metric", self.technician, 0)

    def test_a_mark_is_told_once_and_closes_by_itself(self) -> None:
        self.marks()
        # Past it for ten seconds only: no ripple rings.
        self.fill("level", [1990.0, 2001.0, 1995.0])
        self.assertFalse(Event.objects.exists())
        self.fill("level", [2003.0] * 5, start=NOW + 60_000)
        event = Event.objects.get()
        self.assertEqual((event.kind, event.key, event.closed_at), ("mark", "high", None))
        self.assertEqual(event.opened_at.timestamp(), (NOW + 60_000) / 1000)
        # A hair below it is not over yet: 0.5 % of the height, 12 mm.
        self.fill("level", [1992.0] * 3, start=NOW + 120_000)
        self.assertIsNone(Event.objects.get().closed_at)
        self.fill("level", [1985.0], start=NOW + 180_000)
        self.assertEqual(Event.objects.get().closed_at.timestamp(), (NOW + 180_000) / 1000)

    def test_late_readings_ring_nothing(self) -> None:
        self.marks()
        self.fill("level", [1500.0] * 3, start=NOW + 600_000)
        self.fill("level", [2100.0] * 10, start=NOW)
        self.assertFalse(Event.objects.exists())

    def test_the_board_calls_and_a_person_acknowledges(self) -> None:
        self.marks()
        self.fill("level", [2100.0] * 5)
        board = self.client.get("/api/board/").json()
        call = next(one for one in board["attention"] if one["station"] == "watch")
        self.assertIn("above high 2000 mm", call["words"])
        (event,) = self.client.get("/api/events/").json()["events"]
        self.refused(self.send("post", f"events/{event['id']}/acknowledge/", {"word": " "}))
        done = self.send("post", f"events/{event['id']}/acknowledge/", {"word": "tanker told to stop"}).json()
        self.assertEqual((done["word"], done["acknowledged_by"]), ("tanker told to stop", "Tess Till"))
        self.refused(self.send("post", f"events/{event['id']}/acknowledge/", {"word": "me too"}), 409)

    def test_fuller_than_it_can_be(self) -> None:
        self.fill("level", [2500.0])
        self.assertEqual(Event.objects.get(kind="full").value, 2.5)
        self.fill("level", [2300.0], start=NOW + 60_000)
        self.assertFalse(Event.objects.filter(closed_at=None).exists())


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
        watch = self.client.get(f"/api/tanks/{self.tank.pk}/watch/?from={_iso(begin)}").json()
        (delivery,) = watch["moves"]["deliveries"]
        self.assertAlmostEqual(delivery["volume_l"], 4000, delta=max(delivery["u95_l"], 60))
        shown = next(one for one in watch["series"] if one["channel"]["name"] == "level")
        self.assertLessEqual(len(shown["at"]), 1600)
        self.assertGreater(len(shown["at"]), 100)
        self.assertEqual(len(shown["at"]), len(shown["volume_l"]))

    def test_over_a_span_too_long_it_says_that_it_did_not_look(self) -> None:
        begin = self.week() - 200 * DAY
        moves = self.client.get(f"/api/tanks/{self.tank.pk}/watch/?from={_iso(begin)}").json()["moves"]
        self.assertEqual(moves["deliveries"], [])
        self.assertIn("over at most 120 days", moves["words"])
        now = int(time.time() * 1000)
        path = f"/api/tanks/{self.tank.pk}/watch/?from={_iso(now - DAY)}"
        self.assertIn("No delivery or draw of 2 %", self.client.get(path).json()["moves"]["words"])
        self.assertIn("Too few", self.client.get(f"{path}&to={_iso(now - DAY + 60_000)}").json()["moves"]["words"])

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
        span = f"?from={_iso(begin - 1000)}"
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
        watch = self.client.get(f"/api/tanks/{self.tank.pk}/watch/?from={_iso(begin * 1000)}").json()
        shown = next(one for one in watch["series"] if one["channel"]["name"] == "level")
        self.assertEqual(shown["size_s"] % 3600, 0)
        self.assertLessEqual(len(shown["at"]), 1800)
        self.assertEqual((shown["least"][5], shown["most"][5], shown["volume_l"][5]), (900.0, 1100.0, 5000.0))


def _iso(ms: int) -> str:
    from datetime import UTC, datetime

    return datetime.fromtimestamp(ms / 1000, UTC).isoformat().replace("+00:00", "Z")
