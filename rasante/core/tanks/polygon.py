"""A section traced by its corners, for odd tanks: any simple polygon, its corners sharp or rounded."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import ClassVar

import numpy as np
import numpy.typing as npt

from ..quantities.arrays import Array
from ..quantities.errors import InputError
from .sides import Point, Round, Sides, Straight


@dataclass(frozen=True)
class Polygon:
    """A simple polygon; moved so that its lowest point is at height 0 and its middle at 0 across.

    Parameters
    ----------
    points_m : tuple of (x, z)
        Corners [m] in order around the section, either way round; the last joins the first.
    corner_radius_m : float
        Radius of every corner [m].

    Notes
    -----
    Areas and their integrals in closed form, from the outline's pieces: see `sides`.
    """

    kind: ClassVar[str] = "polygon"
    points_m: tuple[Point, ...]
    corner_radius_m: float = 0.0

    @cached_property
    def _clockwise(self) -> bool:
        x, z = np.array(self.points_m, dtype=float).T
        return bool(np.sum(x * np.roll(z, -1) - np.roll(x, -1) * z) < 0)

    @cached_property
    def corners(self) -> tuple[Point, ...]:
        """The corners anticlockwise, moved to the section's own frame [m]."""
        points = np.array(self.points_m, dtype=float)
        x, z = points.T
        if self._clockwise:
            points = points[::-1]
        points = points - [(x.min() + x.max()) / 2, z.min()]
        return tuple((float(a), float(b)) for a, b in points)

    @cached_property
    def height(self) -> float:
        """From the lowest point to the highest [m]."""
        return max(max(p.start[1], p.end[1]) for p in self._pieces)

    @cached_property
    def kinks(self) -> tuple[float, ...]:
        """Depths at which the width jumps or bends [m]."""
        levels = {round(p.start[1], 12) for p in self._pieces} | {round(p.end[1], 12) for p in self._pieces}
        return tuple(sorted(z for z in levels if 1e-9 < z < self.height - 1e-9))

    def check(self) -> None:
        """Raise `InputError` if the outline crosses itself, is flat, or its corners cannot be rounded."""
        check_simple(self.points_m)
        if self.corner_radius_m > 0:
            for index, (need, room) in enumerate(self._rounding()):
                if need > room * (1 + 1e-9):
                    raise InputError.at(
                        "corner_radius_mm",
                        f"{self.corner_radius_m * 1000:g} mm does not fit at corner {index + 1}: its sides leave "
                        f"room for {self.corner_radius_m * room / need * 1000:.0f} mm",
                    )

    def _turns(self) -> list[tuple[Point, Array, Array, float]]:
        """Every corner with the directions of the sides that come in and go out, and the angle turned [rad]."""
        found, n = [], len(self.corners)
        for i, corner in enumerate(self.corners):
            into = np.subtract(corner, self.corners[i - 1])
            out = np.subtract(self.corners[(i + 1) % n], corner)
            into, out = into / np.hypot(*into), out / np.hypot(*out)
            turn = float(np.arctan2(into[0] * out[1] - into[1] * out[0], into @ out))
            found.append((corner, into, out, turn))
        return found

    def _tangents(self) -> list[float]:
        """How far from each corner its arc begins [m]."""
        return [self.corner_radius_m * abs(float(np.tan(turn / 2))) for *_, turn in self._turns()]

    def _rounding(self) -> list[tuple[float, float]]:
        """For each corner as given, the length of side that its arc needs and has [m]."""
        tangents, n = self._tangents(), len(self.corners)
        found = []
        for i, need in enumerate(tangents):
            room = np.inf
            for j in (i - 1, (i + 1) % n):
                side = float(np.hypot(*np.subtract(self.corners[j], self.corners[i])))
                share = need / (need + tangents[j]) if need + tangents[j] > 0 else 1.0
                room = min(room, side * share)
            found.append((need, float(room)))
        return found[::-1] if self._clockwise else found

    @cached_property
    def lift_m(self) -> float:
        """How far the rounding lifts the lowest point above the lowest of the sharp corners [m]."""
        return min(min(p.start[1], p.end[1]) for p in self._sharp_pieces)

    @cached_property
    def _pieces(self) -> tuple[Straight | Round, ...]:
        """The outline as pieces that each only rise, only fall, or lie level, from the lowest point up."""
        return tuple(piece.lowered(self.lift_m) for piece in self._sharp_pieces)

    @cached_property
    def _sharp_pieces(self) -> tuple[Straight | Round, ...]:
        """The pieces in the frame of the corners."""
        pieces: list[Straight | Round] = []
        ends: list[tuple[Point, Point]] = []
        arcs: list[list[Round]] = []
        for (corner, into, out, turn), tangent in zip(self._turns(), self._tangents(), strict=True):
            first = (corner[0] - into[0] * tangent, corner[1] - into[1] * tangent)
            last = (corner[0] + out[0] * tangent, corner[1] + out[1] * tangent)
            ends.append((first, last))
            arcs.append(_arcs(first, into, turn, self.corner_radius_m, last) if tangent > 0 else [])
        for i, (_, leave) in enumerate(ends):
            pieces += arcs[i]
            arrive = ends[(i + 1) % len(ends)][0]
            if np.hypot(arrive[0] - leave[0], arrive[1] - leave[1]) > 1e-12:
                pieces.append(Straight(leave, arrive))
        return tuple(pieces)

    @cached_property
    def _sides(self) -> Sides:
        return Sides(self._pieces)

    def area(self, depth: npt.ArrayLike) -> Array:
        """Area wetted to `depth` [m²]."""
        h = np.clip(np.asarray(depth, dtype=float), 0, self.height)
        return np.asarray(np.maximum(self._sides.area(h), 0.0))

    def area_integral(self, depth: npt.ArrayLike) -> Array:
        """Integral of `area` from 0 to `depth` [m³]."""
        h = np.clip(np.asarray(depth, dtype=float), 0, self.height)
        return np.asarray(np.maximum(self._sides.area_integral(h), 0.0))

    def chord(self, depth: npt.ArrayLike) -> Array:
        """Width of the liquid's surface at `depth` [m]; just above it where the width jumps."""
        # At the very top it is the width just below.
        h = np.clip(np.asarray(depth, dtype=float), 0, self.height * (1 - 1e-10))
        return np.asarray(np.maximum(self._sides.width(h), 0.0))

    def outline(self) -> Array:
        """Closed polygon of the section [m], arcs as short sides, shape (n, 2)."""
        points: list[Point] = []
        for piece in self._pieces:
            if isinstance(piece, Round):
                angles = [
                    np.arctan2(p[1] - piece.centre[1], p[0] - piece.centre[0]) for p in (piece.start, piece.end)
                ]
                way = (angles[1] - angles[0] + np.pi) % (2 * np.pi) - np.pi
                for angle in angles[0] + way * np.linspace(0, 1, 7)[:-1]:
                    points.append(
                        (
                            piece.centre[0] + piece.radius * float(np.cos(angle)),
                            piece.centre[1] + piece.radius * float(np.sin(angle)),
                        )
                    )
            else:
                points.append(piece.start)
        return np.array(points)


