"""Whether a reading stands still: its slope within what is allowed, its spread no more than the instrument's own."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from statistics import NormalDist
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from ..quantities.errors import InputError
from .series import OFTEN, correlation_of, fit_slope, standard_errors

State = Literal["still", "moving", "unsteady", "too few"]
Array = NDArray[np.float64]

#: Drift that still counts as still, by the tank's height a second: two hundredths of a thousandth.
STILL = 2e-5
#: The correlation that a window is begun with: readings of a quiet tank hardly hang together [1].
_WHITE = 0.3
#: Fewer readings than these say nothing of a slope and a spread.
FEWEST = 8
#: Readings that bear one and the same time are taken as this far apart [s].
_LEAST_PERIOD_S = 1e-3
#: A spread is no longer the instrument's own beyond so many times what neighbours differ by.
_UNSTEADY = 1.6
#: A reading further from its neighbours' median than so many of their spreads is a spike.
_SPIKE = 5.0
#: From fewer readings than this on a scale is hardly known.
_FEW = 18.0
#: From the median of absolute deviations to a standard deviation, for a normal distribution.
_MAD = 1 / NormalDist().inv_cdf(0.75)
#: By how much the window may grow where readings hang together.
_WIDER = (1.0, 1.5, 2.25, 3.4, 5.0, 8.0)
#: No more than this is taken for a correlation: what swings more slowly is a swing.
_MOST_CORRELATION = 0.95
#: At how many places of a window a series is tried for having stopped there.
_BREAKS = 24


@dataclass(frozen=True)
class Stillness:
    """How still a series stands, in the units of its values.

    Parameters
    ----------
    state : {"still", "moving", "unsteady", "too few"}
        Unsteady is what does not drift but swings by more than the instrument does.
    value : float
        Median of the window.
    slope, slope_u95 : float
        By the second, and its half-width as one look among many asks for (99.8 %); infinite where nothing can be
        said.
    noise, spread : float
        Standard deviation from one reading to the next, and about the slope, without spikes.
    window_s : float
        How long a series has to be to tell what is allowed from its noise [s].
    to_go_s : float
        How long it takes yet if it stands still from where it seems to have stopped [s]; 0 when still.
    spikes : tuple of int
        Places of single readings that were left out, in the whole series.
    """

    state: State
    value: float
    slope: float
    slope_u95: float
    noise: float
    spread: float
    window_s: float
    to_go_s: float
    spikes: tuple[int, ...]


def _checked(times_s: Sequence[float] | Array, values: Sequence[float] | Array) -> tuple[Array, Array]:
    times, read = np.asarray(times_s, dtype=float), np.asarray(values, dtype=float)
    if times.ndim != 1 or times.shape != read.shape:
        raise InputError.at("values", "there must be one value for each time")
    if not (np.isfinite(times).all() and np.isfinite(read).all()):
        raise InputError.at("values", "times and values must be finite")
    order = np.argsort(times, kind="stable")
    return times[order], read[order]


def find_spikes(values: Array, floor: float | Array) -> NDArray[np.bool_]:
    """Mark single readings that stand out of their neighbours on both sides.

    Parameters
    ----------
    values : array of shape (n,)
        A series in the order of time.
    floor : float or array of shape (n,)
        What two readings may differ by in any case, in the unit of the values.

    Returns
    -------
    array of bool of shape (n,)

    Notes
    -----
    Hampel's rule over five readings: what lies further than five standard deviations, taken from the median of
    absolute deviations, from the median of its neighbours. The second of two alike in a row is no spike but a step;
    beyond its ends the series is taken to go on as it came, so that the newest reading is never one before the next.
    """
    # Among fewer nobody can tell a spike from what is usual.
    if len(values) < FEWEST:
        return np.zeros(len(values), dtype=bool)
    around = np.lib.stride_tricks.sliding_window_view(np.pad(values, 2, mode="reflect", reflect_type="odd"), 5)
    middle = np.median(around, axis=1)
    scale = np.maximum(_MAD * np.median(np.abs(values - middle)), floor)
    # The fewer there are, the less is known of the scale: at most one in a hundred readings of white noise goes.
    out = np.abs(values - middle) > _SPIKE * (1 + (_FEW / len(values)) ** 3) * scale
    twice = np.zeros_like(out)
    twice[1:] |= out[1:] & out[:-1]
    twice[:-1] |= out[:-1] & out[1:]
    return np.asarray(out & ~twice)


def noise_of(values: Array, resolution: float) -> float:
    """Standard deviation of a reading as neighbours tell it; a slow drift does not count, a step's size is least.

    Notes
    -----
    Second differences of white noise have √6 times its deviation. A value in steps of q is off by q/√12.
    """
    least = resolution / np.sqrt(12)
    if len(values) < 4:
        return float(least)
    return float(
        max(_MAD * np.median(np.abs(np.diff(values, 2))) / np.sqrt(6), np.std(np.diff(values, 2)) / 12, least)
    )


def window_for(noise: float, period_s: float, allowed: float, resolution: float) -> float:
    """How long a series must be for its slope to be told from what is allowed [s].

    Parameters
    ----------
    noise : float
        Standard deviation of one reading.
    period_s : float
        From one reading to the next [s].
    allowed : float
        Drift that still counts as still, by the second.
    resolution : float
        Step of the values: in the window what is allowed must move by one step at least.

    Notes
    -----
    The slope of n readings in white noise has the deviation noise·√12/(period·n^1.5). The interval, as wide as
    one look among many asks for, is to be five eighths of what is allowed, so that what stands still is found still.
    """
    count = 8.0 * FEWEST
    for _ in range(4):
        errors = standard_errors(_WHITE, int(min(max(count, FEWEST), 512)), OFTEN)
        count = (12.0 * (1.6 * errors * noise / (allowed * period_s)) ** 2) ** (1 / 3)
    return float(max(count * period_s, FEWEST * period_s, resolution / allowed))


def _stopped_at(times: Array, values: Array) -> float:
    """When a series seems to have come to rest: the break after which one level fits best, a slope before it."""
    best, at = np.inf, float(times[-1])
    for place in np.linspace(0, len(times) - 2, _BREAKS).astype(int):
        # A level from there on, and a line that joins it before.
        bent = np.minimum(times - times[place], 0.0)
        design = np.column_stack([np.ones_like(times), bent])
        _, rest, _, _ = np.linalg.lstsq(design, values, rcond=None)
        left = float(rest[0]) if len(rest) else float(np.var(values) * len(values))
        if left < best:
            best, at = left, float(times[place])
    return at


def judge_stillness(
    times_s: Sequence[float] | Array,
    values: Sequence[float] | Array,
    allowed: float,
    resolution: float = 0.0,
    own_spread: float | None = None,
) -> Stillness:
    """Judge whether the newest of a series of readings stand still.

    Parameters
    ----------
    times_s, values : sequence of float of shape (n,)
        When each was read [s], and what it read; in any order.
    allowed : float
        Drift that still counts as still, in the values' unit by the second; more than 0.
    resolution : float
        Step of the values, in their unit; 0 where they have none worth mentioning.
    own_spread : float, optional
        Standard deviation that the instrument has by itself; taken from neighbours where it is not known.

    Returns
    -------
    Stillness

    Raises
    ------
    InputError
        If times and values do not match, are not finite, or nothing is allowed.
    """
    if not allowed > 0:
        raise InputError.at("allowed", "must be more than nothing: no reading is known without a drift")
    times, read = _checked(times_s, values)
    floor = max(resolution, own_spread or 0.0)
    out = find_spikes(read, max(floor / _SPIKE, 1e-12 * float(np.max(np.abs(read), initial=0.0))))
    spikes = tuple(int(place) for place in np.flatnonzero(out))
    times, read = times[~out], read[~out]
    nothing = float("inf")
    if len(times) < FEWEST or times[-1] == times[0]:
        value = float(np.median(read)) if len(read) else float("nan")
        return Stillness("too few", value, 0.0, nothing, 0.0, 0.0, nothing, nothing, spikes)
    # As it sends now: it may have sent otherwise before.
    period = max(float(np.median(np.diff(times[-2 * FEWEST :]))), _LEAST_PERIOD_S)
    noise = max(noise_of(read[-60:], resolution), own_spread or 0.0, 1e-9 * allowed)
    window = window_for(noise, period, allowed, resolution)
    state: State = "too few"
    # What hangs together tells less: the window grows until the slope's interval says which it is.
    for wider in _WIDER:
        newest = times >= times[-1] - wider * window * (1 + 1e-9)
        if newest.sum() < FEWEST:
            newest[-FEWEST:] = True
        when, now = times[newest], read[newest]
        line = fit_slope(when, now, noise, OFTEN)
        slope, sure, spread = line.slope, line.half_width, line.spread
        span = float(when[-1] - when[0])
        if abs(slope) - sure > allowed:
            state = "moving"
        elif span < window - period * 1.5:
            state = "too few"
        elif spread > _UNSTEADY * noise * _by_correlation(now - line.value - slope * (when - when[-1])):
            state = "unsteady"
        elif abs(slope) + sure <= allowed:
            state = "still"
        else:
            state = "too few"
            if newest.sum() < len(times):
                continue
            # All that there is leaves it open: so many more are waited for as its interval asks for.
            window = max(window * wider, span * min((sure / allowed) ** (2 / 3), _WIDER[-1]))
        break
    to_go = 0.0
    if state == "too few":
        to_go = max(window - span, period)
    elif state != "still":
        to_go = max(window - float(when[-1] - _stopped_at(when, now)), period)
    return Stillness(state, float(np.median(now)), slope, sure, noise, spread, window, to_go, spikes)


def _by_correlation(rest: Array) -> float:
    """By how much readings that hang together spread more than their second differences tell [1].

    Notes
    -----
    Of a first-order process these have the variance (6 − 8 ρ + 2 ρ²) σ², of white noise 6 σ².
    """
    rho = min(max(correlation_of(rest - rest.mean()), 0.0), _MOST_CORRELATION)
    return float(np.sqrt(6 / (6 - 8 * rho + 2 * rho**2)))
