"""Fewest breakpoints: the points of a table that a device with room for only a few should be given."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ..quantities.arrays import Array
from ..quantities.errors import InputError
from .tank import Tank

Rows = npt.NDArray[np.intp]
#: How many points devices take.
FEWEST, MOST = 2, 128
_MOST_ROWS = 4000


def line_error(levels: Array, volumes: Array, knots: Rows, ordinates: Array) -> float:
    """Worst difference between a table and straight lines through given points.

    Parameters
    ----------
    levels, volumes : ndarray
        The table [m], [m³], shape (rows,).
    knots : ndarray of int
        Rows at whose levels the points stand, rising, with the first and the last row.
    ordinates : ndarray
        Volumes of the points [m³], shape of `knots`.

    Returns
    -------
    float
        Largest absolute difference [m³].
    """
    return float(np.max(np.abs(np.interp(levels, levels[knots], ordinates) - volumes)))


def chord_error(levels: Array, volumes: Array, knots: Rows) -> float:
    """Worst difference between a table and straight lines through some of its rows [m³]; as `line_error`."""
    return line_error(levels, volumes, knots, volumes[knots])


def _check_count(count: int) -> None:
    if count < FEWEST:
        raise InputError.at("points", f"{count} is too few: a table has at least {FEWEST} points")


def even_knots(rows: int, count: int, allowed: npt.NDArray[np.bool_] | None = None) -> Rows:
    """Spread points evenly over the rows of a table, each on the nearest row that is allowed."""
    wanted = np.linspace(0, rows - 1, min(count, rows))
    if allowed is None:
        return np.unique(np.round(wanted).astype(np.intp))
    free = np.flatnonzero(allowed)
    at = np.clip(np.searchsorted(free, wanted), 1, len(free) - 1)
    nearest = np.where(wanted - free[at - 1] <= free[at] - wanted, free[at - 1], free[at])
    nearest[0], nearest[-1] = 0, rows - 1
    return np.unique(nearest)


def best_knots(levels: Array, volumes: Array, count: int, allowed: npt.NDArray[np.bool_] | None = None) -> Rows:
    """Choose the rows of a table whose straight lines come closest to it.

    Parameters
    ----------
    levels, volumes : ndarray
        The table [m], [m³], shape (rows,), levels strictly rising.
    count : int
        How many points the device holds, ends included.
    allowed : ndarray of bool, optional
        Rows that a point may stand on; the ends always may.

    Returns
    -------
    ndarray of int
        Indices of the chosen rows, shape (≤ count,).

    Raises
    ------
    InputError
        If fewer than 2 points are asked for.

    Notes
    -----
    For an allowed error e, each line is drawn as far as the cone of slopes that keeps every passed row within e
    lets it; the smallest e that needs no more than `count` points is found by bisection. Never worse than even
    spacing, which is tried as well.
    """
    _check_count(count)
    rows = len(levels)
    if count >= rows and allowed is None:
        return np.arange(rows)
    spread = even_knots(rows, count, allowed)
    best, _ = _bisect(levels, volumes, count, allowed, (0.0,), chord_error(levels, volumes, spread), True)
    return spread if best is None else best


def best_points(
    levels: Array,
    volumes: Array,
    count: int,
    allowed: npt.NDArray[np.bool_] | None = None,
    fixed_ends: bool = True,
) -> tuple[Rows, Array]:
    """Choose points off the curve whose straight lines come closest to a table.

    Parameters
    ----------
    levels, volumes, count, allowed
        As `best_knots`.
    fixed_ends : bool
        Whether the first and the last point must have the table's own volumes.

    Returns
    -------
    knots : ndarray of int
        Rows at whose levels the points stand, shape (n,), n ≤ count.
    ordinates : ndarray
        Their volumes [m³], rising, shape (n,).

    Notes
    -----
    Where the curve bends one way, the best points stand e to its hollow side and the lines bulge e to the other:
    half the error of points on the curve. As `best_knots`, with points at −e, 0 or +e from the curve, whichever
    lets the next line reach farthest.
    """
    _check_count(count)
    on_curve = best_knots(levels, volumes, count, allowed)
    least = chord_error(levels, volumes, on_curve)
    knots, ordinates = _bisect(levels, volumes, count, allowed, (-1.0, 0.0, 1.0), least, fixed_ends)
    if knots is None or ordinates is None:
        return on_curve, volumes[on_curve]
    return knots, np.maximum.accumulate(ordinates)


def _bisect(
    levels: Array,
    volumes: Array,
    count: int,
    allowed: npt.NDArray[np.bool_] | None,
    sides: tuple[float, ...],
    start: float,
    fixed_ends: bool,
) -> tuple[Rows | None, Array | None]:
    """Find the least error, below `start`, that `count` points do with; (None, None) if there is none below."""
    low, high = 0.0, start
    best: tuple[Rows | None, Array | None] = (None, None)
    scale = float(volumes[-1] - volumes[0])
    for _ in range(50):
        if high - low <= max(1e-5 * high, 1e-13 * scale):
            break
        within = (low + high) / 2
        found = _reach(levels, volumes, within, count, allowed, sides, fixed_ends)
        if found is None:
            low = within
        else:
            best = found
            high = min(within, line_error(levels, volumes, *found))
    return best


def _reach(
    levels: Array,
    volumes: Array,
    within: float,
    count: int,
    allowed: npt.NDArray[np.bool_] | None,
    sides: tuple[float, ...],
    fixed_ends: bool,
) -> tuple[Rows, Array] | None:
    """Cover the table from the left with lines off by at most `within`; None if `count` points do not do."""
    last = len(levels) - 1
    stride = max(8, 2 * last // count)
    starts = (0.0,) if fixed_ends else sides
    best: tuple[list[int], list[float]] | None = None
    for side in starts:
        knots, ordinates = [0], [float(volumes[0] + side * within)]
        while knots[-1] < last and len(knots) < count:
            step = _longest(levels, volumes, within, knots[-1], ordinates[-1], stride, allowed, sides, fixed_ends)
            if step is None:
                break
            knots.append(step[0])
            ordinates.append(step[1])
        if knots[-1] == last and (best is None or len(knots) < len(best[0])):
            best = knots, ordinates
    return None if best is None else (np.array(best[0], dtype=np.intp), np.array(best[1]))


def _longest(
    levels: Array,
    volumes: Array,
    within: float,
    row: int,
    volume: float,
    stride: int,
    allowed: npt.NDArray[np.bool_] | None,
    sides: tuple[float, ...],
    fixed_ends: bool,
) -> tuple[int, float] | None:
    """Draw one line from a point as far as it goes: the row and the volume it ends at."""
    last, width = len(levels) - 1, stride
    while True:
        end = min(row + width, last)
        run = levels[row + 1 : end + 1] - levels[row]
        rise = volumes[row + 1 : end + 1] - volume
        steepest = np.minimum.accumulate((rise + within) / run)
        flattest = np.maximum.accumulate((rise - within) / run)
        if steepest[-1] < flattest[-1] or end == last:
            break
        width *= 2
    reached: tuple[int, float] | None = None
    for side in sides:
        slope = (rise + side * within) / run
        # The line to row k must pass every row before k within the allowance.
        fits = np.ones(len(run), dtype=bool)
        fits[1:] = (slope[1:] <= steepest[:-1]) & (slope[1:] >= flattest[:-1])
        if end == last and fixed_ends and side != 0:
            fits[-1] = False
        if allowed is not None:
            free = allowed[row + 1 : end + 1].copy()
            if end == last:
                free[-1] = True
            fits &= free
        index = np.flatnonzero(fits)
        if len(index) and (reached is None or index[-1] + row + 1 > reached[0]):
            far = int(index[-1])
            reached = row + 1 + far, float(volumes[row + 1 + far] + side * within)
    return reached


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
