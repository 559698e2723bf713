"""How a screen turns level into volume: by the tank's table, or by the few points that a device holds."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..quantities.arrays import Array
from ..quantities.once import once
from ..tanks.device_points import DevicePoints, fit_device
from ..tanks.table import curve_nodes
from ..tanks.tank import Tank

_ROUNDS = 8


@dataclass(frozen=True, eq=False)
class Curve:
    """A tank's volume by level as cubics between nodes, made once a tank.

    Parameters
    ----------
    levels, volumes, surfaces : ndarray
        Nodes [m], [m³] and the slope there [m²], shape (n,); `levels` rising.
    """

    levels: Array
    volumes: Array
    surfaces: Array

    def _within(self, at: Array, level: Array) -> tuple[Array, Array, Array, Array, Array]:
        """The cubic's coefficients where each level is, and how far along it is [1]."""
        low, high = self.levels[at], self.levels[at + 1]
        size = high - low
        t = (level - low) / size
        start, end = self.volumes[at], self.volumes[at + 1]
        return t, size, start, end - start, np.stack([self.surfaces[at] * size, self.surfaces[at + 1] * size])

    def volume(self, level: Array, at: Array | None = None) -> Array:
        """Volume at levels within the nodes [m³]."""
        where = self._find(self.levels, level) if at is None else at
        t, _, start, rise, slopes = self._within(where, level)
        second, third = 3 * rise - 2 * slopes[0] - slopes[1], slopes[0] + slopes[1] - 2 * rise
        return np.asarray(start + t * (slopes[0] + t * (second + t * third)))

    def surface(self, level: Array, at: Array | None = None) -> Array:
        """How much a metre is there [m²]."""
        where = self._find(self.levels, level) if at is None else at
        t, size, _, rise, slopes = self._within(where, level)
        second, third = 3 * rise - 2 * slopes[0] - slopes[1], slopes[0] + slopes[1] - 2 * rise
        return np.asarray((slopes[0] + t * (2 * second + 3 * t * third)) / size)

    @staticmethod
    def _find(nodes: Array, values: Array) -> Array:
        return np.clip(np.searchsorted(nodes, values, side="right") - 1, 0, len(nodes) - 2)

    def level(self, volume: Array) -> Array:
        """Level at which there is a volume [m]: the inverse of `volume`, by Newton on each cubic."""
        at = self._find(self.volumes, volume)
        low, high = self.levels[at], self.levels[at + 1]
        rise = self.volumes[at + 1] - self.volumes[at]
        with np.errstate(divide="ignore", invalid="ignore"):
            level = np.where(rise > 0, low + (volume - self.volumes[at]) / rise * (high - low), low)
            for _ in range(_ROUNDS):
                off, slope = self.volume(level, at) - volume, self.surface(level, at)
                low, high = np.where(off < 0, level, low), np.where(off > 0, level, high)
                better = np.where(slope > 0, level - off / slope, (low + high) / 2)
                level = np.where((better < low) | (better > high), (low + high) / 2, better)
        return np.asarray(level, dtype=float)


@once(64)
def curve_of(tank: Tank) -> Curve:
    """The tank's volume by level, made once a tank."""
    levels, volumes, surfaces = curve_nodes(tank)
    # A level at which the surface jumps stands twice: the second node goes a hair up.
    apart = levels + np.arange(len(levels)) * tank.inside_height * 1e-12
    return Curve(apart, volumes, surfaces)


@once(64)
def _points_of(tank: Tank, count: int) -> DevicePoints:
    """The points that a device holds, best on the table's curve, chosen once a tank."""
    return fit_device(tank, count).on_curve


@dataclass(frozen=True)
class Volumes:
    """The volumes of one tank.

    Parameters
    ----------
    tank : Tank
        The tank as its table has it.
    points : int
        How many points the device holds; 0 for the whole table.
    """

    tank: Tank
    points: int = 0

    @property
    def device(self) -> DevicePoints | None:
        """The device's own points; None where it has the whole table."""
        return _points_of(self.tank, self.points) if self.points else None

    @property
    def whole(self) -> Volumes:
        """The whole table."""
        return Volumes(self.tank) if self.points else self

    @property
    def capacity(self) -> float:
        """All that the tank holds [m³]."""
        return self.tank.capacity

    def _inside(self, level: Array) -> Array:
        return np.clip(level, 0.0, self.tank.inside_height)

    def volume(self, level: Array) -> Array:
        """Volume that the screen has at innages [m³]; held within the tank."""
        if self.device is not None:
            return np.asarray(np.interp(self._inside(level), self.device.levels_m, self.device.volumes_m3))
        return curve_of(self.tank).volume(self._inside(level))

    def surface(self, level: Array) -> Array:
        """How much a metre is there [m²]."""
        return np.maximum(curve_of(self.tank).surface(self._inside(level)), 0.0)

    def off(self, level: Array) -> Array:
        """By how much the device's lines are off the tank's table at innages [m³]."""
        return self.volume(level) - self.whole.volume(level)

    def level(self, volume: Array) -> Array:
        """Innages at which the screen has volumes [m], the inverse of `volume`; held within the tank."""
        if self.device is not None:
            return np.asarray(np.interp(volume, self.device.volumes_m3, self.device.levels_m))
        curve = curve_of(self.tank)
        return curve.level(np.clip(volume, curve.volumes[0], curve.volumes[-1]))
