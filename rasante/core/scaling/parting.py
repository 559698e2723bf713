"""Where truth and reading part: the first hop that does not do as it is set, and what would explain it."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
import scipy

from ..quantities.arrays import Array
from ..quantities.errors import InputError
from .agreement import (
    FAR,
    Known,
    Pair,
    Row,
    Stretch,
    accuse,
    beyond_chance,
    hops_between,
    instrument,
    judge_stretches,
    off_by,
    pairs_of,
)
from .chain import Chain
from .chain_settings import check
from .hypotheses import SOUGHT, Hypothesis, hypotheses

#: Explanations whose values differ by less than this many standard deviations at every level are one.
_APART = 1.0
#: A sought value is known no better than its readings are: it has more room.
_SOUGHT_APART = 4.0
#: A reading tells two explanations apart where they are this many standard deviations apart.
_TOLD = 5.0
#: How many times larger or smaller a sought value may make a span.
_SPAN_TIMES = 20.0
MOST_ROWS, MOST_ANSWERS = 10, 8
#: Levels at which explanations are compared [1 of the inside height].
_LEVELS = (0.03, 0.15, 0.3, 0.5, 0.7, 0.85, 0.97)
_SPANS = (
    ("sensor.low", "sensor.high"), ("counts.at_low", "counts.at_high"), ("counts.low", "counts.high"),
    ("scaled.raw_low", "scaled.raw_high"), ("scaled.low", "scaled.high"),
)  # fmt: skip


@dataclass(frozen=True)
class Explanation:
    """What would explain the readings; several where no reading can tell them apart.

    Parameters
    ----------
    hypotheses : tuple of Hypothesis
        What is wrong, the simplest first.
    chains : tuple of Chain
        The chain with each of them.
    off : float
        Root mean square of what it leaves, in standard deviations.
    score : float
        Its rank: half of what is left, and what its kind costs; the least is best.
    """

    hypotheses: tuple[Hypothesis, ...]
    chains: tuple[Chain, ...]
    off: float
    score: float


@dataclass(frozen=True)
class Telling:
    """A reading that would tell two explanations apart.

    Parameters
    ----------
    other : int
        Which explanation it tells from the first, counted from 0.
    station : str
        Where to read.
    level_m : float
        At which level [m].
    first, second : float
        What the first and the other explanation expect there.
    """

    other: int
    station: str
    level_m: float
    first: float
    second: float


@dataclass(frozen=True)
class Parting:
    """What was found.

    Parameters
    ----------
    stretches : tuple of Stretch
        Every pair of neighbouring readings, judged.
    judged : mapping of str to str
        Every hop: ``agrees``, ``parts``, ``after`` (read on behind it), or ``unread``.
    hops : tuple of str
        The hops of which one is wrong; empty if nothing parts.
    explanations : tuple of Explanation
        What would explain it, best first; empty if nothing known does.
    telling : Telling or None
        The reading that would tell the first from the next that does about as well and can be told from it.
    """

    stretches: tuple[Stretch, ...]
    judged: Mapping[str, str]
    hops: tuple[str, ...]
    explanations: tuple[Explanation, ...]
    telling: Telling | None


@dataclass(frozen=True)
class _Fit:
    """A hypothesis with its value, the chain with it, and χ² of what it leaves."""

    hypothesis: Hypothesis
    chain: Chain
    squares: float

    @property
    def score(self) -> float:
        return self.squares / 2 + self.hypothesis.cost


def _fit(c: Chain, guess: Hypothesis, pairs: Sequence[tuple[Pair, Known]], limit: float) -> _Fit | None:
    """Fit a hypothesis; None if it leaves a reading that is off by more than `limit`, or is none.

    A sought value is found first; a named one is given up at the first readings that are off.
    """
    try:
        if guess.sought:
            guess = _sought(c, guess, pairs)
        wrong = guess.on(c)
        check(wrong)
        if guess.sought and not _has_spans(c, wrong):
            return None
        squares = 0.0
        for pair, known in pairs:
            offs = off_by(c, wrong, pair, known, guess.hop)
            if np.max(np.abs(offs)) > limit:
                return None
            squares += float(offs @ offs)
        return _Fit(guess, wrong, squares)
    except (InputError, ZeroDivisionError, ValueError, OverflowError):
        return None


def _sought(c: Chain, guess: Hypothesis, pairs: Sequence[tuple[Pair, Known]]) -> Hypothesis:
    """Find the value of a sought setting that leaves least."""
    path, value = next(iter(guess.settings.items()))
    begin, size = float(value), _size(c, path)

    def left(x: Array) -> Array:
        wrong = guess.at(begin + float(x[0]) * size).on(c)
        return np.concatenate([off_by(c, wrong, pair, known, guess.hop) for pair, known in pairs])

    # MINPACK's lmdif: a step of 1e-4 of its size tells the slope.
    found, *_ = scipy.optimize.leastsq(
        left, np.zeros(1), epsfcn=1e-8, ftol=1e-6, xtol=1e-6, maxfev=40, full_output=True
    )
    return guess.at(begin + float(found[0]) * size)


def _has_spans(c: Chain, wrong: Chain) -> bool:
    """Whether a sought value leaves every span its size, more or less: others would turn noise into anything."""
    there, then = c.settings(), wrong.settings()
    for low, high in _SPANS:
        if low in there:
            old, new = (abs(float(x[high]) - float(x[low])) for x in (there, then))
            if not old / _SPAN_TIMES < new < old * _SPAN_TIMES:
                return False
    return True


def _size(c: Chain, path: str) -> float:
    """What a setting is sought in: its own size, or the size of what stands beside it."""
    there = c.settings()
    spans = {low: abs(float(there[high]) - float(there[low])) for low, high in _SPANS if low in there}
    spans["sensor.high"] = spans["sensor.low"]
    spans |= {"sensor.zero": c.top_m, "shown.zero": c.top_m}
    for entry in ("register", "read"):
        if f"{entry}.multiplier" in there:
            spans[f"{entry}.offset"] = abs(float(there[f"{entry}.multiplier"])) * 100
    return spans.get(path, abs(float(there[path]))) or 1.0


class _Effects:
    """What each chain does at every level and station, and how far apart two of them are."""

    def __init__(self, c: Chain) -> None:
        self.c, self.levels = c, np.array(_LEVELS) * c.top_m
        self.of: dict[int, Array] = {}
        right = self._run(c)
        self.sigma = np.stack(
            [
                np.hypot(instrument(c, station, values), 2e-4 * np.ptp(values))
                for station, values in zip(c.stations, right, strict=True)
            ]
        )

    def _run(self, wrong: Chain) -> Array:
        with np.errstate(all="ignore"):
            values = wrong.run(self.levels, exact=False)
        return np.stack([values[station] for station in self.c.stations])

    def add(self, wrong: Chain) -> None:
        self.of[id(wrong)] = self._run(wrong)

    def apart(self, first: Chain, second: Chain) -> tuple[float, tuple[int, int]]:
        """The largest difference of two chains in standard deviations, and where: station and level."""
        one, two = self.of[id(first)], self.of[id(second)]
        with np.errstate(all="ignore"):
            gap = np.abs(one - two) / self.sigma
        gap = np.where(np.isfinite(gap), gap, np.where(one == two, 0.0, FAR))
        worst = np.unravel_index(int(np.argmax(gap)), gap.shape)
        return float(gap[worst]), (int(worst[0]), int(worst[1]))


def find_parting(c: Chain, rows: Sequence[Row], former: Sequence[Chain] = ()) -> Parting:
    """Find where truth and reading part.

    Parameters
    ----------
    c : Chain
        The chain as it should be set.
    rows : sequence of mapping
        Readings taken together at one level each: values by their stations, ``level`` being the dipped truth.
        A reading of the register is its value in the register's own type and order.
    former : sequence of Chain
        The chain as it was set before, newest first.

    Returns
    -------
    Parting
        Nothing is accused where fewer than two stations of a row were read.

    Notes
    -----
    Every two neighbouring readings of a row are compared: what the first becomes over the hops between them, against
    the second, by their instruments' and the hops' own uncertainty together. The first pair that parts beyond chance
    (3 to 4 standard deviations) is accused; a wrong setting that moves less than that cannot be found by any reading.
    Every hypothesis of the accused hops is then tried, values without a name fitted by least squares, and what
    explains all readings is ranked by χ² and by what its kind costs. All rows of one pair of stations are one array.
    """
    rows = [{station: value for station, value in row.items() if station in c.stations} for row in rows]
    pairs = pairs_of(c, rows)
    stretches = judge_stretches(c, pairs)
    hops, judged = accuse(c, stretches)
    if not hops:
        return Parting(tuple(stretches), judged, (), (), None)
    inside = [pair for pair in pairs if set(hops_between(c, pair.start, pair.end)) & set(hops)]
    explanations, effects = _explain(c, hops, inside, former)
    return Parting(tuple(stretches), judged, hops, tuple(explanations), _tell(explanations, effects))


def _tell(explanations: Sequence[Explanation], effects: _Effects) -> Telling | None:
    """Find the reading that tells the first explanation from the next that does about as well."""
    for other, explanation in enumerate(explanations[1:], start=1):
        first, second = explanations[0].chains[0], explanation.chains[0]
        gap, (station, level) = effects.apart(first, second)
        if explanation.score - explanations[0].score < SOUGHT + 2 and gap > _TOLD:
            one, two = effects.of[id(first)], effects.of[id(second)]
            place = (effects.c.stations[station], float(effects.levels[level]))
            return Telling(other, *place, float(one[station, level]), float(two[station, level]))
    return None


def _explain(
    c: Chain, hops: Sequence[str], inside: Sequence[Pair], former: Sequence[Chain]
) -> tuple[list[Explanation], _Effects]:
    count = sum(len(pair.rows) for pair in inside)
    limit = beyond_chance(count)
    known = [(pair, Known(c, pair)) for pair in inside]
    tried = (_fit(c, guess, known, limit) for guess in hypotheses(c, hops, former, inside))
    fits = sorted((fit for fit in tried if fit is not None), key=lambda fit: fit.score)
    effects = _Effects(c)
    groups: list[list[_Fit]] = []
    for fit in fits:
        effects.add(fit.chain)
        apart = _SOUGHT_APART if fit.hypothesis.sought else _APART
        for group in groups:
            if _same_sought(group[0].hypothesis, fit.hypothesis):
                break
            if effects.apart(group[0].chain, fit.chain)[0] <= apart:
                group.append(fit)
                break
        else:
            groups.append([fit])
    explanations = [
        Explanation(
            tuple(fit.hypothesis for fit in group),
            tuple(fit.chain for fit in group),
            math.sqrt(group[0].squares / max(count, 1)),
            group[0].score,
        )
        for group in groups[:MOST_ANSWERS]
    ]
    return explanations, effects


def _same_sought(first: Hypothesis, other: Hypothesis) -> bool:
    """Whether a sought setting is the one that a named explanation has already, at nearly its value."""
    if not other.sought:
        return False
    path, value = next(iter(other.settings.items()))
    near = first.settings.get(path)
    if near is None or isinstance(near, str) or isinstance(value, str):
        return False
    return abs(near - value) <= 0.02 * max(abs(near), abs(value))
