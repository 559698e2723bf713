"""Volumes against other libraries, closed forms and what must be true of any tank."""

from __future__ import annotations

from typing import Any
from unittest import TestCase

import numpy as np
from fluids.geometry import TANK
from hypothesis import given, settings
from hypothesis import strategies as st

from rasante.core.quantities.errors import InputError
from rasante.core.tanks.heads import TorisphericalHead
from rasante.core.tanks.tank_file import check_document

from .samples import example, horizontal, random_level_tank, tank_file, two_to_one

_SIDES = {"ellipsoidal": "ellipsoidal", "hemispherical": "spherical", "conical": "conical", "flat": None}


def _side(head: dict[str, Any], diameter: float, letter: str) -> dict[str, Any]:
    """Describe a head to `fluids`."""
    if head["kind"] == "torispherical":
        return {
            f"side{letter}": "torispherical",
            f"side{letter}_f": head["dish_radius_mm"] / diameter,
            f"side{letter}_k": head["knuckle_radius_mm"] / diameter,
        }
    depth = diameter / 2 if head["kind"] == "hemispherical" else head.get("depth_mm", 0.0)
    return {f"side{letter}": _SIDES[head["kind"]], f"side{letter}_a": depth / 1000}


def reference(shape: dict[str, Any]) -> Any:
    """The same tank in `fluids`."""
    if shape["kind"] == "vertical_cylinder":
        return TANK(D=shape["diameter_mm"] / 1000, L=shape["shell_height_mm"] / 1000, horizontal=False)
    diameter = shape["diameter_mm"]
    return TANK(
        D=diameter / 1000,
        L=shape["shell_length_mm"] / 1000,
        horizontal=True,
        **_side(shape["left_head"], diameter, "A"),
        **_side(shape["right_head"], diameter, "B"),
    )


def boxed(shape: dict[str, Any], level: float) -> float:
    """A box with rounded edges: a slab and the two halves of a lying cylinder that `fluids` knows."""
    length, width, height, corner = (
        shape[key] / 1000 for key in ("length_mm", "width_mm", "height_mm", "corner_radius_mm")
    )
    rounds = TANK(D=2 * corner, L=length, horizontal=True)
    low = min(level, corner)
    middle = min(max(level - corner, 0.0), height - 2 * corner)
    top = max(level - height + corner, 0.0)
    slab = length * ((width - 2 * corner) * level + 2 * corner * middle)
    return slab + rounds.V_from_h(low) + rounds.V_from_h(corner + top) - rounds.V_from_h(corner)


class AgainstFluids(TestCase):
    """Package `fluids` (`fluids.geometry.TANK`), a general-purpose library of fluid mechanics."""

    def test_random_level_tanks(self) -> None:
        rng = np.random.default_rng(20261124)
        worst = 0.0
        for _ in range(200):
            file = random_level_tank(rng)
            shape = dict(file.document["shape"])
            height = file.tank.inside_height
            levels = np.append(rng.uniform(0, height, 48), [1e-3 * height, height])
            ours = file.tank.volume(levels)
            if shape["kind"] == "box":
                theirs = np.array([boxed(shape, level) for level in levels])
            else:
                other = reference(shape)
                theirs = np.array([other.V_from_h(level) for level in levels])
            # Relative 1e-9, or 1e-9 m³ near empty.
            allowed = np.maximum(1e-9 * np.abs(theirs), 1e-9)
            worst = max(worst, float(np.max(np.abs(ours - theirs) / allowed)))
        self.assertLessEqual(worst, 1.0)


