"""Fewest breakpoints against the exact optimum, found by trying every choice through dynamic programming."""

from __future__ import annotations

import itertools
from unittest import TestCase

import numpy as np
from scipy.optimize import linprog

from rasante.core.quantities.errors import InputError
from rasante.core.tanks.breakpoints import (
    bends_both_ways,
    best_knots,
    best_points,
    chord_error,
    even_knots,
    line_error,
)
from rasante.core.tanks.device_points import fit_device
from rasante.core.tanks.table import make_table
from tests.tags import slow

from .samples import random_level_tank, tank_file, two_to_one


def exact(levels: np.ndarray, volumes: np.ndarray, count: int) -> float:
    """Least possible worst error of `count` rows of a table, by dynamic programming over all pairs of rows."""
    rows = len(levels)
    error = np.zeros((rows, rows))
    for i in range(rows):
        for j in range(i + 1, rows):
            inner = slice(i, j + 1)
            line = np.interp(levels[inner], levels[[i, j]], volumes[[i, j]])
            error[i, j] = np.max(np.abs(line - volumes[inner]))
    best = error[0].copy()
    for _ in range(count - 2):
        best = np.array([min(max(best[i], error[i, j]) for i in range(j + 1)) for j in range(rows)])
    return float(best[-1])


class AgainstTheOptimum(TestCase):
    def test_small_tables(self) -> None:
        rng = np.random.default_rng(17)
        for _ in range(12):
            file = random_level_tank(rng)
            table = make_table(file, file.tank.inside_height / 60, uncertainty=False)
            count = int(rng.integers(3, 12))
            ours = chord_error(table.innage_m, table.volume_m3, best_knots(table.innage_m, table.volume_m3, count))
            least = exact(table.innage_m, table.volume_m3, count)
            self.assertGreaterEqual(ours, least * (1 - 1e-9))
            # A straight tank has nothing to gain; elsewhere the search comes within a hair of the optimum.
            self.assertLessEqual(ours, least * 1.02 + 1e-12)

    def test_more_points_are_never_worse(self) -> None:
        table = make_table(two_to_one(), 0.005, uncertainty=False)
        errors = [
            chord_error(table.innage_m, table.volume_m3, best_knots(table.innage_m, table.volume_m3, count))
            for count in (2, 3, 5, 9, 17, 33, 65)
        ]
        for fewer, more in itertools.pairwise(errors):
            self.assertLessEqual(more, fewer * (1 + 1e-9))

    def test_a_straight_tank_needs_two_points(self) -> None:
        # Common practice, no published source: a straight cylinder needs two points, a tapering tank more.
        levels = np.linspace(0, 3, 301)
        knots = best_knots(levels, levels * 2.5, 8)
        self.assertLess(chord_error(levels, levels * 2.5, knots), 1e-12)
        self.assertLess(chord_error(levels, levels * 2.5, np.array([0, 300])), 1e-12)


def drawn(points: list[tuple[int, int]], rows: int) -> tuple[np.ndarray, np.ndarray]:
    """Levels and volumes of a tank 1 m long with a traced section."""
    file = tank_file({"kind": "prism", "length_mm": 1000, "section": {"kind": "polygon", "points_mm": points}})
    levels = np.linspace(0, file.tank.inside_height, rows)
    return levels, np.asarray(file.tank.volume(levels))


def least_at(levels: np.ndarray, volumes: np.ndarray, knots: tuple[int, ...]) -> float:
    """The least worst error of any volumes at some knots, ends held: a linear programme written out row by row."""
    rows, inner = len(levels), len(knots) - 2
    weights = np.array([np.interp(levels, levels[list(knots)], unit) for unit in np.eye(len(knots))]).T
    fixed = weights[:, 0] * volumes[0] + weights[:, -1] * volumes[-1]
    one = np.ones((rows, 1))
    matrix = np.block([[weights[:, 1:-1], -one], [-weights[:, 1:-1], -one]])
    limit = np.concatenate([volumes - fixed, fixed - volumes])
    found = linprog([0.0] * inner + [1.0], A_ub=matrix, b_ub=limit, bounds=[(None, None)] * inner + [(0, None)])
    return float(found.fun)


