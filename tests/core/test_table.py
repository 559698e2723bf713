"""Tables: their rows, their uncertainty, the curve behind them, and the fewest breakpoints."""

from __future__ import annotations

from unittest import TestCase

import numpy as np

from rasante.core.quantities.errors import InputError
from rasante.core.tanks.table import curve_nodes, make_table, rows_of, ullage_rows_of, worst_linear_gauge
from rasante.core.tanks.tank_file import TankFile, check_document

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


class Ranges(TestCase):
    def test_a_part_of_the_tank(self) -> None:
        tank = two_to_one().tank
        rows = rows_of(tank, 0.1, 0.25, 1.0)
        np.testing.assert_allclose(rows, [0.25, 0.35, 0.45, 0.55, 0.65, 0.75, 0.85, 0.95, 1.0])
        for start, end in ((1.0, 0.5), (-0.1, 1.0), (2.4, None), (3.0, None)):
            with self.assertRaisesRegex(InputError, "is empty"):
                rows_of(tank, 0.1, start, end)

    def test_by_ullage_from_the_reference_point_down(self) -> None:
        tank = check_document(example()).tank
        rows = ullage_rows_of(tank, 0.1)
        ullage = tank.reference_height_m - rows
        self.assertTrue(np.all(np.diff(ullage) > 0))
        self.assertAlmostEqual(ullage[0], 0.15)
        self.assertAlmostEqual(ullage[-1], 2.55)
        np.testing.assert_allclose(ullage[1:-1] * 10, np.round(ullage[1:-1] * 10), atol=1e-9)

    def test_the_worst_of_a_linear_gauge(self) -> None:
        worst = worst_linear_gauge(make_table(two_to_one(), 0.001, uncertainty=False))
        table = make_table(two_to_one(), 0.0005, uncertainty=False)
        gap = table.linear_ratio - table.volume_ratio
        self.assertAlmostEqual(abs(worst.difference), float(np.max(np.abs(gap))), places=6)


class Uncertainty(TestCase):
    def test_one_dimension_is_the_volume_scaled(self) -> None:
        file = tank_file(
            {"kind": "box", "length_mm": 2000, "width_mm": 1000, "height_mm": 1000}, uncertainty={"length_mm": 20}
        )
        table = make_table(file, 0.1)
        np.testing.assert_allclose(table.u95_m3, table.volume_m3 * 0.01, rtol=1e-9, atol=1e-12)

    def test_nothing_stated_is_nothing_claimed(self) -> None:
        self.assertIsNone(make_table(two_to_one(), 0.1).u95_m3)


def odd_tanks() -> list[TankFile]:
    """Sloped, traced, strapped and tabled tanks, whose surfaces jump or bend at some levels."""
    odd = [[0, 0], [900, 0], [900, 300], [500, 300], [500, 500], [900, 700], [0, 700]]
    section = {"kind": "polygon", "points_mm": odd}
    courses = [{"circumference_mm": 9000 - 30 * i, "plate_mm": 5, "height_mm": 900} for i in range(4)]
    points = [[0, 0], [100, 52], [220, 180], [300, 400]]
    return (
        [
            check_document(example(slope_mm_per_m=slope, gauge_position_mm=gauge))
            for slope in (3, -40, 577)
            for gauge in (0, 6000)
        ]
        + [
            tank_file({"kind": "prism", "length_mm": 2000, "section": section}, slope_mm_per_m=slope)
            for slope in (0, 4, 200)
        ]
        + [
            tank_file({"kind": "prism", "length_mm": 2000, "section": {**section, "corner_radius_mm": 20}}),
            tank_file({"kind": "courses", "courses": courses, "bottom": {"kind": "conical_inward", "depth_mm": 80}}),
            tank_file({"kind": "points", "points": points}),
            tank_file({"kind": "points", "points": points, "between": "straight"}),
            tank_file({"kind": "sphere", "diameter_mm": 3000}),
        ]
    )


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
        files = [check_document(example()), *(random_level_tank(rng) for _ in range(25)), *odd_tanks()]
        for file in files:
            innage, volume, surface = curve_nodes(file.tank)
            levels = np.linspace(0, file.tank.inside_height, 7001)
            drawn = follow(innage, volume, surface, levels)
            worst = np.max(np.abs(drawn - file.tank.volume(levels))) / file.tank.capacity
            self.assertLess(worst, 1e-6)
