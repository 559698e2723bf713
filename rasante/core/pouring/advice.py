"""What to pour next: the amount that lowers the largest error most, as hose, can and safe fill allow."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..quantities.arrays import Array
from .curve import Curve

#: A first step of a tank of which nothing is known [1 of what it holds].
_FIRST = 0.5
#: How far from the middle of a gap a can's own size may take a reading [1 of the gap].
_ASIDE = 0.2
#: A gap is cut while it holds more than so many times what a volume may be off by for itself [1].
_NARROW = 6.0
#: A gap cut in two is left with about this share of its error where the tank is smooth there [1].
_CUT = 0.4


@dataclass(frozen=True)
class Advice:
    """The next step.

    Parameters
    ----------
    amount : float
        To pour [m³], less than 0 to draw off; 0 when nothing more is to be done.
    to_volume : float
        What is in it then [m³].
    to_reading : float or None
        About where it will read; None beyond what was read.
    now, then : float
        The largest error that is expected now, and after it, k = 2 [m³].
    to_go : int
        How many steps are left to the target, this one with them.
    enough : bool
        Whether the target is reached.
    cans : int
        How many whole cans that is; 0 where it is none.
    can : float
        What each of them holds [m³].
    """

    amount: float
    to_volume: float
    to_reading: float | None
    now: float
    then: float
    to_go: int
    enough: bool
    cans: int = 0
    can: float = 0.0


def _rest(curve: Curve | None, volume: float, top: float) -> float:
    """What may be off in the part above what was read, k = 2 [m³]."""
    left = top - (curve.volume[-1] if curve is not None else volume)
    return float(max(left, 0.0) / 4)


def _steps_in(error: float, target: float) -> int:
    """How many readings bring the error of a gap below a target, halving it."""
    if error <= target:
        return 0
    halvings = int(np.ceil(np.log(target / error) / np.log(_CUT)))
    return int(2 ** min(halvings, 8) - 1)


def _to_cans(amount: float, low: float, high: float, cans: Sequence[float]) -> float:
    """The nearest amount that whole cans make, within bounds; the amount itself where none does."""
    if not cans:
        return amount
    counts = [(can, amount / can) for can in cans if can > 0]
    whole: Array = np.array([side * can for can, count in counts for side in (np.floor(count), np.ceil(count))])
    fits = whole[(whole >= low) & (whole <= high) & (whole > 0)]
    return float(fits[np.argmin(np.abs(fits - amount))]) if len(fits) else amount


def advise(
    curve: Curve | None,
    volume: float,
    top: float,
    target: float,
    cans: Sequence[float] = (),
    draws: bool = True,
    most: float | None = None,
) -> Advice:
    """Say what to pour or draw off next.

    Parameters
    ----------
    curve : Curve or None
        Of what was poured so far; None before the first reading after a pour.
    volume : float
        What is in the tank now [m³].
    top : float
        The most that may be in it [m³]: safe fill.
    target : float
        The error that is good enough, k = 2 [m³].
    cans : sequence of float
        What the shop's containers hold [m³]; empty where any amount can be metered.
    draws : bool
        Whether it can be drawn down too, to come back to a gap.
    most : float, optional
        The most that there is to pour: what is in the other tank [m³].

    Notes
    -----
    The gap with the largest error is cut in two. Where it lies below what is in the tank and nothing can be drawn
    off, the largest that still lies ahead is. Above what was read nothing is known: the rest counts as one gap whose
    error is a quarter of what it holds.
    """
    knots = np.array([volume]) if curve is None else curve.volume
    errors = np.array([]) if curve is None else curve.gap_half
    rest = _rest(curve, volume, top)
    floor = 0.0 if curve is None else float(np.hypot(curve.random, curve.common).max())
    now = float(np.hypot(max([*errors, rest]), floor))
    aim = np.sqrt(max(target**2 - floor**2, (0.5 * target) ** 2))
    edges = np.append(knots, top) if top > knots[-1] * (1 + 1e-9) else knots
    every = np.append(errors, rest) if len(edges) > len(knots) else errors
    open_ = every > aim
    if curve is not None:
        # A gap that is hardly wider than a reading is good for is not cut again.
        open_[: len(errors)] &= np.diff(curve.volume) > _NARROW * np.maximum(curve.random[1:], curve.random[:-1])
    if not draws:
        open_ &= edges[1:] > volume * (1 + 1e-9)
    if not np.any(open_):
        return Advice(0.0, volume, None, now, now, 0, bool(now <= target * (1 + 1e-9) or not np.any(every > aim)))
    last = len(edges) - 2
    gap = int(np.argmax(np.where(open_, every, -1.0)))
    low, high = float(max(edges[gap], volume if not draws else edges[gap])), float(edges[gap + 1])
    beyond = gap == last and len(edges) > len(knots)
    if beyond:
        # Half of the rest, and then the top itself: what lies above the last reading is never known otherwise.
        goal = low + _FIRST * (high - low) if curve is None else high
    elif curve is not None:
        reading = np.interp([low, high], curve.volume, curve.reading).mean()
        goal = float(curve.at(reading))
    aside = _ASIDE * (high - low)
    amount = goal - volume
    size = _to_cans(
        abs(amount), abs(amount) - aside, min(abs(amount) + aside, top - volume if amount > 0 else volume), cans
    )
    if amount > 0 and most is not None:
        size = min(size, most)
    amount = float(np.sign(amount) * size)
    goal = volume + amount
    share = np.clip((goal - low) / (high - low), 0.0, 1.0)
    left = max(share, 1 - share) ** 2 * every[gap] if not beyond else max(rest * (1 - share), (high - low) / 16)
    others = np.delete(every, gap)
    then = float(np.hypot(max([*others, left]), floor))
    to_go = 1 + sum(_steps_in(float(error), float(aim)) for error in [*others[others > aim], left, left])
    reading_then = None
    if curve is not None and goal <= curve.volume[-1]:
        reading_then = float(np.interp(goal, curve.volume, curve.reading))
    can = next((one for one in cans if abs(size - round(size / one) * one) < 1e-6 * one), 0.0)
    count = round(size / can) if can else 0
    return Advice(amount, goal, reading_then, now, min(then, now), int(to_go), False, count, can)
