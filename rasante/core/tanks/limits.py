"""What a tank can be used for: how much it may be filled to, how much the pump leaves, and what is between."""

from __future__ import annotations

from dataclasses import dataclass

from ..quantities.errors import InputError
from .tank import Tank


@dataclass(frozen=True)
class Limits:
    """Levels and volumes that bound the use of a tank.

    Parameters
    ----------
    brim_level_m, brim_m3 : float
        Where it runs over: at the overflow, or at the inside top [m], [m³].
    safe_level_m, safe_m3 : float
        Where filling ends [m], [m³]: the safe fill that is stated, or the brim; never above the filling limit.
    outlet_level_m : float or None
        Where the suction draws air [m]; None where it is not stated.
    filling_level_m, filling_m3 : float or None
        The filling limit of a vessel under pressure, which nothing goes above [m], [m³]; None for any other tank.
    unpumpable_m3, usable_m3 : float
        What the pump leaves, and what lies between that and the safe fill [m³].
    below_gauge_m3, above_gauge_m3 : float
        What the gauge cannot tell: there at innage 0 already, and above the top of its range [m³].
    """

    brim_level_m: float
    brim_m3: float
    safe_level_m: float
    safe_m3: float
    filling_level_m: float | None
    filling_m3: float | None
    outlet_level_m: float | None
    unpumpable_m3: float
    usable_m3: float
    below_gauge_m3: float
    above_gauge_m3: float


def limits_of(tank: Tank) -> Limits:
    """Work out the limits of a tank.

    Raises
    ------
    InputError
        If the outlet is above the safe fill.
    """
    top = tank.inside_height
    brim_level = top if tank.overflow_height_m is None else min(tank.overflow_height_m, top)
    brim = tank.capacity if brim_level >= top else float(tank.volume(brim_level))
    safe = brim * (1.0 if tank.safe_fill_ratio is None else tank.safe_fill_ratio)
    least, most = float(tank.volume(0.0)), float(tank.volume(top))

    def level(volume: float) -> float:
        return brim_level if volume >= brim else tank.level(min(max(volume, least), most))

    filling = None if tank.filling_ratio is None else tank.filling_ratio * tank.capacity
    if filling is not None:
        safe = min(safe, filling)
    unpumpable = _left_behind(tank)
    if unpumpable >= safe:
        raise InputError.at("outlet_height_mm", "is above the safe fill: nothing could be drawn from this tank")
    return Limits(
        brim_level,
        brim,
        level(safe),
        safe,
        None if filling is None else level(filling),
        filling,
        tank.outlet_height_m,
        unpumpable,
        safe - unpumpable,
        least,
        max(tank.capacity - most, 0.0),
    )


def _left_behind(tank: Tank) -> float:
    """Volume below the suction [m³]."""
    height = tank.outlet_height_m
    if height is None:
        return 0.0
    if height >= 0:
        return float(tank.volume(height))
    if tank.sump is None:
        return 0.0
    share = max(tank.sump.depth_m + height, 0.0) / tank.sump.depth_m
    return tank.sump.volume_m3 * share
