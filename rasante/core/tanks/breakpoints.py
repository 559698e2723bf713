"""Fewest breakpoints: the points of a table that a device with room for only a few should be given."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from ..quantities.arrays import Array
from ..quantities.errors import InputError
from .fewest import fewest_lines, level_ordinates

Rows = npt.NDArray[np.intp]
#: How many points devices take.
FEWEST, MOST = 2, 128
#: Where a curve bends both ways: how many rows are gone through at once on the curve and off it, and how far off the
#: curve by the allowance.
_EXACT, _TRIED = 300, 100
_SIDES = np.linspace(-1, 1, 11)


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
    spacing, which is tried as well. Where the curve bends both ways the farthest line is not always the best: there
    `fewest.fewest_lines` goes through all rows, and the answer is exact to one part in 10⁵; of more than 300 rows
    through every n-th, and then through those near what was found.
    """
    _check_count(count)
    rows = len(levels)
    if count >= rows and allowed is None:
        return np.arange(rows)
    spread = even_knots(rows, count, allowed)
    best, _ = _bisect(levels, volumes, count, allowed, (0.0,), chord_error(levels, volumes, spread), True)
    best = spread if best is None else best
    if not bends_both_ways(levels, volumes):
        return best
    standing = _standing(rows, allowed)
    tried: Rows | None = _thinned(standing, _EXACT)
    for _ in range(2):
        if tried is not None:
            least = chord_error(levels, volumes, best)
            better = _search(levels, volumes, count, tried, np.zeros(1), least, True, 1e-5)
            best = best if better is None else better[0]
            tried = _near(standing, _EXACT, best)
    return best


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
    lets the next line reach farthest. Where it bends both ways, points between those are tried as well: on every
    row of a short table; on some of a long one, and then on those near what was found. The volumes are levelled at
    last, so that no others at the same rows come closer.
    """
    _check_count(count)
    on_curve = best_knots(levels, volumes, count, allowed)
    least = chord_error(levels, volumes, on_curve)
    knots, ordinates = _bisect(levels, volumes, count, allowed, (-1.0, 0.0, 1.0), least, fixed_ends)
    if knots is None or ordinates is None:
        knots, ordinates = on_curve, volumes[on_curve]
    if bends_both_ways(levels, volumes):
        knots, ordinates = _search_free(levels, volumes, count, allowed, (knots, ordinates), fixed_ends)
    return knots, np.maximum.accumulate(ordinates)


def bends_both_ways(levels: Array, volumes: Array) -> bool:
    """Whether a table's curve bends up here and down there, by more than its last digits."""
    slopes = np.diff(volumes) / np.diff(levels)
    bend = np.diff(slopes)
    dust = 1e-7 * float(np.max(np.abs(slopes), initial=0.0))
    return bool((bend > dust).any() and (bend < -dust).any())


def _standing(rows: int, allowed: npt.NDArray[np.bool_] | None) -> Rows:
    """The rows that a point may stand on: those that are allowed, and the ends."""
    free = np.ones(rows, dtype=bool) if allowed is None else allowed.copy()
    free[[0, -1]] = True
    return np.flatnonzero(free)


def _thinned(standing: Rows, most: int) -> Rows:
    """The rows to go through first: all where they are few, else every n-th."""
    return np.unique(np.append(standing[:: -(-len(standing) // most)], standing[-1]))


def _near(standing: Rows, most: int, found: Rows) -> Rows | None:
    """The rows near what was found among every n-th; None where all were gone through."""
    every = -(-len(standing) // most)
    if every == 1:
        return None
    there = np.searchsorted(standing, found)
    around = np.unique(np.clip(there[:, None] + np.arange(-every, every + 1)[None, :], 0, len(standing) - 1))
    # Of many points only some rows around each, so that it stays quick.
    chosen: Rows = np.unique(np.concatenate([[0], around[:: -(-len(around) // most)], there, [len(standing) - 1]]))
    return np.asarray(standing[chosen], dtype=np.intp)


def _search(
    levels: Array,
    volumes: Array,
    count: int,
    rows: Rows,
    sides: Array,
    start: float,
    fixed_ends: bool,
    fine: float,
) -> tuple[Rows, Array] | None:
    """Find the least error below `start`, to a share of `fine`, that `fewest_lines` does with, if there is one."""
    best: tuple[Rows, Array] | None = None
    low, high = 0.0, start
    within = start * (1 - fine)
    while high - low > fine * high:
        found = fewest_lines(levels, volumes, within, count, rows, sides, fixed_ends)
        if found is None:
            low = within
        else:
            best, high = found, min(within, line_error(levels, volumes, *found))
        within = (low + high) / 2
    return best


def _search_free(
    levels: Array,
    volumes: Array,
    count: int,
    allowed: npt.NDArray[np.bool_] | None,
    begin: tuple[Rows, Array],
    fixed_ends: bool,
) -> tuple[Rows, Array]:
    """Improve points off the curve where it bends both ways."""
    best, least = begin, line_error(levels, volumes, *begin)
    standing = _standing(len(levels), allowed)
    rows: Rows | None = _thinned(standing, _TRIED)
    for _ in range(2):
        if rows is None:
            break
        for found in (best, _search(levels, volumes, count, rows, _SIDES, least, fixed_ends, 2e-3)):
            levelled = None if found is None else level_ordinates(levels, volumes, found[0], fixed_ends)
            if found is None or levelled is None:
                continue
            for ordinates in (found[1], levelled):
                error = line_error(levels, volumes, found[0], np.maximum.accumulate(ordinates))
                if error < least:
                    best, least = (found[0], ordinates), error
        rows = _near(standing, _TRIED, best[0])
    return best


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
