"""How fast contents change now, and when a mark will be reached if they go on so."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ..quantities.arrays import Array
from .series import fit_slope
from .stillness import find_spikes

FEWEST = 4
#: The narrowest interval of several is narrower than it should be by so much.
_CHOSEN = 1.25
#: Beyond this nothing is foretold [s]: ten weeks.
FURTHEST_S = 70 * 86400.0


@dataclass(frozen=True)
class Rate:
    """How fast a value changes now.

    Parameters
    ----------
    rate, u95 : float
        By the second, and its half-width (95 %).
    over_s : float
        Over how long it was taken [s].
    value : float
        The value at the newest reading, by the same line.
    """

    rate: float
    u95: float
    over_s: float
    value: float

    @property
    def moves(self) -> bool:
        """Whether it is told from standing still."""
        return abs(self.rate) > self.u95


def rate_now(
    times_s: Sequence[float] | Array, values: Sequence[float] | Array, resolution: float = 0.0
) -> Rate | None:
    """How fast the newest readings change.

    Parameters
    ----------
    times_s, values : sequence of float of shape (n,)
        When each was read [s], and what it read, in the order of time.
    resolution : float
        Step of the values.

    Returns
    -------
    Rate or None
        None where fewer than four readings tell.

    Notes
    -----
    A straight line over the newest readings, doubled from four as long as all agree by their intervals: that with the
    narrowest is taken. Its half-width is that of readings that hang together (`series.fit_slope`), with what one step
    may feign.
    """
    times, read = np.asarray(times_s, dtype=float), np.asarray(values, dtype=float)
    if len(read) >= 5:
        spikes = find_spikes(read, max(resolution, 1e-12))
        times, read = times[~spikes], read[~spikes]
    if len(times) < FEWEST:
        return None
    best: Rate | None = None
    count = FEWEST
    while True:
        when, now = times[-count:], read[-count:]
        span = float(when[-1] - when[0])
        if span > 0:
            found = fit_slope(when, now, max(resolution / np.sqrt(12), 1e-15))
            if best is not None and abs(found.slope - best.rate) > best.u95 + found.half_width:
                # What came before went otherwise.
                break
            # A single step midway has a slope of one and a half of it by the span: that much may be no movement.
            error = float(np.hypot(_CHOSEN * found.half_width, 1.6 * resolution / span))
            if best is None or error < best.u95:
                best = Rate(found.slope, error, span, found.value)
        if count >= len(times) or count >= 512:
            break
        count = min(count * 2, len(times))
    return best


@dataclass(frozen=True)
class Reached:
    """When a mark is reached.

    Parameters
    ----------
    key : str
        The mark.
    in_s : float
        From now, if it goes on so [s].
    soonest_s, latest_s : float
        By the rate's ± [s]; the latest infinite where it may as well stand still.
    """

    key: str
    in_s: float
    soonest_s: float
    latest_s: float


def when_reached(rate: Rate | None, marks: Mapping[str, float]) -> list[Reached]:
    """When marks will be reached at the present rate, the nearest first.

    Parameters
    ----------
    rate : Rate or None
        How fast it changes.
    marks : mapping of str to float
        Values by the marks' keys, in the unit of the rate's value.

    Returns
    -------
    list of Reached
        Those ahead only, within ten weeks; none while the rate is not told from standing still.
    """
    if rate is None or not rate.moves:
        return []
    found = []
    for key, mark in marks.items():
        away = mark - rate.value
        if away * rate.rate <= 0:
            continue
        slow, fast = abs(rate.rate) - rate.u95, abs(rate.rate) + rate.u95
        one = Reached(key, abs(away / rate.rate), abs(away) / fast, abs(away) / slow if slow > 0 else float("inf"))
        if one.in_s <= FURTHEST_S:
            found.append(one)
    return sorted(found, key=lambda one: one.in_s)
