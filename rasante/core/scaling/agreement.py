"""Whether readings along a scaling chain agree: each against what the one before it should have become."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise

from scipy.stats import norm

from ..errors import InputError
from . import registers
from .chain import Chain
from .hops import backward, forward, sensed, step_of, words_of

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


def instrument(c: Chain, station: str, value: float) -> float:
    """Standard uncertainty of reading a value at a station, in its own unit: common practice, no published source.

    Notes
    -----
    A dip to ± 3 mm, a pressure to ± 0.1 % of the range, a signal to ± 0.1 % of its span, counts to ± 2; a number that
    is shown to its last place.
    """
    span = abs(c.sensor_high - c.sensor_low)
    half = {
        "level": 0.003,
        "sensed": 0.001 * span if c.sensor_quantity in ("pressure", "counts", "time") else 0.003,
        "signal": 0.001 * abs(c.signal_ends[1] - c.signal_ends[0]),
        "counts": 2.0,
    }.get(station, 0.0)
    floating = 2e-6 * abs(value) if station in ("scaled", "register", "read", "shown") else 0.0
    # What is read from a register stands in the steps that the number was scaled to.
    step = step_of(c, "scaled" if station == "read" else station)
    return math.hypot(half / 2, step / math.sqrt(12), floating)


def _own(c: Chain, station: str, before: float, value: float) -> float:
    """Standard uncertainty that a hop adds by itself, in the unit of its output."""
    step = step_of(c, station) / math.sqrt(12)
    if station == "sensed":
        per_m = abs(sensed(c, 1.0) - sensed(c, 0.0))
        gone = abs(before - c.sensor_zero)
        share = {"pressure": c.liquid_tolerance * gone, "time": c.sensor_medium * abs(value) * c.sensor_sound / 2}
        return per_m * math.hypot(c.sensor_mounting, share.get(c.sensor_quantity, 0.0)) / 2
    if station == "signal":
        per_m = abs((c.signal_ends[1] - c.signal_ends[0]) / (c.sensor_high - c.sensor_low))
        metre = abs(sensed(c, 1.0) - sensed(c, 0.0))
        stepped = c.sensor_step * metre * per_m / math.sqrt(12)
        return math.hypot(c.sensor_accuracy * abs(c.signal_ends[1] - c.signal_ends[0]) / 2, stepped)
    if station == "counts":
        return math.hypot(c.counts_accuracy * abs(c.counts_high - c.counts_low) / 2, step)
    if station == "scaled" and c.digital:
        return math.hypot(c.sensor_accuracy * abs(c.scaled_high - c.scaled_low) / 2, step)
    if station == "shown":
        return step if c.shown_as not in ("volume", "volume_pct") else math.hypot(step, 1e-6 * abs(value))
    return step


def _over(c: Chain, station: str, value: float, sigma: float) -> tuple[float, float]:
    """Take a value and its standard uncertainty over one hop, steps left out."""
    out = forward(c, station, value, exact=False)
    by = max(sigma, 1e-6 * abs(value), 1e-12)
    slope = (forward(c, station, value + by, exact=False) - forward(c, station, value - by, exact=False)) / (2 * by)
    return out, math.hypot(slope * sigma, _own(c, station, value, out))


def predict(c: Chain, hops: Sequence[str], value: float, sigma: float) -> tuple[float, float]:
    for station in hops:
        value, sigma = _over(c, station, value, sigma)
    return value, sigma


def hops_between(c: Chain, start: str, end: str) -> tuple[str, ...]:
    """Hops that lead from one station to another."""
    stations = c.stations
    return stations[stations.index(start) + 1 : stations.index(end) + 1]


def off_by(c: Chain, wrong: Chain, start: str, end: str, first: float, last: float) -> float:
    """How far a reading is off what a chain makes of the one before it, in standard deviations.

    Where the far end takes words for something else, what it shows jumps about with the last digit of what it is
    sent: the reading is taken back to the register then, and compared there.
    """
    hops = hops_between(c, start, end)
    reads, writes = (wrong.read_type, wrong.read_order), (wrong.register_type, wrong.register_order)
    meddled = "read" in hops and reads != writes
    written = hops[-1] == "register" and writes != (c.register_type, c.register_order)
    try:
        if meddled or written:
            if meddled and start == "register":
                value, _ = predict(wrong, hops, first, 0.0)
                return bounded((last - value) / instrument(c, end, last))
            if meddled:
                back = last
                for station in reversed(hops[hops.index("read") :]):
                    back = backward(wrong, station, back)
                hops = hops[: hops.index("read")]
            else:
                back = registers.decode(words_of(c, last), wrong.register_type, wrong.register_order)
            value, sigma = predict(wrong, hops, first, instrument(c, start, first))
            # The words' last digits that a screen has dropped cannot be got back: they are not held against it.
            sigma = math.hypot(sigma, instrument(c, "register", back), 1e-4 * abs(value) if end == "shown" else 0.0)
            return bounded((back - value) / sigma)
        value, sigma = predict(wrong, hops, first, instrument(c, start, first))
        return bounded((last - value) / math.hypot(sigma, instrument(c, end, last)))
    except (InputError, OverflowError, ZeroDivisionError):
        return FAR


def bounded(off: float) -> float:
    return float(min(max(off, -FAR), FAR)) if math.isfinite(off) else FAR


def judge_stretches(c: Chain, rows: Sequence[Row]) -> list[Stretch]:
    found = []
    for index, row in enumerate(rows):
        there = [station for station in c.stations if station in row]
        for start, end in pairwise(there):
            expected, _ = predict(c, hops_between(c, start, end), row[start], instrument(c, start, row[start]))
            off = off_by(c, c, start, end, row[start], row[end])
            found.append(Stretch(index, start, end, expected, row[end], off))
    return found


def beyond_chance(count: int) -> float:
    """How many standard deviations the worst of so many readings is off by chance, once in 500 times.

    Notes
    -----
    The worst is judged, not the sum of squares: what a sensor is off, it is off in every row alike.
    """
    return float(norm.isf(_ACCUSED_BELOW / (2 * max(count, 1))))


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
