"""Fewest breakpoints against the exact optimum, found by trying every choice through dynamic programming."""

from __future__ import annotations

import itertools
from unittest import TestCase

import numpy as np

from rasante.core.tanks.breakpoints import best_knots, chord_error
from rasante.core.tanks.table import make_table

from .samples import random_level_tank, two_to_one


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
