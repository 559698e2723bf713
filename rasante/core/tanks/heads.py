"""Heads (ends) of cylinders: depth, outline, meridian, and the wetted volume and surface with the axis level.

All functions of a head take the radius of the cylinder it closes. Distances are in metres, volumes in cubic
metres. Depth is measured from the tangent line, at the axis: outward, but for the cone that points inward.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar, Protocol

import numpy as np
import numpy.typing as npt

from ..quantities.arrays import Array
from ..quantities.errors import InputError
from .meridian import Arc, Piece, Ray, chord, segment

_NODES = 16
_gauss_x, _gauss_w = np.polynomial.legendre.leggauss(_NODES)
# Gauss–Legendre nodes moved to [0, 1] and clustered at both ends by a cosine, which makes integrands that end
# as a square root or its odd powers smooth.
_CLUSTERED_T = (1 - np.cos(np.pi * (_gauss_x + 1) / 2)) / 2
_CLUSTERED_W = _gauss_w * np.pi / 4 * np.sin(np.pi * (_gauss_x + 1) / 2)


class Head(Protocol):
    """What every head can tell about itself."""

    kind: ClassVar[str]
    #: Whether it points into the shell.
    inward: ClassVar[bool]

    def check(self, radius: float) -> None:
        """Raise `InputError` if the head cannot close a cylinder of `radius` [m]."""

    def depth(self, radius: float) -> float:
        """Depth from the tangent line [m]."""

    def volume(self, radius: float, level: npt.ArrayLike) -> Array:
        """Wetted volume [m³] with the axis level, liquid to `level` [m] above the shell's bottom."""

    def surface(self, radius: float, level: npt.ArrayLike) -> Array:
        """Area of the liquid's surface in the head [m²], the derivative of `volume`."""

    def pieces(self, radius: float) -> tuple[Piece, ...]:
        """The meridian from the shell to the apex, for planes that are not parallel to the axis."""

    def outline(self, radius: float) -> Array:
        """Points (distance from the tangent line, height above the axis) [m], shape (n, 2), from top to bottom."""


def _revolved(points: Array) -> Array:
    """Complete a profile that runs from the shell to the axis with its mirror image below the axis."""
    return np.concatenate([points, points[::-1] * [1, -1]])


@dataclass(frozen=True)
class FlatHead:
    """A flat end."""

    kind: ClassVar[str] = "flat"
    inward: ClassVar[bool] = False

    def check(self, radius: float) -> None:
        """A flat end closes any cylinder."""

    def depth(self, radius: float) -> float:
        """Depth from the tangent line [m]: none."""
        return 0.0

    def volume(self, radius: float, level: npt.ArrayLike) -> Array:
        """Wetted volume [m³]: none."""
        return np.zeros_like(np.asarray(level, dtype=float))

    def surface(self, radius: float, level: npt.ArrayLike) -> Array:
        """Area of the liquid's surface [m²]: none."""
        return np.zeros_like(np.asarray(level, dtype=float))

    def pieces(self, radius: float) -> tuple[Piece, ...]:
        """The meridian from the shell to the apex."""
        return ()

    def outline(self, radius: float) -> Array:
        """Points of the outline [m], shape (2, 2)."""
        return np.array([[0.0, radius], [0.0, -radius]])


def _ellipsoid_volume(radius: float, depth: float, level: npt.ArrayLike) -> Array:
    h = np.clip(np.asarray(level, dtype=float), 0, 2 * radius)
    return np.asarray(np.pi * depth * h * h * (1 - h / (3 * radius)) / 2)


def _ellipsoid_surface(radius: float, depth: float, level: npt.ArrayLike) -> Array:
    h = np.clip(np.asarray(level, dtype=float), 0, 2 * radius)
    return np.asarray(np.pi * depth * h * (2 - h / radius) / 2)


def _ellipsoid_outline(radius: float, depth: float) -> Array:
    angle = np.linspace(0, np.pi / 2, 25)
    return _revolved(np.column_stack([depth * np.sin(angle), radius * np.cos(angle)]))


@dataclass(frozen=True)
class EllipsoidalHead:
    """Half an ellipsoid of revolution; 2:1 when its depth is a quarter of the diameter.

    Notes
    -----
    V = π a h² (1 − h / 3R) / 2, exact.
    """

    kind: ClassVar[str] = "ellipsoidal"
    inward: ClassVar[bool] = False
    depth_m: float

    def check(self, radius: float) -> None:
        """Refuse a head deeper than it is wide: no such head is pressed."""
        _check_depth(self.depth_m, radius)

    def depth(self, radius: float) -> float:
        """Depth from the tangent line [m]."""
        return self.depth_m

    def volume(self, radius: float, level: npt.ArrayLike) -> Array:
        """Wetted volume [m³] at `level` [m] above the shell's bottom."""
        return _ellipsoid_volume(radius, self.depth_m, level)

    def surface(self, radius: float, level: npt.ArrayLike) -> Array:
        """Area of the liquid's surface [m²]."""
        return _ellipsoid_surface(radius, self.depth_m, level)

    def pieces(self, radius: float) -> tuple[Piece, ...]:
        """The meridian from the shell to the apex."""
        return (Arc(0.0, self.depth_m, 0.0, radius, (0.0, np.pi / 2)),)

    def outline(self, radius: float) -> Array:
        """Points of the outline [m], shape (n, 2)."""
        return _ellipsoid_outline(radius, self.depth_m)


