"""The uncertainty of every row, against Monte Carlo by JCGM 101:2008 with 800 draws for each tank."""

from __future__ import annotations

from typing import Any, ClassVar
from unittest import TestCase

import numpy as np

from rasante.core.quantities.errors import InputError
from rasante.core.tanks.build import build_shape
from rasante.core.tanks.measured import METHODS
from rasante.core.tanks.survey import entries_of, read_survey
from rasante.core.tanks.tank_file import TankFile, check_document
from rasante.core.tanks.tolerances import moved, tolerances
from rasante.core.tanks.uncertainty import budget_at, contributions, volume_uncertainty
from tests.tags import slow

from .every_kind import SHAPES
from .samples import example, tank_file

DRAWS = 800


def monte_carlo(file: TankFile, levels: np.ndarray, rng: np.random.Generator) -> np.ndarray:
    """Half the width of two standard deviations of the volume at each level, every dimension drawn as normal."""
    budget = [t for t in tolerances(file.document) if t.half_width]
    draws = rng.normal(0, 1, (DRAWS, len(budget)))
    # Brought to mean 0 and unit covariance: what is straight in a dimension has no noise of the drawing left.
    draws -= draws.mean(axis=0)
    draws = draws @ np.linalg.inv(np.linalg.cholesky(np.cov(draws.T, bias=True).reshape(len(budget), -1))).T
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
        # By volumes alone, ± 1 % of each is ± 1 % of all between them: the curve is linear in its points.
        alone = tank_file({"kind": "points", "points": points}, uncertainty={"volume_pct": 1})
        rows = np.array([0.2, 0.45, 0.8])
        np.testing.assert_allclose(volume_uncertainty(alone, rows) / alone.tank.volume(rows), 0.01, rtol=1e-3)


@slow
class FromEmptyToBrim(TestCase):
    """Twelve kinds of tank, at rows from the first to the last: brims and floors are kinks, and U holds at them."""

    def held(self, name: str, **keys: Any) -> None:
        shape = SHAPES[name]
        file = check_document(
            {"format": "rasante.tank/1", "name": name, "shape": shape, "measured": {"all": "tape_inside"}, **keys}
        )
        top = file.tank.inside_height
        levels = top * np.array([0, 0.0005, 0.002, 0.01, 0.1, 0.35, 0.6, 0.9, 0.99, 0.996, 0.999, 0.9995, 1.0])
        ours = volume_uncertainty(file, levels)
        theirs = monte_carlo(file, levels, np.random.default_rng(7))
        assert ours is not None
        # A hundredth of a litre is less than any table shows; the drawn ones are no surer at half a millimetre.
        np.testing.assert_allclose(ours, theirs, rtol=0.03, atol=1e-5, err_msg=name)
        # Every row of a fine table is drawn through levels close enough by.
        rows = np.linspace(0, top, 1501)
        drawn = volume_uncertainty(file, rows)
        assert drawn is not None
        np.testing.assert_allclose(np.interp(levels[2:-4], rows, drawn), ours[2:-4], rtol=0.02, err_msg=name)

    def test_level_ones(self) -> None:
        for name in ("lying", "upright", "box", "ellipse", "obround", "sphere", "strapped", "points"):
            with self.subTest(name):
                self.held(name)

    def test_a_traced_one(self) -> None:
        self.held("traced")

    def test_sloped_ones(self) -> None:
        stated = {"slope_mm_per_m": 1.5, "gauge_position_mm": 20}
        for name in ("lying", "box", "ellipse"):
            with self.subTest(name):
                self.held(name, slope_mm_per_m=18, gauge_position_mm=400, uncertainty=stated)

    def test_a_hair_s_breadth_of_slope_makes_no_hole(self) -> None:
        head = {"kind": "hemispherical"}
        for length in (1, 1500):
            shape = {"kind": "horizontal_cylinder", "diameter_mm": 2000, "shell_length_mm": length,
                     "left_head": head, "right_head": head}  # fmt: skip
            file = tank_file(shape, slope_mm_per_m=1e-9, measured={"all": "tape_inside"})
            found = volume_uncertainty(file, np.array([0.5, 1.0, 1.5]))
            assert found is not None
            self.assertTrue(np.isfinite(found).all(), found)
            self.assertLess(found[1], found[2])


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
        self.assertTrue(all(t.half_width for t in found.values() if t.unit.startswith("mm")))

    def test_what_a_way_of_measuring_is_worth_goes_by_the_largest_of_many(self) -> None:
        """Levels of points by the highest, circumferences by the longest, plates by the thinnest."""
        points = {"kind": "points", "points": [[0, 0], [200, 130], [800, 1000]]}
        courses = {"kind": "courses", "courses": [
            {"circumference_mm": 22_600, "plate_mm": 7, "height_mm": 1500},
            {"circumference_mm": 22_650, "plate_mm": 6, "height_mm": 1800},
            {"circumference_mm": 22_620, "plate_mm": 8, "height_mm": 1200},
        ]}  # fmt: skip
        traced = {"kind": "polygon", "points_mm": [[-300, 0], [300, 0], [500, 700], [-450, 650]]}
        for shape, nominal in (
            (points, {"level_mm": 800, "volume_pct": 100}),
            (courses, {"circumference_mm": 22_650, "plate_mm": 6, "height_mm": 1800}),
            ({"kind": "prism", "length_mm": 4000, "section": traced},
             {"section.width_mm": 950, "section.height_mm": 700}),
        ):  # fmt: skip
            found = {one.key: one.nominal for one in tolerances(tank_file(shape).document)}
            self.assertLessEqual(nominal.items(), found.items())

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


