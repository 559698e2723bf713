"""Tank shapes: what each kind holds at a level, and how it looks cut along its length.

Lengths in metres, areas in square metres, volumes in cubic metres. Levels are innage: plumb height above the
inside bottom of the shell. Every function of level takes an array of any shape and returns the same shape.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar, Protocol

import numpy as np
import numpy.typing as npt

from ..errors import InputError
from .heads import Head
from .sections import Array, circle_area, circle_chord, rounded_box_area, rounded_box_chord


@dataclass(frozen=True)
class Outline:
    """A shape cut by a plumb plane along its length, for drawing.

    Parameters
    ----------
    along : ndarray
        Closed polygon of the long section, (x from the left tangent line, z above the inside bottom) [m],
        shape (n, 2).
    seams : tuple of float
        Stations at which heads meet the shell [m].
    across : ndarray
        Closed polygon of the cross-section, (y from the middle plane, z above the inside bottom) [m], shape
        (m, 2). For an upright tank it is the same as `along` seen from the side.
    """

    along: Array
    seams: tuple[float, ...]
    across: Array


class Shape(Protocol):
    """What every shape can tell about itself."""

    kind: ClassVar[str]

    @property
    def inside_height(self) -> float:
        """Innage of a brim-full tank [m]."""

    @property
    def length(self) -> float:
        """Length along which the gauge may stand [m]."""

    def check(self) -> None:
        """Raise `InputError`, naming the key, if the dimensions contradict one another."""

    def volume(self, level: npt.ArrayLike) -> Array:
        """Volume below `level` [m³]."""

    def surface(self, level: npt.ArrayLike) -> Array:
        """Area of the liquid's surface at `level` [m²]."""

    def outline(self) -> Outline:
        """The shape's sections, for drawing."""


@dataclass(frozen=True)
class HorizontalCylinder:
    """A cylinder lying down, each end with its own head, level.

    Notes
    -----
    Volume = shell length × wetted circle + both heads, each exact or to about 1e-13 (see `heads`).
    """

    kind: ClassVar[str] = "horizontal_cylinder"
    diameter_m: float
    shell_length_m: float
    left_head: Head
    right_head: Head

    @property
    def inside_height(self) -> float:
        """Innage of a brim-full tank [m]: the diameter."""
        return self.diameter_m

    @property
    def length(self) -> float:
        """Shell length, tangent to tangent [m]."""
        return self.shell_length_m

    def check(self) -> None:
        """Raise `InputError`, naming the key, if a head cannot close the shell."""
        for name, head in (("left_head", self.left_head), ("right_head", self.right_head)):
            try:
                head.check(self.diameter_m / 2)
            except InputError as error:
                raise error.under(name) from None

    def volume(self, level: npt.ArrayLike) -> Array:
        """Volume below `level` [m³]."""
        radius = self.diameter_m / 2
        shell = self.shell_length_m * circle_area(radius, level)
        left = self.left_head.volume(radius, level)
        same = self.left_head == self.right_head
        return shell + left + (left if same else self.right_head.volume(radius, level))

    def surface(self, level: npt.ArrayLike) -> Array:
        """Area of the liquid's surface at `level` [m²]."""
        radius = self.diameter_m / 2
        ends = self.left_head.surface(radius, level) + self.right_head.surface(radius, level)
        return self.shell_length_m * circle_chord(radius, level) + ends

    def outline(self) -> Outline:
        """The shape's sections, for drawing."""
        radius = self.diameter_m / 2
        left = self.left_head.outline(radius) * [-1, 1]
        right = self.right_head.outline(radius) + [self.shell_length_m, 0]
        along = np.concatenate([right, left[::-1]]) + [0, radius]
        angle = np.linspace(0, 2 * np.pi, 73)[:-1]
        across = np.column_stack([radius * np.sin(angle), radius - radius * np.cos(angle)])
        return Outline(along, (0.0, self.shell_length_m), across)


@dataclass(frozen=True)
class VerticalCylinder:
    """An upright cylinder with a flat floor and a flat top."""

    kind: ClassVar[str] = "vertical_cylinder"
    diameter_m: float
    shell_height_m: float

    @property
    def inside_height(self) -> float:
        """Innage of a brim-full tank [m]: the shell's height."""
        return self.shell_height_m

    @property
    def length(self) -> float:
        """Length along which the gauge may stand [m]: the diameter."""
        return self.diameter_m

    def check(self) -> None:
        """Nothing to contradict: any height goes with any diameter."""

    def volume(self, level: npt.ArrayLike) -> Array:
        """Volume below `level` [m³]."""
        h = np.clip(np.asarray(level, dtype=float), 0, self.shell_height_m)
        return np.asarray(np.pi * self.diameter_m**2 / 4 * h)

    def surface(self, level: npt.ArrayLike) -> Array:
        """Area of the liquid's surface at `level` [m²]."""
        return np.full_like(np.asarray(level, dtype=float), np.pi * self.diameter_m**2 / 4)

    def outline(self) -> Outline:
        """The shape's sections, for drawing."""
        along = _rectangle(0, self.diameter_m, self.shell_height_m)
        return Outline(along, (), along - [self.diameter_m / 2, 0])


@dataclass(frozen=True)
class Box:
    """A box, level; its four long edges may be rounded."""

    kind: ClassVar[str] = "box"
    length_m: float
    width_m: float
    height_m: float
    corner_radius_m: float = 0.0

    @property
    def inside_height(self) -> float:
        """Innage of a brim-full tank [m]: the height."""
        return self.height_m

    @property
    def length(self) -> float:
        """Inside length [m]."""
        return self.length_m

    def check(self) -> None:
        """Raise `InputError` if the corners do not fit the section."""
        limit = min(self.width_m, self.height_m) / 2
        if self.corner_radius_m > limit * (1 + 1e-12):
            raise InputError.at(
                "corner_radius_mm",
                f"a corner of {self.corner_radius_m * 1000:g} mm does not fit: half the shorter side is "
                f"{limit * 1000:g} mm",
            )

    def volume(self, level: npt.ArrayLike) -> Array:
        """Volume below `level` [m³]."""
        return self.length_m * rounded_box_area(self.width_m, self.height_m, self.corner_radius_m, level)

    def surface(self, level: npt.ArrayLike) -> Array:
        """Area of the liquid's surface at `level` [m²]."""
        return self.length_m * rounded_box_chord(self.width_m, self.height_m, self.corner_radius_m, level)

    def outline(self) -> Outline:
        """The shape's sections, for drawing."""
        across = _rectangle(-self.width_m / 2, self.width_m, self.height_m)
        if self.corner_radius_m > 0:
            across = self._rounded()
        return Outline(_rectangle(0, self.length_m, self.height_m), (), across)

    def _rounded(self) -> Array:
        r = self.corner_radius_m
        turn = np.linspace(0, np.pi / 2, 9)
        corners = []
        for quarter, (side, top) in enumerate(((1, 1), (-1, 1), (-1, -1), (1, -1))):
            centre = [side * (self.width_m / 2 - r), self.height_m - r if top > 0 else r]
            angle = turn + quarter * np.pi / 2
            corners.append(np.column_stack([np.cos(angle), np.sin(angle)]) * r + centre)
        return np.concatenate(corners)


def _rectangle(left: float, width: float, height: float) -> Array:
    return np.array([[left, height], [left + width, height], [left + width, 0], [left, 0]])
