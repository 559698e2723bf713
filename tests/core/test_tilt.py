"""Tanks out of level both ways: against columns of liquid counted one by one, and against the table engine."""

from __future__ import annotations

from itertools import pairwise
from unittest import TestCase

import numpy as np

from rasante.core.gauges.tilt import surface_at, tilt_map
from rasante.core.quantities.errors import InputError
from rasante.core.tanks.inside import beam_meets_wall, bounds, inside, plan_of
from rasante.core.tanks.tank_file import check_document
from rasante.core.tanks.tilted import attitude, surface_height
from tests.tags import slow

from .every_kind import SHAPES, document
from .gauge_cases import upright

SOLID = [name for name in SHAPES if name != "points"]
TILTS = ((0.1, 0.2), (-0.05, 0.3), (0.0, -0.15), (0.25, 0.0))


def shape_of(name: str, **keys):
    return check_document(document(name, **keys)).tank.shape


def by_columns(shape, along: float, across: float, level: float, count: int = 401) -> float:
    """The definition: the liquid's columns over a grid of the plan, each between the floor and the surface [m³]."""
    plan = plan_of(shape)
    axes = [plan.low[i] + (np.arange(count) + 0.5) / count * (plan.high[i] - plan.low[i]) for i in (0, 1)]
    x, y = np.meshgrid(*axes)
    floor, roof = bounds(shape, x, y)
    surface = level - along * x - across * y
    field = (axes[0][1] - axes[0][0]) * (axes[1][1] - axes[1][0])
    return float(np.nansum(np.clip(surface, floor, roof) - floor) * field)


class Inside(TestCase):
    def test_floor_to_roof_over_the_plan_is_the_capacity(self) -> None:
        for name in SOLID:
            with self.subTest(name):
                shape = shape_of(name)
                self.assertAlmostEqual(by_columns(shape, 0, 0, 1e3) / shape.capacity, 1, 3)

    def test_round_floors_by_the_circle(self) -> None:
        # x² + y² = R²: 0.6 m off the middle of a 2 m circle the floor is 1 − √(1 − 0.36) = 0.2 m up.
        floor, roof = bounds(shape_of("lying"), 2.5, 0.6)
        self.assertAlmostEqual(float(floor), 0.2, 12)
        self.assertAlmostEqual(float(roof), 1.8, 12)
        # Inside a 2:1 head, a quarter of its depth beyond the tangent, the radius is R √(1 − 1/16).
        floor, _ = bounds(shape_of("lying"), 5.125, 0.0)
        self.assertAlmostEqual(float(floor), 1 - np.sqrt(1 - 1 / 16), 9)
        low, high = bounds(shape_of("sphere"), 2.0, 1.2)
        self.assertAlmostEqual(float(high - low), 3.2, 12)

    def test_beside_the_tank_there_is_nothing(self) -> None:
        for name in SOLID:
            plan = plan_of(shape_of(name))
            self.assertTrue(np.isnan(bounds(shape_of(name), plan.low[0] - 0.1, 0.0)[0]))
            self.assertFalse(inside(shape_of(name), plan.middle[0], plan.high[1] + 0.1, 0.5))
            self.assertTrue(inside(shape_of(name), *plan.middle, 0.3))
        with self.assertRaisesRegex(InputError, "table of points"):
            bounds(shape_of("points"), 0, 0)

    def test_a_beam_meets_the_wall_where_the_geometry_says(self) -> None:
        # An upright wall 0.3 m away: a cone of half angle 10° is as wide 0.3 / tan 10° = 1.701 m below its face.
        shape = shape_of("box")
        meets = beam_meets_wall(shape, 1.5, 0.2, 1.9, np.radians(10))
        self.assertAlmostEqual(meets, 0.3 / np.tan(np.radians(10)), 1)
        self.assertIsNone(beam_meets_wall(shape, 1.5, 0.0, 1.3, np.radians(4)))
        self.assertEqual(beam_meets_wall(shape, 9.0, 0.0, 1.3, np.radians(4)), 0.0)

    def test_a_beam_looks_all_around(self) -> None:
        # Upright, 2 m across: from a spot 0.8 m out the wall is 0.2 m away, whichever way out that is, and an 8° beam
        # is so wide 0.2 / tan 4° = 2.860 m down.
        shape = upright(height=3300).tank.shape
        for degrees in (0, 22.5, 45, 77.3, 191.9):
            x, y = 1 + 0.8 * np.cos(np.radians(degrees)), 0.8 * np.sin(np.radians(degrees))
            meets = beam_meets_wall(shape, x, y, 3.3, np.radians(4))
            assert meets is not None
            self.assertAlmostEqual(meets, 0.2 / np.tan(np.radians(4)), delta=2e-4, msg=str(degrees))
        # Another 0.05 m in, it would meet the wall 3.575 m down: below the floor.
        x, y = 1 + 0.75 * np.cos(np.radians(22.5)), 0.75 * np.sin(np.radians(22.5))
        self.assertIsNone(beam_meets_wall(shape, x, y, 3.3, np.radians(4)))


