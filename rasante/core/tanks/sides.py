"""The sides of a traced section, lines and arcs that each only rise or only fall, and what lies between them.

By Green's theorem the area below a height is the sum over the sides of ∫ x dz up to it; lines and arcs both have
it, and its integral, in closed form. All sides of a kind are worked out together, as arrays.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..quantities.arrays import Array

Point = tuple[float, float]
#: Sides that rise or fall by less lie level [m]: nothing is below them.
_LEVEL = 1e-12


def _lowered(point: Point, by: float) -> Point:
    return point[0], point[1] - by


@dataclass(frozen=True)
class Straight:
    """A straight side from (x, z) to (x, z) [m]."""

    start: Point
    end: Point

    def lowered(self, by: float) -> Straight:
        """Return the side moved down [m]."""
        return Straight(_lowered(self.start, by), _lowered(self.end, by))


@dataclass(frozen=True)
class Round:
    """A piece of a circle that only rises or only falls; `side` is +1 where it lies right of the centre."""

    start: Point
    end: Point
    centre: Point
    radius: float
    side: float

    def lowered(self, by: float) -> Round:
        """Return the side moved down [m]."""
        start, end, centre = (_lowered(point, by) for point in (self.start, self.end, self.centre))
        return Round(start, end, centre, self.radius, self.side)


class _Ends:
    """Lower and upper height of sides of one kind [m], and +1 where they rise; shape (sides,) each."""

    def __init__(self, sides: Sequence[Straight | Round]) -> None:
        ends = np.array([(one.start, one.end) for one in sides]).reshape(-1, 2, 2)
        self.rises = ends[:, 1, 1] > ends[:, 0, 1]
        self.sign = np.where(self.rises, 1.0, -1.0)
        self.ends, self.low, self.high = ends, ends[:, :, 1].min(axis=1), ends[:, :, 1].max(axis=1)


class _Lines(_Ends):
    def __init__(self, sides: Sequence[Straight]) -> None:
        super().__init__(sides)
        first, last = self.ends[:, 0, 0], self.ends[:, 1, 0]
        self.bottom_x, top_x = np.where(self.rises, first, last), np.where(self.rises, last, first)
        self.lean = (top_x - self.bottom_x) / (self.high - self.low)

    def x(self, z: Array) -> Array:
        return np.asarray(self.bottom_x + self.lean * (z - self.low))

    def moment(self, z: Array) -> Array:
        d = z - self.low
        return np.asarray(self.bottom_x * d + self.lean * d * d / 2)

    def moment_integral(self, z: Array) -> Array:
        d = z - self.low
        return np.asarray(self.bottom_x * d * d / 2 + self.lean * d**3 / 6)


class _Arcs(_Ends):
    def __init__(self, sides: Sequence[Round]) -> None:
        super().__init__(sides)
        self.centre_x, self.centre_z = np.array([one.centre for one in sides]).reshape(-1, 2).T
        self.radius, self.side = np.array([(one.radius, one.side) for one in sides]).reshape(-1, 2).T
        self.first, self.second = self._primitive(self.low), self._second(self.low)

    def _turn(self, z: Array) -> tuple[Array, Array, Array]:
        """Sine, cosine and angle of the radius to a height, from level up."""
        u = np.minimum(np.maximum((z - self.centre_z) / self.radius, -1), 1)
        return u, np.sqrt(1 - u * u), np.arcsin(u)

    def _primitive(self, z: Array) -> Array:
        u, root, angle = self._turn(z)
        return np.asarray(self.centre_x * z + self.side * self.radius**2 * (u * root + angle) / 2)

    def _second(self, z: Array) -> Array:
        u, root, angle = self._turn(z)
        return np.asarray(
            self.centre_x * z * z / 2 + self.side * self.radius**3 * (u * angle + root - root**3 / 3) / 2
        )

    def x(self, z: Array) -> Array:
        _, root, _ = self._turn(z)
        return np.asarray(self.centre_x + self.side * self.radius * root)

    def moment(self, z: Array) -> Array:
        return np.asarray(self._primitive(z) - self.first)

    def moment_integral(self, z: Array) -> Array:
        return np.asarray(self._second(z) - self.second - self.first * (z - self.low))


class Sides:
    """All sides of a section; of no use to it are those that lie level.

    Parameters
    ----------
    sides : sequence of Straight or Round
        In the section's own frame, its lowest point at height 0.
    """

    def __init__(self, sides: Sequence[Straight | Round]) -> None:
        sloping = [one for one in sides if abs(one.end[1] - one.start[1]) > _LEVEL]
        self._kinds: tuple[_Lines | _Arcs, ...] = (
            _Lines([one for one in sloping if isinstance(one, Straight)]),
            _Arcs([one for one in sloping if isinstance(one, Round)]),
        )
        self._whole = tuple(kind.moment(kind.high) for kind in self._kinds)

    def area(self, height: Array) -> Array:
        """Area between the sides below a height [m²], of the shape of `height` [m]."""
        h = height[..., None]
        return np.asarray(
            sum(kind.moment(np.minimum(np.maximum(h, kind.low), kind.high)) @ kind.sign for kind in self._kinds)
        )

    def area_integral(self, height: Array) -> Array:
        """Integral of `area` from 0 to a height [m³]."""
        h = height[..., None]
        return np.asarray(
            sum(
                (
                    kind.moment_integral(np.minimum(np.maximum(h, kind.low), kind.high))
                    + whole * np.maximum(h - kind.high, 0)
                )
                @ kind.sign
                for kind, whole in zip(self._kinds, self._whole, strict=True)
            )
        )

    def width(self, height: Array) -> Array:
        """Width between the sides at a height [m]; just above it where the width jumps."""
        h = height[..., None]
        return np.asarray(
            sum(
                np.where(
                    (h >= kind.low - _LEVEL) & (h < kind.high - _LEVEL),
                    kind.x(np.minimum(np.maximum(h, kind.low), kind.high)),
                    0.0,
                )
                @ kind.sign
                for kind in self._kinds
            )
        )
