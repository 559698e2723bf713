"""A tank as the computation sees it: a shape with what stands in it, and where its levels are read from."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
import numpy.typing as npt
import scipy

from ..quantities.arrays import Array
from ..quantities.errors import InputError
from .shapes import Shape


@dataclass(frozen=True)
class Deadwood:
    """Volume taken (negative) or added (positive) by what is inside, spread evenly over a height.

    Parameters
    ----------
    from_m, to_m : float
        Innage at which it begins and ends [m].
    volume_m3 : float
        Its whole volume [m³].
    """

    from_m: float
    to_m: float
    volume_m3: float

    def below(self, level: Array) -> Array:
        """Volume of the part below `level` [m³]."""
        return np.asarray(self.volume_m3 * np.clip((level - self.from_m) / (self.to_m - self.from_m), 0, 1))

    def rate(self, level: Array) -> Array:
        """Volume by height at `level` [m²]."""
        inside = (level >= self.from_m) & (level < self.to_m)
        return np.where(inside, self.volume_m3 / (self.to_m - self.from_m), 0.0)


@dataclass(frozen=True)
class Sump:
    """A pit below the floor.

    Parameters
    ----------
    depth_m, volume_m3 : float
        From the floor down [m], and what it holds [m³].
    """

    depth_m: float
    volume_m3: float


@dataclass(frozen=True)
class Tank:
    """A tank.

    Parameters
    ----------
    shape : Shape
        The inside of the shell and its ends.
    reference_height_m : float
        Height above the inside bottom of the point that ullage is counted from [m].
    deadwood : tuple of Deadwood
        What stands inside.
    floor_heel_m3 : float
        What lies below the dip point on an uneven floor [m³]: there at innage 0 already.
    sump : Sump or None
        A pit below the floor, full before the floor is wet.
    outlet_height_m : float or None
        Innage at which the suction draws air [m]; below 0 inside the sump.
    overflow_height_m : float or None
        Innage at which the tank runs over [m].
    safe_fill_ratio : float or None
        Share of the brim volume that it may be filled to [1].
    filling_ratio : float or None
        Share of the capacity that liquid under pressure may fill [1]; None for a tank that is not under pressure.
    """

    shape: Shape
    reference_height_m: float
    deadwood: tuple[Deadwood, ...] = ()
    floor_heel_m3: float = 0.0
    sump: Sump | None = None
    outlet_height_m: float | None = None
    overflow_height_m: float | None = None
    safe_fill_ratio: float | None = None
    filling_ratio: float | None = None

    @property
    def inside_height(self) -> float:
        """Innage at which the shell is full where the gauge stands [m]."""
        return self.shape.inside_height

    @property
    def below_m3(self) -> float:
        """What lies below the floor: heel and sump [m³]."""
        return self.floor_heel_m3 + (self.sump.volume_m3 if self.sump else 0.0)

    @cached_property
    def capacity(self) -> float:
        """Volume of the whole tank [m³], the part included that a sloped tank's gauge does not reach."""
        return self.shape.capacity + sum(part.volume_m3 for part in self.deadwood) + self.below_m3

    @property
    def kinks(self) -> tuple[float, ...]:
        """Levels at which the surface jumps or bends [m], rising."""
        edges = {edge for part in self.deadwood for edge in (part.from_m, part.to_m)} | set(self.shape.kinks)
        return tuple(sorted(edge for edge in edges if 0 < edge < self.inside_height))

    def volume(self, level: npt.ArrayLike) -> Array:
        """Volume of liquid [m³] at innage `level` [m], of the same shape; clipped to the tank."""
        h = np.clip(np.asarray(level, dtype=float), 0, self.inside_height)
        volume = self.shape.volume(h)
        for part in self.deadwood:
            volume = volume + part.below(h)
        return volume + self.below_m3 if self.below_m3 else volume

    def surface(self, level: npt.ArrayLike) -> Array:
        """Area of the liquid's surface [m²], the slope of the volume, at innage `level` [m]."""
        h = np.clip(np.asarray(level, dtype=float), 0, self.inside_height)
        surface = self.shape.surface(h)
        for part in self.deadwood:
            surface = surface + part.rate(h)
        return surface

    def level(self, volume_m3: float) -> float:
        """Innage at which the tank holds a volume.

        Parameters
        ----------
        volume_m3 : float
            Volume of liquid [m³].

        Returns
        -------
        float
            Innage [m], to 1e-9 m or the last digit of the volume, whichever is coarser.

        Raises
        ------
        InputError
            If the tank does not hold so much, or the volume is negative.

        Notes
        -----
        Brent's method on the model itself (`scipy.optimize.brentq`), not a look-up in a table.
        """
        least, most = (float(v) for v in self.volume(np.array([0.0, self.inside_height])))
        if not least * (1 - 1e-12) <= volume_m3 <= most * (1 + 1e-12):
            seen = "holds" if least == 0 else "shows at its gauge"
            raise InputError.at(
                "volume",
                f"{volume_m3 * 1000:.1f} L is outside this tank: it {seen} {least * 1000:.10g} to "
                f"{most * 1000:.1f} L",
            )
        if volume_m3 >= most:
            return self.inside_height
        if volume_m3 <= least:
            return 0.0
        return float(
            scipy.optimize.brentq(
                lambda h: float(self.volume(h)) - volume_m3, 0.0, self.inside_height, xtol=1e-10, rtol=1e-14
            )
        )

    def check(self) -> None:
        """Raise `InputError` if the deadwood takes more than the tank has at some level.

        The volume must never fall as the level rises.
        """
        for index, part in enumerate(self.deadwood):
            if part.to_m > self.inside_height * (1 + 1e-9):
                raise InputError.at(
                    f"deadwood[{index}].to_mm",
                    f"{part.to_m * 1000:g} mm is above the inside height of {self.inside_height * 1000:g} mm",
                )
        if not self.deadwood:
            return
        edges = [edge for part in self.deadwood for edge in (part.from_m, part.to_m)]
        grid = np.unique(np.concatenate([np.linspace(0, self.inside_height, 801), edges]))
        grid = grid[grid <= self.inside_height]
        falls = np.flatnonzero(np.diff(self.volume(grid)) < -1e-12)
        if falls.size:
            height = grid[falls[0]] * 1000
            guilty = next(
                (
                    i
                    for i, d in enumerate(self.deadwood)
                    if d.volume_m3 < 0 and d.from_m * 1000 <= height < d.to_m * 1000
                ),
                0,
            )
            raise InputError.at(
                f"deadwood[{guilty}].volume_l",
                f"takes more than the tank holds at {height:.0f} mm: the volume would fall as the level rises",
            )