@dataclass(frozen=True)
class HemisphericalHead:
    """Half a sphere of the cylinder's own radius."""

    kind: ClassVar[str] = "hemispherical"
    inward: ClassVar[bool] = False

    def check(self, radius: float) -> None:
        """A hemisphere closes any cylinder."""

    def depth(self, radius: float) -> float:
        """Depth from the tangent line [m]: the radius."""
        return radius

    def volume(self, radius: float, level: npt.ArrayLike) -> Array:
        """Wetted volume [m³] at `level` [m] above the shell's bottom."""
        return _ellipsoid_volume(radius, radius, level)

    def surface(self, radius: float, level: npt.ArrayLike) -> Array:
        """Area of the liquid's surface [m²]."""
        return _ellipsoid_surface(radius, radius, level)

    def pieces(self, radius: float) -> tuple[Piece, ...]:
        """The meridian from the shell to the apex."""
        return (Arc(0.0, radius, 0.0, radius, (0.0, np.pi / 2)),)

    def outline(self, radius: float) -> Array:
        """Points of the outline [m], shape (n, 2)."""
        return _ellipsoid_outline(radius, radius)


@dataclass(frozen=True)
class ConicalHead:
    """A cone that points outward.

    Notes
    -----
    The surface at height z from the axis is a (X − z²/R acosh(R/|z|)) with X = √(R² − z²); its integral is the
    closed form below, with M = |R − h| / R: V = a R²/3 (acos M + M³ acosh(1/M) − 2 M √(1 − M²)) for the
    lower half and its complement for the upper. Derived by integrating the slices; compared with `fluids` in
    the tests.
    """

    kind: ClassVar[str] = "conical"
    inward: ClassVar[bool] = False
    depth_m: float

    def check(self, radius: float) -> None:
        """Refuse a cone deeper than the cylinder is wide."""
        _check_depth(self.depth_m, radius)

    def depth(self, radius: float) -> float:
        """Depth from the tangent line [m]."""
        return self.depth_m

    def volume(self, radius: float, level: npt.ArrayLike) -> Array:
        """Wetted volume [m³] at `level` [m] above the shell's bottom."""
        h = np.clip(np.asarray(level, dtype=float), 0, 2 * radius)
        m = np.minimum(np.abs(radius - h) / radius, 1.0)
        with np.errstate(divide="ignore", invalid="ignore"):
            steep = np.where(m > 0, m**3 * np.arccosh(1 / np.where(m > 0, m, 1.0)), 0.0)
        lower = np.maximum(np.arccos(m) + steep - 2 * m * np.sqrt(1 - m * m), 0.0)
        share = np.where(h < radius, lower, np.pi - lower)
        return np.asarray(self.depth_m * radius**2 / 3 * share)

    def surface(self, radius: float, level: npt.ArrayLike) -> Array:
        """Area of the liquid's surface [m²]."""
        z = np.clip(np.abs(np.asarray(level, dtype=float) - radius), 0, radius)
        safe = np.where(z > 0, z, radius)
        return np.asarray(self.depth_m * (np.sqrt(radius**2 - z * z) - z * z / radius * np.arccosh(radius / safe)))

    def pieces(self, radius: float) -> tuple[Piece, ...]:
        """The meridian from the shell to the apex."""
        return (Ray(self.depth_m, radius),)

    def outline(self, radius: float) -> Array:
        """Points of the outline [m], shape (n, 2)."""
        return np.array([[0.0, radius], [self.depth_m, 0.0], [0.0, -radius]])


@dataclass(frozen=True)
class InwardConicalHead(ConicalHead):
    """A cone that points into the shell: a floor that is high in the middle, a roof that hangs there."""

    kind: ClassVar[str] = "conical_inward"
    inward: ClassVar[bool] = True


