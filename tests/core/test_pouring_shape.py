"""Pours against geometry: closed forms, the pattern of a difference, and a missing dimension from few pours."""

from __future__ import annotations

import math
from typing import Any
from unittest import TestCase

import numpy as np
from scipy.optimize import curve_fit

from rasante.core.pouring.shape import against_shape, join_shape
from rasante.core.tanks.tank_file import check_document

from .samples import example

NOTHING = 1e-9


def document(**shape: Any) -> dict[str, Any]:
    made: dict[str, Any] = {
        "format": "rasante.tank/1",
        "name": "T",
        "shape": shape,
        "measured": {"all": "tape_inside"},
    }
    return dict(check_document(made).document)


def cylinder(diameter: float, length: float, head: float = 0.25) -> dict[str, Any]:
    ends = {"kind": "ellipsoidal", "depth_mm": head * diameter}
    return document(
        kind="horizontal_cylinder", diameter_mm=diameter, shell_length_mm=length, left_head=ends, right_head=ends
    )


class Beside(TestCase):
    def test_the_worst_is_the_largest_difference_by_its_own_half_width(self) -> None:
        """A box of 1 m² floor holds a litre a millimetre: 3 L off where 2 may be is worse than 5 where 10 may."""
        box = document(kind="box", length_mm=1000, width_mm=1000, height_mm=1000)
        level, half = np.array([0.2, 0.5, 0.8]), np.array([0.002, 0.010, 0.001])
        found = against_shape(box, level, level + np.array([0.003, -0.005, 0.0005]), half)
        self.assertAlmostEqual(found.worst, 1.5)
        self.assertFalse(found.agrees)
        np.testing.assert_allclose(found.difference, [0.003, -0.005, 0.0005], atol=1e-12)
        self.assertTrue(against_shape(box, level, level + half, half * 1.001).agrees)


class ClosedForms(TestCase):
    def test_a_box_by_two_pours(self) -> None:
        """Two pours tell floor area and zero of straight walls: A = ΔV/Δh, worked by hand."""
        true = document(kind="box", length_mm=1234.5, width_mm=800, height_mm=1000)
        guess = document(kind="box", length_mm=1000, width_mm=800, height_mm=1000)
        level, zero = np.array([0.3, 0.8]), 0.004
        volume = 1.2345 * 0.8 * level
        found = join_shape(guess, level - zero, volume, np.full(2, NOTHING), np.zeros(2), ["length_mm"])
        self.assertAlmostEqual(found.datum, zero, 6)
        self.assertAlmostEqual(found.document["shape"]["length_mm"], true["shape"]["length_mm"], 1)
        np.testing.assert_allclose(found.volume, 1.2345 * 0.8 * found.level, atol=1e-6)

    def test_a_level_cylinder_of_known_diameter_by_one(self) -> None:
        """Half full of it is πD²L/8."""
        guess = document(
            kind="horizontal_cylinder", diameter_mm=1500, shell_length_mm=3000, left_head={"kind": "flat"},
            right_head={"kind": "flat"},
        )  # fmt: skip
        guess["uncertainty"] = {"diameter_mm": 0.001, "slope_mm_per_m": 1e-6}
        half = np.array([math.pi * 1.5**2 * 4.321 / 8])
        found = join_shape(
            guess, np.array([0.75]), half, np.array([NOTHING]), np.zeros(1), ["shell_length_mm"], datum_half=0.0
        )
        self.assertAlmostEqual(found.document["shape"]["shell_length_mm"], 4321.0, 0)


