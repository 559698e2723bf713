"""Upright tanks, spheres, sections and point tables: against `fluids`, closed forms, and worked figures."""

from __future__ import annotations

from itertools import pairwise
from unittest import TestCase

import numpy as np
from fluids.geometry import TANK
from scipy.interpolate import PchipInterpolator

from rasante.core.quantities.errors import InputError
from rasante.core.tanks.polygon import Polygon, find_crossing, from_widths
from rasante.core.tanks.sections import Ellipse, RoundedBox, circle_area_integral, obround
from rasante.core.tanks.tank_file import check_document

from .samples import random_head, tank_file

FLAT = {"kind": "flat"}


def upright(diameter: float, height: float, bottom: dict, top: dict):
    return tank_file(
        {
            "kind": "vertical_cylinder",
            "diameter_mm": diameter,
            "shell_height_mm": height,
            "bottom": bottom,
            "top": top,
        }
    )


class AgainstFluids(TestCase):
    def test_every_bottom_and_roof(self) -> None:
        """Package `fluids` (`fluids.geometry.TANK`), upright: to 1e-9 relative, or 1e-9 m³ near empty."""
        rng = np.random.default_rng(40)
        names = {"ellipsoidal": "ellipsoidal", "hemispherical": "spherical", "conical": "conical", "flat": None}
        for _ in range(60):
            diameter, height = float(rng.uniform(400, 6000)), float(rng.uniform(300, 9000))
            ends = [random_head(rng, diameter), random_head(rng, diameter)]
            described = {}
            for letter, head in zip("AB", ends, strict=True):
                if head["kind"] == "torispherical":
                    described |= {
                        f"side{letter}": "torispherical",
                        f"side{letter}_f": head["dish_radius_mm"] / diameter,
                        f"side{letter}_k": head["knuckle_radius_mm"] / diameter,
                    }
                else:
                    depth = diameter / 2 if head["kind"] == "hemispherical" else head.get("depth_mm", 0.0)
                    described |= {f"side{letter}": names[head["kind"]], f"side{letter}_a": depth / 1000}
            other = TANK(D=diameter / 1000, L=height / 1000, horizontal=False, **described)
            tank = upright(diameter, height, *ends).tank
            self.assertAlmostEqual(tank.inside_height, other.h_max, places=9)
            levels = rng.uniform(0, 1, 25) * tank.inside_height
            theirs = np.array([other.V_from_h(level) for level in levels])
            np.testing.assert_allclose(tank.volume(levels), theirs, rtol=1e-9, atol=1e-9)


