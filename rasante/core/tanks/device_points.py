"""The points of a tank's table for a device: three ways of choosing them, rounded as the device takes them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..quantities.arrays import Array
from ..quantities.errors import InputError
from .breakpoints import FEWEST, MOST, Rows, best_knots, best_points, even_knots
from .tank import Tank

#: Rows that the points are chosen from at most.
_MOST_ROWS = 4000


@dataclass(frozen=True)
class DevicePoints:
    """Points for a device.

    Parameters
    ----------
    levels_m, volumes_m3 : ndarray
        The points, rounded as the device takes them [m], [m³], shape (n,).
    error_m3, error_at_m : float
        Worst difference between its lines and the tank [m³], and the level of it [m].
    """

    levels_m: Array
    volumes_m3: Array
    error_m3: float
    error_at_m: float


@dataclass(frozen=True)
class Fitted:
    """What a device with few points can do for a tank: three ways of choosing them."""

    even: DevicePoints
    on_curve: DevicePoints
    free: DevicePoints


def fit_device(
    tank: Tank,
    count: int,
    level_resolution_m: float = 0.001,
    volume_resolution_m3: float = 0.0,
    fixed_ends: bool = True,
) -> Fitted:
    """Choose the points of a tank's table for a device.

    Parameters
    ----------
    tank : Tank
        The tank.
    count : int
        How many points the device holds, 2 to 128.
    level_resolution_m, volume_resolution_m3 : float
        What its levels and volumes are whole multiples of [m], [m³]; 0 for as fine as may be.
    fixed_ends : bool
        Whether the ends must have the table's own volumes.

    Raises
    ------
    InputError
        If the count or a resolution is out of reach.

    Notes
    -----
    The error is taken against the model on rows of the level resolution or finer, after rounding.
    """
    if not FEWEST <= count <= MOST:
        raise InputError.at("points", f"{count} points: devices take {FEWEST} to {MOST}")
    height, span = tank.inside_height, float(tank.volume(tank.inside_height))
    if not 0 <= level_resolution_m < height / 2:
        raise InputError.at("level_resolution", f"must be less than half the height, {height * 1000:g} mm")
    if not 0 <= volume_resolution_m3 < span / 2:
        raise InputError.at("volume_resolution", f"must be less than half the volume, {span * 1000:.0f} L")
    unit = level_resolution_m or height / _MOST_ROWS
    parts = max(1, round(unit / 0.001)) if unit < height / 50 else round(unit / height * 1000)
    while height / unit * parts > _MOST_ROWS and parts > 1:
        parts -= 1
    step = unit * max(1, -(-int(height / unit) // _MOST_ROWS)) if parts == 1 else unit / parts
    levels: Array = np.arange(int(np.floor(height / step * (1 + 1e-12))) + 1, dtype=np.float64) * step
    levels = np.append(levels[height - levels > 1e-9], np.float64(height))
    volumes = tank.volume(levels)
    allowed = np.zeros(len(levels), dtype=bool)
    allowed[:: max(parts, 1)] = True

    def rounded(knots: Rows, ordinates: Array) -> DevicePoints:
        if volume_resolution_m3 > 0:
            ordinates = np.round(ordinates / volume_resolution_m3) * volume_resolution_m3
        gap = np.abs(np.interp(levels, levels[knots], ordinates) - volumes)
        worst = int(np.argmax(gap))
        return DevicePoints(levels[knots], ordinates, float(gap[worst]), float(levels[worst]))

    spread = even_knots(len(levels), count, allowed)
    chosen = best_knots(levels, volumes, count, allowed)
    return Fitted(
        rounded(spread, volumes[spread]),
        rounded(chosen, volumes[chosen]),
        rounded(*best_points(levels, volumes, count, allowed, fixed_ends)),
    )