class ThinHeads(TestCase):
    def test_a_head_of_a_millimetre_is_off_by_its_own_size(self) -> None:
        # ± 3 mm on a head of 1 mm: not more than a head of 4 mm holds more than it, and nothing beyond all measure.
        for kind, keys in (("ellipsoidal", {"depth_mm": 1}), ("conical", {"depth_mm": 1}),
                           ("torispherical", {"dish_radius_mm": 2000, "knuckle_radius_mm": 1})):  # fmt: skip
            head = {"kind": kind, **keys}
            shape = {"kind": "horizontal_cylinder", "diameter_mm": 2000, "shell_length_mm": 4000,
                     "left_head": head, "right_head": {"kind": "flat"}}  # fmt: skip
            file = tank_file(shape, measured={"all": "tape_inside"}, uncertainty={"diameter_mm": 0.001,
                             "shell_length_mm": 0.001, "slope_mm_per_m": 0, "gauge_position_mm": 0})  # fmt: skip
            found = volume_uncertainty(file, np.linspace(0.2, 1.9, 7))
            assert found is not None
            self.assertTrue((found >= 0).all() and (found * 1000 <= np.pi * 4).all(), (kind, found * 1000))


class BesideTheShape(TestCase):
    """Deadwood, heel and sump are off by what is stated of them; by hand, and with everything else exact."""

    BOX: ClassVar[dict[str, Any]] = {"kind": "box", "length_mm": 2000, "width_mm": 1000, "height_mm": 1000}
    BESIDE: ClassVar[dict[str, Any]] = {
        "deadwood": [{"from_mm": 200, "to_mm": 600, "volume_l": -40}, {"from_mm": 0, "to_mm": 100, "volume_l": 10}],
        "floor_heel_l": 12,
        "sump": {"depth_mm": 100, "volume_l": 30},
    }

    def held(self, stated: dict[str, float]) -> np.ndarray:
        found = volume_uncertainty(tank_file(self.BOX, **self.BESIDE, uncertainty=stated), np.array([0.05, 0.4, 0.9]))
        assert found is not None
        return found * 1000

    def test_each_alone(self) -> None:
        # 20 % of the deadwood below each level: of 5 L; of 10 − 20 L; of 10 − 40 L.
        np.testing.assert_allclose(self.held({"deadwood_pct": 20}), [1.0, 2.0, 6.0], atol=1e-9)
        np.testing.assert_allclose(self.held({"floor_heel_l": 3}), [3.0] * 3, atol=1e-9)
        np.testing.assert_allclose(self.held({"sump_l": 4}), [4.0] * 3, atol=1e-9)
        np.testing.assert_allclose(self.held({"floor_heel_l": 3, "sump_l": 4}), [5.0] * 3, atol=1e-9)

    def test_a_way_of_measuring_the_shell_says_nothing_of_them(self) -> None:
        budget = budget_at(tank_file(self.BOX, **self.BESIDE, measured={"all": "tape_inside"}), 0.5)
        self.assertEqual({t.key for t in budget.unstated}, {"deadwood_pct", "floor_heel_l", "sump_l"})
        stated = budget_at(tank_file(self.BOX, **self.BESIDE, uncertainty={"floor_heel_l": 5}), 0.5)
        self.assertEqual((stated.shares[0][0].key, stated.better_u95_m3), ("floor_heel_l", None))

    def test_what_is_not_there_has_no_tolerance(self) -> None:
        for key in ("deadwood_pct", "floor_heel_l", "sump_l"):
            with self.assertRaises(InputError):
                tank_file(self.BOX, uncertainty={key: 1})
        with self.assertRaises(InputError) as refused:
            tank_file(self.BOX, **self.BESIDE, uncertainty={"floor_heel_l": 8})
        self.assertIn("± 8 L on 12 L", refused.exception.problems[0].what)

    def test_typed_at_the_survey(self) -> None:
        typed = {**entries_of(tank_file(self.BOX, **self.BESIDE).document), "uncertainty.deadwood_pct": "20",
                 "uncertainty.floor_heel_l": "1 gal"}  # fmt: skip
        self.assertIn("gallon", read_survey(typed).fields["uncertainty.floor_heel_l"].problem)
        survey = read_survey({**typed, "uncertainty.floor_heel_l": "3 L"})
        assert survey.file is not None
        self.assertEqual(survey.file.document["uncertainty"], {"deadwood_pct": 20.0, "floor_heel_l": 3.0})
