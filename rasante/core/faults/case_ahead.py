"""What the tests that come may find, what that would mean, and what to do then."""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..quantities.units import System
from .advice import Standing, column_of, outcomes, words_of
from .belief import Belief, Finding
from .case_form import CaseForm, advise_as
from .case_words import percent, reading_text
from .fault_test import FaultTest
from .predict import observed
from .table import Table
from .unlisted import UNKNOWN

#: So many outcomes of a test are told of.
MOST_MEANINGS = 4
#: A change of the likeliest part's share that is worth telling apart.
_SPEAKS = 0.05
#: What would tell less than this is taken to tell nothing: sums in floating point leave such dust [bit].
_TOLD = 1e-4


@dataclass(frozen=True)
class Meaning:
    """One thing that a test may find: how likely that is, what it would read, and what it would mean."""

    share: float
    read: str
    means: str


def meanings(found: CaseForm, test: FaultTest, system: System) -> list[Meaning]:
    """What each thing that a test may find would mean: by what it reads, of a sign the likeliest first."""
    groups = _groups(found.table, found.advice.belief, test, system)
    if not test.outcomes:
        # What shows nothing comes last.
        groups.sort(key=lambda one: float("inf") if one[3].value is None else one[3].value)
    return [Meaning(share, reads, means) for share, reads, means, _ in groups]


@dataclass(frozen=True)
class _Group:
    """Outcomes that mean the same: how likely, what would be believed then, and the findings, the likeliest first."""

    share: float
    after: Belief
    findings: tuple[Finding, ...]


def _groups(table: Table, belief: Belief, test: FaultTest, system: System) -> list[tuple[float, str, str, Finding]]:
    """What a test may find, put together by what it would leave: share, reading, meaning, the likeliest finding."""
    each = [_Group(share, after, (after.found[-1],)) for share, after in outcomes(belief, test, 24)]
    # What would leave the same suspects is one outcome, however widely it reads; where all would, what speaks for the
    # likeliest of them is told from what speaks against it.
    suspects = [tuple(sorted(part for part, share in _suspects(one.after) if share >= 0.25)) for one in each]
    alike = _put_together(each, suspects)
    if len(alike) == 1:
        known = {part: share for part, share in belief.by_part.items() if part != UNKNOWN}
        leading = max(known, key=lambda part: known[part])
        change = [one.after.by_part[leading] - known[leading] for one in each]
        alike = _put_together(each, [0 if abs(x) < _SPEAKS else int(np.sign(x)) for x in change])
    # What is said in nearly the same words is one outcome too.
    alike = _put_together(alike, _nearly(alike))
    kept = sorted(alike, key=lambda one: -one.share)[:MOST_MEANINGS]
    texts = _texts(table, belief, kept, test, system)
    told = [
        (group.share, text, _means(group.after), group.findings[0]) for group, text in zip(kept, texts, strict=True)
    ]
    if len(told) == 1:
        # Whatever it reads, the likeliest stays so: what it tells is which of the others it is not.
        share, reads, means, finding = told[0]
        others = " and ".join(_told_of(belief, test))
        told = [(share, reads, f"{means}; it tells most of {others}" if others else means, finding)]
    return told


def _nearly(groups: Sequence[_Group]) -> list[Hashable]:
    """A key for each: the parts that it names, and the likeliest's share no finer than is worth telling apart."""
    told = [_suspects(one.after)[:2] for one in groups]
    named = [tuple(part for part, _ in one) for one in told]
    first = [one[0][1] if one else 0.0 for one in told]
    keys: list[Hashable] = [None] * len(groups)
    last: dict[tuple[str, ...], tuple[float, int]] = {}
    for at in np.argsort(first):
        before, key = last.get(named[at], (-1.0, 0))
        last[named[at]] = (first[at], key + (first[at] - before > _SPEAKS))
        keys[at] = (named[at], last[named[at]][1])
    return keys


def _means(after: Belief) -> str:
    return ", ".join(f"{words_of(part)} {percent(likely)}" for part, likely in _suspects(after)[:2])


def _told_of(belief: Belief, test: FaultTest) -> list[str]:
    """The known parts, without the likeliest, of which a test is expected to tell most: two at most, or none."""
    joint = belief.joint([column_of(belief, test)])[0]
    joint = joint / joint.sum()
    rows = joint.sum(axis=1)
    with np.errstate(divide="ignore", invalid="ignore"):
        told = np.nansum(joint * np.log2(joint / (rows[:, None] * joint.sum(axis=0))), axis=1)
    told[[int(np.argmax(rows)), belief.table.parts.index(UNKNOWN)]] = 0.0
    least = max(_TOLD, 0.1 * float(told.max()))
    return [words_of(belief.table.parts[at]) for at in np.argsort(-told)[:2] if told[at] >= least]


def _put_together(groups: list[_Group], keys: Sequence[Hashable]) -> list[_Group]:
    """Outcomes of one key as one."""
    alike: dict[Hashable, _Group] = {}
    for key, one in zip(keys, groups, strict=True):
        if key not in alike:
            alike[key] = one
            continue
        other = alike[key]
        whole = other.share + one.share
        old, new = other.share / whole, one.share / whole
        both = replace(other.after, cells=other.after.cells.mixed(old, one.after.cells, new))
        alike[key] = _Group(whole, both, (*other.findings, *one.findings))
    return list(alike.values())


