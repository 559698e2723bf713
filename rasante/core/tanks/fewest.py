"""Fewest lines within an allowance, by going through all rows a point may stand on: exact, where greed is not."""

from __future__ import annotations

from typing import Any

import numpy as np
import numpy.typing as npt
import scipy

from ..quantities.arrays import Array

Rows = npt.NDArray[np.intp]


def fewest_lines(
    levels: Array,
    volumes: Array,
    within: float,
    count: int,
    rows: Rows,
    sides: Array,
    fixed_ends: bool,
) -> tuple[Rows, Array] | None:
    """Cover a table by straight lines that are off by at most an allowance.

    Parameters
    ----------
    levels, volumes : ndarray
        The table [m], [m³], shape (n,).
    within : float
        The allowance [m³].
    count : int
        How many points there may be.
    rows : ndarray of int
        Rows that a point may stand on, rising, with the first and the last.
    sides : ndarray
        How far from the curve a point may stand, by the allowance: 0 on it, −1 and 1 as far as may be.
    fixed_ends : bool
        Whether the two ends must lie on the curve.

    Returns
    -------
    (knots, ordinates) or None
        Rows and volumes of the fewest points; None if `count` of them do not do.

    Notes
    -----
    Dynamic programming over points (row, side) from the left: the fewest lines to each. A line from one point
    passes every row before its end inside the cone of slopes that those rows leave. All lines from one row are
    tried at once, as far as any of its cones stays open.
    """
    states = len(sides)
    far = np.iinfo(np.int32).max // 2
    lines = np.full((len(rows), states), far, dtype=np.int32)
    come_from = np.zeros((len(rows), states, 2), dtype=np.int32)
    middle = int(np.argmin(np.abs(sides)))
    ends = np.array([middle]) if fixed_ends else np.arange(states)
    lines[0, ends] = 0
    for at, row in enumerate(rows[:-1]):
        here = np.flatnonzero(lines[at] < count - 1)
        if not len(here):
            continue
        starts = volumes[row] + sides[here] * within
        reached = _from(levels, volumes, within, int(row), starts, rows[at + 1 :], sides)
        there = slice(at + 1, at + 1 + reached.shape[1])
        if fixed_ends and there.stop == len(rows):
            reached[:, -1, middle != np.arange(states)] = False
        # The fewest lines from here to each point; of as few the first side.
        through = np.where(reached, lines[at, here, None, None] + 1, far)
        fewest = through.min(axis=0)
        better = fewest < lines[there]
        if better.any():
            lines[there][better] = fewest[better]
            come_from[there][better, 0] = at
            come_from[there][better, 1] = here[through.argmin(axis=0)[better]]
    best = int(ends[np.argmin(lines[-1, ends])])
    if lines[-1, best] > count - 1:
        return None
    path = [(len(rows) - 1, best)]
    while path[-1][0]:
        before = come_from[path[-1]]
        path.append((int(before[0]), int(before[1])))
    knots = np.array([rows[at] for at, _ in path[::-1]], dtype=np.intp)
    return knots, volumes[knots] + within * np.array([sides[side] for _, side in path[::-1]])


def _from(
    levels: Array, volumes: Array, within: float, row: int, starts: Array, targets: Rows, sides: Array
) -> npt.NDArray[np.bool_]:
    """Which of the next target rows lines from the points of a row reach, by the side that they end at.

    Returns
    -------
    ndarray of bool
        Shape (starts, the first of the targets, sides): no line goes farther.
    """
    last, width = len(levels) - 1, 64
    slack = within * (1 + 1e-12)
    while True:
        end = min(row + width, last)
        run = levels[row + 1 : end + 1] - levels[row]
        rise = volumes[row + 1 : end + 1] - starts[:, None]
        steepest = np.minimum.accumulate((rise + slack) / run, axis=1)
        flattest = np.maximum.accumulate((rise - slack) / run, axis=1)
        if end == last or (steepest[:, -1] < flattest[:, -1]).all():
            break
        width *= 4
    index = targets[: np.searchsorted(targets, end, side="right")] - row - 1
    before = np.maximum(index - 1, 0)
    slope = (rise[:, index, None] + sides * within) / run[index, None]
    fits = (slope <= steepest[:, before, None]) & (slope >= flattest[:, before, None])
    fits[:, index == 0] = True
    return np.asarray(fits)


def level_ordinates(levels: Array, volumes: Array, knots: Rows, fixed_ends: bool) -> Array | None:
    """The rising volumes at some knots whose lines come closest to a table [m³]; None if none are found.

    Notes
    -----
    The least largest difference is a linear programme (`scipy.optimize.linprog`, HiGHS).
    """
    points, rows = len(knots), len(levels)
    at = np.clip(np.searchsorted(levels[knots], levels, side="right") - 1, 0, points - 2)
    share = (levels - levels[knots][at]) / (levels[knots][at + 1] - levels[knots][at])
    scale = float(volumes[-1] - volumes[0]) or 1.0
    index = np.arange(rows)
    lines = scipy.sparse.coo_array(
        (np.concatenate([1 - share, share]), (np.concatenate([index, index]), np.concatenate([at, at + 1]))),
        shape=(rows, points),
    )
    allowance = scipy.sparse.coo_array(np.ones((rows, 1)))
    step = np.arange(points - 1)
    falls = scipy.sparse.coo_array(
        (np.concatenate([np.ones(points - 1), -np.ones(points - 1)]),
         (np.concatenate([step, step]), np.concatenate([step, step + 1]))),
        shape=(points - 1, points + 1),
    )  # fmt: skip
    over, under = (scipy.sparse.hstack([sign * lines, -allowance]) for sign in (1, -1))
    matrix: Any = scipy.sparse.vstack([over, under, falls]).tocsr()
    wanted = (volumes - volumes[0]) / scale
    limit = np.concatenate([wanted, -wanted, np.zeros(points - 1)])
    bounds: list[Any] = [(None, None)] * points + [(0, None)]
    if fixed_ends:
        bounds[0] = (0.0, 0.0)
        bounds[points - 1] = (float(wanted[-1]), float(wanted[-1]))
    largest = np.append(np.zeros(points), 1.0)
    found = scipy.optimize.linprog(largest, A_ub=matrix, b_ub=limit, bounds=bounds, method="highs")
    if found.x is None:
        return None
    ordinates = volumes[0] + scale * np.asarray(found.x[:points])
    if fixed_ends:
        ordinates[0], ordinates[-1] = volumes[0], volumes[-1]
    return np.maximum.accumulate(ordinates)
