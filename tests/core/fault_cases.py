"""Ten different installations, and cases of trouble at random on them, worked through as the advice says."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import nullcontext
from dataclasses import dataclass, replace
from functools import cache
from unittest.mock import patch

import numpy as np

from rasante.core.faults.advice import SENSOR_SURE, SURE, Advice, Standing, advise, rivals_left
from rasante.core.faults.belief import Belief, Finding
from rasante.core.faults.fault import Fault, FaultKind, fault_kinds, faults_of_kind, priors
from rasante.core.faults.fault_test import FaultTest, fault_tests, tests_of
from rasante.core.faults.installation import Installation
from rasante.core.faults.predict import Common, Reader, Wrong, read, scale
from rasante.core.faults.table import Table, table_of
from rasante.core.scaling.chain import Clip, Gain, Offset
from rasante.core.scaling.edits import Edit, Set
from rasante.core.wiring.circuit_kinds import read_wiring

from .chain_cases import chain

WATER = {"sensor__quantity": "pressure", "liquid__density": "1000 kg/m3"}
FUEL = {"sensor__quantity": "pressure", "liquid__density": "840 kg/m3"}


#: Two of them by name.
BARRIER = "two-wire with barrier, to a screen by registers"
FARM = "new pressure sensor on a farm"


def _installation(technology: str, chain_of: dict[str, str], wiring: dict[str, str] | None, **more) -> Installation:
    circuit = read_wiring(wiring, "metric").circuit if wiring is not None else None
    return Installation(chain(more.pop("tank", "upright"), **chain_of), circuit, technology, **more)


@cache
def installations() -> dict[str, Installation]:
    """Ten installations, by what they are: invented, of the kinds that the trade has."""
    boxed = {"cable[0].length": "40 m", "cable[1].length": "15 m"}
    return {
        BARRIER: _installation(
            "hydrostatic", {**FUEL, "sensor__high": "0.4 bar", "shown__as": "volume", "shown__unit": "l"},
            {"kind": "two_wire", "barrier": "yes", "input.ohm": "100 Ω", **boxed}, hazardous=True, floats=True,
        ),
        "two-wire radar, to a card that shows it": _installation(
            "radar", {"sensor__quantity": "distance", "chain__reader": "card"},
            {"kind": "two_wire", "cable[0].length": "60 m"},
        ),
        "three-wire volts": _installation(
            "capacitance", {"sensor__quantity": "level", "signal__kind": "v10"},
            {"kind": "three_wire", "cable[0].length": "8 m"}, floats=True, tank="lying",
        ),
        "three-wire 1–5 V with a box": _installation(
            "hydrostatic", {**FUEL, "signal__kind": "v15"}, {"kind": "three_wire", "output": "1-5", **boxed}
        ),
        "four-wire active": _installation(
            "ultrasonic", {"sensor__quantity": "distance"}, {"kind": "four_wire", **boxed}
        ),
        "two-wire into a panel meter": _installation(
            "hydrostatic", {**FUEL, "chain__reader": "meter"}, {"kind": "two_wire", "cable[0].length": "25 m"},
            floats=True, tank="lying",
        ),
        "input that powers the loop": _installation(
            "hydrostatic", WATER,
            {"kind": "two_wire", "input.mode": "active", "cable[0].length": "120 m"}, age_years=12.0,
        ),
        "digital on a bus": _installation(
            "guided", {"sensor__quantity": "level", "signal__kind": "digital"}, {"kind": "digital", **boxed}
        ),
        "sonar by radio": _installation(
            "sonar", {"sensor__quantity": "level", "signal__kind": "digital", "shown__as": "volume_pct",
                      "shown__unit": "pct"}, None, pressurised=True, radio=True, tank="lying",
        ),
        FARM: _installation(
            "hydrostatic", {**FUEL, "sensor__high": "5 psi", "shown__as": "volume", "shown__unit": "usgal"},
            {"kind": "two_wire", "fuse": "no", **boxed}, age_years=0.2, floats=True, tank="lying",
        ),
    }  # fmt: skip


def one(key: str, at: Installation, value: float | None = None) -> Wrong:
    """An installation with one fault."""
    return Wrong(at, faults_of_kind(at, fault_kinds()[key], None if value is None else (value,))[0])


def reads(key: str, test: str, at: Installation, level: float, value: float | None = None) -> float:
    """What a test reads of an installation with one fault, at a level by share of the height."""
    common = Common(at, np.array([level * at.sound.top_m]))
    return float(read(Reader(one(key, at, value), common), fault_tests()[test]).mean[0])


@dataclass(frozen=True)
class Case:
    """What is truly wrong somewhere, and how full the tank is."""

    at: Installation
    wrong: Wrong
    level_m: float
    seed: int
    parts: frozenset[str]


def _value(kind: FaultKind, rng: np.random.Generator) -> float:
    """A value of a fault: anywhere between those that are known of a smooth one."""
    values = kind.values
    if not kind.smooth:
        return float(rng.choice(values))
    at = rng.integers(0, len(values))
    step = min(abs(values[at] - other) for other in values if other != values[at]) / 2
    return float(values[at] + rng.uniform(-step, step))


def draw_fault(at: Installation, rng: np.random.Generator) -> Fault:
    """A fault as likely as the trade meets it."""
    likely = priors(at)
    while True:
        kind = fault_kinds()[str(rng.choice(list(likely), p=list(likely.values())))]
        found = faults_of_kind(at, kind, (_value(kind, rng),))
        if found:
            return found[int(rng.integers(0, len(found)))]


def draw_case(at: Installation, seed: int) -> Case:
    """A case with one fault."""
    rng = np.random.default_rng(seed)
    fault = draw_fault(at, rng)
    level = float(rng.uniform(0.08, 0.92)) * at.sound.top_m
    return Case(at, Wrong(at, fault), level, seed, frozenset((fault.kind.part,)))


class Bench:
    """The wrong installation under somebody's hands: each test is done with noise, two in a hundred are wrong."""

    def __init__(self, case: Case, mistakes: float = 0.02) -> None:
        self.case, self.mistakes = case, mistakes
        self.reader = Reader(case.wrong, Common(case.at, np.array([case.level_m])))
        self.rng = np.random.default_rng(case.seed + 1)

    def do(self, test: FaultTest) -> Finding:
        found = read(self.reader, test)
        slip = self.rng.random() < self.mistakes
        if test.outcomes:
            shares = np.full(len(test.outcomes), 1 / len(test.outcomes)) if slip else np.array(found.shares)
            return Finding(test.key, outcome=str(self.rng.choice(test.outcomes, p=shares / shares.sum())))
        put_in = test.reads.get("put_in")
        mean, sd = float(found.mean[0]), float(found.sd[0])
        if not np.isfinite(mean):
            return Finding(test.key, None, put_in=put_in)
        value = mean + sd * float(self.rng.normal())
        if slip:
            value = mean + scale(test, self.case.at) * float(self.rng.uniform(-0.5, 0.5))
        return Finding(test.key, 10**value if "ohms" in test.reads else value, put_in=put_in)