def _arcs(first: Point, into: Array, turn: float, radius: float, last: Point) -> list[Round]:
    """Round one corner, split where the arc stops rising or falling."""
    way = np.sign(turn)
    centre = (first[0] - into[1] * radius * way, first[1] + into[0] * radius * way)
    begin = float(np.arctan2(first[1] - centre[1], first[0] - centre[0]))
    stops = [begin]
    for k in range(-5, 6):
        angle = np.pi / 2 + k * np.pi
        if min(begin, begin + turn) + 1e-12 < angle < max(begin, begin + turn) - 1e-12:
            stops.append(angle)
    stops = [*sorted(stops, reverse=turn < 0), begin + turn]
    at = [(centre[0] + radius * float(np.cos(a)), centre[1] + radius * float(np.sin(a))) for a in stops]
    at[0], at[-1] = first, last
    return [
        Round(at[i], at[i + 1], centre, radius, float(np.sign(np.cos((stops[i] + stops[i + 1]) / 2))))
        for i in range(len(stops) - 1)
    ]


def check_simple(points: Sequence[Point]) -> None:
    """Refuse an outline that is no simple polygon.

    Parameters
    ----------
    points : sequence of (x, z)
        Corners [m] in order.

    Raises
    ------
    InputError
        Saying at which corners, and where two sides cross [mm].
    """
    n = len(points)
    for i in range(n):
        if np.hypot(*np.subtract(points[i], points[i - 1])) < 1e-6:
            raise InputError.at(f"points_mm[{i}]", f"corner {i + 1} is the same as the one before: leave one out")
    found = find_crossing(points)
    if found is not None:
        i, j, where = found
        raise InputError.at(
            f"points_mm[{j}]",
            f"the side from corner {j + 1} to {(j + 1) % n + 1} crosses that from corner {i + 1} to {i + 2}, at "
            f"{where[0] * 1000:.0f} mm across and {where[1] * 1000:.0f} mm up: put the corners in order around the "
            "section",
        )
    x, z = np.array(points).T
    if abs(np.sum(x * np.roll(z, -1) - np.roll(x, -1) * z)) / 2 < 1e-6:
        raise InputError.at("points_mm", "all corners lie on one line: the section has no area")


