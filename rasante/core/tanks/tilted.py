"""Tanks out of level both ways, as on a vehicle or a boat: the volume below a plane tilted along and across.

In the tank's own frame: x along the axis from the left tangent line or wall (from the left edge of an upright
tank), y across from the middle, z up from the lowest inside point of the section. The surface of the liquid is
z = level + along × (x₀ − x) + across × (y₀ − y), the level being its height at the spot (x₀, y₀).
"""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise
from typing import Protocol

import numpy as np
import numpy.typing as npt
import scipy

from ..quantities.arrays import Array
from ..quantities.errors import InputError
from .lying import Lying
from .meridian import segment
from .polygon import Polygon
from .sections import Ellipse, RoundedBox, Section
from .shapes import Shape
from .upright import Courses, Sphere, VerticalCylinder

_gauss_x, _gauss_w = np.polynomial.legendre.leggauss(24)
#: How many stretches of the height an upright tank is integrated over, each from kink to kink at most.
_STRETCHES = 24


class Attitude(Protocol):
    """A tank held at one tilt."""

    def volume(self, level: npt.ArrayLike) -> Array:
        """Volume [m³] with the surface at `level` [m] at the spot x = 0, y = 0; shape of `level`."""


class _LyingAttitude:
    """A lying tank: rolling turns its section, what is left is a slope along the axis."""

    def __init__(self, shape: Lying, along: float, across: float) -> None:
        # The plane z + along·x + across·y = level has, in planes across the axis, the unit normal (across, 1)/n.
        self._n = float(np.hypot(1.0, across))
        section, self._lowest = _rolled(shape.section, across / self._n, 1 / self._n)
        # The rest is a tank with the turned section, its gauge at x = 0, whose axis rises by along/n.
        self._tank = replace(shape, section=section, slope=along / self._n, gauge_m=0.0)
        self._cos = 1 / float(np.hypot(1.0, along / self._n))

    def volume(self, level: npt.ArrayLike) -> Array:
        depth = np.asarray(level, dtype=float) / self._n - self._lowest
        return self._tank.volume(depth * self._cos)


def _rolled(section: Section, sine: float, cosine: float) -> tuple[Section, float]:
    """Turn a section about its lowest middle point; give it and how far it then reaches down [m] (below is −)."""
    if sine == 0:
        return section, 0.0
    if isinstance(section, Ellipse):
        half_w, half_h = section.width_m / 2, section.height_m / 2
        # Of an ellipse the area below a line depends only on the line's distance by the ellipse's half extent.
        reach = float(np.hypot(half_h * cosine, half_w * sine))
        return Ellipse(2 * half_w * half_h / reach, 2 * reach), half_h * cosine - reach
    if isinstance(section, RoundedBox):
        half = section.width_m / 2
        corners = [(-half, 0.0), (half, 0.0), (half, section.height_m), (-half, section.height_m)]
        radius = section.corner_radius_m
    elif isinstance(section, Polygon):
        corners, radius = [(x, z - section.lift_m) for x, z in section.corners], section.corner_radius_m
    else:
        raise TypeError(section.kind)
    turned = tuple((x * cosine - z * sine, x * sine + z * cosine) for x, z in corners)
    rolled = Polygon(turned, radius)
    return rolled, min(z for _, z in turned) + rolled.lift_m


class _UprightAttitude:
    """An upright body of revolution: across any height the surface cuts a segment off a circle."""

    def __init__(self, shape: VerticalCylinder | Courses, along: float, across: float) -> None:
        self._shape, self._tilt = shape, float(np.hypot(along, across))
        self._radius = shape.length / 2
        # The height of the surface at x = 0, y = 0 lies so far above its height at the middle.
        self._offset = along * self._radius
        edges = np.unique(np.concatenate([[0.0, shape.inside_height], np.asarray(shape.kinks)]))
        fine = np.concatenate([np.linspace(a, b, _STRETCHES + 1)[:-1] for a, b in pairwise(edges)])
        self._edges = np.append(fine, edges[-1])

    def volume(self, level: npt.ArrayLike) -> Array:
        h = np.asarray(level, dtype=float)
        middle = h.ravel() - self._offset
        if self._tilt == 0:
            return self._shape.volume(middle).reshape(h.shape)
        return np.array([self._one(value) for value in middle]).reshape(h.shape)

    def _one(self, middle: float) -> float:
        # A segment has square roots where the surface meets the wall: stretches end there, and a cosine in each
        # takes the roots out.
        wall = [middle + side * self._tilt * self._radius for side in (-1, 1)]
        edges = np.unique(np.concatenate([self._edges, np.clip(wall, 0, self._shape.inside_height)]))
        low, high = edges[:-1, None], edges[1:, None]
        turn = (_gauss_x + 1) * np.pi / 2
        z = low + (high - low) * (1 - np.cos(turn)) / 2
        weight = (high - low) / 2 * np.sin(turn) * np.pi / 2 * _gauss_w
        outer, inner = _rings(self._shape, z)
        reach = (z - middle) / self._tilt
        return float(np.sum((segment(outer, reach) - segment(inner, reach)) * weight))


