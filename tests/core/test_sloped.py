"""Sloped tanks: against adaptive quadrature, a sliced mesh, and what must be true of any of them."""

from __future__ import annotations

from typing import Any
from unittest import TestCase

import numpy as np

from rasante.core.tanks.tank_file import TankFile, check_document
from tests.tags import slow

from .samples import random_head, tank_file
from .sloped import by_mesh, by_quadrature, mesh_of

SLOPES = (0.0, 1e-4, 0.5, 5.0, 40.0, 200.0, 577.0)


def random_sloped(rng: np.random.Generator, slope: float) -> TankFile:
    diameter, length = float(rng.uniform(500, 3500)), float(rng.uniform(400, 12000))
    return tank_file(
        {
            "kind": "horizontal_cylinder",
            "diameter_mm": diameter,
            "shell_length_mm": length,
            "left_head": random_head(rng, diameter),
            "right_head": random_head(rng, diameter),
        },
        slope_mm_per_m=slope * float(rng.choice([-1, 1])),
        gauge_position_mm=float(rng.choice([0.0, rng.uniform(0, 1), 1.0])) * length,
    )


class AgainstQuadrature(TestCase):
    """`scipy.integrate.quad` on the definition in the tank file's description, independent of the engine."""

    def test_every_head_and_slope(self) -> None:
        rng = np.random.default_rng(30)
        worst = 0.0
        for slope in SLOPES * 4:
            file = random_sloped(rng, slope)
            for level in [0.0, *(rng.uniform(0, 1, 3) * file.tank.inside_height)]:
                ours, theirs = float(file.tank.volume(level)), by_quadrature(dict(file.document), level)
                # Relative 1e-8, or a hundredth of a cubic millimetre where next to nothing is in the tank.
                worst = max(worst, abs(ours - theirs) / max(1e-8 * theirs, 1e-11))
        self.assertLess(worst, 1.0)


@slow
class AgainstAMesh(TestCase):
    """`trimesh`, a general-purpose library of triangle meshes: a fine mesh sliced by the tilted plane."""

    def test_sliced(self) -> None:
        rng = np.random.default_rng(31)
        for slope in (8.0, 90.0, 500.0):
            file = random_sloped(rng, slope)
            document = dict(file.document)
            mesh = mesh_of(document)
            capacity = file.tank.capacity
            for share in (0.1, 0.35, 0.6, 0.9):
                level = share * file.tank.inside_height
                self.assertLess(abs(float(file.tank.volume(level)) - by_mesh(document, mesh, level)), 1e-4 * capacity)


def turned_over(document: dict[str, Any]) -> dict[str, Any]:
    """The tank upside down: ends swapped and the section turned, so that its liquid is the other one's void."""
    shape = dict(document["shape"])
    length = shape.get("shell_length_mm", shape.get("length_mm", 0.0))
    if "left_head" in shape:
        shape |= {"left_head": shape["right_head"], "right_head": shape["left_head"]}
    if shape.get("section", {}).get("kind") == "polygon":
        points = [[-x, -z] for x, z in shape["section"]["points_mm"]]
        shape["section"] = {**shape["section"], "points_mm": points}
    gauge = document.get("gauge_position_mm", length / 2)
    return {**document, "shape": shape, "gauge_position_mm": length - gauge}


