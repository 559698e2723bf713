"""Plane sections that lying tanks are made of: their areas wetted to a depth, and the integrals of those.

Depths are measured in the section's own frame, from its lowest point up. Lengths in metres, areas in square
metres, integrals of areas in cubic metres.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar, Protocol

import numpy as np
import numpy.typing as npt

from ..quantities.arrays import Array
from ..quantities.errors import InputError


class Section(Protocol):
    """What every section can tell about itself."""

    kind: ClassVar[str]

    @property
    def height(self) -> float:
        """From the lowest point to the highest [m]."""

    @property
    def kinks(self) -> tuple[float, ...]:
        """Depths at which the width jumps or bends [m], the ends not counted."""

    def check(self) -> None:
        """Raise `InputError`, naming the key, if its dimensions contradict one another."""

    def area(self, depth: npt.ArrayLike) -> Array:
        """Area wetted to `depth` [m²]; `depth` is clipped to the section."""

    def area_integral(self, depth: npt.ArrayLike) -> Array:
        """Integral of `area` from 0 to `depth` [m³]; `depth` is clipped to the section."""

    def chord(self, depth: npt.ArrayLike) -> Array:
        """Width of the liquid's surface at `depth` [m]."""

    def outline(self) -> Array:
        """Closed polygon (across from the middle, up from the lowest point) [m], shape (n, 2)."""


def circle_area(radius: npt.ArrayLike, depth: npt.ArrayLike) -> Array:
    """Area of a circle wetted from its lowest point to `depth`.

    Parameters
    ----------
    radius : array_like
        Radius of the circle [m].
    depth : array_like
        Depth above the circle's lowest point [m]; clipped to [0, 2 radius].

    Returns
    -------
    ndarray
        Wetted area [m²], of the broadcast shape.

    Notes
    -----
    A = R² (φ − sin φ) / 2 with φ = 4 asin √(h / 2R); for small φ the difference is summed as a series, so that
    the relative error stays near 1e-14 down to an empty tank.
    """
    r = np.asarray(radius, dtype=float)
    with np.errstate(divide="ignore", invalid="ignore"):
        share = np.where(r > 0, np.clip(np.asarray(depth, dtype=float) / (2 * r), 0, 1), 0.0)
    phi = 4 * np.arcsin(np.sqrt(share))
    square = phi * phi
    series = phi * square / 6 * (1 - square / 20 * (1 - square / 42 * (1 - square / 72 * (1 - square / 110))))
    return np.asarray(r * r / 2 * np.where(phi < 0.3, series, phi - np.sin(phi)))


def circle_area_integral(radius: float, depth: npt.ArrayLike) -> Array:
    """Integral of `circle_area` over the depth [m³], from 0 to `depth` [m].

    Notes
    -----
    R³ (sin φ − φ cos φ − sin³ φ / 3) with φ = 2 asin √(h / 2R), derived by parts; a series for small φ.
    """
    phi = 2 * np.arcsin(np.sqrt(np.clip(np.asarray(depth, dtype=float) / (2 * radius), 0, 1)))
    sine = np.sin(phi)
    square = phi * phi
    series = phi**5 * (2 / 15 - square * (11 / 315 - square * 17 / 3780))
    return np.asarray(radius**3 * np.where(phi < 0.02, series, sine - phi * np.cos(phi) - sine**3 / 3))


def circle_chord(radius: npt.ArrayLike, depth: npt.ArrayLike) -> Array:
    """Width of a circle [m] at `depth` [m] above its lowest point; zero outside it."""
    r, h = np.asarray(radius, dtype=float), np.asarray(depth, dtype=float)
    return np.asarray(2 * np.sqrt(np.maximum(h * (2 * r - h), 0)))


@dataclass(frozen=True)
class Ellipse:
    """An ellipse with level and plumb axes; a circle where both are the same."""

    kind: ClassVar[str] = "ellipse"
    width_m: float
    height_m: float

    @property
    def height(self) -> float:
        """From the lowest point to the highest [m]."""
        return self.height_m

    @property
    def kinks(self) -> tuple[float, ...]:
        """Depths at which the width jumps or bends [m]: none."""
        return ()

    def check(self) -> None:
        """Any two axes make an ellipse."""

    def area(self, depth: npt.ArrayLike) -> Array:
        """Area wetted to `depth` [m²]: a circle's, stretched across."""
        return self.width_m / self.height_m * circle_area(self.height_m / 2, depth)

    def area_integral(self, depth: npt.ArrayLike) -> Array:
        """Integral of `area` from 0 to `depth` [m³]."""
        return self.width_m / self.height_m * circle_area_integral(self.height_m / 2, depth)

    def chord(self, depth: npt.ArrayLike) -> Array:
        """Width of the liquid's surface at `depth` [m]."""
        return self.width_m / self.height_m * circle_chord(self.height_m / 2, depth)

    def outline(self) -> Array:
        """Closed polygon of the section [m], shape (72, 2)."""
        angle = np.linspace(0, 2 * np.pi, 73)[:-1]
        return np.column_stack([np.sin(angle) * self.width_m, (1 - np.cos(angle)) * self.height_m]) / 2


