"""Lying tanks: one section along an axis, closed by heads or walls, level or sloped."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import ClassVar

import numpy as np
import numpy.typing as npt

from ..quantities.arrays import Array
from ..quantities.errors import InputError
from .heads import FlatHead, Head
from .meridian import chord, cut, segment
from .sections import Ellipse, Section
from .shapes import Outline

#: Slopes beyond 30° are slips of the pen [1].
STEEPEST = float(np.tan(np.radians(30)))
_gauss_x, _gauss_w = np.polynomial.legendre.leggauss(16)
_ALMOST_LEVEL = 1e-6
_WALL = FlatHead()


@dataclass(frozen=True)
class Lying:
    """A section drawn out along an axis that is level or rises to the right.

    Parameters
    ----------
    kind : str
        Its tag in the tank file.
    section : Section
        The section, alike along the whole shell.
    shell_length_m : float
        Length of the shell along the axis, between tangent lines or walls [m].
    left, right : Head
        The ends; heads other than flat close circles only.
    slope : float
        Rise of the right end by length along the axis' plan, tan θ [1].
    gauge_m : float
        Where the gauge stands, along the axis from the left tangent line or wall [m].

    Notes
    -----
    The liquid is level, so at station x it stands y(x) = (h + (x₀ − x) sin θ) / cos θ deep in the section's own
    frame, h being the innage at the gauge's x₀. Volume = ∫ A(y(x)) dx, in the shell by the closed-form integral
    of A, in heads by `meridian.cut`; level tanks by the closed forms of section and head.
    """

    kind: str
    section: Section
    shell_length_m: float
    left: Head = _WALL
    right: Head = _WALL
    slope: float = 0.0
    gauge_m: float = 0.0
    #: The keys of the heads, for errors.
    head_keys: ClassVar[tuple[str, str]] = ("left_head", "right_head")

    @property
    def _cos(self) -> float:
        return float(1 / np.sqrt(1 + self.slope**2))

    @property
    def _sin(self) -> float:
        return self.slope * self._cos

    @property
    def _radius(self) -> float:
        return self.section.height / 2

    @property
    def inside_height(self) -> float:
        """Plumb height from the inside bottom at the gauge to the shell's top [m]."""
        return self.section.height / self._cos

    @property
    def length(self) -> float:
        """Shell length, tangent to tangent or wall to wall [m]."""
        return self.shell_length_m

    @cached_property
    def _full_section(self) -> float:
        """Area of the whole section [m²]."""
        return float(self.section.area(self.section.height))

    @cached_property
    def capacity(self) -> float:
        """Volume of the whole inside [m³]."""
        top = self.section.height
        heads = sum(float(head.volume(self._radius, top)) for head in (self.left, self.right))
        return self.shell_length_m * self._full_section + heads

    @property
    def kinks(self) -> tuple[float, ...]:
        """Levels at which the liquid's surface jumps or bends [m]: the section's own, met at either end."""
        edges = (0.0, *self.section.kinks, self.section.height)
        if self.slope == 0:
            return self.section.kinks
        ends = (self.gauge_m, self.gauge_m - self.shell_length_m)
        levels = {round(edge * self._cos - end * self._sin, 12) for edge in edges for end in ends}
        return tuple(sorted(level for level in levels if 0 < level < self.inside_height))

    def check(self) -> None:
        """Raise `InputError`, naming the key, if a head cannot close the shell or the section contradicts itself."""
        try:
            self.section.check()
        except InputError as error:
            raise (error if self.kind == "box" else error.under("section")) from None
        for name, head in zip(self.head_keys, (self.left, self.right), strict=True):
            try:
                head.check(self._radius)
            except InputError as error:
                raise error.under(name) from None

    def _depths(self, level: Array) -> tuple[Array, Array]:
        """Depth in the section's frame at the left and the right end of the shell [m]."""
        left = (level + self.gauge_m * self._sin) / self._cos
        return left, left - self.shell_length_m * self.slope

    def volume(self, level: npt.ArrayLike) -> Array:
        """Volume below `level` [m³]."""
        h = np.asarray(level, dtype=float)
        if self.slope == 0:
            shell = self.shell_length_m * self.section.area(h)
            left = self.left.volume(self._radius, h)
            same = self.left == self.right
            return shell + left + (left if same else self.right.volume(self._radius, h))
        flat = h.ravel()
        left_depth, right_depth = self._depths(flat)
        total = self._shell(flat, left_depth, right_depth)
        total += cut(self.left.pieces(self._radius), self._radius - left_depth, -self.slope, segment)
        total += cut(self.right.pieces(self._radius), self._radius - right_depth, self.slope, segment)
        return np.minimum(total, self.capacity).reshape(h.shape)

    def _shell(self, level: Array, left: Array, right: Array) -> Array:
        """Volume in the shell [m³], from the liquid's depth at its left and right end [m]."""
        top = self.section.height
        if abs(self.slope) * self.shell_length_m < _ALMOST_LEVEL * top:
            x = self.shell_length_m * (1 + _gauss_x) / 2
            depth = (level[:, None] + (self.gauge_m - x) * self._sin) / self._cos
            return np.asarray(self.section.area(depth) @ _gauss_w * self.shell_length_m / 2)
        begin, end = (
            self.section.area_integral(y) + self._full_section * np.maximum(y - top, 0) for y in (left, right)
        )
        return np.maximum((begin - end) / self.slope, 0.0)

    def surface(self, level: npt.ArrayLike) -> Array:
        """Area of the liquid's surface at `level` [m²]."""
        h = np.asarray(level, dtype=float)
        if self.slope == 0:
            ends = self.left.surface(self._radius, h) + self.right.surface(self._radius, h)
            return self.shell_length_m * self.section.chord(h) + ends
        flat = h.ravel()
        left_depth, right_depth = self._depths(flat)
        top = self.section.height
        if abs(self.slope) * self.shell_length_m < _ALMOST_LEVEL * top:
            middle = (left_depth + right_depth) / 2
            inside = (middle >= 0) & (middle <= top)
            total = np.where(inside, self.section.chord(middle), 0.0) * self.shell_length_m / self._cos
        else:
            total = (self.section.area(left_depth) - self.section.area(right_depth)) / self._sin
        total = total + cut(self.left.pieces(self._radius), self._radius - left_depth, -self.slope, chord) / self._cos
        total = (
            total + cut(self.right.pieces(self._radius), self._radius - right_depth, self.slope, chord) / self._cos
        )
        return np.maximum(total, 0.0).reshape(h.shape)

    def outline(self) -> Outline:
        """The shape's sections, for drawing."""
        half = self._radius
        left = self.left.outline(half) * [-1, 1]
        right = self.right.outline(half) + [self.shell_length_m, 0]
        along = np.concatenate([right, left[::-1]]) + [0, half]
        seams = []
        for station, head in ((0.0, self.left), (self.shell_length_m, self.right)):
            if not isinstance(head, FlatHead):
                low, high = self._stand(np.array([[station, 0.0], [station, self.section.height]])).tolist()
                seams.append(((low[0], low[1]), (high[0], high[1])))
        return Outline(self._stand(along), tuple(seams), self.section.outline(), self.gauge_m)

    def _stand(self, points: Array) -> Array:
        """Turn points of the tank's own frame (x, y) as the tank stands, about the bottom at the gauge."""
        x, y = points[:, 0] - self.gauge_m, points[:, 1]
        return np.column_stack([self.gauge_m + x * self._cos - y * self._sin, x * self._sin + y * self._cos])


def horizontal_cylinder(
    diameter_m: float, shell_length_m: float, left_head: Head, right_head: Head, slope: float, gauge_m: float
) -> Lying:
    """Make a lying cylinder, each end with its own head."""
    circle = Ellipse(diameter_m, diameter_m)
    return Lying("horizontal_cylinder", circle, shell_length_m, left_head, right_head, slope, gauge_m)
