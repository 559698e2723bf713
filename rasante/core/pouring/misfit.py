"""The step that does not fit the others: a can left out, one entered twice, an amount mistyped; spills."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..quantities.arrays import Array
from .poured import Instruments, Run

Looks = Literal["left out", "twice", "other"]

#: Below so many readings, the start with them, no wrong amount can be told from a tank that widens.
CAN_BE_TOLD = 7
#: A step stands out where an amount of its own explains so much of how the surface wanders around it [1]; where no
#: other pour went over the same levels, a tank that widens there looks much alike, and more is asked for ...
_EXPLAINS, _EXPLAINS_ALONE = 0.7, 0.9
#: ... better than any other, where that differs from what was entered by more than this share of it, or by a can ...
_DIFFERS = 0.1
#: ... and by so many times what meter and readings let it be off by, k = 2.
_BEYOND = 2.0
#: Standard deviations that cover a spilled amount at k = 2: how a tank widens is not as even as noise [1].
_WIDER = 3.0
#: How near to a can's amount a difference has to be to look like that can [1].
_LIKE = 0.15


@dataclass(frozen=True)
class Misfit:
    """A step that does not fit.

    Parameters
    ----------
    row : int
        Its row among what is typed.
    amount : float
        What was entered [m³], less than 0 for what was drawn off.
    should_be : float
        What would fit [m³].
    half : float
        What that may be off by, k = 2 [m³].
    looks : {"left out", "twice", "other"}
        Like one can that was not written down, like one written down twice, or neither.
    """

    row: int
    amount: float
    should_be: float
    half: float
    looks: Looks


def _bends(run: Run) -> tuple[Array, Array] | None:
    """How the surface departs from the line through its neighbours, and how each step's amount moves that.

    Returns
    -------
    (ndarray, ndarray) or None
        Shapes (k,) and (k, m) [m²] and by the m³; None below five points.
    """
    order = np.argsort(run.readings, kind="stable")
    x, keep = run.readings[order], [0]
    for at in range(1, len(order)):
        if x[at] - x[keep[-1]] > 1e-9 + 0.02 * (x[-1] - x[0]) / len(order):
            keep.append(at)
    chosen = order[keep]
    x, v, held = run.readings[chosen], run.volumes[chosen], run.steps[chosen]
    if len(x) < 5:
        return None
    width = np.diff(x)
    surface, by_step = np.diff(v) / width, np.diff(held, axis=0) / width[:, None]
    middle = x[:-1] + width / 2
    share = ((middle[1:-1] - middle[:-2]) / (middle[2:] - middle[:-2]))[:, None]

    def bend(of: Array) -> Array:
        return np.asarray(of[1:-1] - (1 - share) * of[:-2] - share * of[2:])

    return bend(surface[:, None])[:, 0], bend(by_step)


def find_misfit(
    run: Run, instruments: Instruments, cans: Sequence[float] = (), sure: Collection[int] = ()
) -> Misfit | None:
    """Find the step that does not fit, if one stands out.

    Parameters
    ----------
    run : Run
    instruments : Instruments
    cans : sequence of float
        What one can holds, as the shop has them [m³].
    sure : collection of int
        Rows that somebody has looked at and says are right: the tank is so.

    Returns
    -------
    Misfit or None
        None too where it cannot be told: below seven points, or at the first and the last step.

    Notes
    -----
    Each step in turn is given the amount that leaves the surface of the liquid as even as can be (least squares on
    its second differences). A tank that widens or narrows once does so on one side; a wrong amount stands alone
    between two neighbours that agree, and its own amount then explains most of the unevenness around it.
    """
    found = _bends(run)
    if found is None or len(run.readings) < CAN_BE_TOLD:
        return None
    bends, moves = found
    best, by_best = -1, 0.0
    explained_best = _EXPLAINS
    for step in range(len(run.amounts)):
        pattern = moves[:, step]
        touched = np.flatnonzero(np.abs(pattern) > 1e-12)
        if len(touched) < 3 or run.step_rows[step] in sure:
            continue
        near = slice(max(touched[0] - 1, 0), touched[-1] + 2)
        squares = float(pattern @ pattern)
        by = -float(pattern @ bends) / squares
        around = float(bends[near] @ bends[near])
        explained = by**2 * squares / around if around > 0 else 0.0
        if len(touched) <= 3 and explained < _EXPLAINS_ALONE:
            continue
        if explained > explained_best:
            best, by_best, explained_best = step, by, explained
    if best < 0:
        return None
    amount, half = float(run.amounts[best]), _half(run, instruments, best)
    least = min([_DIFFERS * abs(amount), *((1 - _LIKE) * can for can in cans)])
    if abs(by_best) < max(least, _BEYOND * half):
        return None
    looks = _looks(amount, by_best, run, cans)
    return Misfit(int(run.step_rows[best]), amount, amount + by_best, half, looks)


def _half(run: Run, instruments: Instruments, step: int) -> float:
    """What an amount may be off by for meter and readings, k = 2 [m³]."""
    at = int(np.flatnonzero(run.steps[:, step])[0])
    rise = abs(float(run.readings[at] - run.readings[at - 1])) or instruments.reading_half
    amount = abs(float(run.amounts[step]))
    surface = amount / rise
    return float(np.hypot(instruments.repeat * amount, np.sqrt(2) * surface * instruments.reading_half))


def _looks(amount: float, by: float, run: Run, cans: Sequence[float]) -> Looks:
    usual = [*cans, float(np.median(np.abs(run.amounts)))]
    away = by if amount >= 0 else -by
    if any(abs(abs(away) - can) <= _LIKE * can for can in usual):
        return "left out" if away > 0 else "twice"
    return "other"


def spilled_amounts(run: Run, rows: Sequence[int]) -> dict[int, tuple[float, float]]:
    """Tell how much came with steps of which some went beside.

    Parameters
    ----------
    run : Run
        As if nothing had gone beside.
    rows : sequence of int
        The rows of those steps.

    Returns
    -------
    dict of int to (float, float)
        By row: what came, and what that may be off by, k = 2 [m³]; without those of which nothing can be told yet.
    """
    found = _bends(run)
    if found is None:
        return {}
    bends, moves = found
    steps = [step for step, row in enumerate(run.step_rows) if row in rows]
    told = [step for step in steps if np.any(np.abs(moves[:, step]) > 1e-12)]
    if not told:
        return {}
    pattern = moves[:, told]
    by, *_ = np.linalg.lstsq(pattern, -bends, rcond=None)
    left = bends + pattern @ by
    sd = float(np.sqrt(left @ left / max(len(left) - len(told), 1)))
    spread = sd * np.sqrt(np.diag(np.linalg.pinv(pattern.T @ pattern)))
    answer = {}
    for step, change, off in zip(told, by, spread, strict=True):
        amount = float(run.amounts[step])
        came = float(np.clip(amount + change, min(amount, 0.0), max(amount, 0.0)))
        answer[int(run.step_rows[step])] = came, float(min(_WIDER * off, abs(amount)))
    return answer
