"""Deliveries, draws and transfers found in contents over time."""

from __future__ import annotations

from unittest import TestCase

import numpy as np

from rasante.core.quantities.errors import InputError
from rasante.core.readings.changes import Change, find_changes, match_transfers
from tests.tags import slow

from .plant_cases import MONDAY, QUAY, WEEK_S, ice_plant, random_week

LEAST = 0.02 * QUAY.capacity


@slow
class Generated(TestCase):
    def test_a_hundred_deliveries_are_found_with_their_volume(self) -> None:
        found, within, seed = 0, 0, 0
        while found < 100:
            week = random_week(seed, deliveries=True, draws=True)
            seed += 1
            changes = find_changes(week.times, week.volumes, 0.8 * LEAST)
            for start, end in week.deliveries:
                before, after = week.course.volume("a", np.array([start, end]))
                if after - before < LEAST:
                    continue
                met = [one for one in changes if one.start_s < end + 900 and one.end_s > start - 900]
                self.assertTrue(met, f"seed {seed - 1}: {after - before:.3f} m³ at {start:.0f} was not found")
                best = max(met, key=lambda one: one.volume_m3)
                found += 1
                within += abs(best.volume_m3 - (after - before)) <= best.u95_m3
        self.assertGreaterEqual(within / found, 0.93)

    def test_a_hundred_quiet_weeks_have_none(self) -> None:
        for seed in range(100):
            week = random_week(1000 + seed, deliveries=False, draws=bool(seed % 2))
            self.assertEqual(find_changes(week.times, week.volumes, LEAST), [], f"seed {1000 + seed}")


class ByHand(TestCase):
    def setUp(self) -> None:
        self.times = np.arange(0, 36_000, 60.0)

    def test_one_filling(self) -> None:
        truth = np.interp(self.times, [0, 12_000, 13_800, 36_000], [5, 5, 9, 9])
        noise = np.random.default_rng(1).normal(0, 0.01, len(truth))
        (one,) = find_changes(self.times, truth + noise, 0.5)
        self.assertAlmostEqual(one.volume_m3, 4.0, delta=one.u95_m3)
        self.assertLess(one.u95_m3, 0.05)
        self.assertAlmostEqual(one.start_s, 12_000, delta=120)
        self.assertAlmostEqual(one.end_s, 13_800, delta=120)
        self.assertAlmostEqual(one.rate, 4 / 1800, delta=4 / 1800 * 0.15)
        # The same upside down is a draw of as much.
        (draw,) = find_changes(self.times, 10 - truth - noise, 0.5, sign=-1)
        self.assertAlmostEqual(draw.volume_m3, -one.volume_m3, places=9)
        self.assertEqual(find_changes(self.times, 10 - truth - noise, 0.5), [])

    def test_a_filling_while_nothing_arrived(self) -> None:
        there = (self.times < 12_000) | (self.times > 15_000)
        truth = np.interp(self.times, [0, 12_600, 13_800, 36_000], [5, 5, 9, 9])[there]
        (one,) = find_changes(self.times[there], truth + np.random.default_rng(1).normal(0, 0.01, len(truth)), 0.5)
        self.assertAlmostEqual(one.volume_m3, 4.0, delta=one.u95_m3)
        self.assertAlmostEqual(one.start_s, 11_940, delta=120)

    def test_two_compartments_are_one_delivery_and_two_lorries_are_two(self) -> None:
        noise = np.random.default_rng(2).normal(0, 0.005, len(self.times))
        near = np.interp(self.times, [0, 9000, 9600, 10_000, 10_600, 36_000], [5, 5, 7, 7, 9, 9])
        (one,) = find_changes(self.times, near + noise, 0.5)
        self.assertAlmostEqual(one.volume_m3, 4.0, delta=0.05)
        apart = np.interp(self.times, [0, 9000, 9600, 16_000, 16_600, 36_000], [5, 5, 7, 7, 9, 9])
        self.assertEqual([round(one.volume_m3) for one in find_changes(self.times, apart + noise, 0.5)], [2, 2])

    def test_spikes_and_order_do_not_matter(self) -> None:
        truth = np.interp(self.times, [0, 12_000, 13_800, 36_000], [5, 5, 9, 9])
        spiked = truth + np.random.default_rng(3).normal(0, 0.01, len(truth))
        spiked[[50, 300, 500]] = [30.0, 0.0, 22.0]
        order = np.random.default_rng(4).permutation(len(truth))
        (one,) = find_changes(self.times[order], spiked[order], 0.5)
        self.assertAlmostEqual(one.volume_m3, 4.0, delta=0.05)

    def test_too_little_is_nothing_and_what_makes_no_sense_is_refused(self) -> None:
        self.assertEqual(find_changes([0, 1, 2], [1, 2, 3], 0.1), [])
        with self.assertRaisesRegex(InputError, "more than nothing"):
            find_changes(self.times, self.times, 0.0)
        with self.assertRaisesRegex(InputError, "one volume for each time"):
            find_changes(self.times, self.times[1:], 1.0)


class Transfers(TestCase):
    def test_what_the_pump_took_is_what_came(self) -> None:
        plant = ice_plant()
        _, course = plant.advance(plant.start(MONDAY), MONDAY + WEEK_S / 7)
        times = MONDAY + np.arange(0, 36_000, 30.0)
        upright, header = course.volume("upright", times), course.volume("header", times)
        rng = np.random.default_rng(5)
        upright, header = upright + rng.normal(0, 0.004, len(times)), header + rng.normal(0, 0.001, len(times))
        draws = {"upright": find_changes(times, upright, 0.5, -1), "header": []}
        comes = {"header": find_changes(times, header, 0.5), "upright": []}
        found = match_transfers(draws, comes, 60.0)
        ran = course.ran("pump", times).astype(int)
        self.assertEqual(len(found), int((np.diff(ran) == -1).sum()))
        for one in found:
            self.assertEqual((one.source, one.target), ("upright", "header"))
            # What was drawn on meanwhile is missing in the header: 0.5 of 2 L/s.
            self.assertAlmostEqual(one.came.volume_m3 / -one.left.volume_m3, 0.75, delta=0.05)

    def test_each_is_matched_once_and_the_best_first(self) -> None:
        def change(start: float, volume: float) -> Change:
            return Change(start, start + 100, volume, 0.01, 0.0, 0.0)

        draws = {"a": [change(0, -1.0)], "b": [change(10, -1.02)], "c": [change(5000, -1.0)]}
        found = match_transfers(draws, {"d": [change(5, 1.0)], "a": [change(0, 1.0)]}, 30.0)
        self.assertEqual([(one.source, one.target) for one in found], [("b", "a"), ("a", "d")])
        self.assertAlmostEqual(found[1].u95_m3, np.hypot(0.01, 0.01))
        self.assertEqual(match_transfers({"c": [change(5000, -1.0)]}, {"d": [change(5, 1.0)]}, 30.0), [])
