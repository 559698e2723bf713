"""Tables: their rows, their uncertainty, the curve behind them, and the fewest breakpoints."""

from __future__ import annotations

from unittest import TestCase

import numpy as np

from rasante.core.errors import InputError
from rasante.core.tanks.breakpoints import best_knots, chord_error
from rasante.core.tanks.table import curve_nodes, make_table, rows_of
from rasante.core.tanks.tank_file import check_document
from rasante.core.tanks.tolerances import with_value
from rasante.core.tanks.uncertainty import volume_uncertainty

from .samples import example, random_level_tank, tank_file, two_to_one


class Rows(TestCase):
    def test_from_zero_in_even_steps_to_the_inside_height_exactly(self) -> None:
        tank = check_document(example()).tank
        for step, count, last_step in ((0.01, 241, 0.01), (0.001, 2401, 0.001), (0.7, 5, 0.3)):
            rows = rows_of(tank, step)
            self.assertEqual((len(rows), rows[0], rows[-1]), (count, 0.0, 2.4))
            self.assertAlmostEqual(rows[-1] - rows[-2], last_step)

    def test_a_step_that_makes_no_table_is_refused(self) -> None:
        tank = two_to_one().tank
        for step in (0.0, -0.01, 1e-6):
            with self.assertRaises(InputError):
                rows_of(tank, step)

    def test_a_linear_gauge_reads_high_in_the_lower_half_of_a_cylinder(self) -> None:
        # Common practice, no published source: a float gauge on a lying tank is off by 5 to 10 points in places.
        table = make_table(two_to_one(), 0.01)
        gap = (table.linear_ratio - table.volume_ratio) * 100
        self.assertTrue(5 < gap.max() < 10)
        self.assertGreater(gap[60], 0)
        self.assertLess(gap[180], 0)


class Uncertainty(TestCase):
    """Against Monte Carlo by JCGM 101:2008, with normal draws of each dimension (k = 2)."""

    def test_against_monte_carlo(self) -> None:
        rng = np.random.default_rng(101)
        document = example(
            uncertainty={
                "diameter_mm": 8,
                "shell_length_mm": 20,
                "left_head.depth_mm": 15,
                "right_head.dish_radius_mm": 30,
            }
        )
        file = check_document(document)
        levels = np.linspace(0.15, 2.2, 12)
        ours = volume_uncertainty(file, levels)
        draws = []
        for _ in range(2000):
            shape = document["shape"]
            for path, half in document["uncertainty"].items():
                nominal = shape
                for key in path.split("."):
                    nominal = nominal[key]
                shape = with_value(shape, path, nominal + rng.normal(0, half / 2))
            draws.append(check_document({**document, "shape": shape, "uncertainty": {}}).tank.volume(levels))
        np.testing.assert_allclose(ours, 2 * np.std(draws, axis=0), rtol=0.08)

    def test_one_dimension_is_the_volume_scaled(self) -> None:
        file = tank_file(
            {"kind": "box", "length_mm": 2000, "width_mm": 1000, "height_mm": 1000}, uncertainty={"length_mm": 20}
        )
        table = make_table(file, 0.1)
        np.testing.assert_allclose(table.u95_m3, table.volume_m3 * 0.01, rtol=1e-9, atol=1e-12)

    def test_nothing_stated_is_nothing_claimed(self) -> None:
        self.assertIsNone(make_table(two_to_one(), 0.1).u95_m3)


def follow(innage: np.ndarray, volume: np.ndarray, surface: np.ndarray, levels: np.ndarray) -> np.ndarray:
    """Join nodes by cubic Hermite pieces, as the screen does: a level that stands twice ends one piece."""
    i = np.clip(np.searchsorted(innage, levels, side="right") - 1, 0, len(innage) - 2)
    i = np.where(innage[i + 1] == innage[i], i - 1, i)
    step = innage[i + 1] - innage[i]
    t = (levels - innage[i]) / step
    return (
        volume[i] * (1 + 2 * t) * (1 - t) ** 2
        + surface[i] * step * t * (1 - t) ** 2
        + volume[i + 1] * t * t * (3 - 2 * t)
        - surface[i + 1] * step * t * t * (1 - t)
    )


class Curve(TestCase):
    def test_between_nodes_it_is_the_model_to_a_millionth_of_the_capacity(self) -> None:
        rng = np.random.default_rng(3)
        files = [check_document(example()), *(random_level_tank(rng) for _ in range(25))]
        for file in files:
            innage, volume, surface = curve_nodes(file.tank)
            levels = np.linspace(0, file.tank.inside_height, 7001)
            drawn = follow(innage, volume, surface, levels)
            worst = np.max(np.abs(drawn - file.tank.volume(levels))) / file.tank.capacity
            self.assertLess(worst, 1e-6)


class Breakpoints(TestCase):
    def test_never_worse_than_even_spacing(self) -> None:
        rng = np.random.default_rng(5)
        for _ in range(15):
            table = make_table(random_level_tank(rng), 0.004, uncertainty=False)
            rows, count = len(table), int(rng.integers(4, 40))
            if rows < 2 * count:
                continue
            even = np.unique(np.round(np.linspace(0, rows - 1, count)).astype(int))
            chosen = best_knots(table.innage_m, table.volume_m3, count)
            self.assertLessEqual(len(chosen), count)
            self.assertEqual((chosen[0], chosen[-1]), (0, rows - 1))
            self.assertTrue(np.all(np.diff(chosen) > 0))
            self.assertLessEqual(
                chord_error(table.innage_m, table.volume_m3, chosen),
                chord_error(table.innage_m, table.volume_m3, even) * (1 + 1e-9),
            )

    def test_twenty_points_for_a_level_cylinder(self) -> None:
        # 2.4 m × 6 m with two 2:1 heads: even spacing is off by 86.7 L, the best points on the curve by under 19.3 L.
        file = two_to_one()
        table = make_table(file, 0.001, uncertainty=False)
        even = np.linspace(0, 2.4, 20)
        drawn = np.interp(table.innage_m, even, file.tank.volume(even))
        self.assertAlmostEqual(float(np.max(np.abs(drawn - table.volume_m3))) * 1000, 86.7, delta=0.1)
        chosen = best_knots(table.innage_m, table.volume_m3, 20)
        self.assertLess(chord_error(table.innage_m, table.volume_m3, chosen) * 1000, 19.3)

    def test_room_for_all_rows_keeps_all_rows(self) -> None:
        table = make_table(two_to_one(), 0.1)
        self.assertEqual(len(best_knots(table.innage_m, table.volume_m3, 100)), len(table))
        with self.assertRaises(InputError):
            best_knots(table.innage_m, table.volume_m3, 1)
