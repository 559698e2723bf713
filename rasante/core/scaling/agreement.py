"""Whether readings along a scaling chain agree: each against what the one before it should have become."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
import scipy

from ..quantities.arrays import Array
from . import registers
from .chain import Chain
from .numbers import Link, Register
from .screen import BY_VOLUME, Screen

#: A stretch is accused where chance alone would part any of all readings so far less often than this.
_ACCUSED_BELOW = 0.002
#: What stands for readings that cannot be [standard deviations].
FAR = 1e6

Row = Mapping[str, float]


@dataclass(frozen=True)
class Stretch:
    """Two neighbouring readings of one row, and whether what lies between them did what it is set to.

    Parameters
    ----------
    row : int
        Which row of readings.
    start, end : str
        Stations that were read.
    expected, read : float
        What was due at the end, and what was read there.
    off : float
        Their difference in standard deviations.
    """

    row: int
    start: str
    end: str
    expected: float
    read: float
    off: float


@dataclass(frozen=True, eq=False)
class Pair:
    """All rows in which two stations are neighbouring readings: `first` there, `last` here, shape (rows,)."""

    start: str
    end: str
    rows: tuple[int, ...]
    first: Array
    last: Array


def pairs_of(c: Chain, rows: Sequence[Row]) -> list[Pair]:
    """Gather rows of readings by their neighbouring stations."""
    found: dict[tuple[str, str], list[int]] = {}
    for index, row in enumerate(rows):
        for pair in pairwise([station for station in c.stations if station in row]):
            found.setdefault(pair, []).append(index)
    return [
        Pair(
            start,
            end,
            tuple(at),
            np.array([float(rows[i][start]) for i in at]),
            np.array([float(rows[i][end]) for i in at]),
        )
        for (start, end), at in found.items()
    ]


def instrument(c: Chain, station: str, value: Array) -> Array:
    """Standard uncertainty of reading values at a station, in its own unit: common practice, no published source.

    Notes
    -----
    A dip to ± 3 mm, a pressure to ± 0.1 % of the range, a signal to ± 0.1 % of its span, counts to ± 2; a number that
    is shown to its last place.
    """
    half, floating = 0.0, 0.0
    if station == "level":
        half = 0.003
    elif station == "sensed":
        by_range = c.sensing.quantity != "length"
        half = 0.001 * abs(c.sensor.range_high - c.sensor.range_low) if by_range else 0.003
    elif station in ("sent", "arriving") and c.signal is not None:
        half = 0.001 * abs(c.signal.span)
    elif station == "counts":
        half = 2.0
    else:
        floating = 2e-6
    # What is read from a register stands in the steps that the number was scaled to.
    at = "number" if station == "read" else station
    step = c.hop(at).step if station != "level" else 0.0
    return np.asarray(np.hypot(np.hypot(half / 2, step / np.sqrt(12)), floating * np.abs(value)), dtype=float)


def _variance(c: Chain, station: str, before: Array, value: Array) -> Array:
    """Variance that a hop adds by itself, in the unit of its output squared."""
    hop = c.hop(station)
    squares = (hop.uncertainty(before) / 2) ** 2 + hop.step**2 / 12
    if station == "shown" and isinstance(hop, Screen) and hop.shows in BY_VOLUME:
        squares = squares + (1e-6 * value) ** 2
    return np.asarray(squares, dtype=float)


def predict(c: Chain, start: str, end: str, value: Array, sigma: Array) -> tuple[Array, Array]:
    """Take values and their standard uncertainties from one station to a later one, steps left out."""
    for station in hops_between(c, start, end):
        value, sigma = _step(c, station, value, sigma)
    return value, sigma


def _step(c: Chain, station: str, value: Array, sigma: Array) -> tuple[Array, Array]:
    """Take values and their standard uncertainties over one hop."""
    by = np.maximum(np.maximum(sigma, 1e-6 * np.abs(value)), 1e-12)
    out = c.over(station, np.array([value - by, value, value + by]), exact=False)
    slope = (out[2] - out[0]) / (2 * by)
    return out[1], np.sqrt((slope * sigma) ** 2 + _variance(c, station, value, out[1]))


class Known:
    """What the right chain makes of readings, station by station, for all that is tried against it."""

    def __init__(self, c: Chain, pair: Pair) -> None:
        self.at: dict[str, tuple[Array, Array]] = {}
        value, sigma = pair.first, instrument(c, pair.start, pair.first)
        self.at[pair.start] = (value, sigma)
        with np.errstate(all="ignore"):
            for station in hops_between(c, pair.start, pair.end):
                value, sigma = _step(c, station, value, sigma)
                self.at[station] = (value, sigma)
        self.last_sigma = instrument(c, pair.end, pair.last)


def hops_between(c: Chain, start: str, end: str) -> tuple[str, ...]:
    """Hops that lead from one station to another."""
    stations = c.stations
    return stations[stations.index(start) + 1 : stations.index(end) + 1]


def off_by(c: Chain, wrong: Chain, pair: Pair, known: Known | None = None, hop: str = "") -> Array:
    """How far readings are off what a chain makes of the ones before them, in standard deviations; shape (rows,).

    What is `known` of the right chain is taken for all that comes before the hop that is wrong.

    Where the far end takes words for something else, what it shows jumps about with the last digit of what it is
    sent: the readings are taken back to the register then, and compared there.
    """
    with np.errstate(all="ignore"):
        value, last, sigma = _compared(c, wrong, pair, known, hop)
        off = (last - value) / sigma
    return np.asarray(np.clip(np.where(np.isfinite(off), off, FAR), -FAR, FAR), dtype=float)


def _compared(c: Chain, wrong: Chain, pair: Pair, known: Known | None, hop: str) -> tuple[Array, Array, Array]:
    """What was due, what was read, and the standard uncertainty of their difference, where they can be compared."""
    start, end, first, last = pair.start, pair.end, pair.first, pair.last
    hops = hops_between(c, start, end)
    link, register, own = wrong.find(Link), wrong.find(Register), c.find(Register)
    meddled = link is not None and "read" in hops and not link.alike
    written = (
        register is not None
        and own is not None
        and hops[-1] == "words"
        and (register.type, register.order) != (own.type, own.order)
    )
    if meddled and start == "words":
        value, _ = predict(wrong, start, end, first, np.zeros_like(first))
        return value, last, instrument(c, end, last)
    if not meddled and not written:
        value, sigma = _from(c, wrong, pair, end, known, hop)
        return value, last, np.hypot(sigma, known.last_sigma if known is not None else instrument(c, end, last))
    if meddled:
        back = wrong.backward(end, "words", last)
    else:
        assert own is not None and register is not None
        words = registers.to_words(last, own.type, own.order)
        back = registers.from_words(words, register.type, register.order)
    value, sigma = _from(c, wrong, pair, "words", known, hop)
    # The words' last digits that a screen has dropped cannot be got back: they are not held against it.
    dropped = 1e-4 * np.abs(value) if end == "shown" else np.zeros_like(value)
    return value, back, np.hypot(np.hypot(sigma, instrument(c, "words", back)), dropped)


def _from(c: Chain, wrong: Chain, pair: Pair, end: str, known: Known | None, hop: str) -> tuple[Array, Array]:
    """What readings become by a wrong chain, begun behind what is known."""
    stations = c.stations
    if known is not None and hop in stations:
        before = stations[stations.index(hop) - 1]
        if before in known.at and stations.index(before) <= stations.index(end):
            return predict(wrong, before, end, *known.at[before])
    return predict(wrong, pair.start, end, pair.first, instrument(c, pair.start, pair.first))


def judge_stretches(c: Chain, pairs: Sequence[Pair]) -> list[Stretch]:
    """Judge every two neighbouring readings, row by row along the chain."""
    found = []
    for pair in pairs:
        expected, _ = predict(c, pair.start, pair.end, pair.first, instrument(c, pair.start, pair.first))
        off = off_by(c, c, pair)
        found += [
            Stretch(row, pair.start, pair.end, float(e), float(r), float(o))
            for row, e, r, o in zip(pair.rows, expected, pair.last, off, strict=True)
        ]
    return sorted(found, key=lambda one: (one.row, c.stations.index(one.start)))


def beyond_chance(count: int) -> float:
    """How many standard deviations the worst of so many readings is off by chance, once in 500 times.

    Notes
    -----
    The worst is judged, not the sum of squares: what a sensor is off, it is off in every row alike.
    """
    return float(-scipy.special.ndtri(_ACCUSED_BELOW / (2 * max(count, 1))))


def accuse(c: Chain, stretches: Sequence[Stretch]) -> tuple[tuple[str, ...], dict[str, str]]:
    """Find the first pair of stations whose readings part, narrowed by what other rows have cleared."""
    pairs: dict[tuple[str, str], list[float]] = {}
    for stretch in stretches:
        pairs.setdefault((stretch.start, stretch.end), []).append(stretch.off)
    order = sorted(pairs, key=lambda pair: (c.stations.index(pair[1]), -c.stations.index(pair[0])))
    limit = beyond_chance(len(stretches))
    parts = {pair: max(abs(off) for off in pairs[pair]) > limit for pair in order}
    cleared = {hop for pair in order if not parts[pair] for hop in hops_between(c, *pair)}
    judged = {hop: "agrees" if hop in cleared else "unread" for hop in c.stations[1:]}
    accused: tuple[str, ...] = ()
    for pair in order:
        if not parts[pair]:
            continue
        hops = tuple(hop for hop in hops_between(c, *pair) if hop not in cleared) or hops_between(c, *pair)
        if not accused:
            accused = hops
        for hop in hops:
            judged[hop] = "parts" if hop in accused else "after"
    return accused, judged
