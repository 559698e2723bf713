"""What to do next, and when to stop: the greatest expected information by the minute, given where one stands."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..quantities.arrays import Array
from .belief import Belief, Finding, quantiles, tell
from .fault import Fault, parts
from .fault_test import FaultTest, gates, places, rigs
from .installation import Installation
from .unlisted import UNKNOWN

#: From here on it is one part; and from here on where no test is left that tells anything.
SURE, ENOUGH = 0.96, 0.95
#: A good sensor pulled out costs more than a test: of a sensor this much is asked.
SENSOR_SURE = 0.98
#: And no more than this is left for what is in no list.
LEFT = 0.02
#: From here on nothing that is known fits; and from here on without taking again what fits nothing.
NOTHING_FITS, NOTHING_KNOWN = 0.75, 0.95
#: At one station is what is in no list, from this share of it.
ASTRAY = 0.8
#: A test that would tell less than this is not worth its way [bit].
WORTH = 0.02
#: A reading that holds a sensor against the input's own: without one no sensor is condemned.
TELLS_SENSOR = (
    "alone", "alone-still", "alone-box", "alone-sensor", "arriving", "number", "number-alone",
    "inject-50", "inject-same", "simulate",
)  # fmt: skip
#: How many of the best are looked at two steps ahead, into how many outcomes the first of the two is parted, and how
#: many tests are tried as the second: those that tell most by the minute as it is.
_AHEAD, _PARTED, _SECOND = 4, 6, 8
#: Only a way longer than this is worth looking further than one step [min].
_LONG = 3.0


@dataclass(frozen=True)
class Standing:
    """Where the technician stands, and with what.

    Parameters
    ----------
    place, rig : str
        Keys of `places` and `rigs`.
    kit : frozenset of str or None
        What is at hand; None where nothing is known to be missing.
    barred : frozenset of str
        Gates that cannot be met now: no way up, a hazardous area without a permit.
    """

    place: str = "desk"
    rig: str = ""
    kit: frozenset[str] | None = None
    barred: frozenset[str] = frozenset()

    def minutes(self, test: FaultTest) -> float:
        """What a test takes from here, with the way and the setting up [min]."""
        found = test.minutes
        if test.place != self.place:
            found += places()[test.place].minutes
        if test.rig != self.rig or (test.rig and test.place != self.place):
            found += rigs()[test.rig].minutes
        return found

    def at(self, test: FaultTest) -> Standing:
        """Where one stands after a test. A telephone or a glance at a screen moves nobody."""
        if test.place in ("desk", "far"):
            return self
        return Standing(test.place, test.rig, self.kit, self.barred)

    def allows(self, test: FaultTest) -> bool:
        """Whether a test can be done now."""
        return self.barred.isdisjoint(test.gates) and (self.kit is None or self.kit.issuperset(test.kit))


@dataclass(frozen=True)
class Choice:
    """A test that may be done next.

    Parameters
    ----------
    test : FaultTest
    bits : float
        What it is expected to tell [bit].
    minutes : float
        What it takes from here [min].
    rate : float
        What it tells by the minute, with the best test after it where that is near [bit/min].
    """

    test: FaultTest
    bits: float
    minutes: float
    rate: float


@dataclass(frozen=True)
class Advice:
    """What stands after the findings.

    Parameters
    ----------
    belief : Belief
    choices : tuple of Choice
        The tests that may be done, the best first.
    verdict : {"go-on", "found", "nothing-fits", "cannot-tell"}
        Whether to go on.
    part : str
        The likeliest part or setting.
    fault : Fault
        The likeliest fault of it.
    together : tuple of str
        Parts that cannot be told apart by what can be done now.
    because : {"", "again", "input"}
        Why the first choice goes before others that tell more by the minute: what it is to be done again for, or told
        from.
    astray : str
        The station at which something sits that is in no list, as far as that is told; else empty.
    """

    belief: Belief
    choices: tuple[Choice, ...]
    verdict: str
    part: str
    fault: Fault
    together: tuple[str, ...] = ()
    because: str = ""
    astray: str = ""


def advise(belief: Belief, standing: Standing) -> Advice:
    """Say what to do next, or that it is found.

    Parameters
    ----------
    belief : Belief
        After the findings: a test is not advised twice, but where its finding fits nothing.
    standing : Standing
        Where the technician stands.

    Notes
    -----
    The expected information about which part is wrong, by the minute. Where the way to a test is long, the best test
    that follows from there is counted with it, over what the first may find.
    """
    done = {finding.test for finding in belief.found}
    again = doubtful(belief)
    open_tests = [t for t in belief.table.tests if (t.key not in done or t.key in again) and standing.allows(t)]
    shares = belief.by_part
    known = {key: share for key, share in shares.items() if key != UNKNOWN}
    part = max(known, key=lambda key: known[key])
    fault = belief.likeliest
    choices = _choices(belief, open_tests, standing)
    told = part != "sensor" or told_from_input(belief)
    least = SENSOR_SURE if part == "sensor" else ENOUGH
    sure = known[part] >= max(SURE, least) and shares[UNKNOWN] <= LEFT
    lost = shares[UNKNOWN] >= NOTHING_FITS
    ends = not choices or choices[0].bits < WORTH
    first: Sequence[str] = ()
    because = ""
    if sure and not told:
        # It is the sensor by all that is known: now a reading must say so that tells it from the input.
        first, because = [one.test.key for one in choices if one.test.key in TELLS_SENSOR], "input"
    elif sure or ends or lost:
        # Before it ends, what fits nothing is taken again: a slip, or a fault that is not known.
        first, because = [one.test.key for one in choices if one.test.key in again], "again"
    choices.sort(key=lambda one: one.test.key not in first)
    verdict = "go-on"
    if shares[UNKNOWN] >= (NOTHING_KNOWN if first else NOTHING_FITS) and len(belief.found) > 2:
        verdict = "nothing-fits"
    elif sure and told and not first:
        verdict = "found"
    elif ends and not first:
        verdict = "found" if known[part] >= least and told and shares[UNKNOWN] <= LEFT else "cannot-tell"
    together = tuple(key for key, share in sorted(known.items(), key=lambda one: -one[1]) if share > 0.02)
    if verdict != "cannot-tell":
        together = ()
    astray = next((key for key, share in belief.astray.items() if 0 < ASTRAY * shares[UNKNOWN] <= share), "")
    return Advice(belief, tuple(choices), verdict, part, fault, together, because if first else "", astray)


def told_from_input(belief: Belief) -> bool:
    """Whether a reading tells the sensor from the input; where no signal goes from one to the other, all do."""
    done = {finding.test for finding in belief.found}
    return "signal" not in belief.table.at.has or bool(done.intersection(TELLS_SENSOR))


def _choices(belief: Belief, tests: Sequence[FaultTest], standing: Standing) -> list[Choice]:
    told = [(test, bits, standing.minutes(test)) for test, bits in zip(tests, belief.tells(tests), strict=True)]
    found = [Choice(test, bits, minutes, bits / minutes) for test, bits, minutes in told]
    found.sort(key=lambda one: -one.rate)
    ahead = [one for one in found if one.minutes - one.test.minutes > _LONG and one.bits >= WORTH][:_AHEAD]
    for one in ahead:
        rate = _two_steps(belief, one, found, standing.at(one.test))
        found[found.index(one)] = Choice(one.test, one.bits, one.minutes, max(one.rate, rate))
    return sorted(found, key=lambda one: (one.bits < WORTH, -one.rate))


def doubtful(belief: Belief) -> list[str]:
    """Tests whose finding fits nothing that is listed and likely now, each done once: to be done again."""
    count = [finding.test for finding in belief.found]
    return [one.test for one in belief.found if count.count(one.test) == 1 and belief.surprise(one) > 1.0]


def _two_steps(belief: Belief, first: Choice, choices: Sequence[Choice], there: Standing) -> float:
    """What a test tells by the minute together with the best one that follows from where it leaves one."""
    here = [one for one in choices if one.test.key != first.test.key and one.test.place == first.test.place]
    here.sort(key=lambda one: -one.bits / there.minutes(one.test))
    near = [one.test for one in here[:_SECOND]]
    if not near:
        return first.rate
    bits, minutes = first.bits, first.minutes
    found = outcomes(belief, first.test, _PARTED)
    way = np.array([there.minutes(test) for test in near])
    for (share, _), told in zip(found, tell([after for _, after in found], near), strict=True):
        best = int(np.argmax(told / way))
        bits += share * float(told[best])
        minutes += share * float(way[best])
    return bits / minutes


def outcomes(belief: Belief, test: FaultTest, most: int) -> list[tuple[float, Belief]]:
    """The likeliest things that a test may find, with what would be believed then.

    Notes
    -----
    Readings that one cannot tell apart are one outcome. What is believed then is taken over all of them; the finding
    that it rests on is the middle one.
    """
    known = 1.0 - float(belief.unknown.sum())
    shares = belief.spread(test).sum(axis=0)
    unknown = belief.unknown_spread(test, len(shares))
    cells, there = belief.cells(test), belief.particles.place
    falls = cells.cell.shape[1]
    weight, reads = (belief.particles.weight[:, None] * cells.share).ravel(), cells.reads.ravel()
    order = np.argsort(cells.cell, axis=None, kind="stable")
    begins = np.searchsorted(cells.cell.ravel()[order], np.arange(len(shares) + 1))
    found = []
    for cell in np.argsort(-shares)[:most]:
        if shares[cell] < 0.005:
            break
        inside = order[begins[cell] : begins[cell + 1]]
        held = np.bincount(inside // falls, weight[inside], len(there))
        if held.sum() <= 0:
            continue
        share = known * float(shares[cell]) + float(unknown[:, cell].sum())
        flat = np.zeros(belief.weight.size)
        flat[there] = held / held.sum() * known * float(shares[cell]) / share
        finding = _middle(test, int(cell), reads[inside], weight[inside])
        after = Belief(
            belief.table, flat.reshape(belief.weight.shape), unknown[:, cell] / share, (*belief.found, finding)
        )
        found.append((share, after))
    total = sum(share for share, _ in found) or 1.0
    return [(share / total, one) for share, one in found]


def _middle(test: FaultTest, cell: int, reads: Array, weight: Array) -> Finding:
    """The middle one of the readings that fall together, as a finding."""
    if test.outcomes:
        return Finding(test.key, outcome=test.outcomes[cell])
    if not np.isfinite(reads).any():
        return Finding(test.key)
    (value,) = quantiles(reads, weight, (0.5,))
    return Finding(test.key, 10**value if "ohms" in test.reads else value)


def words_of(part: str) -> str:
    """A part's words."""
    return "nothing that is known here" if part == UNKNOWN else parts()[part].says


def gates_of(test: FaultTest, at: Installation) -> list[str]:
    """What must be so before a test at an installation, in words."""
    return [gates()[key] for key in test.gates if key != "zone" or at.hazardous]