@dataclass(frozen=True)
class Course:
    """How a case went: what was said at its end, and the minutes that it took."""

    advice: Advice
    minutes: float
    findings: tuple[Finding, ...]

    @property
    def share(self) -> float:
        return self.advice.belief.by_part[self.advice.part]


Pick = Callable[[Advice, Standing, list[Finding]], FaultTest | None]


def advised(advice: Advice, standing: Standing, findings: list[Finding]) -> FaultTest | None:
    return advice.choices[0].test if advice.choices else None


def likely_enough(advice: Advice) -> bool:
    """Where whoever follows a fixed order ends: a part is likely enough, a sensor once it is told from its rivals."""
    if advice.part == "sensor" and rivals_left(advice.belief):
        return False
    return advice.belief.by_part[advice.part] >= (SENSOR_SURE if advice.part == "sensor" else SURE)


def work_through(case: Case, pick: Pick = advised, most: int = 24) -> Course:
    """Begin with what the screen shows and does, then test as picked until it is found or given up."""
    table: Table = table_of(case.at)
    bench, standing, minutes = Bench(case), Standing(), 0.0
    findings: list[Finding] = []
    belief = Belief.prior(table)
    for test in _symptom(case.at):
        minutes += standing.minutes(test)
        findings.append(bench.do(test))
        belief = belief.updated(findings[-1])
    while True:
        # Which test comes first is nothing to whoever follows a fixed order: it is not looked ahead for that.
        with nullcontext() if pick is advised else patch("rasante.core.faults.advice._AHEAD", 0):
            advice = advise(belief, standing)
        # Whoever follows a fixed order ends as soon as it is likely enough: no more is asked of him than that.
        ends = advice.verdict == "found" if pick is advised else likely_enough(advice)
        if ends or advice.verdict == "nothing-fits" or len(findings) >= most:
            break
        test = pick(advice, standing, findings)
        if test is None or (pick is advised and advice.verdict == "cannot-tell"):
            break
        minutes += standing.minutes(test)
        standing = standing.at(test)
        findings.append(bench.do(test))
        belief = belief.updated(findings[-1])
    return Course(advice, minutes, tuple(findings))