class ClosedForms(TestCase):
    def test_sphere(self) -> None:
        # Geometry: π h² (3R − h) / 3; the whole π D³ / 6.
        tank = tank_file({"kind": "sphere", "diameter_mm": 4000}).tank
        levels = np.linspace(0, 4, 33)
        np.testing.assert_allclose(tank.volume(levels), np.pi * levels**2 * (6 - levels) / 3, rtol=1e-14)
        self.assertAlmostEqual(tank.capacity, np.pi * 64 / 6, places=12)

    def test_cone_both_ways(self) -> None:
        # Geometry: a cone is a third of its cylinder; at half its height it holds an eighth.
        out = upright(3000, 2000, {"kind": "conical", "depth_mm": 900}, FLAT).tank
        self.assertAlmostEqual(float(out.volume(0.45)), np.pi * 2.25 * 0.9 / 3 / 8, places=12)
        self.assertAlmostEqual(out.capacity, np.pi * 2.25 * (2.0 + 0.3), places=12)
        inward = upright(3000, 2000, {"kind": "conical_inward", "depth_mm": 900}, FLAT).tank
        self.assertAlmostEqual(inward.inside_height, 2.0)
        self.assertAlmostEqual(inward.capacity, np.pi * 2.25 * (2.0 - 0.3), places=12)
        self.assertAlmostEqual(float(inward.volume(0.9)), np.pi * 2.25 * 0.6, places=12)
        roof = upright(3000, 2000, FLAT, {"kind": "conical_inward", "depth_mm": 900}).tank
        self.assertAlmostEqual(float(roof.volume(1.1)), np.pi * 2.25 * 1.1, places=12)
        self.assertAlmostEqual(roof.capacity, np.pi * 2.25 * (2.0 - 0.3), places=12)
        with self.assertRaisesRegex(InputError, "reach in"):
            both = {"kind": "conical_inward", "depth_mm": 1100}
            upright(3000, 2000, both, both)

    def test_ellipse_and_obround(self) -> None:
        # Geometry: π a b; a rectangle and a circle.
        ellipse = Ellipse(2.0, 1.2)
        self.assertAlmostEqual(float(ellipse.area(1.2)), np.pi * 0.6, places=14)
        self.assertAlmostEqual(float(ellipse.area(0.6)), np.pi * 0.3, places=14)
        for width, height in ((2.0, 1.2), (0.8, 1.9)):
            shape = obround(width, height)
            small, large = min(width, height), max(width, height)
            whole = (large - small) * small + np.pi * small**2 / 4
            self.assertAlmostEqual(float(shape.area(height)), whole, places=14)
            self.assertAlmostEqual(float(shape.area(height / 2)), whole / 2, places=14)

    def test_surfaces_are_the_slope_of_the_volume(self) -> None:
        rng = np.random.default_rng(41)
        shapes = [upright(2400, 3000, random_head(rng, 2400), random_head(rng, 2400)).tank for _ in range(12)]
        shapes.append(upright(2400, 3000, {"kind": "conical_inward", "depth_mm": 300}, FLAT).tank)
        for tank in shapes:
            levels = np.linspace(0.021, 0.979, 41) * tank.inside_height
            levels = levels[np.min(np.abs(levels[:, None] - np.array([*tank.kinks, -1])), axis=1) > 1e-4]
            step = 1e-6
            slope = (tank.volume(levels + step) - tank.volume(levels - step)) / (2 * step)
            np.testing.assert_allclose(tank.surface(levels), slope, rtol=1e-6)


class Integrals(TestCase):
    """The integral of a section's area, which sloped tanks rest on, against the area's own sum."""

    def test_of_every_section(self) -> None:
        hull = ((-0.07, 0.0), (0.07, 0.0), (0.42, 0.4), (0.42, 0.9), (-0.42, 0.9), (-0.42, 0.4))
        sections = [
            Ellipse(1.4, 1.0),
            RoundedBox(0.9, 0.8, 0.1),
            RoundedBox(0.9, 0.8),
            obround(0.7, 1.3),
            Polygon(hull),
            Polygon(hull, 0.04),
        ]
        nodes, weights = np.polynomial.legendre.leggauss(60)
        for section in sections:
            edges = [0.0, *section.kinks, section.height]
            for depth in np.linspace(0.01, 1, 17) * section.height:
                total = 0.0
                for low, edge in pairwise(edges):
                    high = min(edge, depth)
                    if high > low:
                        x = low + (high - low) * (nodes + 1) / 2
                        total += float(section.area(x) @ weights) * (high - low) / 2
                self.assertAlmostEqual(float(section.area_integral(depth)), total, places=8)

    def test_a_small_circle_segment_is_not_lost(self) -> None:
        # For a shallow depth the area grows as h^1.5, so its integral is 0.4 × area × depth to first order.
        depth = 1e-7
        area = 4 / 3 * np.sqrt(2 * 1.2) * depth**1.5
        self.assertAlmostEqual(float(circle_area_integral(1.2, depth)) / (0.4 * area * depth), 1.0, places=6)


