"""Tanks known by a table of levels and volumes alone: a maker's chart, or one made by pouring."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import ClassVar, Literal

import numpy as np
import numpy.typing as npt
import scipy

from ..quantities.arrays import Array
from ..quantities.errors import InputError
from .shapes import Outline

Between = Literal["smooth", "straight"]


@dataclass(frozen=True)
class Points:
    """Levels and the volumes below them.

    Parameters
    ----------
    points_m : tuple of (level, volume)
        Rising [m], [m³]; empty at 0 is taken where the first level is above it.
    between : {"smooth", "straight"}
        How it goes from point to point: a monotone cubic (PCHIP), or straight lines as devices draw them.

    References
    ----------
    .. [1] F. N. Fritsch, J. Butland, "A method for constructing local monotone piecewise cubic interpolants",
       SIAM J. Sci. Stat. Comput. 5 (1984), 300–304; as `scipy.interpolate.PchipInterpolator`.
    """

    kind: ClassVar[str] = "points"
    points_m: tuple[tuple[float, float], ...]
    between: Between = "smooth"

    @cached_property
    def _table(self) -> tuple[Array, Array]:
        levels, volumes = np.array(self.points_m, dtype=float).T
        if levels[0] > 0:
            return np.insert(levels, 0, 0.0), np.insert(volumes, 0, 0.0)
        return levels, volumes

    @cached_property
    def _smooth(self) -> scipy.interpolate.PchipInterpolator:
        return scipy.interpolate.PchipInterpolator(*self._table)

    @property
    def inside_height(self) -> float:
        """The last point's level [m]."""
        return float(self._table[0][-1])

    @property
    def length(self) -> float:
        """Length along which the gauge may stand [m]: the side of the square it is drawn as."""
        levels, volumes = self._table
        return float(np.sqrt((volumes[-1] - volumes[0]) / (levels[-1] - levels[0])))

    @property
    def capacity(self) -> float:
        """The last point's volume [m³]."""
        return float(self._table[1][-1])

    @property
    def kinks(self) -> tuple[float, ...]:
        """Levels at which the liquid's surface jumps or bends [m]: the points'."""
        return tuple(float(level) for level in self._table[0][1:-1])

    def check(self) -> None:
        """Raise `InputError`, naming the point, if levels do not rise or volumes fall."""
        for index in range(1, len(self.points_m)):
            (below, less), (level, volume) = self.points_m[index - 1 : index + 1]
            if level <= below:
                raise InputError.at(
                    f"points[{index}]",
                    f"level {level * 1000:g} mm does not rise above the point before, {below * 1000:g} mm",
                )
            if volume < less:
                raise InputError.at(
                    f"points[{index}]",
                    f"{volume * 1000:g} L is less than {less * 1000:g} L at the lower point before: a tank does not "
                    "lose volume as it fills",
                )
        if self.points_m[-1][1] <= self.points_m[0][1]:
            raise InputError.at("points", "hold the same volume from end to end: that is no tank")

    def volume(self, level: npt.ArrayLike) -> Array:
        """Volume below `level` [m³]."""
        h = np.clip(np.asarray(level, dtype=float), 0, self.inside_height)
        if self.between == "straight":
            return np.asarray(np.interp(h, *self._table))
        return np.asarray(self._smooth(h))

    def surface(self, level: npt.ArrayLike) -> Array:
        """Area of the liquid's surface at `level` [m²]: the slope of the volume."""
        h = np.clip(np.asarray(level, dtype=float), 0, self.inside_height)
        if self.between == "straight":
            levels, volumes = self._table
            index = np.clip(np.searchsorted(levels, h, side="right") - 1, 0, len(levels) - 2)
            return np.asarray((np.diff(volumes) / np.diff(levels))[index])
        return np.asarray(np.maximum(self._smooth(h, 1), 0.0))

    def outline(self) -> Outline:
        """The shape as its table tells it, for drawing: as deep as its mean width, each level as wide as its area."""
        levels, volumes = self._table
        middles, widths = [], []
        for i in range(len(levels) - 1):
            area = (volumes[i + 1] - volumes[i]) / (levels[i + 1] - levels[i])
            middles.append((levels[i] + levels[i + 1]) / 2)
            widths.append(area / self.length)
        z = np.concatenate([[0.0], middles, [levels[-1]]])
        half = np.concatenate([[widths[0]], widths, [widths[-1]]]) / 2
        right, left = np.column_stack([half, z]), np.column_stack([-half[::-1], z[::-1]])
        across = np.concatenate([right, left])
        middle = self.length / 2
        return Outline(across + [middle, 0], (), across, middle)