@dataclass(frozen=True)
class TorisphericalHead:
    """A spherical dish joined to the shell by a knuckle (part of a torus), tangent to both.

    Notes
    -----
    No closed form at a partial level: the wetted circle segments are integrated along the axis, over the
    knuckle's and the dish's own angle, with Gauss–Legendre nodes clustered by a cosine.
    """

    kind: ClassVar[str] = "torispherical"
    inward: ClassVar[bool] = False
    dish_radius_m: float
    knuckle_radius_m: float

    def check(self, radius: float) -> None:
        """Refuse a dish and knuckle that cannot meet inside a cylinder of `radius` [m]."""
        dish, knuckle = self.dish_radius_m, self.knuckle_radius_m
        if dish < radius * (1 - 1e-9):
            raise InputError.at(
                "dish_radius_mm",
                f"the dish ({dish * 1000:g} mm) is smaller than the shell's radius ({radius * 1000:g} mm): "
                "it cannot reach the shell",
            )
        if knuckle > radius * (1 + 1e-9):
            raise InputError.at(
                "knuckle_radius_mm",
                f"the knuckle ({knuckle * 1000:g} mm) is larger than the shell's radius ({radius * 1000:g} mm)",
            )
        if knuckle > dish:
            raise InputError.at(
                "knuckle_radius_mm",
                f"the knuckle ({knuckle * 1000:g} mm) is larger than the dish ({dish * 1000:g} mm): "
                "check which is which",
            )

    def _centre(self, radius: float) -> float:
        """Distance of the dish's centre from the tangent line [m], inward."""
        arm, rise = self.dish_radius_m - self.knuckle_radius_m, radius - self.knuckle_radius_m
        return float(np.sqrt(max(arm * arm - rise * rise, 0.0)))

    def _join(self, radius: float) -> float:
        """Angle from the axis, at the dish's centre, at which dish and knuckle meet [rad]."""
        arm, rise = self.dish_radius_m - self.knuckle_radius_m, radius - self.knuckle_radius_m
        return float(np.arctan2(rise, self._centre(radius))) if arm > 0 else np.pi / 2

    def depth(self, radius: float) -> float:
        """Depth from the tangent line [m]."""
        return self.dish_radius_m - self._centre(radius)

    def _integrate(self, radius: float, below_axis: Array, area: bool) -> Array:
        """Integrate segments (or chords) of the circles that reach `below_axis` [m] under the axis."""
        dish, knuckle, join = self.dish_radius_m, self.knuckle_radius_m, self._join(radius)
        b = below_axis[:, None]
        measure = segment if area else chord
        ring = radius - knuckle
        # Knuckle: angle from the shell, r = ring + k cos ψ, s = k sin ψ.
        end = np.arccos(np.clip((b - ring) / knuckle, -1, 1)) if knuckle > 0 else np.zeros_like(b)
        end = np.minimum(end, np.pi / 2 - join)
        psi = end * _CLUSTERED_T
        r = ring + knuckle * np.cos(psi)
        part = (measure(r, b) * knuckle * np.cos(psi)) @ _CLUSTERED_W * end[:, 0]
        # Dish: angle from the axis, r = f sin φ, s = f cos φ − centre.
        start = np.minimum(np.arcsin(np.clip(b / dish, 0, 1)), join)
        phi = start + (join - start) * _CLUSTERED_T
        r = dish * np.sin(phi)
        return np.asarray(part + (measure(r, b) * r) @ _CLUSTERED_W * (join - start)[:, 0])

    def full_volume(self, radius: float) -> float:
        """Volume of the whole head [m³], in closed form."""
        dish, knuckle, join = self.dish_radius_m, self.knuckle_radius_m, self._join(radius)
        ring, s = radius - knuckle, knuckle * np.cos(join)
        cap = dish * (1 - np.cos(join))
        torus = ring * ring * s + ring * (s * np.sqrt(max(knuckle**2 - s * s, 0)) + knuckle**2 * (np.pi / 2 - join))
        return float(np.pi * (torus + knuckle**2 * s - s**3 / 3 + cap * cap * (dish - cap / 3)))

    def volume(self, radius: float, level: npt.ArrayLike) -> Array:
        """Wetted volume [m³] at `level` [m] above the shell's bottom."""
        h = np.clip(np.asarray(level, dtype=float), 0, 2 * radius)
        below = np.abs(radius - h)
        low = self._integrate(radius, below.ravel(), area=True).reshape(h.shape)
        return np.asarray(np.where(h <= radius, low, self.full_volume(radius) - low))

    def surface(self, radius: float, level: npt.ArrayLike) -> Array:
        """Area of the liquid's surface [m²]."""
        h = np.clip(np.asarray(level, dtype=float), 0, 2 * radius)
        below = np.abs(radius - h)
        return self._integrate(radius, below.ravel(), area=False).reshape(h.shape)

    def pieces(self, radius: float) -> tuple[Piece, ...]:
        """The meridian from the shell to the apex."""
        dish, knuckle, meet = self.dish_radius_m, self.knuckle_radius_m, np.pi / 2 - self._join(radius)
        corner = Arc(0.0, knuckle, radius - knuckle, knuckle, (0.0, meet))
        return corner, Arc(-self._centre(radius), dish, 0.0, dish, (meet, np.pi / 2))

    def outline(self, radius: float) -> Array:
        """Points of the outline [m], shape (n, 2)."""
        dish, knuckle, join = self.dish_radius_m, self.knuckle_radius_m, self._join(radius)
        psi = np.linspace(0, np.pi / 2 - join, 9)
        phi = np.linspace(join, 0, 17)[1:]
        corner = np.column_stack([knuckle * np.sin(psi), radius - knuckle + knuckle * np.cos(psi)])
        cap = np.column_stack([dish * np.cos(phi) - self._centre(radius), dish * np.sin(phi)])
        return _revolved(np.concatenate([corner, cap]))


def _check_depth(depth: float, radius: float) -> None:
    if depth > 2 * radius:
        raise InputError.at(
            "depth_mm",
            f"a head {depth * 1000:g} mm deep on a shell of {2 * radius * 1000:g} mm diameter cannot be: "
            "depth is measured from the tangent line to the inside of the end, along the axis",
        )