class WhereItBendsBothWays(TestCase):
    #: A section with a step in it, one with a waist, and one like an hourglass: their curves bend up and down.
    STEPPED = ((0, 0), (520, 0), (640, 180), (640, 610), (90, 610), (0, 500))
    WAISTED = ((0, 0), (800, 0), (500, 300), (700, 700), (100, 700), (300, 300))
    HOURGLASS = ((0, 0), (900, 0), (480, 400), (900, 800), (0, 800), (420, 400))

    def test_a_section_with_a_step(self) -> None:
        # By brute force over all rows: 3.191 L with three points on the curve.
        levels, volumes = drawn(list(self.STEPPED), 62)
        best = min(chord_error(levels, volumes, np.array([0, i, 61])) for i in range(1, 61))
        self.assertAlmostEqual(best * 1000, 3.191, places=3)
        self.assertAlmostEqual(chord_error(levels, volumes, best_knots(levels, volumes, 3)), best, places=9)

    def test_on_the_curve_it_is_the_optimum(self) -> None:
        for section in (self.STEPPED, self.WAISTED, self.HOURGLASS):
            levels, volumes = drawn(list(section), 81)
            for count in (3, 4, 5, 7, 10):
                ours = chord_error(levels, volumes, best_knots(levels, volumes, count))
                self.assertAlmostEqual(ours / exact(levels, volumes, count), 1.0, delta=2e-5, msg=f"{count}")

    def test_off_the_curve_it_is_within_a_hundredth(self) -> None:
        for section, rows, count in (
            (self.STEPPED, 62, 3), (self.WAISTED, 20, 4), (self.HOURGLASS, 18, 4), (self.STEPPED, 13, 5),
        ):  # fmt: skip
            levels, volumes = drawn(list(section), rows)
            choices = itertools.combinations(range(1, rows - 1), count - 2)
            best = min(least_at(levels, volumes, (0, *inner, rows - 1)) for inner in choices)
            knots, ordinates = best_points(levels, volumes, count)
            ours = line_error(levels, volumes, knots, ordinates)
            self.assertGreaterEqual(ours, best * (1 - 1e-6))
            self.assertLessEqual(ours, best * 1.01 + 1e-12, (section, count))

    def test_only_rows_that_are_allowed_are_stood_on(self) -> None:
        levels, volumes = drawn(list(self.WAISTED), 101)
        allowed = np.zeros(101, dtype=bool)
        allowed[::7] = True
        knots = best_knots(levels, volumes, 5, allowed)
        self.assertTrue(allowed[knots[:-1]].all())
        free, ordinates = best_points(levels, volumes, 5, allowed)
        self.assertTrue(allowed[free[:-1]].all())
        self.assertEqual((ordinates[0], ordinates[-1]), (volumes[0], volumes[-1]))
        self.assertLess(line_error(levels, volumes, free, ordinates), chord_error(levels, volumes, knots))

    def test_which_curves_bend_both_ways(self) -> None:
        self.assertTrue(bends_both_ways(*drawn(list(self.WAISTED), 50)))
        self.assertFalse(bends_both_ways(*drawn([(0, 0), (900, 0), (500, 400)], 50)))
        self.assertFalse(bends_both_ways(np.linspace(0, 1, 9), np.linspace(0, 3, 9)))


@slow
class Never(TestCase):
    def test_worse_than_even_spacing_on_forty_tanks(self) -> None:
        rng = np.random.default_rng(5)
        for _ in range(40):
            file = random_level_tank(rng)
            table = make_table(file, file.tank.inside_height / 400, uncertainty=False)
            levels, volumes, count = table.innage_m, table.volume_m3, int(rng.integers(4, 40))
            even = even_knots(len(table), count)
            chosen = best_knots(levels, volumes, count)
            self.assertLessEqual(len(chosen), count)
            self.assertEqual((chosen[0], chosen[-1]), (0, len(table) - 1))
            self.assertTrue(np.all(np.diff(chosen) > 0))
            spread = chord_error(levels, volumes, even)
            self.assertLessEqual(chord_error(levels, volumes, chosen), spread * (1 + 1e-9))
            knots, ordinates = best_points(levels, volumes, count)
            self.assertLessEqual(len(knots), count)
            self.assertTrue(np.all(np.diff(ordinates) >= 0))
            self.assertEqual((ordinates[0], ordinates[-1]), (volumes[0], volumes[-1]))
            free = line_error(levels, volumes, knots, ordinates)
            self.assertLessEqual(free, chord_error(levels, volumes, chosen) * (1 + 1e-9))


