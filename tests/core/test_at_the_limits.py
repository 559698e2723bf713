"""Things at their ends: days in workbooks, figures off a sheet, few readings, full registers, coarse steps."""

from __future__ import annotations

from datetime import UTC, datetime
from unittest import TestCase

import numpy as np

from rasante.core.gauges.model_figures import with_figures
from rasante.core.quantities.errors import InputError
from rasante.core.readings.ahead import rate_now
from rasante.core.readings.log_file import moment
from rasante.core.scaling.numbers import Register
from rasante.core.tanks.chart_mapping import Figure
from rasante.core.tanks.device_points import fit_device
from rasante.core.tanks.tank_file import check_document
from rasante.core.tanks.uncertainty import budget_at

from .gauge_cases import lying


class Moments(TestCase):
    def at(self, cell: str, offset_min: int = 0, order: str = "dmy") -> datetime | None:
        found = moment(cell, order, offset_min)
        return None if found is None else datetime.fromtimestamp(found / 1000, UTC)

    def test_a_workbooks_days(self) -> None:
        # Day 45292 of a workbook is 1 January 2024 (ISO/IEC 29500-1, 18.17.4.1: day 60 is the one that never was).
        noon = datetime(2024, 1, 1, 12, tzinfo=UTC)
        self.assertEqual(self.at(Figure("45292.5")), noon)
        self.assertEqual(self.at(Figure("45292.5"), 90), datetime(2024, 1, 1, 10, 30, tzinfo=UTC))
        for none in ("1", "0.5", "200000", "-3"):
            self.assertIsNone(self.at(Figure(none)), none)
        self.assertEqual(self.at(Figure("2")), datetime(1900, 1, 1, tzinfo=UTC))

    def test_a_zone_of_its_own_counts_before_the_clocks(self) -> None:
        self.assertEqual(self.at("01.01.2024 12:00", 60), datetime(2024, 1, 1, 11, tzinfo=UTC))
        self.assertEqual(self.at("2024-01-01T12:00:00Z", 60, "ymd"), datetime(2024, 1, 1, 12, tzinfo=UTC))
        self.assertIsNone(self.at("31.02.2024 12:00"))


class Figures(TestCase):
    def test_as_they_are_typed(self) -> None:
        found = with_figures({"name": "one", "supply_max_v": 30}, {"lift_off_v": "9,5", "supply_max_v": ""})
        self.assertEqual(found, {"name": "one", "lift_off_v": 9.5})
        whole = with_figures({}, {"lift_off_v": "12.0"})["lift_off_v"]
        self.assertIsInstance(whole, int)

    def test_every_wrong_one_is_told_at_its_key(self) -> None:
        with self.assertRaises(InputError) as refused:
            with_figures({}, {"lift_off_v": "nine", "name": "7", "colour": "3", "supply_max_v": "30"})
        self.assertEqual([one.where for one in refused.exception.problems], ["lift_off_v", "name", "colour"])
        self.assertEqual(refused.exception.problems[1].what, "is no figure of a model")


class Rates(TestCase):
    def test_four_readings_tell_and_three_do_not(self) -> None:
        times = np.arange(4) * 60.0
        found = rate_now(times, 1.0 + 0.002 * times, 0.0)
        assert found is not None
        self.assertAlmostEqual(found.rate, 0.002)
        self.assertAlmostEqual(found.over_s, 180)
        self.assertIsNone(rate_now(times[:3], 1.0 + 0.002 * times[:3], 0.0))

    def test_what_was_before_a_bend_does_not_count(self) -> None:
        times = np.arange(64) * 60.0
        level = np.where(times < 1920, 1.0, 1.0 - 0.001 * (times - 1920))
        noisy = level + np.random.default_rng(4).normal(0, 0.002, 64)
        found = rate_now(times, noisy, 0.0)
        assert found is not None
        self.assertAlmostEqual(found.rate, -0.001, delta=2 * found.u95)
        self.assertLess(found.u95, 1e-4)
        self.assertLessEqual(found.over_s, 32 * 60)

    def test_one_spike_is_no_rate(self) -> None:
        times = np.arange(12) * 60.0
        values = np.full(12, 1.5)
        values[9] = 9.0
        found = rate_now(times, values, 0.001)
        assert found is not None
        self.assertLess(abs(found.rate), 1e-9)


class Registers(TestCase):
    def test_between_its_ends_it_is_not_rounded_and_beyond_it_wraps(self) -> None:
        int16 = Register(type="int16", multiplier=10.0)
        inside = np.array([-3276.8, 0.03, 3276.7])
        np.testing.assert_allclose(int16.forward(inside, exact=False), inside * 10)
        beyond = int16.forward(np.array([3276.9, 0.03]), exact=False)
        # One above the most that it holds is its least (two's complement).
        self.assertEqual(beyond[0], -32767)
        self.assertAlmostEqual(beyond[1], 0.3)
        np.testing.assert_array_equal(int16.forward(np.array([0.03]), exact=True), [0.0])


class Devices(TestCase):
    def test_a_step_of_half_the_tank_is_none(self) -> None:
        tank = lying().tank
        half = tank.inside_height / 2
        with self.assertRaises(InputError) as refused:
            fit_device(tank, 8, half)
        self.assertEqual(refused.exception.problems[0].where, "level_resolution")
        with self.assertRaises(InputError) as refused:
            fit_device(tank, 8, 0.001, float(tank.volume(tank.inside_height)) / 2)
        self.assertEqual(refused.exception.problems[0].where, "volume_resolution")


class Budgets(TestCase):
    def test_the_worst_is_bettered_by_the_best_way_that_it_has(self) -> None:
        document = {
            "format": "rasante.tank/1", "name": "Sloped", "shape": {
                "kind": "horizontal_cylinder", "diameter_mm": 2000, "shell_length_mm": 6000,
                "left_head": {"kind": "flat"}, "right_head": {"kind": "flat"},
            }, "slope_mm_per_m": 5,
        }  # fmt: skip
        for key, half, better, by in (
            ("slope_mm_per_m", 6.0, 0.5, "water level"),
            ("diameter_mm", 40.0, None, "strap"),
            ("shell_length_mm", 90.0, None, "tape"),
        ):
            with self.subTest(key):
                found = budget_at(check_document({**document, "uncertainty": {key: half}}), 0.9)
                assert found.u95_m3 is not None and found.better_u95_m3 is not None and found.better_mm is not None
                self.assertIn(by, found.better_by)
                self.assertLess(found.better_mm, half)
                if better is not None:
                    self.assertEqual(found.better_mm, better)
                # One dimension alone: U goes with its half-width.
                self.assertAlmostEqual(found.better_u95_m3 / found.u95_m3, found.better_mm / half, delta=0.02)