def _suspects(belief: Belief) -> list[tuple[str, float]]:
    """The parts that are likely at all, what is not known among them; the likeliest first."""
    likely = [(part, share) for part, share in belief.by_part.items() if share >= 0.05]
    return sorted(likely, key=lambda one: -one[1])


def _texts(table: Table, belief: Belief, groups: Sequence[_Group], test: FaultTest, system: System) -> list[str]:
    """What each group reads, in words: ranges that do not overlap, in order, within what the instrument can show.

    Notes
    -----
    All readings that were told apart stand in one order; those of one group that follow one another are a range, so
    that where one group lies within another, the other is told on either side of it.
    """
    if test.outcomes:
        return [" or ".join(one.outcome.replace("-", " ") for one in group.findings) for group in groups]
    column = column_of(belief, test)
    least, most = column.outliers.least, column.outliers.most
    # Each reading that was told apart, with the group that it belongs to, in order.
    points = sorted(
        (min(max(observed(test, one.value), least), most), at)
        for at, group in enumerate(groups)
        for one in group.findings
        if one.value is not None
    )
    runs: list[list[int]] = []
    for place, (_, at) in enumerate(points):
        if runs and points[runs[-1][-1]][1] == at:
            runs[-1].append(place)
        else:
            runs.append([place])
    texts: list[list[str]] = [[] for _ in groups]
    for run in runs:
        at, low, high = points[run[0]][1], points[run[0]][0], points[run[-1]][0]
        ends = [_reading(table, test, value, system) for value in (low, high)]
        close = abs(high - low) < 0.03 * column.scale or ends[0] == ends[1]
        texts[at].append(f"about {ends[0]}" if close else f"{ends[0]} to {ends[1]}")
    told = []
    for group, own in zip(groups, texts, strict=True):
        nothing = any(one.value is None for one in group.findings)
        told.append(" or ".join([*own[:3], *(["more"] if len(own) > 3 else []), *(["nothing"] if nothing else [])]))
    return told


def _reading(table: Table, test: FaultTest, value: float, system: System) -> str:
    return reading_text(table.at, test, 10**value if "ohms" in test.reads else value, system)


def school_minutes(found: CaseForm) -> dict[str, float]:
    """About how many minutes each school takes from here: its first test, then the rest at the best rate there is.

    Notes
    -----
    What is not known yet [bit], less what the first test is expected to tell, over the rate of the best choice.
    """
    choices = found.advice.choices
    if not choices or choices[0].bits < _TOLD:
        return {}
    rate = max(one.bits / one.minutes for one in choices)
    left = found.advice.belief.entropy
    told = {}
    for school in ("sensor", "input"):
        own = [one for one in choices if one.test.school == school and one.bits >= _TOLD]
        if own:
            first = max(own, key=lambda one: one.bits / one.minutes)
            told[school] = first.minutes + max(left - first.bits, 0.0) / rate
    return told


@dataclass(frozen=True)
class Branch:
    """What a test may find, and what to do then.

    Parameters
    ----------
    reads, means : str
        As `Meaning`.
    verdict : str
        As `Advice`.
    then : FaultTest or None
        What to do next; None where it is found, or nothing more tells anything.
    minutes : float
        What that takes from there [min].
    branches : tuple of Branch
        What that one may find.
    """

    reads: str
    means: str
    verdict: str
    then: FaultTest | None
    minutes: float
    branches: tuple[Branch, ...]


def look_ahead(found: CaseForm, system: System, steps: int = 2) -> tuple[Branch, ...]:
    """The next tests for whatever the advised one finds: to be had before one is out of reach of the server.

    Parameters
    ----------
    found : CaseForm
    system : {"metric", "us"}
        The units of the words.
    steps : int
        How many tests after the advised one.
    """
    if not found.advice.choices or found.advice.verdict != "go-on":
        return ()
    return _branches(found, found.advice.belief, found.advice.choices[0].test, found.standing, system, steps)


def _branches(
    found: CaseForm, belief: Belief, test: FaultTest, standing: Standing, system: System, steps: int
) -> tuple[Branch, ...]:
    there = standing.at(test)
    told = []
    for _, reads, means, finding in _groups(found.table, belief, test, system):
        if steps == 0:
            told.append(Branch(reads, means, "", None, 0.0, ()))
            continue
        # What is said and advised then is what will be once the likeliest of these readings is entered.
        entered = belief.updated(finding)
        advice = advise_as(found.school, entered, there)
        first = advice.choices[0] if advice.choices and advice.verdict == "go-on" else None
        deeper: tuple[Branch, ...] = ()
        if first is not None:
            deeper = _branches(found, entered, first.test, there, system, steps - 1)
        minutes = first.minutes if first is not None else 0.0
        told.append(Branch(reads, means, advice.verdict, None if first is None else first.test, minutes, deeper))
    return tuple(told)