class TheQuotedTank(TestCase):
    """A level 2.4 m × 6 m cylinder with two 2:1 heads and 20 points, by the figures the project quotes."""

    def test_even_spacing(self) -> None:
        tank = two_to_one().tank
        levels = np.linspace(0, 2.4, 24_001)
        even = np.linspace(0, 2.4, 20)
        error = np.max(np.abs(np.interp(levels, even, tank.volume(even)) - tank.volume(levels))) * 1000
        self.assertAlmostEqual(error / 86.7, 1.0, delta=0.01)

    def test_points_on_the_curve_and_off_it(self) -> None:
        # On rows 3 mm apart the best points on the curve leave 19.3 L; finer rows leave less.
        tank = two_to_one().tank
        coarse, fine = (fit_device(tank, 20, step) for step in (0.003, 0.001))
        self.assertAlmostEqual(coarse.on_curve.error_m3 * 1000 / 19.3, 1.0, delta=0.01)
        self.assertLess(fine.on_curve.error_m3, coarse.on_curve.error_m3)
        # Volumes free: about half of that.
        self.assertAlmostEqual(coarse.free.error_m3 / coarse.on_curve.error_m3, 0.5, delta=0.05)


class Devices(TestCase):
    def test_points_are_what_the_device_can_hold(self) -> None:
        tank = two_to_one().tank
        fitted = fit_device(tank, 16, 0.005, 0.01)
        for points in (fitted.even, fitted.on_curve, fitted.free):
            self.assertLessEqual(len(points.levels_m), 16)
            inner = points.levels_m[:-1] / 0.005
            np.testing.assert_allclose(inner, np.round(inner), atol=1e-6)
            np.testing.assert_allclose(points.volumes_m3 * 100, np.round(points.volumes_m3 * 100), atol=1e-6)
            self.assertEqual((points.levels_m[0], points.levels_m[-1]), (0.0, 2.4))
            # The error told is the error there is, on levels between those it was chosen on.
            levels = np.linspace(0, 2.4, 9601)
            gap = np.abs(np.interp(levels, points.levels_m, points.volumes_m3) - tank.volume(levels))
            self.assertAlmostEqual(float(gap.max()), points.error_m3, delta=2e-4)

    def test_fixed_ends_are_the_tanks_own(self) -> None:
        tank = two_to_one().tank
        held, loose = (fit_device(tank, 12, 0.001, 0.0, fixed).free for fixed in (True, False))
        self.assertEqual(held.volumes_m3[0], 0.0)
        self.assertAlmostEqual(held.volumes_m3[-1], tank.capacity, places=9)
        self.assertLessEqual(loose.error_m3, held.error_m3 * (1 + 1e-6))

    def test_counts_and_resolutions_out_of_reach(self) -> None:
        tank = two_to_one().tank
        for arguments, words in (
            ((1,), "2 to 128"),
            ((129,), "2 to 128"),
            ((20, 1.5), "half the height"),
            ((20, 1.21), "half the height"),
            ((20, 0.001, 20.0), "half the volume"),
            ((20, 0.001, tank.capacity / 2 * 1.001), "half the volume"),
        ):
            with self.assertRaisesRegex(InputError, words):
                fit_device(tank, *arguments)
        # Just under half of 2.4 m: two steps and the top.
        self.assertEqual(list(fit_device(tank, 3, 1.19).even.levels_m)[-1], 2.4)

    def test_a_large_tank_is_done_in_a_bounded_number_of_rows(self) -> None:
        tall = tank_file(
            {"kind": "vertical_cylinder", "diameter_mm": 9000, "shell_height_mm": 18_000,
             "bottom": {"kind": "conical", "depth_mm": 900}, "top": {"kind": "hemispherical"}}
        )  # fmt: skip
        fitted = fit_device(tall.tank, 32, 0.001)
        self.assertLess(fitted.free.error_m3, fitted.even.error_m3)

    def test_room_for_all_rows_keeps_all_rows(self) -> None:
        table = make_table(two_to_one(), 0.1)
        self.assertEqual(len(best_knots(table.innage_m, table.volume_m3, 100)), len(table))
        with self.assertRaises(InputError):
            best_knots(table.innage_m, table.volume_m3, 1)