class Traced(TestCase):
    def test_a_traced_rectangle_is_the_box(self) -> None:
        corners = [[0, 0], [900, 0], [900, 700], [0, 700]]
        for radius in (0, 120):
            section = {"kind": "polygon", "points_mm": corners, "corner_radius_mm": radius}
            traced = tank_file({"kind": "prism", "length_mm": 2000, "section": section}).tank
            box = tank_file(
                {"kind": "box", "length_mm": 2000, "width_mm": 900, "height_mm": 700, "corner_radius_mm": radius}
            ).tank
            levels = np.linspace(0, 0.7, 71)
            np.testing.assert_allclose(traced.volume(levels), box.volume(levels), atol=1e-13)

    def test_either_way_round_and_anywhere(self) -> None:
        corners = [(0.0, 0.0), (0.5, 0.2), (0.4, 0.9), (-0.3, 0.6)]
        moved = [(x + 7.0, z - 3.0) for x, z in corners]
        for points in (corners, corners[::-1], moved):
            section = Polygon(tuple(points))
            section.check()
            # Shoelace, by hand: (0·0.2−0.5·0 + 0.5·0.9−0.4·0.2 + 0.4·0.6+0.3·0.9 + 0)/2 = 0.44
            self.assertAlmostEqual(float(section.area(section.height)), 0.44, places=12)

    def test_a_crossing_is_shown_where_it_is(self) -> None:
        corners = [[0, 0], [1000, 0], [0, 500], [1000, 500]]
        with self.assertRaises(InputError) as caught:
            tank_file({"kind": "prism", "length_mm": 2000, "section": {"kind": "polygon", "points_mm": corners}})
        problem = caught.exception.problems[0]
        self.assertIn("shape.section.points_mm", problem.where)
        self.assertIn("500 mm across and 250 mm up", problem.what)

    def test_sides_that_lie_on_one_another_meet_where_their_common_stretch_begins(self) -> None:
        """Up from 1 m to 3 m, around, and down on the same line from 4 m to 2 m; upright, and leaning by a half."""
        corners = ((0, 0), (2, 1), (2, 3), (1, 5), (2, 4), (2, 2), (0, 2))
        for lean in (0.0, 0.5, -1.0):
            found = find_crossing([(x + lean * z, float(z)) for x, z in corners])
            assert found is not None
            self.assertEqual(found[:2], (1, 4))
            np.testing.assert_allclose(found[2], (2 + 2 * lean, 2.0), atol=1e-12)

    def test_other_outlines_that_are_none(self) -> None:
        for corners, words in (
            ([[0, 0], [100, 0], [200, 0]], "on one line|crosses"),
            ([[0, 0], [100, 0], [100, 0], [0, 100]], "same as the one before"),
        ):
            with self.assertRaisesRegex(InputError, words):
                Polygon(tuple((x / 1000, z / 1000) for x, z in corners)).check()

    def test_a_corner_that_does_not_fit_says_what_does(self) -> None:
        section = {"kind": "polygon", "points_mm": [[0, 0], [900, 0], [900, 100], [0, 100]], "corner_radius_mm": 70}
        with self.assertRaisesRegex(InputError, "room for 50 mm"):
            tank_file({"kind": "prism", "length_mm": 2000, "section": section})

    def test_widths_at_heights(self) -> None:
        # Geometry: trapezia. (0.2+0.6)/2·0.3 + 0.6·0.4
        section = Polygon(from_widths([(0.0, 0.2), (0.3, 0.6), (0.7, 0.6)]))
        self.assertAlmostEqual(float(section.area(0.7)), 0.36, places=12)
        self.assertAlmostEqual(float(section.chord(0.15)), 0.4, places=12)
        keel = Polygon(from_widths([(0.0, 0.0), (0.5, 1.0)]))
        self.assertAlmostEqual(float(keel.area(0.5)), 0.25, places=12)
        with self.assertRaisesRegex(InputError, "go from the bottom up"):
            from_widths([(0.4, 1.0), (0.1, 1.0)])


