"""A proof between any two stations of any chain: what should be read passes, a shifted one is off by its shift."""

from __future__ import annotations

import math
import random
from typing import Any
from unittest import TestCase

import numpy as np

from rasante.core.proving.places import DISPLAYS
from rasante.core.proving.proof import judge_proof, places
from rasante.core.proving.proof_entries import blank_proof, usual_points
from rasante.core.quantities.units import System
from rasante.core.scaling.chain import Chain
from rasante.core.scaling.chain_values import read_value
from tests.tags import slow

from .chain_cases import chain, random_chain

#: What a reading may lose between what a device shows and what is meant: its last place, of the span.
ROUNDED = 0.004


def taken(c: Chain, applied_as: str, read_as: str, system: System, readings: list[str] | None = None) -> Any:
    """A proof with the usual points, and what should be read (or ``readings``) typed as it rose."""
    tank = c.screen.volumes.whole.tank
    typed = {"applied_as": applied_as, "read_as": read_as, "control_in_manual": True, "control_restored": True}
    points = [{"applied": text} for text in usual_points(c, applied_as, system)]
    entries: dict[str, Any] = {**blank_proof(c, system), **typed, "tolerance": "1 %", "points": points}
    due = [point.expected_read for point in judge_proof(entries, c, tank, system).points]
    for point, text in zip(points, readings or due, strict=True):
        point["found_up"] = text
    return judge_proof(entries, c, tank, system)


def pairs(c: Chain) -> list[tuple[str, str]]:
    applied, read = places(c)
    at = c.stations.index
    return [(a, r) for a in applied for r in read if r in DISPLAYS or at(r) > at(a)]


class AnyChain(TestCase):
    def test_the_usual_points_are_read_back_and_differ(self) -> None:
        for seed in range(24):
            c = random_chain(random.Random(seed))
            for system in ("metric", "us"):
                for place in places(c)[0]:
                    values = [read_value(c, place, text, system) for text in usual_points(c, place, system)]
                    self.assertEqual(len(set(values)), 5, (seed, place, values))
                    steps = np.diff(values)
                    self.assertTrue((steps > 0).all() or (steps < 0).all(), (seed, place, values))

    @slow
    def test_what_should_be_read_passes_wherever_it_is_applied_and_read(self) -> None:
        seen = set()
        for seed in range(18):
            c = random_chain(random.Random(seed))
            system: System = "us" if seed % 2 else "metric"
            for applied_as, read_as in pairs(c):
                result = taken(c, applied_as, read_as, system)
                said = (seed, applied_as, read_as, [p.what for p in result.problems])
                if result.problems:
                    # A screen that clips, or a volume whose level is not one: told at the point, never judged.
                    self.assertNotEqual(result.verdict, "pass", said)
                    continue
                worst = result.runs["found"].worst.value_ratio
                self.assertLess(abs(worst), ROUNDED + 0.01 * (read_as in ("shown", "number", "words", "read")), said)
                seen.add((applied_as, read_as))
        self.assertGreater(len(seen), 40)


class ByHand(TestCase):
    """Common practice: a 0–20 mA, 15-bit card stands at 6553 at 4 mA, at 32767 at 20 mA."""

    def test_the_points_of_a_fifteen_bit_card(self) -> None:
        c = chain(sensor__quantity="level", sensor__high="2000 mm", counts__bits="15")
        self.assertEqual(usual_points(c, "counts", "metric"), ["6553", "13107", "19660", "26214", "32767"])
        self.assertEqual(usual_points(c, "arriving", "metric"), ["4 mA", "8 mA", "12 mA", "16 mA", "20 mA"])
        self.assertEqual(usual_points(c, "sensed", "metric"), ["0 mm", "500 mm", "1000 mm", "1500 mm", "2000 mm"])

    def test_a_card_that_stands_low_is_off_by_its_share_of_the_span(self) -> None:
        c = chain(sensor__quantity="level", sensor__high="2000 mm", counts__bits="15", scaled__unit="mm")
        # 262.14 counts are a hundredth of the span: 20 mm of 2 m.
        low = [f"{count - 262}" for count in (6553, 13107, 19660, 26214, 32767)]
        run = taken(c, "arriving", "counts", "metric", low).runs["found"]
        self.assertTrue(math.isclose(run.worst.value_m, -0.020, abs_tol=1.2e-4), run)
        self.assertEqual(taken(c, "arriving", "counts", "metric", low).runs["found"].verdict, "pass")
        lower = [f"{count - 270}" for count in (6553, 13107, 19660, 26214, 32767)]
        self.assertEqual(taken(c, "arriving", "counts", "metric", lower).runs["found"].verdict, "fail")

    def test_per_cent_of_a_range_that_begins_above_the_bottom(self) -> None:
        # 0.5 m to 2 m: half a metre above its beginning is a third of the way.
        c = chain(sensor__quantity="level", sensor__low="500 mm", sensor__high="2000 mm")
        points = taken(c, "level", "span_pct", "metric").points
        for point in points:
            self.assertAlmostEqual(
                float(point.expected_read.split()[0]), 100 * (point.applied - 0.5) / 1.5, delta=0.06
            )
