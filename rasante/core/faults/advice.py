"""What to do next, and when to stop: the greatest expected information by the minute, given where one stands."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..quantities.arrays import Array
from .belief import Belief, Finding
from .fault import Fault, parts
from .fault_test import FaultTest, gates, places, rigs, sensor_rivals
from .information import weighted_quantiles
from .installation import Installation
from .table import Column, Table
from .unlisted import UNKNOWN

#: From here on it is one part; and from here on where no test is left that tells anything.
SURE, ENOUGH = 0.96, 0.95
#: And no more than this is left for what is in no list.
LEFT = 0.02
#: A good sensor pulled out costs more than a test: of a sensor this much is asked, and that it is so many times
#: likelier than all that a good one is condemned for, group by group, after two findings that tell it from that
#: group: one alone may have been misread.
SENSOR_SURE, SENSOR_ODDS, READINGS = 0.98, 200.0, 2
#: From here on nothing that is known fits; and from here on without taking again what fits nothing.
NOTHING_FITS, NOTHING_KNOWN = 0.75, 0.95
#: At one station is what is in no list, from this share of it.
ASTRAY = 0.8
#: A test that would tell less than this is not worth its way [bit].
WORTH = 0.02
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
    columns = [
        one
        for one in candidates(belief)
        if (one.test.key not in done or one.test.key in again) and standing.allows(one.test)
    ]
    shares = belief.by_part
    known = {key: share for key, share in shares.items() if key != UNKNOWN}
    part = max(known, key=lambda key: known[key])
    fault = belief.likeliest
    choices = _choices(belief, columns, standing)
    rivals = rivals_left(belief) if part == "sensor" else ()
    least = SENSOR_SURE if part == "sensor" else ENOUGH
    sure = known[part] >= max(SURE, least) and shares[UNKNOWN] <= LEFT
    lost = shares[UNKNOWN] >= NOTHING_FITS
    ends = not choices or choices[0].bits < WORTH
    first: Sequence[str] = ()
    because = ""
    if sure and rivals:
        # It is the sensor by all that is known: now a reading must say so that tells it from what is left.
        first, because = isolating(choices, rivals), "input"
    elif sure or ends or lost:
        # Before it ends, what fits nothing is taken again: a slip, or a fault that is not known.
        first, because = [one.test.key for one in choices if one.test.key in again], "again"
    choices.sort(key=lambda one: first.index(one.test.key) if one.test.key in first else len(first))
    verdict = "go-on"
    if shares[UNKNOWN] >= (NOTHING_KNOWN if first else NOTHING_FITS) and len(belief.found) > 2:
        verdict = "nothing-fits"
    elif sure and not rivals and not first:
        verdict = "found"
    elif ends and not first:
        # That nothing is wrong does no harm if something is: nothing is taken out for it.
        enough = known[part] >= least and not rivals and (shares[UNKNOWN] <= LEFT or part == "nothing")
        verdict = "found" if enough else "cannot-tell"
    together = tuple(key for key, share in sorted(known.items(), key=lambda one: -one[1]) if share > 0.02)
    if verdict != "cannot-tell":
        together = ()
    stages = belief.unlisted_by_stage
    astray = next((key for key, share in stages.items() if 0 < ASTRAY * shares[UNKNOWN] <= share), "")
    return Advice(belief, tuple(choices), verdict, part, fault, together, because if first else "", astray)


def candidates(belief: Belief) -> list[Column]:
    """The tests that can be done, with what they would read; what the sensor gave is put in once it was read."""
    table = belief.table
    found = [table.column(test.key) for test in table.tests]
    given = value_given(belief)
    if given is not None:
        found += [table.column(test.key, given) for test in table.every_test if test.reads.get("inject") == "same"]
    return found


def value_given(belief: Belief) -> float | None:
    """The signal that the sensor gave when it was last read [A or V]; None before that, or where nothing arrived."""
    return given_by(belief.table, belief.found)


def given_by(table: Table, findings: Sequence[Finding]) -> float | None:
    """The signal that some findings say the sensor gave [A or V]; None where none does, or nothing arrived."""
    signal = table.at.sound.signal
    if signal is None:
        return None
    for finding in reversed(findings):
        reads = table.column(finding.test, finding.put_in).test.reads
        if finding.value is not None and ("alone" in reads or reads == {"station": "arriving"}):
            alive = 0.9 * signal.fault_low if signal.live_zero else 0.02 * signal.high
            return finding.value if alive < finding.value <= 1.1 * signal.fault_high else None
    return None


def rivals_left(belief: Belief) -> tuple[str, ...]:
    """Groups of parts from which the sensor is not told yet: too few findings do, or it is not likelier enough.

    Notes
    -----
    A group that this installation has no part of is no rival.
    """
    table = belief.table
    told = [group for one in belief.found for group in table.column(one.test, one.put_in).test.isolates]
    return tuple(
        group
        for group, parts in sensor_rivals().items()
        if not set(parts).isdisjoint(table.parts)
        and (belief.sensor_odds[group] < SENSOR_ODDS or told.count(group) < min(READINGS, _could_tell(table, group)))
    )


def _could_tell(table: Table, group: str) -> int:
    """How many tests of an installation tell the sensor from a group: a digital one has no signal to be read."""
    return sum(group in test.isolates for test in table.tests)


def isolating(choices: Sequence[Choice], rivals: Sequence[str]) -> list[str]:
    """Tests that tell the sensor from what is left, those first that do so for most of it by the minute."""
    every = [(one, len(set(rivals).intersection(one.test.isolates))) for one in choices]
    useful = [(one, count) for one, count in every if count]
    useful.sort(key=lambda one: -one[1] / one[0].minutes)
    return [one.test.key for one, _ in useful]


def _choices(belief: Belief, columns: Sequence[Column], standing: Standing) -> list[Choice]:
    found = []
    for column, bits in zip(columns, belief.expected_bits(columns), strict=True):
        minutes = standing.minutes(column.test)
        found.append(Choice(column.test, bits, minutes, bits / minutes))
    found.sort(key=lambda one: -one.rate)
    ahead = [one for one in found if one.minutes - one.test.minutes > _LONG and one.bits >= WORTH][:_AHEAD]
    for one in ahead:
        rate = _two_steps(belief, one, found, standing.at(one.test))
        found[found.index(one)] = Choice(one.test, one.bits, one.minutes, max(one.rate, rate))
    return sorted(found, key=lambda one: (one.bits < WORTH, -one.rate))


def doubtful(belief: Belief) -> list[str]:
    """Tests whose finding fits nothing that is listed and likely now, each done once: to be done again."""
    count = [finding.test for finding in belief.found]
    return [one.test for one in belief.found if count.count(one.test) == 1 and belief.outlier_odds(one) > 1.0]


def column_of(belief: Belief, test: FaultTest) -> Column:
    """A test with what it would read, with the signal that would be put in."""
    return belief.table.column(test.key, test.reads.get("put_in"))


def _two_steps(belief: Belief, first: Choice, choices: Sequence[Choice], there: Standing) -> float:
    """What a test tells by the minute together with the best one that follows from where it leaves one."""
    here = [one for one in choices if one.test.key != first.test.key and one.test.place == first.test.place]
    here.sort(key=lambda one: -one.bits / there.minutes(one.test))
    near = [one.test for one in here[:_SECOND]]
    if not near:
        return first.rate
    columns = [column_of(belief, test) for test in near]
    bits, minutes = first.bits, first.minutes
    way = np.array([there.minutes(test) for test in near])
    for share, after in outcomes(belief, first.test, _PARTED):
        told = np.array(after.expected_bits(columns))
        best = int(np.argmax(told / way))
        bits += share * float(told[best])
        minutes += share * float(way[best])
    return bits / minutes


def outcomes(belief: Belief, test: FaultTest, most: int) -> list[tuple[float, Belief]]:
    """The likeliest things that a test may find, with what would be believed then.

    Notes
    -----
    Readings that one cannot tell apart are one outcome. How likely each cell is then is taken over all of them; where
    in the cells the truth lies, from the middle one, which is the finding that it rests on.
    """
    column, cells = column_of(belief, test), belief.particles
    told = belief.spread(column)
    falls = told.bin.shape[1]
    weight, reads, bins = (cells.weight[:, None] * told.share).ravel(), told.reads.ravel(), told.bin.ravel()
    shares = np.bincount(bins, weight, told.count)
    order = np.argsort(bins, kind="stable")
    begins = np.searchsorted(bins[order], np.arange(told.count + 1))
    found = []
    for at in np.argsort(-shares)[:most]:
        if shares[at] < 0.005:
            break
        inside = order[begins[at] : begins[at + 1]]
        held = np.asarray(np.bincount(inside // falls, weight[inside], len(cells.place)), dtype=float)
        finding = _middle(column, int(at), reads[inside], weight[inside])
        there = np.flatnonzero(held)
        after = Belief(belief.table, cells.of(there), belief.found, belief.odd).updated(finding)
        kept = after.cells.of(np.arange(len(there)), held[there])
        found.append((float(shares[at]), Belief(belief.table, kept, after.found, after.odd)))
    total = sum(share for share, _ in found) or 1.0
    return [(share / total, one) for share, one in found]


def _middle(column: Column, at: int, reads: Array, weight: Array) -> Finding:
    """The middle one of the readings that fall together, as a finding."""
    test = column.test
    put_in = test.reads.get("put_in")
    if test.outcomes:
        return Finding(test.key, outcome=test.outcomes[at])
    if not np.isfinite(reads).any():
        return Finding(test.key, put_in=put_in)
    (value,) = weighted_quantiles(reads, weight, (0.5,))
    return Finding(test.key, 10**value if "ohms" in test.reads else value, put_in=put_in)


def words_of(part: str) -> str:
    """A part's words."""
    return "nothing that is known here" if part == UNKNOWN else parts()[part].says


def gates_of(test: FaultTest, at: Installation) -> dict[str, str]:
    """What must be so before a test at an installation, by the gates' keys, in words."""
    return {key: gates()[key] for key in test.gates if key != "zone" or at.hazardous}