@dataclass(frozen=True)
class RoundedBox:
    """A rectangle with four corners of one radius; an obround where the radius is half its shorter side."""

    kind: ClassVar[str] = "rounded_box"
    width_m: float
    height_m: float
    corner_radius_m: float = 0.0

    @property
    def height(self) -> float:
        """From the lowest point to the highest [m]."""
        return self.height_m

    @property
    def kinks(self) -> tuple[float, ...]:
        """Depths at which the width bends [m]: where the corners end."""
        corner = self.corner_radius_m
        return (corner, self.height_m - corner) if corner > 0 else ()

    def check(self) -> None:
        """Raise `InputError` if the corners do not fit."""
        limit = min(self.width_m, self.height_m) / 2
        if self.corner_radius_m > limit * (1 + 1e-12):
            raise InputError.at(
                "corner_radius_mm",
                f"a corner of {self.corner_radius_m * 1000:g} mm does not fit: half the shorter side is "
                f"{limit * 1000:g} mm",
            )

    def _parts(self, depth: npt.ArrayLike) -> tuple[Array, Array, Array]:
        """Split a depth [m] into what lies in the lower corners, between the corners, and in the upper ones."""
        h = np.clip(np.asarray(depth, dtype=float), 0, self.height_m)
        corner, straight = self.corner_radius_m, self.height_m - 2 * self.corner_radius_m
        return np.minimum(h, corner), np.clip(h - corner, 0, straight), np.maximum(h - corner - straight, 0)

    def area(self, depth: npt.ArrayLike) -> Array:
        """Area wetted to `depth` [m²]."""
        low, middle, top = self._parts(depth)
        c = self.corner_radius_m
        area = (self.width_m - 2 * c) * (low + middle + top)
        if c > 0:
            area = area + circle_area(c, low) + 2 * c * middle + circle_area(c, c + top) - circle_area(c, c)
        return np.asarray(area)

    def area_integral(self, depth: npt.ArrayLike) -> Array:
        """Integral of `area` from 0 to `depth` [m³]."""
        low, middle, top = self._parts(depth)
        c, h = self.corner_radius_m, low + middle + top
        total = (self.width_m - 2 * c) * h * h / 2
        if c > 0:
            half = float(circle_area(c, c))
            total = total + circle_area_integral(c, low) + half * middle + c * middle * middle
            rest = circle_area_integral(c, c + top) - circle_area_integral(c, c)
            total = total + rest + 2 * c * (self.height_m - 2 * c) * top
        return np.asarray(total)

    def chord(self, depth: npt.ArrayLike) -> Array:
        """Width of the liquid's surface at `depth` [m]."""
        h = np.clip(np.asarray(depth, dtype=float), 0, self.height_m)
        if self.corner_radius_m == 0:
            return np.full_like(h, self.width_m)
        from_edge = np.minimum(np.minimum(h, self.height_m - h), self.corner_radius_m)
        return np.asarray(self.width_m - 2 * self.corner_radius_m + circle_chord(self.corner_radius_m, from_edge))

    def outline(self) -> Array:
        """Closed polygon of the section [m], shape (n, 2)."""
        w, r = self.width_m / 2, self.corner_radius_m
        if r == 0:
            return np.array([[-w, self.height_m], [w, self.height_m], [w, 0.0], [-w, 0.0]])
        turn = np.linspace(0, np.pi / 2, 9)
        corners = []
        for quarter, (side, top) in enumerate(((1, 1), (-1, 1), (-1, -1), (1, -1))):
            centre = [side * (w - r), self.height_m - r if top > 0 else r]
            angle = turn + quarter * np.pi / 2
            corners.append(np.column_stack([np.cos(angle), np.sin(angle)]) * r + centre)
        return np.concatenate(corners)


def obround(width_m: float, height_m: float) -> RoundedBox:
    """Make a section with two half-circle ends: flat sides if it is taller than wide, else flat top and bottom."""
    return RoundedBox(width_m, height_m, min(width_m, height_m) / 2)
