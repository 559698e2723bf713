"""The uncertainty of every row, against Monte Carlo by JCGM 101:2008 with 5 000 draws for each tank."""

from __future__ import annotations

from typing import Any
from unittest import TestCase

import numpy as np

from rasante.core.quantities.errors import InputError
from rasante.core.tanks.build import build_shape
from rasante.core.tanks.measured import METHODS
from rasante.core.tanks.tank_file import TankFile, check_document
from rasante.core.tanks.tolerances import moved, tolerances
from rasante.core.tanks.uncertainty import budget_at, contributions, volume_uncertainty
from tests.tags import slow

from .samples import example, tank_file

DRAWS = 5_000


def monte_carlo(file: TankFile, levels: np.ndarray, rng: np.random.Generator) -> np.ndarray:
    """Half the width of two standard deviations of the volume at each level, every dimension drawn as normal."""
    budget = [t for t in tolerances(file.document) if t.half_width]
    draws = rng.normal(0, 1, (DRAWS, len(budget)))
    volumes = np.empty((DRAWS, len(levels)))
    for row, numbers in enumerate(draws):
        document: dict[str, Any] = {**file.document}
        for tolerance, number in zip(budget, numbers, strict=True):
            document = moved(document, tolerance.key, number * tolerance.half_width / 2)
        shape = check_shape(document)
        volumes[row] = shape.volume(levels)
    return 2 * volumes.std(axis=0)


def check_shape(document: dict[str, Any]):
    return build_shape(document["shape"], document.get("slope_mm_per_m", 0.0), document.get("gauge_position_mm"))


def levels_between(file: TankFile, low: float, high: float, count: int) -> np.ndarray:
    """Levels at which the tank holds from one share of its capacity to another."""
    shares = np.linspace(low, high, count) * file.tank.capacity
    least, most = (float(v) for v in file.tank.volume(np.array([0.0, file.tank.inside_height])))
    return np.array([file.tank.level(share) for share in shares if least < share < most])


@slow
class AgainstMonteCarlo(TestCase):
    def held(self, file: TankFile, seed: int) -> None:
        levels = levels_between(file, 0.05, 0.95, 19)
        ours = volume_uncertainty(file, levels)
        theirs = monte_carlo(file, levels, np.random.default_rng(seed))
        np.testing.assert_allclose(ours, theirs, rtol=0.03)

    def test_level_with_heads(self) -> None:
        document = example(
            uncertainty={
                "diameter_mm": 8,
                "shell_length_mm": 20,
                "left_head.depth_mm": 15,
                "right_head.dish_radius_mm": 30,
            },
            deadwood=None,
        )
        self.held(check_document(document), 101)

    def test_sloped_with_slope_and_gauge_uncertain(self) -> None:
        head = {"kind": "ellipsoidal", "depth_mm": 450}
        shape = {
            "kind": "horizontal_cylinder",
            "diameter_mm": 1800,
            "shell_length_mm": 5000,
            "left_head": head,
            "right_head": head,
        }
        stated = {"diameter_mm": 6, "shell_length_mm": 15, "slope_mm_per_m": 4, "gauge_position_mm": 60}
        self.held(tank_file(shape, slope_mm_per_m=12, gauge_position_mm=900, uncertainty=stated), 102)

    def test_level_under_a_gauge_in_the_middle(self) -> None:
        # The first derivative by the slope vanishes here; the second is what is left.
        shape = {"kind": "box", "length_mm": 4000, "width_mm": 1000, "height_mm": 1000}
        section = {"kind": "ellipse", "width_mm": 1500, "height_mm": 1000}
        self.held(tank_file(shape, uncertainty={"width_mm": 6, "slope_mm_per_m": 2}), 103)
        prism = {"kind": "prism", "length_mm": 4000, "section": section}
        self.held(tank_file(prism, uncertainty={"section.width_mm": 8, "section.height_mm": 5}), 104)

    def test_strapped_and_by_points(self) -> None:
        courses = [{"circumference_mm": 22_600, "plate_mm": 7, "height_mm": 1500}] * 3
        self.held(
            tank_file(
                {"kind": "courses", "courses": courses},
                uncertainty={"circumference_mm": 8, "plate_mm": 1, "height_mm": 4},
            ),
            105,
        )
        points = [[0, 0], [200, 130], [400, 380], [600, 700], [800, 1000]]
        self.held(tank_file({"kind": "points", "points": points}, uncertainty={"volume_pct": 1, "level_mm": 3}), 106)