class ClosedForms(TestCase):
    def test_one_2_to_1_head_holds_pi_d_cubed_over_24(self) -> None:
        # Geometry: half an ellipsoid with semi-axes D/2, D/2, D/4.
        file = two_to_one()
        shell = np.pi * 1.2**2 * 6.0
        self.assertAlmostEqual((file.tank.capacity - shell) / 2, np.pi * 2.4**3 / 24, places=12)

    def test_sphere_from_two_hemispheres(self) -> None:
        # Geometry: spherical cap π h² (3R − h) / 3.
        head = {"kind": "hemispherical"}
        tank = horizontal(2000, 1, head, head).tank
        levels = np.linspace(0, 2, 41)
        sphere = np.pi * levels**2 * (3 - levels) / 3
        shell = horizontal(2000, 1, {"kind": "flat"}, {"kind": "flat"}).tank.volume(levels)
        np.testing.assert_allclose(tank.volume(levels) - shell, sphere, rtol=1e-12, atol=1e-15)

    def test_cone_full(self) -> None:
        # Geometry: a third of base times height.
        head = {"kind": "conical", "depth_mm": 700}
        file = horizontal(2000, 1000, head, {"kind": "flat"})
        self.assertAlmostEqual(file.tank.capacity, np.pi * (1.0 + 0.7 / 3), places=12)

    def test_half_full_is_half(self) -> None:
        rng = np.random.default_rng(7)
        for _ in range(40):
            file = random_level_tank(rng)
            half = float(file.tank.volume(file.tank.inside_height / 2))
            self.assertAlmostEqual(half / file.tank.capacity, 0.5, places=12)

    def test_flanged_and_dished_head(self) -> None:
        # Handbook figures for a D / 0.06 D head, from memory: depth 0.1693 D, volume 0.0808 D³ (three figures).
        head = TorisphericalHead(1.0, 0.06)
        self.assertAlmostEqual(head.depth(0.5), 0.1693, places=4)
        self.assertAlmostEqual(head.full_volume(0.5), 0.0808, places=3)

    def test_kloepper_head(self) -> None:
        # DIN 28011, from memory: depth 0.1935 D, volume 0.1 D³ (to its rounding).
        head = TorisphericalHead(1.0, 0.1)
        self.assertAlmostEqual(head.depth(0.5), 0.1938, places=3)
        self.assertAlmostEqual(head.full_volume(0.5), 0.0989, places=3)

    def test_a_full_torispherical_head_is_its_integral(self) -> None:
        for dish, knuckle in ((1.0, 0.06), (0.8, 0.154), (0.5, 0.2), (1.0, 0.0)):
            head = TorisphericalHead(dish, knuckle)
            self.assertAlmostEqual(float(head.volume(0.5, 1.0)), head.full_volume(0.5), places=12)
            self.assertAlmostEqual(2 * float(head.volume(0.5, 0.5)), head.full_volume(0.5), places=12)


class AnyTank(TestCase):
    def test_volume_never_falls_and_surface_is_its_slope(self) -> None:
        rng = np.random.default_rng(11)
        for _ in range(60):
            tank = random_level_tank(rng).tank
            levels = np.linspace(0, tank.inside_height, 3001)
            self.assertGreaterEqual(float(np.diff(tank.volume(levels)).min()), 0.0)
            inner = np.linspace(0.03, 0.97, 95) * tank.inside_height
            step = 1e-6 * tank.inside_height
            slope = (tank.volume(inner + step) - tank.volume(inner - step)) / (2 * step)
            np.testing.assert_allclose(tank.surface(inner), slope, rtol=2e-6)

    @settings(max_examples=60, deadline=None)
    @given(seed=st.integers(0, 10**6), share=st.floats(0, 1))
    def test_level_is_the_inverse_to_a_hundredth_of_a_millimetre(self, seed: int, share: float) -> None:
        tank = random_level_tank(np.random.default_rng(seed)).tank
        level = share * tank.inside_height
        found = tank.level(float(tank.volume(level)))
        # Where the tank is almost a point (empty or full), a level has no volume of its own to be found by.
        if 1e-4 < share < 1 - 1e-4:
            self.assertLessEqual(abs(found - level), 1e-5)
        self.assertAlmostEqual(float(tank.volume(found)), float(tank.volume(level)), delta=1e-9 * tank.capacity)

    def test_deadwood_is_taken_off_over_its_height(self) -> None:
        with_it = check_document(example()).tank
        without = check_document(example(deadwood=None)).tank
        for level, share in ((0.3, 0), (0.55, 0.5), (0.8, 1), (2.4, 1)):
            self.assertAlmostEqual(float(without.volume(level) - with_it.volume(level)), 0.0125 * share, places=12)

    def test_a_volume_the_tank_does_not_hold_is_refused_with_its_range(self) -> None:
        tank = two_to_one().tank
        for volume in (-0.001, 40.0, float("nan")):
            with self.assertRaisesRegex(InputError, "holds 0 to"):
                tank.level(volume)

    def test_outline_encloses_the_long_section(self) -> None:
        # The section through the axis of a level cylinder: D × L and the two heads' own sections.
        file = tank_file({"kind": "box", "length_mm": 3000, "width_mm": 1000, "height_mm": 2000})
        for outline, area in (
            (file.tank.shape.outline().along, 6.0),
            (two_to_one().tank.shape.outline().along, None),
        ):
            x, z = outline[:, 0], outline[:, 1]
            shoelace = abs(np.sum(x * np.roll(z, -1) - np.roll(x, -1) * z)) / 2
            expected = area or 2.4 * 6 + np.pi * 1.2 * 0.6
            self.assertAlmostEqual(shoelace / expected, 1.0, places=3)
