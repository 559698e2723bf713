"""A scaling chain at one level: what makes it unsure, its steps, and level and distance confused."""

from __future__ import annotations

import math
import random
from unittest import TestCase

import numpy as np

from rasante.core.scaling.chain_line import read_chain_line

from .chain_cases import chain, file_of, get, put, readings

WELL = {
    "sensor__quantity": "pressure", "sensor__high": "15 psi", "scaled__unit": "ft", "scaled__decimals": "1",
    "shown__unit": "ft", "shown__decimals": "1",
}  # fmt: skip


class AtTheLine(TestCase):
    def test_what_is_lost_is_what_many_draws_lose(self) -> None:
        c = chain(**{**WELL, "sensor__high": "5 psi", "scaled__decimals": "2", "shown__decimals": "2"})
        rng, off = random.Random(7), []
        for _ in range(3000):
            row = readings(c, c, rng)[1]
            # The dip's own noise is not the chain's.
            true = c.level_from("sensed", row["sensed"])
            off.append((row["shown"] * 0.3048 - true, row["level"]))
        level = float(np.mean([place for _, place in off]))
        line = read_chain_line(c, file_of("upright"), level)
        parts = {part.name: part.u95_m for part in line.parts}
        gauge = 0.001 * get(c, "sensor_high") / (1000 * 9.80665) / 2
        behind = math.sqrt(
            sum(u * u for name, u in parts.items() if name not in ("height of the sensor's zero", "density"))
        )
        drawn = 2 * math.sqrt(float(np.var([gap for gap, _ in off])) - gauge**2)
        self.assertAlmostEqual(behind / drawn, 1, delta=0.05)
        self.assertAlmostEqual(line.u95_m, math.sqrt(sum(u * u for u in parts.values())), 12)
        self.assertEqual(line.parts[0].u95_m, max(parts.values()))

    def test_a_sensors_own_step_is_a_level_whatever_it_sends(self) -> None:
        # JCGM 100:2008, 4.3.7: half a step either way, evenly; ± at k = 2 is the step by √3.
        for signal, span in (("ma4", "2400 mm"), ("v10", "3000 mm")):
            c = chain(sensor__quantity="level", sensor__high=span, sensor__step="10 mm", signal__kind=signal)
            parts = {part.name: part.u95_m for part in read_chain_line(c, file_of("upright"), 1.2).parts}
            self.assertAlmostEqual(parts["step of the sensor"], 0.010 / math.sqrt(3), 9)

    def test_a_finer_step_after_a_coarse_one_costs_nothing(self) -> None:
        c = chain(**WELL)
        names = {part.name for part in read_chain_line(c, file_of("upright"), 1.5).parts}
        self.assertIn("places of the scaled number", names)
        self.assertNotIn("places of the screen", names)
        coarse = put(c, shown_decimals=0)
        names = {part.name for part in read_chain_line(coarse, file_of("upright"), 1.5).parts}
        self.assertIn("places of the screen", names)

    def test_level_and_distance_confused_are_told_both_ways(self) -> None:
        c = chain(sensor__quantity="distance", shown__as="level")
        line = read_chain_line(c, file_of("upright"), 1.0)
        at, empty, full = line.trap
        self.assertAlmostEqual(at.right_m, 1.0, 6)
        self.assertAlmostEqual(at.wrong_m, c.screen.reference_m - 1.0, 6)
        self.assertGreater(empty.wrong_m, full.wrong_m)

    def test_the_devices_points_are_part_of_it(self) -> None:
        c = chain("lying", shown__as="volume", shown__points="6")
        level = 0.9 * c.top_m
        exact = float(c.screen.volumes.tank.volume(level))
        self.assertAlmostEqual(c.screen.volumes.off(level), c.screen.volumes.volume(level) - exact, 6)
        self.assertGreater(abs(c.screen.volumes.off(level)), 1e-4)
        names = [part.name for part in read_chain_line(c, file_of("lying"), level).parts]
        self.assertIn("the device's own points", names)
        self.assertAlmostEqual(c.screen.volumes.level(c.screen.volumes.volume(level)), level, 9)

    def test_a_tolerance_that_is_typed_is_what_counts(self) -> None:
        usual, better = chain(**WELL), chain(**WELL, liquid__tolerance="0.1 %", sensor__mounting="1 mm")
        of = {}
        for c in (usual, better):
            line = read_chain_line(c, file_of("upright"), 2.0)
            of[c] = {part.name: part.u95_m for part in line.parts}
        self.assertAlmostEqual(of[usual]["density"], 0.005 * 2.0, 9)
        self.assertAlmostEqual(of[better]["density"], 0.001 * 2.0, 9)
        self.assertAlmostEqual(of[better]["height of the sensor's zero"], 0.001, 9)
        echo = chain(sensor__quantity="time", sensor__medium="2 %", signal__kind="digital")
        parts = {part.name: part.u95_m for part in read_chain_line(echo, file_of("upright"), 1.2).parts}
        self.assertAlmostEqual(parts["speed of the echo"], 0.02 * (3.2 - 1.2), 6)