class Budgets(TestCase):
    def test_the_largest_is_named_and_what_measuring_it_again_brings(self) -> None:
        file = check_document(
            example(uncertainty={"shell_length_mm": 2}, measured={"diameter_mm": "data_plate"}, deadwood=None)
        )
        budget = budget_at(file, 1.2)
        worst, share = budget.shares[0]
        self.assertEqual(worst.key, "diameter_mm")
        self.assertAlmostEqual(worst.half_width, METHODS["data_plate"].half_width_mm(2400))
        self.assertGreater(share, 0.9)
        again = check_document(
            example(
                uncertainty={"shell_length_mm": 2}, measured={"diameter_mm": budget_method(budget)}, deadwood=None
            )
        )
        self.assertAlmostEqual(budget.better_u95_m3, float(volume_uncertainty(again, np.array([1.2]))[0]), places=12)
        self.assertLess(budget.better_u95_m3, budget.u95_m3)

    def test_what_nobody_spoke_of_is_named(self) -> None:
        budget = budget_at(check_document(example(uncertainty={"diameter_mm": 3})), 1.0)
        self.assertIn("Shell length", [t.label for t in budget.unstated])
        self.assertIsNone(budget_at(check_document(example(uncertainty=None)), 1.0).u95_m3)

    def test_a_way_of_measuring_gives_every_dimension_a_half_width(self) -> None:
        file = check_document(example(uncertainty={"diameter_mm": 1}, measured={"all": "tape_outside"}))
        found = {t.key: t for t in tolerances(file.document)}
        self.assertEqual((found["diameter_mm"].half_width, found["diameter_mm"].stated), (1, True))
        self.assertEqual(found["shell_length_mm"].half_width, METHODS["tape_outside"].half_width_mm(6000))
        self.assertTrue(all(t.half_width for t in found.values()))

    def test_drawn_through_fewer_levels_it_stays_itself(self) -> None:
        file = check_document(example(measured={"all": "tape_outside"}))
        many = np.linspace(0, 2.4, 2001)
        drawn = volume_uncertainty(file, many)
        few = many[np.linspace(40, 1960, 50).astype(int)]
        exact = volume_uncertainty(file, few)
        np.testing.assert_allclose(np.interp(few, many, drawn), exact, rtol=2e-3)

    def test_unknown_ways_and_keys_are_refused(self) -> None:
        for keys, where in (
            ({"measured": {"all": "guessed"}}, "measured.all"),
            ({"measured": {"roof": "strapped"}}, "measured.roof"),
            ({"uncertainty": {"slope_mm_per_m": -1}}, "uncertainty.slope_mm_per_m"),
        ):
            with self.assertRaises(InputError) as caught:
                check_document(example(**keys))
            self.assertEqual(caught.exception.problems[0].where, where)

    def test_one_dimension_alone_is_its_own_contribution(self) -> None:
        file = check_document(example(uncertainty={"shell_length_mm": 30}, deadwood=None))
        part = contributions(file, np.array([2.4]))[0]
        self.assertAlmostEqual(float(part.u95_m3[0]), np.pi * 1.44 * 0.030, places=9)


def budget_method(budget) -> str:
    """The key of the way that a budget proposes."""
    return next(key for key, method in METHODS.items() if method.label.lower() == budget.better_by)
