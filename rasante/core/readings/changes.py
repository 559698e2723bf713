"""Deliveries and draws in a tank's contents over time, each with its volume and how sure that is."""

from __future__ import annotations

import heapq
import itertools
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import scipy

from ..quantities.arrays import Array
from ..quantities.errors import InputError
from .series import FEWEST, correlation_at_most, correlation_of, effective_count
from .stillness import find_spikes, noise_of

#: What counts as a delivery or a draw, by capacity; and what two tanks' times may be apart [s].
LEAST, SLACK_S = 0.02, 600.0
#: Readings over which the noise is told: it differs between a calm night and a storm.
_NOISE_OVER = 32
#: Readings that the smallest straight part begins with.
_FEWEST = 3
#: What one more straight part costs, in squares of the noise: chance alone asks for one in hardly any month.
_PRICE = 34.0
#: How often every cut is moved to where it leaves least between its neighbours.
_ROUNDS = 3
#: The ends of parts are chosen by the very readings that tell the contents there: that much less is known of them.
_CHOSEN = 1.6
#: How much readings of a part too short to tell may hang together [1].
_UNKNOWN = 0.9
#: Readings on either side by which a change is told from a wave.
_AFTERWARDS = 10
#: By how many standard deviations they must differ for that.
_CLEAR = 4.5
#: What came within this time counts, however slowly it came [s].
_LONGEST_S = 6 * 3600.0
#: A pause of less than this is within one delivery: a hose is moved, a compartment changed [s].
_PAUSE_S = 900.0


@dataclass(frozen=True)
class Change:
    """What came or went in one go.

    Parameters
    ----------
    start_s, end_s : float
        When it began and ended, by the readings about it [s].
    volume_m3 : float
        By how much the contents changed: what came (positive) less what was drawn meanwhile, or what went (negative)
        [m³].
    u95_m3 : float
        Half-width of that (k = 2) [m³], the table's own left out.
    before_m3, after_m3 : float
        Contents at its start and end [m³].
    """

    start_s: float
    end_s: float
    volume_m3: float
    u95_m3: float
    before_m3: float
    after_m3: float

    @property
    def rate(self) -> float:
        """How fast it came or went on the whole [m³/s]; infinite where it took no time that can be told."""
        took = self.end_s - self.start_s
        return self.volume_m3 / took if took > 0 else float("inf")


