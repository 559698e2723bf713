"""Plane sections and heads by themselves, against direct integration and what geometry says."""

from __future__ import annotations

from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import quad

from rasante.core.quantities.errors import InputError
from rasante.core.tanks.heads import (
    ConicalHead,
    EllipsoidalHead,
    FlatHead,
    Head,
    HemisphericalHead,
    TorisphericalHead,
)
from rasante.core.tanks.sections import RoundedBox, circle_area, circle_chord

RADIUS = 0.9
HEADS: list[Head] = [
    FlatHead(),
    EllipsoidalHead(0.45),
    EllipsoidalHead(0.2),
    HemisphericalHead(),
    ConicalHead(0.5),
    TorisphericalHead(1.8, 0.108),
    TorisphericalHead(1.44, 0.277),
    TorisphericalHead(0.9, 0.3),
]


class Circles(TestCase):
    def test_handbook_figures(self) -> None:
        # Geometry: a full, a half and a quarter-deep circle of radius 1. The last is π/3 − √3/4.
        np.testing.assert_allclose(
            circle_area(1.0, [0, 0.5, 1, 2, 3, -1]),
            [0, np.pi / 3 - np.sqrt(3) / 4, np.pi / 2, np.pi, np.pi, 0],
            atol=1e-15,
        )

    def test_nearly_empty_keeps_its_digits(self) -> None:
        # For a small depth h the segment tends to (4/3) h √(2 R h), with a relative error of order h / R.
        for depth in (1e-4, 1e-6, 1e-9, 1e-12):
            limit = 4 / 3 * depth * np.sqrt(2 * depth)
            self.assertAlmostEqual(float(circle_area(1.0, depth)) / limit, 1.0, delta=depth)

    def test_area_is_the_integral_of_the_chord(self) -> None:
        for depth in (0.01, 0.3, 0.9, 1.5, 1.79):
            by_chord = quad(lambda z: float(circle_chord(RADIUS, z)), 0, depth, epsabs=1e-12)[0]
            self.assertAlmostEqual(float(circle_area(RADIUS, depth)), by_chord, places=9)

    @settings(max_examples=80, deadline=None)
    @given(st.floats(1e-3, 50), st.floats(0, 1))
    def test_fill_and_void_make_the_whole(self, radius: float, share: float) -> None:
        depth = share * 2 * radius
        whole = float(circle_area(radius, depth) + circle_area(radius, 2 * radius - depth))
        self.assertAlmostEqual(whole / (np.pi * radius**2), 1.0, places=12)


class RoundedBoxes(TestCase):
    def test_square_corners_are_a_rectangle(self) -> None:
        np.testing.assert_allclose(RoundedBox(2, 1, 0).area([0, 0.25, 1, 5]), [0, 0.5, 2, 2])

    def test_corners_of_half_the_side_are_a_circle(self) -> None:
        depths = np.linspace(0, 1, 21)
        np.testing.assert_allclose(RoundedBox(1, 1, 0.5).area(depths), circle_area(0.5, depths), atol=1e-15)
        np.testing.assert_allclose(RoundedBox(1, 1, 0.5).chord(depths), circle_chord(0.5, depths), atol=1e-7)

    def test_full_is_the_rectangle_less_its_corners(self) -> None:
        # Geometry: four corners together lack (4 − π) r².
        self.assertAlmostEqual(float(RoundedBox(2, 1.2, 0.3).area(1.2)), 2.4 - (4 - np.pi) * 0.09)

    def test_area_is_the_integral_of_the_width(self) -> None:
        for depth in (0.1, 0.3, 0.7, 1.1, 1.2):
            by_width = quad(lambda z: float(RoundedBox(2, 1.2, 0.3).chord(z)), 0, depth, points=[0.3, 0.9])[0]
            self.assertAlmostEqual(float(RoundedBox(2, 1.2, 0.3).area(depth)), by_width, places=7)


def turned(head: Head) -> float:
    """A head's full volume by turning its outline round the axis (Pappus), as fine as the outline is drawn."""
    points = head.outline(RADIUS)
    upper = points[: len(points) // 2 + len(points) % 2]
    s, r = upper[:, 0], np.maximum(upper[:, 1], 0)
    return float(np.sum(np.pi / 3 * np.diff(s) * (r[1:] ** 2 + r[1:] * r[:-1] + r[:-1] ** 2)))


class Heads(TestCase):
    def test_fill_and_void_make_the_whole_at_every_level(self) -> None:
        levels = np.linspace(0, 2 * RADIUS, 37)
        for head in HEADS:
            with self.subTest(str(head)):
                whole = head.volume(RADIUS, levels) + head.volume(RADIUS, 2 * RADIUS - levels)
                np.testing.assert_allclose(whole, head.volume(RADIUS, 2 * RADIUS), rtol=1e-11, atol=1e-15)

    def test_surface_is_the_slope_of_the_volume(self) -> None:
        levels, step = np.linspace(0.05, 1.75, 35), 1e-6
        for head in HEADS:
            with self.subTest(str(head)):
                slope = (head.volume(RADIUS, levels + step) - head.volume(RADIUS, levels - step)) / (2 * step)
                np.testing.assert_allclose(head.surface(RADIUS, levels), slope, rtol=1e-6, atol=1e-9)

    def test_the_outline_turned_round_the_axis_holds_the_full_volume(self) -> None:
        for head in HEADS:
            with self.subTest(str(head)):
                full = float(head.volume(RADIUS, 2 * RADIUS))
                self.assertAlmostEqual(turned(head), full, delta=0.01 * full + 1e-12)

    def test_the_outline_ends_at_the_depth(self) -> None:
        for head in HEADS:
            self.assertAlmostEqual(float(head.outline(RADIUS)[:, 0].max()), head.depth(RADIUS), places=9)

    def test_below_the_bottom_and_above_the_top(self) -> None:
        for head in HEADS:
            empty, full = head.volume(RADIUS, [-0.5, 9.0])
            self.assertEqual(empty, 0.0)
            self.assertAlmostEqual(full, float(head.volume(RADIUS, 2 * RADIUS)), places=12)

    def test_a_deeper_ellipsoid_holds_more(self) -> None:
        levels = np.linspace(0.1, 1.8, 18)
        self.assertTrue(
            np.all(EllipsoidalHead(0.45).volume(RADIUS, levels) > EllipsoidalHead(0.44).volume(RADIUS, levels))
        )

    def test_a_torisphere_of_the_shells_own_radius_is_a_hemisphere(self) -> None:
        levels = np.linspace(0, 2 * RADIUS, 19)
        ball = HemisphericalHead().volume(RADIUS, levels)
        np.testing.assert_allclose(TorisphericalHead(0.9, 0.3).volume(RADIUS, levels), ball, rtol=1e-9, atol=1e-12)

    def test_heads_that_cannot_close_the_shell(self) -> None:
        for head, key in (
            (TorisphericalHead(0.8, 0.1), "dish_radius_mm"),
            (TorisphericalHead(1.8, 1.0), "knuckle_radius_mm"),
            (TorisphericalHead(0.9, 0.95), "knuckle_radius_mm"),
            (EllipsoidalHead(2.0), "depth_mm"),
            (ConicalHead(1.9), "depth_mm"),
        ):
            with self.subTest(str(head)), self.assertRaises(InputError) as caught:
                head.check(RADIUS)
            self.assertEqual(caught.exception.problems[0].where, key)
        for head in HEADS:
            head.check(RADIUS)
