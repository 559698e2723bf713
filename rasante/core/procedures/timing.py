"""In which order, and until when: one pair of hands, waits that run on by themselves, and what is over already."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from statistics import median

from .compose import Procedure
from .step import Step


@dataclass(frozen=True)
class Planned:
    """When a step begins and ends, from now [min]."""

    key: str
    begin: float
    end: float


@dataclass(frozen=True)
class Schedule:
    """An order of the steps that are left.

    Parameters
    ----------
    steps : tuple of Planned
        In the order in which they begin.
    minutes : float
        Until the last one is over [min].
    in_a_row : float
        What it would take with one after another [min].
    critical : float
        The longest chain of conditions: no order is shorter [min].
    """

    steps: tuple[Planned, ...]
    minutes: float
    in_a_row: float
    critical: float


def tails(
    steps: Sequence[Step], before: Mapping[str, frozenset[str]], minutes: Mapping[str, float]
) -> dict[str, float]:
    """Return the longest chain that begins with each step, itself counted [min].

    Parameters
    ----------
    steps : sequence of Step
        In an order that breaks no condition.
    before : mapping
        What must be over before each.
    minutes : mapping
        How long each takes [min].
    """
    found = {step.key: minutes[step.key] for step in steps}
    for step in reversed(steps):
        for first in before[step.key]:
            if first in found:
                found[first] = max(found[first], minutes[first] + found[step.key])
    return found


def schedule(
    steps: Sequence[Step],
    before: Mapping[str, frozenset[str]],
    minutes: Mapping[str, float],
    running: Mapping[str, float] | None = None,
) -> Schedule:
    """Order the steps that are left so that waits are filled.

    Parameters
    ----------
    steps : sequence of Step
        Those that are left, in an order that breaks no condition.
    before : mapping
        What must be over before each; what is not among `steps` is over.
    minutes : mapping
        How long each takes [min].
    running : mapping of str to float, optional
        Waits that have begun, and how long each has yet to go [min].

    Returns
    -------
    Schedule
        One pair of hands does one step at a time; a wait begins as soon as it may and needs no hands. Whoever has a
        choice begins the longest chain first. It never idles while something may be done, so that it never takes
        longer than one after another.
    """
    running = dict(running or {})
    minutes = {**minutes, **running}
    weights = tails(steps, before, minutes)
    order = {step.key: i for i, step in enumerate(steps)}
    left = {step.key: step for step in steps}
    ends: dict[str, float] = {}
    found: list[Planned] = []
    now = hands = 0.0

    def begin(key: str, at: float) -> None:
        ends[key] = at + minutes[key]
        found.append(Planned(key, at, ends[key]))
        del left[key]

    for key in running:
        if key in left:
            begin(key, 0.0)
    while left:
        over = {key for key, end in ends.items() if end <= now + 1e-12}
        waiting = set(left) | (set(ends) - over)
        ready = [step for key, step in left.items() if not before[key] & waiting]
        for step in ready:
            if step.waits:
                begin(step.key, now)
        work = [step for step in ready if not step.waits]
        if work and hands <= now + 1e-12:
            best = max(work, key=lambda step: (weights[step.key], -order[step.key]))
            begin(best.key, now)
            hands = ends[best.key]
        elif left:
            later = [end for end in ends.values() if end > now + 1e-12]
            if not later:
                continue
            now = min(later)
    total = max(ends.values(), default=0.0)
    return Schedule(
        tuple(sorted(found, key=lambda one: (one.begin, order[one.key]))),
        total,
        sum(minutes[step.key] for step in steps),
        max(weights.values(), default=0.0),
    )


def three_finishes(
    procedure: Procedure,
    over: Iterable[str],
    running: Mapping[str, float],
    learned: Mapping[str, tuple[float, float, float]],
) -> tuple[Schedule, Schedule, Schedule]:
    """Plan what is left at its least, likely and most minutes.

    Parameters
    ----------
    procedure : Procedure
        The visit's steps.
    over : iterable of str
        Steps that are done, skipped or overridden.
    running : mapping of str to float
        Waits that run, and how long each has run [min].
    learned : mapping
        Least, likely and most of steps that have been done before (`learn`) [min].
    """
    done = set(over)
    left = [step for step in procedure.steps if step.key not in done]
    found = []
    for which in range(3):
        minutes = {step.key: learned.get(step.key, step.minutes)[which] for step in left}
        to_go = {key: max(minutes[key] - ran, 0.0) for key, ran in running.items() if key in minutes}
        found.append(schedule(left, procedure.before, minutes, to_go))
    return found[0], found[1], found[2]


#: How many visits the minutes in the data count for, beside what was taken since: a judgement, no published source.
PRIOR_VISITS = 3


def learn(minutes: tuple[float, float, float], taken: Sequence[float]) -> tuple[float, float, float]:
    """Return a step's minutes after what it took before.

    Parameters
    ----------
    minutes : (float, float, float)
        Least, likely, most, as in the data [min].
    taken : sequence of float
        What it took [min]; nothing else than time between its beginning and its end.

    Notes
    -----
    The likely moves from the data's to the median of what was taken, by their numbers; least and most widen to what
    was seen between, its most outlying tenth left out.
    """
    if not taken:
        return minutes
    seen, low, high = sorted(taken), minutes[0], minutes[2]
    cut = len(seen) // 10
    kept = seen[cut : len(seen) - cut]
    share = len(seen) / (len(seen) + PRIOR_VISITS)
    likely = (1 - share) * minutes[1] + share * median(seen)
    return min(low, kept[0], likely), likely, max(high, kept[-1], likely)
