"""Heads as surfaces of revolution, piece by piece, against direct integration."""

from __future__ import annotations

from unittest import TestCase

import numpy as np
from scipy.integrate import quad

from rasante.core.tanks.heads import (
    ConicalHead,
    EllipsoidalHead,
    FlatHead,
    Head,
    HemisphericalHead,
    InwardConicalHead,
    TorisphericalHead,
)
from rasante.core.tanks.meridian import beyond, chord, cut, radius_at, segment

RADIUS = 1.1
HEADS: list[Head] = [
    EllipsoidalHead(0.55),
    EllipsoidalHead(0.1),
    HemisphericalHead(),
    ConicalHead(0.7),
    TorisphericalHead(2.2, 0.132),
    TorisphericalHead(1.76, 0.34),
]


class Meridians(TestCase):
    def test_radius_falls_from_the_shell_to_nothing(self) -> None:
        for head in HEADS:
            pieces, depth = head.pieces(RADIUS), head.depth(RADIUS)
            radius = radius_at(pieces, np.linspace(0, depth, 301))
            self.assertAlmostEqual(float(radius[0]), RADIUS)
            self.assertAlmostEqual(float(radius[-1]), 0.0, places=6)
            self.assertTrue(np.all(np.diff(radius) <= 1e-12))
        self.assertEqual(FlatHead().pieces(RADIUS), ())

    def test_a_whole_head_turned_upright_holds_what_it_holds_lying(self) -> None:
        for head in HEADS:
            upright = float(beyond(head.pieces(RADIUS), np.asarray(0.0)))
            self.assertAlmostEqual(upright, float(head.volume(RADIUS, 2 * RADIUS)), places=12)

    def test_beyond_a_distance_is_the_integral_of_the_circles(self) -> None:
        for head in HEADS:
            pieces, depth = head.pieces(RADIUS), head.depth(RADIUS)
            for share in (0.15, 0.5, 0.93):
                start = share * depth
                joins = [float(p.at(np.asarray(p.ends[1]))[0]) for p in pieces[:-1]]
                total = quad(
                    lambda s, pieces=pieces: np.pi * float(radius_at(pieces, np.asarray(s))) ** 2,
                    start,
                    depth,
                    points=[j for j in joins if start < j < depth] or None,
                    epsabs=1e-13,
                    limit=200,
                )[0]
                self.assertAlmostEqual(float(beyond(pieces, np.asarray(start))), total, places=9)

    def test_an_inward_cone_has_the_cone_s_own_meridian(self) -> None:
        self.assertEqual(InwardConicalHead(0.4).pieces(RADIUS), ConicalHead(0.4).pieces(RADIUS))
        self.assertTrue(InwardConicalHead(0.4).inward)


class Cuts(TestCase):
    def test_a_level_cut_is_the_closed_form(self) -> None:
        levels = np.linspace(0.02, 2 * RADIUS - 0.02, 21)
        for head in HEADS:
            for measure, known in ((segment, head.volume), (chord, head.surface)):
                found = cut(head.pieces(RADIUS), RADIUS - levels, 0.0, measure)
                np.testing.assert_allclose(found, known(RADIUS, levels), rtol=1e-8, atol=1e-10)

    def test_tilted_one_way_and_the_other_make_a_whole_head(self) -> None:
        # A plane through the axis at the tangent line parts a head into two that mirror one another.
        for head in HEADS:
            whole = float(head.volume(RADIUS, 2 * RADIUS))
            for slope in (0.05, 0.3, 0.577):
                low, high = (float(cut(head.pieces(RADIUS), np.zeros(1), m)[0]) for m in (slope, -slope))
                self.assertAlmostEqual(low + high, whole, places=10)
                self.assertLess(low, high)

    def test_a_plane_that_misses_cuts_nothing_or_everything(self) -> None:
        for head in HEADS:
            whole = float(head.volume(RADIUS, 2 * RADIUS))
            found = cut(head.pieces(RADIUS), np.array([3 * RADIUS, -3 * RADIUS]), 0.2)
            self.assertEqual(float(found[0]), 0.0)
            self.assertAlmostEqual(float(found[1]), whole, places=12)

    def test_a_half_sphere_cut_by_any_plane_through_its_centre(self) -> None:
        # Geometry: the wedge of a sphere between two planes through its axis is its share of the full turn.
        for slope in (0.1, 0.4, 0.577):
            found = float(cut(HemisphericalHead().pieces(RADIUS), np.zeros(1), slope)[0])
            turn = np.pi / 2 - np.arctan(slope)
            self.assertAlmostEqual(found, 4 / 3 * np.pi * RADIUS**3 * turn / (2 * np.pi), places=11)
