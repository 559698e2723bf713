"""What every tank shape can tell about itself, and how it looks cut along and across.

Lengths in metres, areas in square metres, volumes in cubic metres. Levels are innage: plumb height of the liquid
above the inside bottom where the gauge stands. Every function of level takes an array of any shape and returns
the same shape.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar, Protocol

import numpy.typing as npt

from ..quantities.arrays import Array


@dataclass(frozen=True)
class Outline:
    """A shape cut by a plumb plane along its length, for drawing.

    Parameters
    ----------
    along : ndarray
        Closed polygon of the long section, (x, z above the level where innage is zero) [m], shape (n, 2). As the
        tank stands: a sloped tank is drawn sloped, and may reach below zero.
    seams : tuple of ((x, z), (x, z))
        Where heads meet the shell, or courses one another, from end to end [m].
    across : ndarray
        Closed polygon of the cross-section, (y from the middle plane, z above the inside bottom) [m], shape
        (m, 2). For an upright tank it is the same as `along` seen from the side.
    gauge_x : float
        Where the gauge stands in the long section [m].
    """

    along: Array
    seams: tuple[tuple[tuple[float, float], tuple[float, float]], ...]
    across: Array
    gauge_x: float


class Shape(Protocol):
    """What every shape can tell about itself."""

    kind: ClassVar[str]

    def __hash__(self) -> int:
        """By its dimensions: what is worked out of one is remembered."""

    @property
    def inside_height(self) -> float:
        """Innage at which the shell is full where the gauge stands [m]."""

    @property
    def length(self) -> float:
        """Length along which the gauge may stand [m]."""

    @property
    def capacity(self) -> float:
        """Volume of the whole inside [m³]."""

    @property
    def kinks(self) -> tuple[float, ...]:
        """Levels at which the liquid's surface jumps or bends [m]."""

    def check(self) -> None:
        """Raise `InputError`, naming the key, if the dimensions contradict one another."""

    def volume(self, level: npt.ArrayLike) -> Array:
        """Volume below `level` [m³]."""

    def surface(self, level: npt.ArrayLike) -> Array:
        """Area of the liquid's surface at `level` [m²]; just above it where it jumps."""

    def outline(self) -> Outline:
        """The shape's sections, for drawing."""
