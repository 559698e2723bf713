"""Two tables of one tank side by side: how far apart they are at every level, and where most."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
import scipy

from ..quantities.arrays import Array
from ..quantities.errors import InputError
from .tank import Tank

Volume = Callable[[npt.ArrayLike], Array]


@dataclass(frozen=True)
class Side:
    """One of two tables: what it is called, its volume at any level, and the levels of its rows if it has any."""

    label: str
    volume: Volume
    height_m: float
    capacity_m3: float
    rows_m: Array | None = None

    @classmethod
    def of(cls, label: str, tank: Tank) -> Side:
        """Make a side of a tank."""
        return cls(label, tank.volume, tank.inside_height, tank.capacity)

    @classmethod
    def of_rows(cls, label: str, levels: Array, volumes: Array, capacity_m3: float) -> Side:
        """Make a side of a table's rows [m], [m³]; between them a monotone cubic (PCHIP)."""
        curve = scipy.interpolate.PchipInterpolator(levels, volumes)
        return cls(label, lambda level: np.asarray(curve(np.asarray(level))), float(levels[-1]), capacity_m3, levels)


@dataclass(frozen=True)
class Comparison:
    """The second table less the first, where both have levels.

    Parameters
    ----------
    innage_m, first_m3, second_m3, difference_m3 : ndarray
        Levels [m], both volumes and their difference [m³], shape (levels,).
    worst_level_m, worst_m3, worst_ratio : float
        Where they are farthest apart [m], by how much [m³], and as a share of the first one's capacity [1].
    mean_m3 : float
        The mean difference over the levels [m³].
    """

    innage_m: Array
    first_m3: Array
    second_m3: Array
    difference_m3: Array
    worst_level_m: float
    worst_m3: float
    worst_ratio: float
    mean_m3: float


def compare(first: Side, second: Side, count: int = 401) -> Comparison:
    """Compare two tables, the second less the first: at the rows that one of them has, else at even levels.

    Raises
    ------
    InputError
        If they have no levels in common.
    """
    top = min(first.height_m, second.height_m)
    if top <= 0:
        raise InputError.at("", "the two tables have no levels in common")
    rows = first.rows_m if first.rows_m is not None else second.rows_m
    if rows is None:
        innage = np.linspace(0, top, count)
    else:
        innage = rows[rows <= top * (1 + 1e-12)]
        innage = innage[:: max(1, len(innage) // (2 * count))]
    one, other = np.asarray(first.volume(innage)), np.asarray(second.volume(innage))
    difference = other - one
    row = int(np.argmax(np.abs(difference)))
    return Comparison(
        innage,
        one,
        other,
        difference,
        float(innage[row]),
        float(difference[row]),
        float(difference[row] / first.capacity_m3),
        float(np.mean(difference)),
    )
