"""How a screen turns level into volume: by the tank's table, or by the few points that a device holds."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from scipy.interpolate import CubicHermiteSpline

from ..tanks.breakpoints import DevicePoints, fit_device
from ..tanks.sections import Array
from ..tanks.table import curve_nodes
from ..tanks.tank import Tank


@lru_cache(maxsize=64)
def _curve_of(tank: Tank) -> tuple[CubicHermiteSpline, CubicHermiteSpline]:
    """The tank's volume by level, and its slope, made once a tank."""
    levels, volumes, surfaces = curve_nodes(tank)
    # A level at which the surface jumps stands twice: the second node goes a hair up.
    apart = levels + np.arange(len(levels)) * tank.inside_height * 1e-12
    spline = CubicHermiteSpline(apart, volumes, surfaces)
    return spline, spline.derivative()


@lru_cache(maxsize=64)
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

    def volume(self, level_m: float) -> float:
        """Volume that the screen has at an innage [m³]; held within the tank."""
        height = self.tank.inside_height
        level = min(max(level_m, 0.0), height)
        if self.device is not None:
            return float(np.interp(level, self.device.levels_m, self.device.volumes_m3))
        return float(_curve_of(self.tank)[0](level))

    def surface(self, level_m: float) -> float:
        """How much a metre is there [m²]."""
        level = min(max(level_m, 0.0), self.tank.inside_height)
        return max(float(_curve_of(self.tank)[1](level)), 0.0)

    def off(self, level_m: float) -> float:
        """By how much the device's lines are off the tank's table at an innage [m³]."""
        level = min(max(level_m, 0.0), self.tank.inside_height)
        return self.volume(level) - float(_curve_of(self.tank)[0](level))

    def level(self, volume_m3: float) -> float:
        """Innage at which the screen has a volume [m], the inverse of `volume`; held within the tank."""
        if self.device is not None:
            levels: Array = self.device.levels_m
            return float(np.interp(volume_m3, self.device.volumes_m3, levels))
        least, most = (float(v) for v in self.tank.volume(np.array([0.0, self.tank.inside_height])))
        return self.tank.level(min(max(volume_m3, least), most))