def _nowhere_known(at: Installation, rng: np.random.Generator) -> tuple[Edit, ...]:
    """Edits that no kind of fault has: the input turned about, a ceiling, two things off at once by their own."""
    found: list[tuple[Edit, ...]] = [
        (Offset("shown", float(rng.choice([-0.4, 0.35, 0.6])) * at.spans["shown"]),),
        (Gain("number", 0.55), Offset("number", 0.3 * at.spans["number"])),
        (Gain("shown", -1.0), Offset("shown", 1.1 * at.spans["shown"])),
    ]
    card = at.sound.card
    if card is not None:
        middle = card.low + float(rng.uniform(0.05, 0.3)) * (card.high - card.low)
        found += [
            (Set("counts.low", card.high), Set("counts.high", card.low)),
            (Clip("counts", 0.0, middle), Offset("number", 0.25 * at.spans["number"])),
        ]
    return found[int(rng.integers(0, len(found)))]


def unknown_faults(count: int, begin: int = 0) -> Iterator[Case]:
    """Cases with something wrong that is in no list."""
    for case in cases(count, begin):
        rng = np.random.default_rng(case.seed + 7)
        nothing = faults_of_kind(case.at, fault_kinds()["nothing"])[0]
        wrong = Wrong(case.at, replace(nothing, edits=_nowhere_known(case.at, rng)))
        yield replace(case, wrong=wrong, parts=frozenset())


def strange_at(case: Case) -> frozenset[str]:
    """The stations at which something unknown of a case sits."""
    return frozenset("counts" if isinstance(edit, Set) else edit.station for edit in case.wrong.fault.edits)


def _symptom(at: Installation) -> list[FaultTest]:
    there = {test.key: test for test in tests_of(at)}
    return [there["shown"], there["look"]]


#: The order of the trade's textbooks: listen, power and fuse, the sensor by itself, splices, inject, counts and
#: settings, map and link, another channel. Common practice, no published source.
TEXTBOOK = (
    "age", "supply", "fuse-ohms", "after-fuse", "pair-volts", "arriving", "alone", "dip",
    "dip-again", "float", "breather",
    "quality", "mount", "sensor-volts", "alone-box", "alone-sensor", "label", "box-volts", "pair-ohms",
    "box-insulation",
    "half-loop-ohms", "insulation", "loop-ohms", "inject-same", "inject-0", "inject-25", "inject-50", "inject-75",
    "inject-100", "inject-still", "counts", "input-setting", "number", "scaling", "register", "map", "inject-far",
    "far", "screen", "table", "product", "battery", "channel", "simulate",
)  # fmt: skip


def textbook(advice: Advice, standing: Standing, findings: list[Finding]) -> FaultTest | None:
    done = {finding.test for finding in findings}
    there = {choice.test.key: choice.test for choice in advice.choices}
    return next((there[key] for key in TEXTBOOK if key in there and key not in done), None)


def cases(count: int, begin: int = 0) -> Iterator[Case]:
    """Cases on all installations in turn."""
    every = list(installations().values())
    for seed in range(begin, begin + count):
        yield draw_case(every[seed % len(every)], seed)
