"""The process that listens: what time alone tells of, one at a time, and what becomes of what it hears."""

from __future__ import annotations

import asyncio
import os
import tempfile
import threading
from pathlib import Path
from unittest.mock import patch

from django.db.utils import OperationalError
from django.test import SimpleTestCase

from rasante.readings import listen
from rasante.readings.intake import take_in
from rasante.readings.models import Event, Reading, Source
from rasante.supervise import Busy, hold_lock
from rasante.tanks.models import Tank
from tests.core.samples import EXAMPLE, example

from .test_readings import NOW, ReadingsTest


class Late(ReadingsTest):
    """What time alone tells of: late, lost, frozen, two gauges apart."""

    def setUp(self) -> None:
        super().setUp()
        Source.objects.filter(pk=self.source.pk).update(period_s=10)

    def told(self) -> list[str]:
        return sorted(Event.objects.filter(closed_at=None).values_list("kind", flat=True))

    def check(self, seconds: float, since: float = 0.0) -> list[str]:
        listen.check(0, since, NOW / 1000 + seconds)
        return self.told()

    def test_late_then_lost_then_there_again(self) -> None:
        self.fill("level", [1000.0], start=NOW)
        self.assertEqual(self.check(20), [])
        self.assertEqual(self.check(31), ["stale"])
        self.assertEqual(self.check(150), ["stale"])
        self.assertEqual(self.check(201), ["lost"])
        self.assertTrue(Event.objects.get(kind="lost").pressing)
        self.assertEqual(Event.objects.get(kind="lost").source, self.source)
        self.fill("level", [1000.0], start=NOW + 205_000)
        self.assertEqual(self.check(206), [])

    def test_what_did_not_come_before_anybody_listened_is_no_fault(self) -> None:
        self.fill("level", [1000.0], start=NOW)
        self.assertEqual(self.check(5000, since=NOW / 1000 + 4990), [])
        self.assertEqual(self.check(5300, since=NOW / 1000 + 4990), ["lost"])

    def test_frozen_after_it_moved(self) -> None:
        self.fill("level", [1000.0 + i + i % 2 for i in range(60)] + [1060.0] * 40, start=NOW)
        self.assertEqual(self.check(1000), ["frozen"])
        self.fill("level", [1062.0], start=NOW + 1_000_000)
        self.assertEqual(self.check(1002), [])

    def test_two_gauges_apart(self) -> None:
        self.fill("level", [1000.0 + 0.1 * (i % 3) for i in range(20)], start=NOW)
        middle = 6553 + (32767 - 6553) * 1000 / 2400
        self.fill("counts", [middle + i % 2 for i in range(20)], start=NOW)
        self.assertEqual(self.check(192), [])
        self.fill("counts", [middle + 1000 + i % 2 for i in range(20)], start=NOW + 200_000)
        self.fill("level", [1000.0 + 0.1 * (i % 3) for i in range(20)], start=NOW + 200_000)
        self.assertEqual(self.check(392), ["apart"])
        event = Event.objects.get(kind="apart")
        self.assertAlmostEqual(event.value, 1000 / (32767 - 6553) * 2.4, delta=0.002)


class Lock(SimpleTestCase):
    def test_one_process_listens(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            held = hold_lock(Path(folder))
            with self.assertRaisesRegex(Busy, "listens to this installation already"):
                hold_lock(Path(folder))
            held.close()
            hold_lock(Path(folder)).close()


class Waiting(SimpleTestCase):
    def test_a_listener_takes_over_when_the_one_before_lets_go(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            held = hold_lock(Path(folder))
            threading.Timer(0.5, held.close).start()
            # Whoever started it holds the other end of the rope.
            end, rope = os.pipe()
            with os.fdopen(end) as standard, patch.object(listen.sys, "stdin", standard):
                taken = listen.wait_for_lock(Path(folder), 60.0)
                assert taken is not None
                with self.assertRaises(Busy):
                    listen.wait_for_lock(Path(folder), 0.3)
                os.close(rope)
                self.assertIsNone(listen.wait_for_lock(Path(folder), 60.0))
            taken.close()


class Heard(ReadingsTest):
    """What is heard is written, whatever happens meanwhile."""

    def test_a_database_that_is_busy_for_long_loses_nothing(self) -> None:
        tries = []

        def busy(batches):
            tries.append(len(batches))
            if len(tries) < 9:
                raise OperationalError("database is locked")
            return take_in(batches, NOW)

        heard = listen.group([(self.channel("level"), NOW, 1000.0, 0)])
        with patch.object(listen, "take_in", busy), patch.object(listen.time, "sleep") as slept:
            listen.keep(heard)
        self.assertEqual((len(tries), Reading.objects.count()), (9, 1))
        # It waits longer and longer, but never so long that nobody would know.
        self.assertLessEqual(max(call.args[0] for call in slept.call_args_list), 5.0)

    def test_a_channel_that_was_taken_away_meanwhile_takes_no_other_with_it(self) -> None:
        gone, stays = self.channel("temperature"), self.channel("level")
        heard = listen.group([(gone, NOW, 20.0, 0), (stays, NOW, 1000.0, 0)])
        self.channel("temperature").delete()
        with patch.object(listen, "take_in", lambda batches: take_in(batches, NOW)):
            listen.keep(heard)
        self.assertEqual(list(Reading.objects.values_list("channel__name", flat=True)), ["level"])

    def test_a_tank_that_was_surveyed_anew_is_read_by_its_new_survey(self) -> None:
        known = self.channel("level")
        self.assertIsNotNone(known.tank)
        tank = Tank.objects.get(pk=self.tank.pk)
        tank.document = example(shape={**EXAMPLE["shape"], "shell_length_mm": 9000})
        tank.save()
        with patch.object(listen, "take_in", lambda batches: take_in(batches, NOW)):
            listen.keep(listen.group([(known, NOW, 1200.0, 0)]))
        self.assertAlmostEqual(Reading.objects.get().volume, tank.file.tank.volume(1.2), places=6)


class Fallen(SimpleTestCase):
    """A part of the listener that falls over is not left lying: the process ends, and is begun anew."""

    def run_with(self, **broken) -> None:
        listener = listen.Listener()

        async def nothing() -> None:
            await listener.stopping.wait()

        jobs = {"_look": nothing, "_keep": nothing, "_check": nothing} | broken
        with patch.multiple(listener, **jobs):
            asyncio.run(asyncio.wait_for(listener.run(), 60))

    def test_each_part(self) -> None:
        async def falls() -> None:
            raise RuntimeError("fell over")

        for part in ("_look", "_keep", "_check"):
            with self.assertRaisesRegex(RuntimeError, "fell over"):
                self.run_with(**{part: falls})

    def test_all_that_waits_is_written_at_the_end(self) -> None:
        listener = listen.Listener()
        written: list[int] = []

        async def write(work, batches) -> None:
            written.append(sum(len(batch.at) for batch in batches.values()))

        async def wait_and_end() -> None:
            for at in range(12_000):
                listener.put("level", at, 1.0, 0)
            listener.stopping.set()

        async def nothing() -> None:
            await listener.stopping.wait()

        with patch.multiple(listener, _look=wait_and_end, _keep=nothing, _check=nothing, write=write):
            asyncio.run(asyncio.wait_for(listener.run(), 60))
        self.assertEqual(sum(written), 12_000)