class Patterns(TestCase):
    """Each thing that may be off, put into the pours, is the one that is named, by as much."""

    def setUp(self) -> None:
        self.document = cylinder(1500, 3000)
        self.level = np.linspace(0.1, 1.4, 9)
        self.half = np.full(9, 2e-3)

    def named(self, true: dict[str, Any], up: float = 0.0, ratio: float = 1.0) -> tuple[str, float, float]:
        volume = ratio * check_document(true).tank.volume(self.level + up)
        noise = np.random.default_rng(5).normal(0, 5e-4, len(self.level))
        found = against_shape(self.document, self.level, volume + noise, self.half)
        self.assertFalse(found.agrees)
        best = found.patterns[0]
        return best.key, best.value, best.half

    def test_datum(self) -> None:
        key, value, half = self.named(self.document, up=0.012)
        self.assertEqual(key, "datum")
        self.assertLessEqual(abs(value - 12.0), half)

    def test_ratio(self) -> None:
        key, value, half = self.named(self.document, ratio=1.02)
        self.assertEqual(key, "ratio")
        self.assertLessEqual(abs(value - 2.0), half)

    def test_diameter_and_heads(self) -> None:
        key, value, half = self.named(cylinder(1530, 3000, 0.25 * 1500 / 1530))
        self.assertEqual(key, "diameter_mm")
        self.assertLessEqual(abs(value - 30.0), half)

    def test_slope(self) -> None:
        level = np.linspace(0.2, 1.3, 9)
        true = check_document({**self.document, "slope_mm_per_m": 25.0, "gauge_position_mm": 300.0}).tank
        stood = dict(check_document({**self.document, "gauge_position_mm": 300.0}).document)
        found = against_shape(stood, level, true.volume(level), self.half)
        best = found.patterns[0]
        self.assertEqual((best.key, round(best.value)), ("slope_mm_per_m", 25))
        self.assertAlmostEqual(best.value, 25.0, delta=max(best.half, 0.05))

    def test_what_is_left_widens_the_half_width_as_scipy_has_it(self) -> None:
        """One parameter by weighted least squares: where more is left than the weights say, that is the measure."""
        rough = np.random.default_rng(11).normal(0, 3e-3, len(self.level))
        volume = check_document(self.document).tank.volume(self.level) * 1.02
        for noise, absolute in ((rough, False), (rough * 0.01, True)):
            patterns = against_shape(self.document, self.level, volume + noise, self.half).patterns
            best = next(one for one in patterns if one.key == "ratio")

            def grown(_: object, share: float) -> np.ndarray:
                return check_document(self.document).tank.volume(self.level) * (1 + share)

            (share,), covariance = curve_fit(
                grown, self.level, volume + noise, [0.0], sigma=self.half / 2, absolute_sigma=absolute
            )
            self.assertAlmostEqual(best.value, 100 * share, 3)
            self.assertAlmostEqual(best.half, 200 * float(np.sqrt(covariance[0, 0])), 3)

    def test_agreeing_names_nothing(self) -> None:
        volume = check_document(self.document).tank.volume(self.level)
        found = against_shape(self.document, self.level, volume + 5e-4, self.half)
        self.assertTrue(found.agrees)
        self.assertEqual(found.patterns, [])


class AMissingDimension(TestCase):
    def test_four_pours_give_a_table_to_half_a_per_cent(self) -> None:
        rng = np.random.default_rng(77)
        within, covered = 0, []
        tries = 60
        for turn in range(tries):
            diameter, length = rng.uniform(900, 2500), rng.uniform(1500, 6000)
            kind = turn % 4
            if kind == 0:
                true, key = cylinder(diameter, length), "shell_length_mm"
            elif kind == 1:
                true, key = cylinder(diameter, length), "diameter_mm"
            elif kind == 2:
                true, key = document(kind="box", length_mm=length, width_mm=diameter, height_mm=1200), "width_mm"
            else:
                ends = {"kind": "flat"}
                true, key = (
                    document(
                        kind="vertical_cylinder", diameter_mm=diameter, shell_height_mm=length, bottom=ends, top=ends
                    ),
                    "diameter_mm",
                )
            shape = true["shape"]
            guess = {**true, "shape": {**shape, key: shape[key] * rng.uniform(0.75, 1.3)}}
            if kind == 1:
                # Heads go with the diameter as their drawing says.
                guess["shape"] = {
                    **guess["shape"],
                    "left_head": shape["left_head"],
                    "right_head": shape["right_head"],
                }
            tank = check_document(true).tank
            top = min(tank.inside_height, check_document(guess).tank.inside_height)
            level = np.linspace(0.15, 0.85, 4) * top
            factor = 1 + rng.normal(0, 0.0015)
            volume = tank.volume(level + rng.normal(0, 0.25e-3, 4)) / factor
            random = np.hypot(tank.surface(level) * 0.5e-3, 0.001 * volume)
            found = join_shape(guess, level, volume, random, 0.003 * volume, [key])
            rows = found.level[found.level <= tank.inside_height]
            off = np.abs(np.interp(rows, found.level, found.volume) - tank.volume(rows))
            within += float(off.max()) <= 0.005 * tank.capacity
            covered.append(float(np.mean(off <= np.interp(rows, found.level, found.half) + 1e-9)))
        self.assertGreaterEqual(within / tries, 0.95)
        self.assertGreaterEqual(np.mean(covered), 0.93)

    def test_an_unknown_key_is_refused(self) -> None:
        whole = dict(check_document(example()).document)
        with self.assertRaisesMessage("is no dimension"):
            join_shape(whole, np.array([1.0]), np.array([9.0]), np.array([0.01]), np.zeros(1), ["width_mm"])

    def assertRaisesMessage(self, text: str):
        return self.assertRaisesRegex(ValueError, text)
