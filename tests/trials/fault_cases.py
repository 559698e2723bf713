"""People with the advice at a loop that is none of the product's making, and how each case goes."""

from __future__ import annotations

import random
import time
from collections.abc import Callable
from dataclasses import dataclass

from rasante.core.faults.advice import (
    SENSOR_SURE,
    SURE,
    Advice,
    Standing,
    advise,
    candidates,
    rivals_left,
    value_given,
)
from rasante.core.faults.belief import Belief, Finding
from rasante.core.faults.fault_test import FaultTest
from rasante.core.faults.table import Table, table_of
from rasante.core.faults.unlisted import UNKNOWN
from tests.core.fault_cases import TEXTBOOK, installations

from .loop_causes import draw
from .loop_rig import SITES, Rig

#: So many tests make anybody give up.
MOST_TESTS = 26


@dataclass(frozen=True)
class Course:
    """How a case went: what was wrong, what was said at its end, the minutes, and how long each advice took [s]."""

    wrong: tuple[str, ...]
    right: frozenset[str]
    part: str
    share: float
    verdict: str
    minutes: float
    slowest_s: float
    tests: tuple[str, ...]

    @property
    def named(self) -> bool:
        return self.part in self.right

    @property
    def condemns_a_good_sensor(self) -> bool:
        return self.verdict == "found" and self.part == "sensor" not in self.right


Pick = Callable[[Advice, Belief, Standing], FaultTest | None]


def as_advised(advice: Advice, belief: Belief, standing: Standing) -> FaultTest | None:
    return advice.choices[0].test if advice.choices else None


def likely_enough(belief: Belief) -> tuple[str, bool]:
    """The likeliest part, and whether whoever keeps a fixed order ends with it: as sure as the advice has to be."""
    known = {part: share for part, share in belief.by_part.items() if part != UNKNOWN}
    part = max(known, key=lambda one: known[one])
    if part == "sensor":
        return part, known[part] >= SENSOR_SURE and not rivals_left(belief)
    return part, known[part] >= SURE


def work(name: str, seed: int, faults: int, order: tuple[str, ...] | None, mixed: bool = False) -> Course:
    """Work through one case.

    Parameters
    ----------
    name : str
        Of `SITES`.
    seed : int
    faults : int
        How many things are wrong at once.
    order : tuple of str or None
        A fixed order of tests by their keys; None to do as advised.
    mixed : bool
        Whether somebody does every other test by an order of his own.
    """
    rng = random.Random(seed)
    state, wrong, right = draw(SITES[name], rng, faults)
    rig, own = Rig(state, rng), random.Random(seed + 1)
    table: Table = table_of(installations()[name])
    belief, standing, minutes, slowest = Belief.prior(table), Standing(), 0.0, 0.0
    tests: list[str] = []

    def do(test: FaultTest) -> None:
        nonlocal belief, standing, minutes
        put_in = test.reads.get("put_in")
        if test.injects and put_in is None:
            signal = table.at.sound.signal
            assert signal is not None
            nominal = signal.low + test.reads.get("inject", test.reads.get("simulate")) * signal.span
            # What the calibrator is turned to, as it stands on its display.
            put_in = round(nominal + own.gauss(0.0, 1e-5), 5)
            test = test.with_input(put_in)
        value, outcome = rig.do(test.key, dict(test.reads), test.outcomes)
        minutes += standing.minutes(test)
        standing = standing.at(test)
        tests.append(test.key)
        belief = belief.updated(Finding(test.key, value, outcome, put_in))

    do(table.column("shown").test)
    do(table.column("look").test)
    while True:
        if order is not None:
            part, ends = likely_enough(belief)
            verdict = "found" if ends else "nothing-fits" if belief.by_part[UNKNOWN] > 0.9 else "go-on"
            test = _next(order, belief, tests)
            if ends or test is None or verdict == "nothing-fits" or len(tests) >= 60:
                return Course(tuple(wrong), right, part, belief.by_part[part], verdict, minutes, 0.0, tuple(tests))
        else:
            start = time.perf_counter()
            advice = advise(belief, standing)
            slowest = max(slowest, time.perf_counter() - start)
            test = as_advised(advice, belief, standing)
            if advice.verdict != "go-on" or test is None or len(tests) >= MOST_TESTS:
                share = belief.by_part[advice.part]
                return Course(tuple(wrong), right, advice.part, share, advice.verdict, minutes, slowest, tuple(tests))
            if mixed and len(tests) % 2:
                liked = [one.test for one in advice.choices if one.bits > 0.05]
                test = own.choice(liked) if liked else test
        do(test)


def _next(order: tuple[str, ...], belief: Belief, done: list[str]) -> FaultTest | None:
    there = {test.key: test for test in belief.table.tests}
    given = value_given(belief)
    for key in order:
        if key in done:
            continue
        if key == "inject-same" and given is not None:
            return next((one.test for one in candidates(belief) if one.test.key == key), None)
        if key in there:
            return there[key]
    return None


def textbook(name: str, seed: int, faults: int = 1) -> Course:
    """The same case in the order of the trade's textbooks."""
    return work(name, seed, faults, TEXTBOOK)