class Strapped(TestCase):
    SHAPE = {
        "kind": "courses",
        "courses": [
            {"circumference_mm": 31_466, "plate_mm": 8, "height_mm": 1800},
            {"circumference_mm": 31_450, "plate_mm": 6, "height_mm": 1790},
        ],
    }

    def test_each_course_by_its_own_circle(self) -> None:
        # Worked by hand: r = C / 2π − plate.
        tank = tank_file(self.SHAPE).tank
        low, high = (31.466 / (2 * np.pi) - 0.008, 31.450 / (2 * np.pi) - 0.006)
        self.assertAlmostEqual(float(tank.volume(1.8)), np.pi * low**2 * 1.8, places=9)
        self.assertAlmostEqual(tank.capacity, np.pi * (low**2 * 1.8 + high**2 * 1.79), places=9)
        self.assertAlmostEqual(tank.inside_height, 3.59)

    def test_the_shell_widens_with_its_temperature(self) -> None:
        # 2 α ΔT on the plan, α of carbon steel 11.2e-6 / K from memory.
        cold = tank_file(self.SHAPE).tank.capacity
        warm = tank_file({**self.SHAPE, "strapped_at_c": 5, "shell_temperature_c": 35}).tank.capacity
        self.assertAlmostEqual(warm / cold - 1, 2 * 11.2e-6 * 30, places=12)

    def test_a_floor_that_is_high_in_the_middle(self) -> None:
        file = tank_file({**self.SHAPE, "bottom": {"kind": "conical_inward", "depth_mm": 120}})
        flat = tank_file(self.SHAPE)
        radius = 31.466 / (2 * np.pi) - 0.008
        self.assertAlmostEqual(flat.tank.capacity - file.tank.capacity, np.pi * radius**2 * 0.12 / 3, places=9)

    def test_a_plate_that_cannot_be(self) -> None:
        courses = [{"circumference_mm": 300, "plate_mm": 60, "height_mm": 500}]
        with self.assertRaises(InputError) as caught:
            tank_file({"kind": "courses", "courses": courses})
        self.assertEqual(caught.exception.problems[0].where, "shape.courses[0].plate_mm")


class ByPoints(TestCase):
    POINTS = [[50, 0], [200, 110], [400, 340], [650, 700], [900, 1000]]

    def test_smooth_is_monotone_and_straight_is_straight(self) -> None:
        smooth = tank_file({"kind": "points", "points": self.POINTS}).tank
        straight = tank_file({"kind": "points", "points": self.POINTS, "between": "straight"}).tank
        levels = np.linspace(0, 0.9, 901)
        self.assertGreaterEqual(float(np.diff(smooth.volume(levels)).min()), 0.0)
        self.assertAlmostEqual(float(straight.volume(0.3)) * 1000, (110 + 340) / 2, places=9)
        other = PchipInterpolator([0, 0.05, 0.2, 0.4, 0.65, 0.9], [0, 0, 0.11, 0.34, 0.7, 1.0])
        np.testing.assert_allclose(smooth.volume(levels), other(levels), atol=1e-14)
        self.assertEqual(float(smooth.volume(0.02)), 0.0)

    def test_points_that_cannot_be(self) -> None:
        for points, where in (
            ([[0, 0], [100, 50], [100, 60]], "shape.points[2]"),
            ([[0, 0], [100, 50], [200, 40]], "shape.points[2]"),
            ([[0, 5], [100, 5]], "shape.points"),
        ):
            with self.assertRaises(InputError) as caught:
                tank_file({"kind": "points", "points": points})
            self.assertEqual(caught.exception.problems[0].where, where)


class BelowTheFloor(TestCase):
    def test_heel_and_sump_are_there_at_innage_0(self) -> None:
        box = {"kind": "box", "length_mm": 2000, "width_mm": 1000, "height_mm": 1000}
        tank = tank_file(box, floor_heel_l=25, sump={"depth_mm": 300, "volume_l": 40}).tank
        self.assertAlmostEqual(float(tank.volume(0.0)) * 1000, 65.0)
        self.assertAlmostEqual(tank.capacity * 1000, 2065.0)
        self.assertAlmostEqual(tank.level(1.065), 0.5, places=9)
        with self.assertRaisesRegex(InputError, "shows at its gauge 65 to"):
            tank.level(0.05)

    def test_every_kind_has_a_section_to_draw(self) -> None:
        for file in (
            upright(2000, 1500, {"kind": "hemispherical"}, {"kind": "conical_inward", "depth_mm": 200}),
            tank_file(Strapped.SHAPE),
            tank_file({"kind": "points", "points": ByPoints.POINTS}),
            tank_file({"kind": "sphere", "diameter_mm": 3000}),
            check_document(
                {
                    "format": "rasante.tank/1",
                    "name": "sloped",
                    "shape": {"kind": "box", "length_mm": 3000, "width_mm": 900, "height_mm": 800},
                    "slope_mm_per_m": 50,
                }
            ),
        ):
            along = file.tank.shape.outline().along
            self.assertGreater(len(along), 3)
            self.assertAlmostEqual(float(along[:, 1].max()), file.tank.inside_height, delta=0.2)
