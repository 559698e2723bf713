"""Upright tanks: cylinders with any bottom and top, strapped courses, spheres.

Innage counts from the lowest inside point.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import ClassVar

import numpy as np
import numpy.typing as npt

from ..quantities.arrays import Array
from ..quantities.errors import InputError
from .heads import FlatHead, Head
from .meridian import beyond, radius_at
from .shapes import Outline

#: Linear expansion of carbon steel [1/K], from memory.
STEEL_EXPANSION = 11.2e-6


def _end_volume(head: Head, radius: float, height: Array) -> Array:
    """What a bottom adds below `height` [m³], from its lowest point up [m]; negative where it points inward."""
    pieces, depth = head.pieces(radius), head.depth(radius)
    if head.inward:
        return beyond(pieces, np.clip(height, 0, depth)) - beyond(pieces, np.zeros(()))
    return beyond(pieces, np.clip(depth - height, 0, depth))


def _end_surface(head: Head, radius: float, height: Array) -> Array:
    """What a bottom adds to the liquid's surface at `height` [m²]; zero outside its depth."""
    pieces, depth = head.pieces(radius), head.depth(radius)
    inside = (height >= 0) & (height < depth)
    distance = height if head.inward else depth - height
    area = np.pi * radius_at(pieces, np.clip(distance, 0, depth)) ** 2
    return np.where(inside, -area if head.inward else area, 0.0)


@dataclass(frozen=True)
class VerticalCylinder:
    """An upright cylinder with a bottom and a top.

    Notes
    -----
    Innage counts from the lowest inside point: the shell's edge over a flat floor or one that points inward, the
    apex of any other.
    """

    kind: ClassVar[str] = "vertical_cylinder"
    diameter_m: float
    shell_height_m: float
    bottom: Head
    top: Head

    @property
    def floor_radius(self) -> float:
        """Inside radius at the floor [m]: the shell's."""
        return self.diameter_m / 2

    def _reach(self, head: Head) -> float:
        return 0.0 if head.inward else head.depth(self.floor_radius)

    @property
    def inside_height(self) -> float:
        """From the lowest inside point to the highest [m]."""
        return self._reach(self.bottom) + self.shell_height_m + self._reach(self.top)

    @property
    def length(self) -> float:
        """Length along which the gauge may stand [m]: the diameter."""
        return self.diameter_m

    @cached_property
    def capacity(self) -> float:
        """Volume of the whole inside [m³]."""
        return float(self.volume(self.inside_height))

    @property
    def kinks(self) -> tuple[float, ...]:
        """Levels at which the liquid's surface jumps or bends [m]."""
        tangent = self._reach(self.bottom)
        levels = {tangent, tangent + self.shell_height_m, self._top_start()}
        if self.bottom.inward:
            levels.add(self.bottom.depth(self.floor_radius))
        for head, start, way in ((self.bottom, tangent, -1), (self.top, tangent + self.shell_height_m, 1)):
            pieces = head.pieces(self.floor_radius)
            if len(pieces) > 1:
                levels.add(start + way * float(pieces[0].at(np.asarray(pieces[0].ends[1]))[0]))
        return tuple(sorted(level for level in levels if 0 < level < self.inside_height))

    def _top_start(self) -> float:
        """Level at which the top begins to bear on the inside [m]."""
        return self.inside_height - self.top.depth(self.floor_radius)

    def check(self) -> None:
        """Raise `InputError`, naming the key, if an end cannot close the shell or both meet inside it."""
        for name, head in (("bottom", self.bottom), ("top", self.top)):
            try:
                head.check(self.floor_radius)
            except InputError as error:
                raise error.under(name) from None
        inside = [head.depth(self.floor_radius) for head in (self.bottom, self.top) if head.inward]
        if sum(inside) > self.shell_height_m * (1 + 1e-12):
            raise InputError.at(
                "shell_height_mm",
                f"{self.shell_height_m * 1000:g} mm is less than the {sum(inside) * 1000:g} mm its ends reach in",
            )

    def volume(self, level: npt.ArrayLike) -> Array:
        """Volume below `level` [m³]."""
        h = np.clip(np.asarray(level, dtype=float), 0, self.inside_height)
        shell = np.pi * self.floor_radius**2 * np.clip(h - self._reach(self.bottom), 0, self.shell_height_m)
        low = _end_volume(self.bottom, self.floor_radius, h)
        depth = self.top.depth(self.floor_radius)
        rest = _end_volume(self.top, self.floor_radius, np.clip(depth - (h - self._top_start()), 0, depth))
        whole = _end_volume(self.top, self.floor_radius, np.asarray(depth))
        return np.asarray(np.maximum(shell + low + whole - rest, 0.0))

    def surface(self, level: npt.ArrayLike) -> Array:
        """Area of the liquid's surface at `level` [m²]."""
        h = np.clip(np.asarray(level, dtype=float), 0, self.inside_height)
        tangent = self._reach(self.bottom)
        in_shell = (h >= tangent) & (h < tangent + self.shell_height_m)
        surface = np.where(in_shell, np.pi * self.floor_radius**2, 0.0) + _end_surface(
            self.bottom, self.floor_radius, h
        )
        if isinstance(self.top, FlatHead):
            # At the brim itself the surface is the one just below it.
            return np.asarray(
                np.where(h >= self.inside_height, np.pi * self.floor_radius**2, np.maximum(surface, 0.0))
            )
        pieces, depth, start = (
            self.top.pieces(self.floor_radius),
            self.top.depth(self.floor_radius),
            self._top_start(),
        )
        into = np.clip(h - start, 0, depth)
        area = np.pi * radius_at(pieces, depth - into if self.top.inward else into) ** 2
        surface = surface + np.where(h >= start, -area if self.top.inward else area, 0.0)
        return np.asarray(np.maximum(surface, 0.0))

    def outline(self) -> Outline:
        """The shape's sections, for drawing."""
        r, low = self.floor_radius, self._reach(self.bottom)
        high = low + self.shell_height_m
        floor = self.bottom.outline(r) * [(-1 if not self.bottom.inward else 1), 1]
        roof = self.top.outline(r) * [(1 if not self.top.inward else -1), 1]
        # Heads' outlines run from +radius to −radius; turned upright they close the shell below and above.
        below = np.column_stack([floor[:, 1] + r, floor[:, 0] + low])
        above = np.column_stack([roof[::-1, 1] + r, roof[::-1, 0] + high])
        along = np.concatenate([above, below])
        seams = tuple(
            ((0.0, z), (2 * r, z))
            for z, head in ((low, self.bottom), (high, self.top))
            if not isinstance(head, FlatHead)
        )
        return Outline(along, seams, along - [r, 0], r)