def _rings(shape: VerticalCylinder | Courses, z: Array) -> tuple[Array, Array]:
    """Outer and inner radius of the inside at heights [m]; the inner one is of a bottom or top that points in."""
    area = shape.surface(z)
    outer = np.sqrt(area / np.pi)
    inner = np.zeros_like(outer)
    ends = [(shape.bottom, z)]
    if isinstance(shape, VerticalCylinder):
        ends.append((shape.top, shape.inside_height - z))
    for head, distance in ends:
        radius = shape.length / 2 if isinstance(shape, VerticalCylinder) else shape.courses[0].radius_m
        if head.inward:
            depth = head.depth(radius)
            here = distance < depth
            inner = np.where(here, radius * (1 - distance / depth), inner)
    return np.sqrt(outer**2 + inner**2), inner


class _SphereAttitude:
    """A sphere: only the surface's distance from its centre counts."""

    def __init__(self, shape: Sphere, along: float, across: float) -> None:
        self._shape, self._along = shape, along
        self._n = float(np.sqrt(1 + along**2 + across**2))

    def volume(self, level: npt.ArrayLike) -> Array:
        radius = self._shape.diameter_m / 2
        middle = np.asarray(level, dtype=float) - self._along * radius
        return self._shape.volume(radius + (middle - radius) / self._n)


def attitude(shape: Shape, along: float, across: float) -> Attitude:
    """Hold a tank at a tilt.

    Parameters
    ----------
    shape : Shape
        Any shape but a table of points.
    along : float
        Fall of the liquid's surface in the tank's own frame towards the right end, tan of the pitch [1]: above 0
        where the right end is up. A tank built on a slope has that slope in it already.
    across : float
        The same across the tank, tan of the roll [1].

    Returns
    -------
    Attitude
        Whose `volume` takes the surface's height at x = 0, y = 0 in the tank's own frame.

    Raises
    ------
    InputError
        For a shape that is only known as points.
    """
    if isinstance(shape, Lying):
        return _LyingAttitude(shape, along, across)
    if isinstance(shape, VerticalCylinder | Courses):
        return _UprightAttitude(shape, along, across)
    if isinstance(shape, Sphere):
        return _SphereAttitude(shape, along, across)
    raise InputError.at("shape", "only a table of points is known of this tank: how it tilts cannot be worked out")


def surface_height(
    shape: Shape, along: float, across: float, volume_m3: float, held: Attitude | None = None
) -> float:
    """Height of the surface at x = 0, y = 0 [m] at which a tilted tank holds a volume.

    Parameters
    ----------
    shape, along, across
        As `attitude`.
    volume_m3 : float
        Between 0 and the shape's capacity [m³].
    held : Attitude, optional
        The same attitude, where it was made before.

    Notes
    -----
    On the model between the heights at which it is surely empty and surely full: lying tanks by looking at 33
    heights at once and going on between the two that enclose the volume, upright ones by Brent's method.
    """
    held = held or attitude(shape, along, across)
    reach = shape.inside_height + (abs(along) + abs(across)) * 2 * shape.length + abs(across) * 100
    low, high = -reach, 2 * reach
    if not isinstance(shape, Lying):
        return float(
            scipy.optimize.brentq(lambda h: float(held.volume(h)) - volume_m3, low, high, xtol=1e-10, rtol=1e-14)
        )
    while high - low > 1e-10:
        heights = np.linspace(low, high, 33)
        volumes = held.volume(heights)
        after = int(np.clip(np.searchsorted(volumes, volume_m3), 1, 32))
        before_m3, after_m3 = float(volumes[after - 1]), float(volumes[after])
        low, high = float(heights[after - 1]), float(heights[after])
        if high - low < 1e-4 and after_m3 > before_m3:
            # So near together the volume is straight between them to some 1e-9 m.
            return low + (high - low) * (volume_m3 - before_m3) / (after_m3 - before_m3)
    return low