@slow
class Tilted(TestCase):
    def test_every_kind_against_columns(self) -> None:
        for name in SOLID:
            shape = shape_of(name)
            middle = plan_of(shape).middle[0]
            for along, across in TILTS:
                held = attitude(shape, along, across)
                for share in (0.1, 0.45, 0.85):
                    with self.subTest(name, along=along, across=across, share=share):
                        level = share * shape.inside_height + along * middle
                        counted = by_columns(shape, along, across, level)
                        self.assertLess(abs(float(held.volume(level)) - counted), 1e-3 * shape.capacity)

    def test_what_is_level_is_the_level_tank(self) -> None:
        for name in SOLID:
            shape = shape_of(name)
            levels = np.linspace(0, shape.inside_height, 7)
            np.testing.assert_allclose(attitude(shape, 0, 0).volume(levels), shape.volume(levels), rtol=1e-12)

    def test_pitch_alone_is_the_sloped_tank_of_the_table_engine(self) -> None:
        for name in ("lying", "box", "ellipse", "obround", "traced"):
            level_shape = shape_of(name)
            for slope in (12.0, -80.0, 300.0):
                gauge = 0.3 * level_shape.length
                sloped = shape_of(name, slope_mm_per_m=slope, gauge_position_mm=gauge * 1000)
                tangent = slope / 1000
                held = attitude(level_shape, tangent, 0.0)
                for share in (0.05, 0.3, 0.6, 0.95):
                    with self.subTest(name, slope=slope, share=share):
                        plumb = share * sloped.inside_height
                        # The surface stands as high over the axis at the gauge as the plumb line says by its cosine.
                        own = plumb * np.hypot(1, tangent) + tangent * gauge
                        ours, engine = float(held.volume(own)), float(sloped.volume(plumb))
                        self.assertLess(abs(ours - engine), 1e-9 * level_shape.capacity)

    def test_a_round_tank_does_not_mind_rolling(self) -> None:
        shape = shape_of("lying")
        self.assertAlmostEqual(
            surface_height(shape, 0, 0.4, shape.capacity / 2), surface_height(shape, 0, 0, shape.capacity / 2), 9
        )

    def test_the_surface_holds_the_volume_and_rises_with_it(self) -> None:
        for name in SOLID:
            shape = shape_of(name)
            for along, across in TILTS:
                held = attitude(shape, along, across)
                heights = [surface_height(shape, along, across, share * shape.capacity) for share in (0.2, 0.5, 0.8)]
                self.assertEqual(heights, sorted(heights))
                for share, height in zip((0.2, 0.5, 0.8), heights, strict=True):
                    self.assertAlmostEqual(float(held.volume(height)) / shape.capacity, share, 7)


class TiltMaps(TestCase):
    def test_off_the_middle_it_is_what_the_table_engine_says(self) -> None:
        # The sensor at x reads the surface of the sloped tank there, through the table of the level one.
        file = check_document(document("box"))
        tank = file.tank
        surface = surface_at(tank, 4.0, 0.0, 0.5)
        tangent = np.tan(np.radians(4.0))
        rest = attitude(tank.shape, 0.0, 0.0)
        for x in (0.4, 1.5, 2.7):
            sloped = check_document(document("box", slope_mm_per_m=tangent * 1000, gauge_position_mm=x * 1000)).tank
            own = sloped.level(0.5 * tank.capacity) * np.hypot(1, tangent)
            expected = float(tank.volume(own)) - 0.5 * tank.capacity
            ours = float(surface.error(np.array([x]), np.array([0.0]), rest)[0])
            self.assertAlmostEqual(ours, expected, 8)

    def test_the_middle_of_a_symmetric_tank_errs_less_and_less(self) -> None:
        for name in ("box", "ellipse", "obround", "sphere"):
            tank = check_document(document(name)).tank
            errors = [abs(tilt_map(tank, degrees, degrees / 2, (0.5,), (5, 3)).middle_m3) for degrees in (8, 4, 2, 1)]
            self.assertLess(errors[-1], 1e-9 * tank.capacity)
            thirds = [abs(tilt_map(tank, degrees, 0, (0.3,), (5, 3)).middle_m3) for degrees in (4, 2, 1, 0.5)]
            for larger, smaller in pairwise(thirds):
                # Halving the tilt leaves a quarter of what there is.
                self.assertLess(smaller, larger / 3.5 + 1e-12 * tank.capacity)

    def test_the_best_spot_is_the_middle_and_fore_and_aft_counts_more(self) -> None:
        tank = check_document(document("box")).tank
        found = tilt_map(tank, 5, 3, (0.5,))
        np.testing.assert_allclose(found.best, (1.5, 0.0), atol=1e-9)
        # By hand, half full: 750 mm × tan 5° × 3 m² of surface, and 250 mm × tan 3° × 3 m².
        self.assertAlmostEqual(found.along_m3, 0.75 * np.tan(np.radians(5)) * 3.0, 9)
        self.assertAlmostEqual(found.across_m3, 0.25 * np.tan(np.radians(3)) * 3.0, 9)
        self.assertEqual(found.worst_m3.shape, (21, 41))

    def test_rest_without_tilt_errs_nowhere(self) -> None:
        for name in ("lying", "traced"):
            tank = check_document(document(name, slope_mm_per_m=15, gauge_position_mm=500)).tank
            self.assertLess(float(np.nanmax(np.abs(tilt_map(tank, 0, 0, (0.5,)).worst_m3))), 2e-2 * tank.capacity)

    def test_what_cannot_be_is_refused(self) -> None:
        tank = check_document(document("box")).tank
        for arguments, where in (((31, 0), "pitch"), ((0, -1), "roll"), ((1, 1, (1.2,)), "fills")):
            with self.assertRaises(InputError) as refused:
                tilt_map(tank, *arguments)
            self.assertEqual(refused.exception.problems[0].where, where)
        with self.assertRaisesRegex(InputError, "only a table of points"):
            tilt_map(check_document(document("points")).tank, 5, 5)
