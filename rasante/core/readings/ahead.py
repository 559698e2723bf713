"""How fast contents change now, and when a mark will be reached if they go on so."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ..quantities.arrays import Array
from .stillness import find_spikes, noise_of

FEWEST = 4
#: Beyond this nothing is foretold [s]: ten weeks.
FURTHEST_S = 70 * 86400.0


@dataclass(frozen=True)
class Rate:
    """How fast a value changes now.

    Parameters
    ----------
    rate, u95 : float
        By the second, and its half-width (k = 2).
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
    A straight line by least squares over the newest readings: as many as lie on one line with the newest, doubled
    from four until they no longer do. Its half-width is twice the standard error, with what one step may feign.
    """
    times, read = np.asarray(times_s, dtype=float), np.asarray(values, dtype=float)
    if len(read) >= 5:
        spikes = find_spikes(read, max(resolution, 1e-12))
        times, read = times[~spikes], read[~spikes]
    if len(times) < FEWEST:
        return None
    noise = max(noise_of(read[-64:], resolution), 1e-15)
    best: Rate | None = None
    count = FEWEST
    while True:
        when, now = times[-count:], read[-count:]
        centred = when - when.mean()
        weight = float(centred @ centred)
        if weight > 0:
            slope = float(centred @ now) / weight
            rest = now - now.mean() - slope * centred
            spread = float(np.sqrt(rest @ rest / max(count - 2, 1)))
            if best is not None and spread > 1.6 * noise:
                break
            # A single step midway has a slope of one and a half of it by the span: that much may be no movement.
            span = float(when[-1] - when[0])
            error = np.hypot(2 * max(spread, noise) / np.sqrt(weight), 1.6 * resolution / span)
            value = float(now.mean() + slope * (when[-1] - when.mean()))
            best = Rate(slope, float(error), float(when[-1] - when[0]), value)
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
