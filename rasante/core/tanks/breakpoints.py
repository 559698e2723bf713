"""Fewest breakpoints: the points of a table that a device with room for only a few should be given."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from ..errors import InputError
from .sections import Array

Rows = npt.NDArray[np.intp]


def chord_error(levels: Array, volumes: Array, knots: Rows) -> float:
    """Worst difference between a table and straight lines through some of its rows.

    Parameters
    ----------
    levels, volumes : ndarray
        The table [m], [m³], shape (rows,).
    knots : ndarray of int
        Rows that the lines pass through, rising, with the first and the last row.

    Returns
    -------
    float
        Largest absolute difference [m³].
    """
    drawn = np.interp(levels, levels[knots], volumes[knots])
    return float(np.max(np.abs(drawn - volumes)))


def best_knots(levels: Array, volumes: Array, count: int) -> Rows:
    """Choose the rows of a table whose straight lines come closest to it.

    Parameters
    ----------
    levels, volumes : ndarray
        The table [m], [m³], shape (rows,), levels strictly rising.
    count : int
        How many points the device holds, ends included.

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
    lets it; the smallest e that needs no more than `count` points is found by bisection.
    """
    if count < 2:
        raise InputError.at("points", f"{count} is too few: a table has at least 2 points")
    rows = len(levels)
    if count >= rows:
        return np.arange(rows)
    ends = np.array([0, rows - 1])
    low, high, best = 0.0, chord_error(levels, volumes, ends), ends
    for _ in range(60):
        if high - low <= 1e-7 * high:
            break
        allowed = (low + high) / 2
        knots = _reach(levels, volumes, allowed, count)
        if knots is None:
            low = allowed
        else:
            best, high = knots, min(allowed, chord_error(levels, volumes, knots))
    return best


def _reach(levels: Array, volumes: Array, allowed: float, count: int) -> Rows | None:
    """Cover the table from the left with lines off by at most `allowed`; None if `count` points do not do."""
    knots, last = [0], len(levels) - 1
    stride = max(8, 2 * last // count)
    while knots[-1] < last:
        if len(knots) == count:
            return None
        start, width = knots[-1], stride
        while True:
            end = min(start + width, last)
            run = levels[start + 1 : end + 1] - levels[start]
            rise = volumes[start + 1 : end + 1] - volumes[start]
            steepest = np.minimum.accumulate((rise + allowed) / run)
            flattest = np.maximum.accumulate((rise - allowed) / run)
            slope = rise / run
            # The line to row k must pass every row before k within the allowance.
            fits = np.ones(len(run), dtype=bool)
            fits[1:] = (slope[1:] <= steepest[:-1]) & (slope[1:] >= flattest[:-1])
            closed = np.flatnonzero(steepest < flattest)
            if closed.size or end == last:
                break
            width *= 2
        knots.append(start + 1 + int(np.flatnonzero(fits)[-1]))
    return np.array(knots)
