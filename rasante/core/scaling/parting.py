"""Where truth and reading part: the first hop that does not do as it is set, and what setting would explain it."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
from scipy.optimize import least_squares

from ..errors import InputError
from ..tanks.sections import Array
from .agreement import FAR, Row, Stretch, accuse, beyond_chance, hops_between, instrument, judge_stretches, off_by
from .chain import HOPS, Chain
from .chain_settings import check
from .hops import run
from .suspects import Suspect, suspects

#: What a sought value costs against a named one, as half a χ²: it explains two readings with one of its own.
_SOUGHT_COSTS = 4.0
#: Explanations whose values differ by less than this many standard deviations at every level are one.
_APART = 1.0
#: A sought value is known no better than its readings are: it has more room.
_SOUGHT_APART = 4.0
#: A reading tells two explanations apart where they are this many standard deviations apart.
_TOLD = 5.0
#: How many times larger or smaller a sought value may make a span.
_SPAN_TIMES = 20.0
MOST_ROWS, MOST_ANSWERS = 10, 8


@dataclass(frozen=True)
class Explanation:
    """Settings that would explain the readings; several where no reading can tell them apart.

    Parameters
    ----------
    suspects : tuple of Suspect
        The settings, the simplest first.
    chains : tuple of Chain
        The chain with each of them.
    off : float
        Root mean square of what it leaves, in standard deviations.
    score : float
        Its rank: half of what is left, and what its kind costs; the least is best.
    """

    suspects: tuple[Suspect, ...]
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


def _fit(
    c: Chain, suspect: Suspect, stretches: Sequence[tuple[str, str, float, float]], limit: float
) -> tuple[Chain, float, float] | None:
    """The chain with a suspect's mistake, χ² of what it leaves and the worst of it.

    A sought value is found first; a named one is given up at the first reading that is off by more than `limit`.
    """

    def left(wrong: Chain) -> list[float]:
        return [off_by(c, wrong, *stretch) for stretch in stretches]

    try:
        if not suspect.sought:
            wrong = suspect.on(c)
            check(wrong)
            offs = []
            for stretch in stretches:
                offs.append(off_by(c, wrong, *stretch))
                if abs(offs[-1]) > limit:
                    return None
            return _left(wrong, offs)
        begin = next(iter(suspect.settings.values()))
        size = _size(c, next(iter(suspect.settings)))

        def at(x: Array) -> Array:
            return np.array(left(suspect.on(c, begin + float(x[0]) * size)))

        found = least_squares(at, np.zeros(1), method="lm", diff_step=np.array([1e-4]), ftol=1e-6, xtol=1e-6)
        wrong = suspect.on(c, begin + float(found.x[0]) * size)
        check(wrong)
        return _left(wrong, left(wrong)) if _has_spans(c, wrong) else None
    except (InputError, ZeroDivisionError, ValueError, OverflowError):
        return None


def _has_spans(c: Chain, wrong: Chain) -> bool:
    """Whether a sought value leaves every span its size, more or less: others would turn noise into anything."""
    for name in ("sensor", "counts_at", "counts", "scaled_raw", "scaled"):
        old, new = (abs(getattr(x, f"{name}_high") - getattr(x, f"{name}_low")) for x in (c, wrong))
        if not old / _SPAN_TIMES < new < old * _SPAN_TIMES:
            return False
    return True


def _left(wrong: Chain, offs: Sequence[float]) -> tuple[Chain, float, float]:
    return wrong, sum(off * off for off in offs), max((abs(off) for off in offs), default=0.0)


def _size(c: Chain, name: str) -> float:
    """What a setting is sought in: its own size, or the size of what stands beside it."""
    beside = {
        "sensor_low": c.sensor_high - c.sensor_low, "sensor_high": c.sensor_high - c.sensor_low,
        "counts_low": c.counts_high - c.counts_low, "counts_at_low": c.counts_at_high - c.counts_at_low,
        "scaled_low": c.scaled_high - c.scaled_low, "scaled_raw_low": c.scaled_raw_high - c.scaled_raw_low,
        "sensor_zero": c.tank.inside_height, "shown_zero": c.tank.inside_height,
        "register_offset": abs(c.register_multiplier) * 100, "read_offset": abs(c.read_multiplier) * 100,
    }.get(name, getattr(c, name))  # fmt: skip
    return abs(float(beside)) or 1.0


def _levels(c: Chain) -> list[float]:
    return [c.tank.inside_height * share for share in (0.03, 0.15, 0.3, 0.5, 0.7, 0.85, 0.97)]


def _effect(c: Chain, wrong: Chain) -> dict[tuple[str, float], float]:
    found: dict[tuple[str, float], float] = {}
    for level in _levels(c):
        found |= {(station, level): value for station, value in run(wrong, level, exact=False).items()}
    return found


class _Effects:
    """What each chain does at every level and station, and how far apart two of them are."""

    def __init__(self, c: Chain) -> None:
        self.c = c
        self.of: dict[int, dict[tuple[str, float], float]] = {}
        right = _effect(c, c)
        self.sigma = {
            place: math.hypot(instrument(c, place[0], value), 2e-4 * self._span(right, place[0]))
            for place, value in right.items()
        }

    @staticmethod
    def _span(right: Mapping[tuple[str, float], float], station: str) -> float:
        values = [value for (name, _), value in right.items() if name == station]
        return max(values) - min(values)

    def add(self, wrong: Chain) -> None:
        try:
            self.of[id(wrong)] = _effect(self.c, wrong)
        except (InputError, OverflowError, ZeroDivisionError):
            self.of[id(wrong)] = {}

    def apart(self, first: Chain, second: Chain) -> tuple[float, tuple[str, float] | None]:
        """The largest difference of two chains in standard deviations, and its place."""
        one, two = self.of[id(first)], self.of[id(second)]
        if not one or not two:
            return FAR, None
        worst, where = 0.0, None
        for place, sigma in self.sigma.items():
            gap = abs(one[place] - two[place]) / sigma
            if not math.isfinite(gap):
                gap = 0.0 if one[place] == two[place] else FAR
            if gap > worst:
                worst, where = gap, place
        return worst, where


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
    Every setting of the accused hops is then tried, values without a name fitted by least squares, and what explains
    all readings is ranked by χ² and by what its kind costs.
    """
    rows = [{station: value for station, value in row.items() if station in c.stations} for row in rows]
    stretches = judge_stretches(c, rows)
    hops, judged = accuse(c, stretches)
    if not hops:
        return Parting(tuple(stretches), judged, (), (), None)
    inside = [
        (s.start, s.end, rows[s.row][s.start], rows[s.row][s.end])
        for s in stretches
        if set(hops_between(c, s.start, s.end)) & set(hops)
    ]
    explanations, effects = _explain(c, hops, inside, former)
    return Parting(tuple(stretches), judged, hops, tuple(explanations), _tell(explanations, effects))