def _noise_along(values: Array) -> Array:
    """Standard deviation of single readings along a series, by its neighbourhood."""
    count = len(values)
    edges = np.linspace(0, count, max(1, count // _NOISE_OVER) + 1).astype(int)
    found = []
    for a, b in itertools.pairwise(edges):
        steps = np.abs(np.diff(values[a:b]))
        moved = steps[steps > 0]
        # Where it mostly stands still and then moves by a step, the step is the reading's own.
        step = float(np.min(moved)) if len(moved) and len(moved) < 0.8 * len(steps) else 0.0
        found.append(noise_of(values[a:b], step))
    sizes = np.maximum(found, max(float(np.max(found)) * 1e-3, 1e-12))
    # A storm begins somewhere within a stretch: its noise counts for the stretches beside it.
    return np.repeat(scipy.ndimage.maximum_filter1d(sizes, 3, mode="nearest"), np.diff(edges))


class _Sums:
    """Straight lines through any stretch of a series, from running sums: O(1) each."""

    def __init__(self, times: Array, values: Array, noise: Array) -> None:
        self.noise = noise
        weight = 1 / noise**2
        self.t0, self.v0 = float(times.mean()), float(np.median(values))
        t, v = times - self.t0, values - self.v0
        rows = np.stack([weight, weight * t, weight * t * t, weight * v, weight * t * v, weight * v * v])
        self.sums = np.concatenate([np.zeros((6, 1)), np.cumsum(rows, axis=1)], axis=1)

    def line(self, a: int, b: int) -> tuple[float, float, float, float, float]:
        """Of readings a to b (b left out): weight, mean time, mean value, slope, and what is left in squares."""
        w, wt, wtt, wv, wtv, wvv = self.sums[:, b] - self.sums[:, a]
        t, v = wt / w, wv / w
        tt, tv, vv = max(wtt - wt * t, 0.0), wtv - wt * v, max(wvv - wv * v, 0.0)
        slope = tv / tt if tt > 1e-12 * max(wtt, 1e-300) else 0.0
        return w, t, v, slope, max(vv - slope * tv, 0.0)

    def left(self, a: int, b: int) -> float:
        """What a straight line leaves of readings a to b, in squares of the noise."""
        return self.line(a, b)[4]

    def best_cut(self, a: int, b: int) -> int:
        """Where readings a to b are best cut into two straight parts, each of the fewest readings at least."""
        cuts = np.arange(a + _FEWEST, b - _FEWEST + 1)
        first = self._left(self.sums[:, cuts] - self.sums[:, [a]])
        second = self._left(self.sums[:, [b]] - self.sums[:, cuts])
        return int(cuts[np.argmin(first + second)])

    @staticmethod
    def _left(sums: Array) -> Array:
        w, wt, wtt, wv, wtv, wvv = sums
        tt, tv, vv = wtt - wt * wt / w, wtv - wt * wv / w, wvv - wv * wv / w
        return np.asarray(np.maximum(vv - tv * tv / np.maximum(tt, 1e-300), 0.0))


def _parts(sums: _Sums, count: int) -> list[int]:
    """Where a series is best cut into straight parts: the places, its ends included.

    Notes
    -----
    From the bottom up: neighbours are joined whose joining leaves least, until the next joining would leave more than
    a part's price; then each cut is moved to where it leaves least.
    """
    edges = list(range(0, count - _FEWEST + 1, _FEWEST)) + [count]
    after = dict(itertools.pairwise(edges))
    before = {b: a for a, b in after.items()}
    left = {a: sums.left(a, b) for a, b in after.items()}

    def price(a: int) -> tuple[float, int, int, int]:
        middle = after[a]
        end = after[middle]
        return sums.left(a, end) - left[a] - left[middle], a, middle, end

    queue = [price(a) for a in edges[:-2]]
    heapq.heapify(queue)
    while queue:
        cost, a, middle, end = heapq.heappop(queue)
        if after.get(a) != middle or after.get(middle) != end:
            continue
        if cost > _PRICE:
            break
        left[a] = sums.left(a, end)
        after[a], before[end] = end, a
        del after[middle], left[middle]
        before.pop(middle, None)
        if end < count:
            heapq.heappush(queue, price(a))
        if a > 0:
            heapq.heappush(queue, price(before[a]))
    cuts = [0]
    while cuts[-1] < count:
        cuts.append(after[cuts[-1]])
    for _ in range(_ROUNDS):
        for at in range(1, len(cuts) - 1):
            cuts[at] = sums.best_cut(cuts[at - 1], cuts[at + 1])
        cuts = _joined(sums, cuts)
    return cuts


def _joined(sums: _Sums, cuts: list[int]) -> list[int]:
    """The cuts without those that are not worth their price, now that they have moved."""
    while len(cuts) > 2:
        gains = [
            sums.left(a, b) - sums.left(a, cut) - sums.left(cut, b)
            for a, cut, b in zip(cuts[:-2], cuts[1:-1], cuts[2:], strict=True)
        ]
        least = int(np.argmin(gains))
        if gains[least] > _PRICE:
            break
        cuts = cuts[: least + 1] + cuts[least + 2 :]
    return cuts


@dataclass(frozen=True)
class _Part:
    """A straight part: when it begins and ends, the contents there with their variances, and its slope."""

    start_s: float
    end_s: float
    start: float
    end: float
    start_var: float
    end_var: float
    slope: float


def straight_parts(times: Array, values: Array, noise: Array) -> list[_Part]:
    """Cut a series, in the order of time and without spikes, into straight parts."""
    sums = _Sums(times, values, noise)
    cuts = _parts(sums, len(times))
    found = []
    for a, b in itertools.pairwise(cuts):
        _, middle, value, slope, _ = sums.line(a, b)
        line = value + slope * (times[a:b] - sums.t0 - middle) + sums.v0
        off, noise = values[a:b] - line, sums.noise[a:b]
        start, start_var = _near(off, noise)
        end, end_var = _near(off[::-1], noise[::-1])
        ends = (float(line[0]) + start, float(line[-1]) + end)
        found.append(_Part(float(times[a]), float(times[b - 1]), *ends, start_var, end_var, slope))
    return found


def _near(off: Array, noise: Array) -> tuple[float, float]:
    """By how much the first readings are off their part's line, and the variance of that.

    Notes
    -----
    As many readings as agree: twice as many are taken as long as the further half does not differ from the nearer by
    more than chance has it. A part is never quite straight; near its end it is what its last readings say.
    """
    count = min(_FEWEST, len(off))
    while 2 * count <= len(off):
        nearer, further = off[:count], off[count : 2 * count]
        sure = 0.7 * float(np.mean(noise[: 2 * count])) * np.sqrt(2 / count)
        if abs(nearer.mean() - further.mean()) > sure:
            break
        count *= 2
    spread = max(float(np.mean(noise[:count])), float(np.std(off[:count])))
    # What hangs together tells less than as many that do not.
    hangs = correlation_at_most(correlation_of(off - off.mean()), len(off)) if len(off) >= FEWEST else _UNKNOWN
    return float(off[:count].mean()), spread**2 / effective_count(count, hangs)


def find_changes(
    times_s: Sequence[float] | Array, volumes_m3: Sequence[float] | Array, least_m3: float, sign: int = 1
) -> list[Change]:
    """Find what came into a tank, or went out of it, in one go.

    Parameters
    ----------
    times_s, volumes_m3 : sequence of float of shape (n,)
        When each was read [s], and the contents [m³]; in any order.
    least_m3 : float
        The least volume that counts [m³]; more than 0.
    sign : {1, -1}
        Whether deliveries are looked for, or draws.

    Returns
    -------
    list of Change
        In the order of time.

    Raises
    ------
    InputError
        If times and volumes do not match, or nothing counts.

    Notes
    -----
    Single readings that stand out are left out. The rest is cut into straight parts, as many as the noise about them
    asks for. Parts that rise, at least as fast as what counts within six hours, and the steps between parts make a
    change; its volume is the difference of the straight parts before and after it, with the variance of both.
    """
    if not least_m3 > 0:
        raise InputError.at("least", "must be more than nothing: else every ripple is a delivery")
    times, values = np.asarray(times_s, dtype=float), np.asarray(volumes_m3, dtype=float)
    if times.ndim != 1 or times.shape != values.shape:
        raise InputError.at("volumes", "there must be one volume for each time")
    there = np.isfinite(times) & np.isfinite(values)
    order = np.argsort(times[there], kind="stable")
    times, values = times[there][order], sign * values[there][order]
    if len(times) < 2 * _FEWEST:
        return []
    spikes = find_spikes(values, _noise_along(values))
    times, values = times[~spikes], values[~spikes]
    noise = _noise_along(values)
    parts = straight_parts(times, values, noise)
    found = []
    for run in _rises(parts, least_m3 / _LONGEST_S):
        one = _between(parts, run)
        if one.volume_m3 >= least_m3 and _holds(times, values, noise, one):
            found.append(one)
    return [
        Change(one.start_s, one.end_s, sign * one.volume_m3, one.u95_m3, sign * one.before_m3, sign * one.after_m3)
        for one in found
    ]


def _rises(parts: list[_Part], rate: float) -> list[tuple[int, int]]:
    """Runs of parts that rise, as (last part before, first part after); a step alone has no part between."""
    runs: list[list[int]] = []

    def add(before: int, after: int) -> None:
        if runs:
            last = runs[-1]
            pause = parts[before].end_s - parts[last[1]].start_s
            if before <= last[1] and (before < last[1] or pause <= _PAUSE_S):
                last[1] = after
                return
        runs.append([before, after])

    for at, part in enumerate(parts):
        if part.slope > rate and 0 < at < len(parts) - 1:
            add(at - 1, at + 1)
        if at + 1 < len(parts):
            wait = max(parts[at + 1].start_s - part.end_s, 1e-9)
            if parts[at + 1].start - part.end > rate * wait:
                add(at, at + 1)
    return [(before, after) for before, after in runs]


def _between(parts: list[_Part], run: tuple[int, int]) -> Change:
    before, after = parts[run[0]], parts[run[1]]
    half = 2 * _CHOSEN * float(np.sqrt(before.end_var + after.start_var))
    return Change(before.end_s, after.start_s, after.start - before.end, half, before.end, after.start)


def _holds(times: Array, values: Array, noise: Array, one: Change) -> bool:
    """Whether contents stay changed: a wave goes back by itself, a delivery is still there some readings later."""
    first, last = np.searchsorted(times, [one.start_s, one.end_s])
    before = slice(max(first + 1 - _AFTERWARDS, 0), first + 1)
    after = slice(last, last + _AFTERWARDS)
    fewest = min(len(values[before]), len(values[after]))
    stays = float(np.median(values[after]) - np.median(values[before]))
    # A median of many has 1.25 times the deviation of their mean.
    sure = 1.25 * float(max(noise[before].mean(), noise[after].mean())) * np.sqrt(2 / fewest)
    return bool(stays >= max(0.4 * one.volume_m3, _CLEAR * sure))


@dataclass(frozen=True)
class Transfer:
    """What left one tank and came to another.

    Parameters
    ----------
    source, target : str
        Tanks, as they were named.
    left, came : Change
        What went, and what came.
    differs_m3, u95_m3 : float
        By how much more came than left, and its half-width (k = 2) [m³].
    """

    source: str
    target: str
    left: Change
    came: Change
    differs_m3: float
    u95_m3: float


#: By how much volumes may differ, by the larger: of two that begin and end together, and of others.
_TOGETHER, _APART = 0.35, 0.1


def _begin_and_end_together(left: Change, came: Change, slack_s: float) -> bool:
    slack = max(slack_s, 0.1 * (came.end_s - came.start_s))
    return abs(left.start_s - came.start_s) <= slack and abs(left.end_s - came.end_s) <= slack


def match_transfers(
    draws: dict[str, list[Change]], deliveries: dict[str, list[Change]], slack_s: float
) -> list[Transfer]:
    """Match what left one tank with what came to another at the same time.

    Parameters
    ----------
    draws, deliveries : dict of str to list of Change
        By the tanks' names.
    slack_s : float
        By how much their times may be apart [s].

    Notes
    -----
    Two belong together if their times overlap and their volumes agree within a tenth or three times their ±; within
    a third where they begin and end together, since one may be drawn from meanwhile. The best agreement goes
    first, and each is matched once.
    """
    pairs = []
    for target, came_list in deliveries.items():
        for came in came_list:
            for source, left_list in draws.items():
                if source == target:
                    continue
                for left in left_list:
                    differs = came.volume_m3 + left.volume_m3
                    sure = float(np.hypot(left.u95_m3, came.u95_m3))
                    share = _TOGETHER if _begin_and_end_together(left, came, slack_s) else _APART
                    overlap = min(left.end_s, came.end_s) - max(left.start_s, came.start_s)
                    if overlap >= -slack_s and abs(differs) <= max(
                        share * max(came.volume_m3, -left.volume_m3), 3 * sure
                    ):
                        pairs.append((abs(differs), Transfer(source, target, left, came, differs, sure)))
    taken: set[int] = set()
    found = []
    for _, pair in sorted(pairs, key=lambda one: one[0]):
        if id(pair.left) in taken or id(pair.came) in taken:
            continue
        taken |= {id(pair.left), id(pair.came)}
        found.append(pair)
    return sorted(found, key=lambda one: one.came.start_s)