@dataclass(frozen=True)
class Sphere:
    """A sphere; V = π h² (3R − h) / 3."""

    kind: ClassVar[str] = "sphere"
    diameter_m: float
    kinks: ClassVar[tuple[float, ...]] = ()

    @property
    def inside_height(self) -> float:
        """Innage of a brim-full tank [m]: the diameter."""
        return self.diameter_m

    @property
    def length(self) -> float:
        """Length along which the gauge may stand [m]: the diameter."""
        return self.diameter_m

    @property
    def capacity(self) -> float:
        """Volume of the whole inside [m³]."""
        return float(np.pi * self.diameter_m**3 / 6)

    def check(self) -> None:
        """Any diameter makes a sphere."""

    def volume(self, level: npt.ArrayLike) -> Array:
        """Volume below `level` [m³]."""
        h = np.clip(np.asarray(level, dtype=float), 0, self.diameter_m)
        return np.asarray(np.pi * h * h * (1.5 * self.diameter_m - h) / 3)

    def surface(self, level: npt.ArrayLike) -> Array:
        """Area of the liquid's surface at `level` [m²]."""
        h = np.clip(np.asarray(level, dtype=float), 0, self.diameter_m)
        return np.asarray(np.pi * h * (self.diameter_m - h))

    def outline(self) -> Outline:
        """The shape's sections, for drawing."""
        angle = np.linspace(0, 2 * np.pi, 97)[:-1]
        r = self.diameter_m / 2
        along = np.column_stack([r + r * np.sin(angle), r - r * np.cos(angle)])
        return Outline(along, (), along - [r, 0], r)


@dataclass(frozen=True)
class Course:
    """One ring of a strapped shell: outside circumference, plate and height [m]."""

    circumference_m: float
    plate_m: float
    height_m: float

    @property
    def radius_m(self) -> float:
        """Inside radius [m]."""
        return self.circumference_m / (2 * np.pi) - self.plate_m