def _tell(explanations: Sequence[Explanation], effects: _Effects) -> Telling | None:
    """Find the reading that tells the first explanation from the next that does about as well."""
    for other, explanation in enumerate(explanations[1:], start=1):
        first, second = explanations[0].chains[0], explanation.chains[0]
        gap, place = effects.apart(first, second)
        if explanation.score - explanations[0].score < _SOUGHT_COSTS + 2 and place is not None and gap > _TOLD:
            values = (effects.of[id(first)][place], effects.of[id(second)][place])
            return Telling(other, place[0], place[1], *values)
    return None


def _explain(
    c: Chain, hops: Sequence[str], inside: Sequence[tuple[str, str, float, float]], former: Sequence[Chain]
) -> tuple[list[Explanation], _Effects]:
    limit = beyond_chance(len(inside))
    fits: list[tuple[float, float, Suspect, Chain]] = []
    for suspect in suspects(c, hops, former):
        fitted = _fit(c, suspect, inside, limit)
        if fitted is not None and fitted[2] <= limit:
            costs = _SOUGHT_COSTS if suspect.sought else 0.0 if suspect.why.startswith("the old") else 1.0
            name = next(iter(suspect.settings))
            settings = {name: getattr(fitted[0], name)} if suspect.sought else suspect.settings
            fits.append((fitted[1] / 2 + costs, fitted[1], replace(suspect, settings=settings), fitted[0]))
    fits.sort(key=lambda fit: fit[0])
    effects = _Effects(c)
    groups: list[list[tuple[float, float, Suspect, Chain]]] = []
    for fit in fits:
        effects.add(fit[3])
        apart = _SOUGHT_APART if fit[2].sought else _APART
        for group in groups:
            if _same_sought(group, fit):
                break
            if effects.apart(group[0][3], fit[3])[0] <= apart:
                group.append(fit)
                break
        else:
            groups.append([fit])
    count = max(len(inside), 1)
    explanations = [
        Explanation(
            tuple(fit[2] for fit in group),
            tuple(fit[3] for fit in group),
            math.sqrt(group[0][1] / count),
            group[0][0],
        )
        for group in groups[:MOST_ANSWERS]
    ]
    return explanations, effects


def _same_sought(
    group: Sequence[tuple[float, float, Suspect, Chain]], fit: tuple[float, float, Suspect, Chain]
) -> bool:
    """Whether a sought setting is the one that a named explanation has already, at nearly its value."""
    suspect = fit[2]
    if not suspect.sought:
        return False
    name, value = next(iter(suspect.settings.items()))
    near = group[0][2].settings.get(name)
    return isinstance(near, float | int) and abs(near - value) <= 0.02 * max(abs(near), abs(value))


def hop_names(hops: Sequence[str]) -> str:
    """Name hops in a sentence."""
    names = [HOPS[hop].lower() for hop in hops]
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} or {names[-1]}"
