"""Readings that arrive: taken in once, read through chain and table of then, rolled up, shown, exported."""

from __future__ import annotations

import contextlib
import time
from typing import Any

import numpy as np
from django.db import transaction

from rasante.gauges.services import keep_gauge
from rasante.readings import rollups
from rasante.readings.intake import KEPT_DAYS, Batch, channels_of, forget_old, take_in, through_of
from rasante.readings.models import Event, Newest, Reading, Rollup, Source
from rasante.readings.services import keep_source
from rasante.scaling.chains import keep_chain, kept_chain
from rasante.scaling.marking import keep_marks
from rasante.tanks.models import Tank

from .base import SENSOR
from .listening import DAY, NOW, ReadingsTest, iso


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
        self.assertIn("pressure: a channel that push source does not have; not kept, readings: 1", told["refused"][0])

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
        gauge = {
            "choice.model": "generic-radar-10-m-8-beam",
            "choice.output": "4-20mA two-wire",
            "choice.reason": "at hand",
        }
        keep_gauge(self.tank, gauge, "metric", self.technician, 0)
        now, kept = through_of(self.tank).chain, kept_chain(self.tank, "metric")
        assert before is not None and now is not None and kept is not None
        self.assertEqual(now.settings(), kept.ideal.settings())
        self.assertNotEqual(now.settings(), before.settings())

    def test_a_gauge_that_was_taken_back_leaves_nothing_behind(self) -> None:
        """Kept, read through, and given up in one transaction: the next one bears the same revision."""
        with contextlib.suppress(InterruptedError), transaction.atomic():
            self.keep_radar("generic-radar-10-m-8-beam")
            through_of(self.tank)
            raise InterruptedError
        self.keep_radar("generic-radar-5-m-20-beam-plastic-body")
        now, kept = through_of(self.tank).chain, kept_chain(self.tank, "metric")
        assert now is not None and kept is not None
        self.assertEqual(now.settings(), kept.ideal.settings())

    def keep_radar(self, model: str) -> None:
        entries = {"choice.model": model, "choice.output": "4-20mA two-wire", "choice.reason": "at hand"}
        keep_gauge(self.tank, entries, "metric", self.technician, 0)

    def test_old_readings_stay_as_they_were_read(self) -> None:
        begin = int(time.time() * 1000) - 3_600_000
        self.fill("counts", [19660.0] * 30, start=begin)
        keep_chain(self.tank, {**SENSOR, "sensor.high": "1200 mm"}, "metric", self.technician, 1)
        self.fill("counts", [19660.0] * 30, start=begin + 600_000)
        old, new = Reading.objects.order_by("at")[0], Reading.objects.order_by("-at")[0]
        self.assertEqual((old.chain, new.chain), (1, 2))
        self.assertAlmostEqual(old.value, 2 * new.value, places=9)
        watch = self.client.get(f"/api/tanks/{self.tank.pk}/watch/?from={iso(begin)}").json()
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
        Source.objects.update(period_s=10.0)
        self.fill("level", [1990.0, 2001.0, 1985.0])
        self.assertFalse(Event.objects.exists())
        self.fill("level", [2003.0] * 5, start=NOW + 60_000)
        event = Event.objects.get()
        self.assertEqual((event.kind, event.key, event.closed_at), ("mark", "high", None))
        self.assertEqual(event.opened_at.timestamp(), (NOW + 60_000) / 1000)
        # A hair below it is not over yet: 0.5 % of the height, 12 mm.
        self.fill("level", [1992.0] * 3, start=NOW + 120_000)
        self.assertIsNone(Event.objects.get().closed_at)
        self.fill("level", [1985.0] * 5, start=NOW + 180_000)
        self.assertEqual(Event.objects.get().closed_at.timestamp(), (NOW + 210_000) / 1000)

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