@dataclass(frozen=True)
class Courses:
    """An upright tank strapped course by course, from the bottom up; flat top.

    Parameters
    ----------
    courses : tuple of Course
        The rings.
    bottom : Head
        Its floor.
    strapped_at_c, shell_temperature_c : float or None
        Shell temperature when it was strapped, and the one the table is for [°C].

    Notes
    -----
    Volume of the shell × (1 + 2 α ΔT), the widening of its plan; heights are taken as dipped, with a tape at
    its own temperature. α of carbon steel from memory.
    """

    kind: ClassVar[str] = "courses"
    courses: tuple[Course, ...]
    bottom: Head
    strapped_at_c: float | None = None
    shell_temperature_c: float | None = None

    @property
    def widening(self) -> float:
        """Factor on the plan's area for the shell's temperature [1]."""
        if self.strapped_at_c is None or self.shell_temperature_c is None:
            return 1.0
        return 1 + 2 * STEEL_EXPANSION * (self.shell_temperature_c - self.strapped_at_c)

    @property
    def _areas(self) -> Array:
        return np.array([np.pi * course.radius_m**2 for course in self.courses]) * self.widening

    @property
    def floor_radius(self) -> float:
        """Inside radius at the floor [m]."""
        return self.courses[0].radius_m * float(np.sqrt(self.widening))

    @property
    def _seams(self) -> Array:
        """Levels of the courses' edges, the lowest first [m]."""
        reach = 0.0 if self.bottom.inward else self.bottom.depth(self.floor_radius)
        return reach + np.concatenate([[0.0], np.cumsum([course.height_m for course in self.courses])])

    @property
    def inside_height(self) -> float:
        """From the lowest inside point to the top of the shell [m]."""
        return float(self._seams[-1])

    @property
    def length(self) -> float:
        """Length along which the gauge may stand [m]: the widest course's inside diameter."""
        return 2 * max(course.radius_m for course in self.courses)

    @cached_property
    def capacity(self) -> float:
        """Volume of the whole inside [m³]."""
        return float(self.volume(self.inside_height))

    @property
    def kinks(self) -> tuple[float, ...]:
        """Levels at which the liquid's surface jumps [m]."""
        levels = {float(level) for level in self._seams}
        if self.bottom.inward:
            levels.add(self.bottom.depth(self.floor_radius))
        return tuple(sorted(level for level in levels if 0 < level < self.inside_height))

    def check(self) -> None:
        """Raise `InputError`, naming the course, if a plate is thicker than its circle or the floor does not fit."""
        for index, course in enumerate(self.courses):
            if course.radius_m <= 0:
                raise InputError.at(
                    f"courses[{index}].plate_mm", "is thicker than the circle that was strapped: check the units"
                )
        try:
            self.bottom.check(self.floor_radius)
        except InputError as error:
            raise error.under("bottom") from None
        if self.bottom.inward and self.bottom.depth(self.floor_radius) > self.courses[0].height_m:
            raise InputError.at("bottom.depth_mm", "reaches above the lowest course: check it")

    def volume(self, level: npt.ArrayLike) -> Array:
        """Volume below `level` [m³]."""
        h = np.clip(np.asarray(level, dtype=float), 0, self.inside_height)
        seams = self._seams
        filled = np.concatenate([[0.0], np.cumsum(self._areas * np.diff(seams))])
        shell = np.interp(h, seams, filled)
        return np.asarray(np.maximum(shell + _end_volume(self.bottom, self.floor_radius, h), 0.0))

    def surface(self, level: npt.ArrayLike) -> Array:
        """Area of the liquid's surface at `level` [m²]."""
        h = np.clip(np.asarray(level, dtype=float), 0, self.inside_height)
        seams, areas = self._seams, self._areas
        index = np.clip(np.searchsorted(seams, h, side="right") - 1, 0, len(areas) - 1)
        shell = np.where(h >= seams[0], areas[index], 0.0)
        return np.asarray(shell + _end_surface(self.bottom, self.floor_radius, h))

    def outline(self) -> Outline:
        """The shape's sections, for drawing: each course as wide as it is."""
        middle = self.length / 2
        seams = self._seams
        right = []
        for course, low, high in zip(self.courses, seams[:-1], seams[1:], strict=True):
            right += [[course.radius_m, low], [course.radius_m, high]]
        sides = np.array(right)
        floor = self.bottom.outline(self.courses[0].radius_m) * [(-1 if not self.bottom.inward else 1), 1]
        below = np.column_stack([floor[:, 1], floor[:, 0] + seams[0]])
        along = np.concatenate([sides[::-1], below[1:-1] if len(below) > 2 else below[:0], sides * [-1, 1]])
        joints = tuple(
            ((middle - c.radius_m, float(z)), (middle + c.radius_m, float(z)))
            for c, z in zip(self.courses[1:], seams[1:-1], strict=True)
        )
        return Outline(along + [middle, 0], joints, along, middle)
