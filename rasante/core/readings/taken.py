"""Readings taken through a chain: the level and the volume that a raw value stands for, and whether to believe it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..quantities.arrays import Array
from ..quantities.errors import InputError
from ..scaling.chain import Chain
from ..scaling.volumes import curve_of
from ..tanks.tank import Tank

#: How good a reading is, the best first: fit to use; at an end, where it may be more or less; no reading at all.
GOOD, DOUBTFUL, BAD = 0, 1, 2
QUALITIES: dict[int, str] = {GOOD: "good", DOUBTFUL: "at an end of what it reads", BAD: "fault"}
#: Levels may lie beyond the tank by so much before they are no level of it [m].
_BEYOND_M = 0.02


@dataclass(frozen=True)
class Taken:
    """Readings taken through a chain.

    Parameters
    ----------
    levels, volumes : array of shape (n,)
        Innage [m] and volume [m³]; NaN where the value tells none.
    quality : array of int of shape (n,)
        Of `QUALITIES`.
    """

    levels: Array
    volumes: Array
    quality: NDArray[np.int64]


def take(chain: Chain, table: Tank, station: str, values: Array, faulty: NDArray[np.bool_] | None = None) -> Taken:
    """Take values at one station of a chain back to what is in the tank.

    Parameters
    ----------
    chain : Chain
        As it is meant to be.
    table : Tank
        The tank as its table has it.
    station : str
        Where the values stand.
    values : array of shape (n,)
        In the station's own unit (SI).
    faulty : array of bool of shape (n,), optional
        Which of them came with a fault.

    Raises
    ------
    InputError
        If the chain has no such station.
    """
    if station not in chain.stations:
        raise InputError.at("station", f"the chain has no station {station}")
    there = np.isfinite(values)
    bad = ~there if faulty is None else ~there | faulty
    level = chain.backward(station, "level", np.where(there, values, 0.0))
    if chain.signal is not None and "arriving" in chain.stations[: chain.stations.index(station) + 1]:
        arriving = chain.backward(station, "arriving", np.where(there, values, 0.0))
        low, high = sorted((chain.signal.fault_low, chain.signal.fault_high))
        slack = 1e-9 * abs(chain.signal.span)
        bad = bad | (arriving <= low + slack) & chain.signal.live_zero | (arriving >= high - slack)
    bad = bad | ~np.isfinite(level)
    reach = readable(chain)
    quality = np.where((level <= reach[0]) | (level >= reach[1]), DOUBTFUL, GOOD)
    # A little below the floor is a sensor's own ±; far below it is another tank, or another scale.
    quality = np.where((level < -_BEYOND_M) | (level > chain.top_m + _BEYOND_M), DOUBTFUL, quality)
    quality = np.where(bad, BAD, quality)
    inside = np.clip(np.where(bad, 0.0, level), 0.0, table.inside_height)
    volumes = curve_of(table).volume(inside)
    return Taken(np.where(bad, np.nan, level), np.where(bad, np.nan, volumes), quality)


def readable(chain: Chain) -> tuple[float, float]:
    """Lowest and highest innage at which the sensor tells more from less [m]."""
    ends = sorted(chain.level_from("sensed", end) for end in (chain.sensor.range_low, chain.sensor.range_high))
    return max(ends[0], chain.sensing.reach[0]), min(ends[1], chain.sensing.reach[1])