def find_crossing(points: Sequence[Point]) -> tuple[int, int, Point] | None:
    """Find where an outline crosses itself.

    Parameters
    ----------
    points : sequence of (x, z)
        Corners [m] in order.

    Returns
    -------
    (int, int, (x, z)) or None
        The corners that the first two crossing sides begin at, and where they cross [m]; None if none do.
    """
    n = len(points)
    for i in range(n):
        for j in range(i + 1, n):
            where = _crossing(points[i], points[(i + 1) % n], points[j], points[(j + 1) % n], j - i in (1, n - 1))
            if where is not None:
                return i, j, where
    return None


def _crossing(a: Point, b: Point, c: Point, d: Point, neighbours: bool) -> Point | None:
    """Where two sides meet other than at the corner that neighbours share, or None."""
    r, s, q = np.subtract(b, a), np.subtract(d, c), np.subtract(c, a)
    size = max(float(np.hypot(*r)), float(np.hypot(*s)))
    cross = float(r[0] * s[1] - r[1] * s[0])
    if abs(cross) <= 1e-12 * size * size:
        if abs(r[0] * q[1] - r[1] * q[0]) > 1e-9 * size * size:
            return None
        # On one line: they overlap if an end of one lies inside the other.
        along = r / np.hypot(*r)
        ends = sorted((float(q @ along), float(np.subtract(d, a) @ along)))
        low, high = max(ends[0], 0.0), min(ends[1], float(np.hypot(*r)))
        if high - low > 1e-9 * size:
            return (float(a[0] + along[0] * low), float(a[1] + along[1] * low))
        return None
    t = float(q[0] * s[1] - q[1] * s[0]) / cross
    u = float(q[0] * r[1] - q[1] * r[0]) / cross
    if neighbours or not (-1e-9 <= t <= 1 + 1e-9 and -1e-9 <= u <= 1 + 1e-9):
        return None
    return (a[0] + t * float(r[0]), a[1] + t * float(r[1]))


def from_widths(rows: Sequence[tuple[float, float]]) -> tuple[Point, ...]:
    """Make corners from widths at heights, alike on both sides.

    Parameters
    ----------
    rows : sequence of (height, width)
        From the bottom up [m]; a width of 0 is a point.

    Returns
    -------
    tuple of (x, z)
        Corners anticlockwise from the bottom left [m].

    Raises
    ------
    InputError
        If there are fewer than 2 rows or the heights do not rise.
    """
    if len(rows) < 2:
        raise InputError.at("widths", "give the width at two heights at least, the bottom and the top")
    for i in range(1, len(rows)):
        if rows[i][0] < rows[i - 1][0]:
            raise InputError.at(
                f"widths[{i}].at_mm", f"{rows[i][0] * 1000:g} mm is below the row before it: go from the bottom up"
            )
    right = [(width / 2, height) for height, width in rows]
    left = [(-width / 2, height) for height, width in reversed(rows) if width > 0]
    points = [*right, *left]
    # A row repeated is one corner.
    return tuple(p for i, p in enumerate(points) if i == 0 or p != points[i - 1])