class AnySlope(TestCase):
    def kinds(self) -> list[dict[str, Any]]:
        hull = [[-70, 0], [70, 0], [210, 120], [345, 400], [420, 900], [-420, 900], [-345, 400], [-210, 120]]
        odd = [[0, 0], [900, 0], [900, 300], [500, 300], [500, 500], [900, 700], [0, 700]]
        sections: list[dict[str, Any]] = [
            {"kind": "ellipse", "width_mm": 1800, "height_mm": 1100},
            {"kind": "obround", "width_mm": 1000, "height_mm": 1500},
            {"kind": "polygon", "points_mm": hull},
            {"kind": "polygon", "points_mm": hull, "corner_radius_mm": 30},
            {"kind": "polygon", "points_mm": odd},
        ]
        dish = {"kind": "torispherical", "dish_radius_mm": 1600, "knuckle_radius_mm": 160}
        return [
            *({"kind": "prism", "length_mm": 2300, "section": section} for section in sections),
            {"kind": "box", "length_mm": 2300, "width_mm": 900, "height_mm": 800, "corner_radius_mm": 90},
            {
                "kind": "horizontal_cylinder",
                "diameter_mm": 1600,
                "shell_length_mm": 2300,
                "left_head": dish,
                "right_head": {"kind": "conical", "depth_mm": 500},
            },
        ]

    def test_fill_and_void_make_the_whole(self) -> None:
        for shape in self.kinds():
            for slope in (0.0, 3.0, -60.0, 577.0):
                for gauge in (0.0, 800.0, 2300.0):
                    file = tank_file(shape, slope_mm_per_m=slope, gauge_position_mm=gauge)
                    over = check_document(turned_over(dict(file.document)))
                    tank, other = file.tank, over.tank
                    levels = np.linspace(0, 1, 23) * tank.inside_height
                    # Turned over, the gauge's foot is at the old top right above the plumb line's foot.
                    angle = np.arctan(slope / 1000)
                    high = float(tank.shape.section.height * np.cos(angle))
                    inner = levels[levels <= high]
                    whole = tank.volume(inner) + other.volume(np.maximum(high - inner, 0))
                    np.testing.assert_allclose(whole, tank.capacity, rtol=1e-9, err_msg=f"{shape['kind']} {slope}")

    def test_no_crash_no_negative_and_never_falling(self) -> None:
        rng = np.random.default_rng(32)
        files = [random_sloped(rng, float(rng.uniform(0, 577))) for _ in range(30)]
        files += [
            tank_file(shape, slope_mm_per_m=slope, gauge_position_mm=gauge)
            for shape in self.kinds()
            for slope in (-577.0, -8.0, 577.0)
            for gauge in (0.0, 2300.0)
        ]
        for file in files:
            tank = file.tank
            volume = tank.volume(np.linspace(0, tank.inside_height, 1501))
            self.assertTrue(np.all(np.isfinite(volume)))
            self.assertGreaterEqual(float(volume.min()), 0.0)
            self.assertGreaterEqual(float(np.diff(volume).min()), -1e-12 * tank.capacity)
            self.assertLessEqual(float(volume.max()), tank.capacity * (1 + 1e-12))

    def test_the_surface_is_the_slope_of_the_volume(self) -> None:
        rng = np.random.default_rng(33)
        for file in [random_sloped(rng, slope) for slope in SLOPES]:
            tank = file.tank
            levels = np.linspace(0.04, 0.96, 24) * tank.inside_height
            step = 1e-6 * tank.inside_height
            slope = (tank.volume(levels + step) - tank.volume(levels - step)) / (2 * step)
            np.testing.assert_allclose(tank.surface(levels), slope, rtol=3e-6, atol=1e-7 * tank.capacity)

    def test_almost_level_is_level(self) -> None:
        rng = np.random.default_rng(34)
        for file in [random_sloped(rng, 1e-7) for _ in range(6)]:
            level = check_document({**file.document, "slope_mm_per_m": 0})
            levels = np.linspace(0, level.tank.inside_height, 40)
            np.testing.assert_allclose(
                file.tank.volume(levels), level.tank.volume(levels), atol=1e-8 * level.tank.capacity
            )

    def test_what_the_gauge_does_not_see(self) -> None:
        # A box 4 m × 1 m × 1 m that rises 100 mm/m to the right, its gauge at the high end: the wedge below is
        # length × width × rise / 2, on the plan's own measure. Geometry.
        file = tank_file(
            {"kind": "box", "length_mm": 4000, "width_mm": 1000, "height_mm": 1000},
            slope_mm_per_m=100,
            gauge_position_mm=4000,
        )
        self.assertAlmostEqual(float(file.tank.volume(0.0)), 4 * 0.4 / 2, places=12)
        low = tank_file({**file.document["shape"]}, slope_mm_per_m=100, gauge_position_mm=0)
        self.assertEqual(float(low.tank.volume(0.0)), 0.0)
        # And the plumb height at the gauge is the height by the cosine.
        self.assertAlmostEqual(low.tank.inside_height, np.sqrt(1.01), places=12)
