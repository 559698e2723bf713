"""What is believed after some findings: how likely every fault is, part by part, and what a test would tell."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ..quantities.arrays import Array
from .fault import Fault, fault_kinds
from .fault_test import FaultTest
from .predict import observed
from .spreads import OUTLIERS, SEVENTHS, Cut, Particles, cell_of, information, spreads
from .table import LEVELS, Column, Table
from .unlisted import UNKNOWN, UNKNOWN_OUTLIERS

#: Particles that count for less than this beside the likeliest are left out of what a test would tell.
_LIGHT = 1e-5
#: Beyond so many scales one reading is as absurd as another.
_FAR = 1e6


@dataclass(frozen=True)
class Finding:
    """What was found by a test.

    Parameters
    ----------
    test : str
        Its key.
    value : float or None
        What was read, SI or the station's own unit; None where nothing was shown.
    outcome : str
        Of a sign: which of its outcomes.
    """

    test: str
    value: float | None = None
    outcome: str = ""


def quantiles(values: Array, weight: Array, shares: tuple[float, ...]) -> list[float]:
    """Quantiles of values that weigh differently."""
    order = np.argsort(values)
    summed = np.cumsum(weight[order])
    places = np.minimum(np.searchsorted(summed, np.array(shares) * summed[-1]), len(summed) - 1)
    return [float(x) for x in values[order][places]]


def _normal(off: Array, sd: Array) -> Array:
    with np.errstate(over="ignore"):
        scales = np.minimum(np.abs(off / sd), _FAR)
    return np.asarray(np.exp(-0.5 * scales**2) / (sd * np.sqrt(2 * np.pi)))


@dataclass(frozen=True)
class Cells:
    """Into which cells of a test's readings something falls: each cell with its share, and what is read in it.

    Parameters
    ----------
    cell : ndarray of int, shape (things, falls)
        0 where nothing is shown.
    share : ndarray of shape (things, falls)
        How likely each fall is of one thing; they add up to 1.
    mean, sd : ndarray of shape (things,)
        Of what is read, in the test's own scale; a mean of NaN where nothing is shown, and of a sign.
    """

    cell: NDArray[np.intp]
    share: Array
    mean: Array
    sd: Array

    @property
    def reads(self) -> Array:
        """What is read in each fall, of shape (things, falls), in the test's own scale."""
        if self.cell.shape[1] != len(SEVENTHS):
            return np.full(self.cell.shape, np.nan)
        return np.asarray(self.mean[:, None] + self.sd[:, None] * SEVENTHS)


@dataclass(frozen=True)
class Belief:
    """How likely everything is.

    Parameters
    ----------
    table : Table
    weight : ndarray of shape (rows, levels)
        How likely each row of the table at each level is, beside all others.
    unknown : ndarray of shape (levels,)
        How likely it is that something is wrong that may read anything, at each level.
    found : tuple of Finding
        What it rests on.
    """

    table: Table
    weight: Array
    unknown: Array
    found: tuple[Finding, ...] = ()

    @classmethod
    def first(cls, table: Table, expected_m: tuple[float, float] | None = None) -> Belief:
        """What is believed before anything is found.

        Parameters
        ----------
        expected_m : (float, float), optional
            What the level should be by the book or the last good reading, and by how much that may be off [m].
        """
        level = np.ones(LEVELS)
        if expected_m is not None:
            level = _normal(table.levels - expected_m[0], np.array(expected_m[1] / 2)) + 1e-4
        level = level / level.sum()
        return cls(table, table.prior[:, None] * level, (1 - table.prior.sum()) * level)

    def after(self, finding: Finding) -> Belief:
        """What is believed once something is found (Bayes' rule, with outliers allowed for)."""
        like, unknown = self._likelihoods(finding)
        earlier = next((one for one in reversed(self.found) if one.test == finding.test), None)
        if earlier is not None:
            unknown = self._known_again(finding, earlier, unknown)
        weight, rest = self.weight * like, self.unknown * unknown
        total = float(weight.sum() + rest.sum())
        return Belief(self.table, weight / total, rest / total, (*self.found, finding))

    def _known_again(self, finding: Finding, earlier: Finding, unknown: Array) -> Array:
        """How likely a finding is where nothing known is wrong, once the same test gave another: it may come again.

        Notes
        -----
        A slip comes once. What is not known reads as it should, or anything; but what it read, it reads again.
        """
        column = self.table.column(finding.test)
        _, before = self._likelihoods(earlier)
        if column.test.outcomes:
            count = len(column.test.outcomes)
            anything = UNKNOWN_OUTLIERS / count
            again = 1 - OUTLIERS if finding.outcome == earlier.outcome else OUTLIERS / max(count - 1, 1)
        else:
            anything = UNKNOWN_OUTLIERS * _anything(earlier.value, column, self.table.sound)
            again = _again(column, finding.value, earlier.value)
        strange = anything / before
        return np.asarray(strange * again + (1 - strange) * unknown)

    def _likelihoods(self, finding: Finding) -> tuple[Array, Array]:
        table, column = self.table, self.table.column(finding.test)
        outcomes = column.test.outcomes
        if outcomes:
            like = table.shares[column.test.key][:, outcomes.index(finding.outcome)][:, None] * np.ones(LEVELS)
            anything = 1 / len(outcomes)
        else:
            anything = _anything(finding.value, column, table.sound)
            like = (1 - OUTLIERS) * _density(column, finding.value) + OUTLIERS * anything
        return like, (1 - UNKNOWN_OUTLIERS) * like[table.sound] + UNKNOWN_OUTLIERS * anything

    @cached_property
    def by_fault(self) -> Array:
        """How likely each row of the table is, of shape (rows,)."""
        return np.asarray(self.weight.sum(axis=1))

    @cached_property
    def by_kind(self) -> dict[str, float]:
        """How likely each kind of fault is, by its key."""
        found = dict.fromkeys(fault_kinds(), 0.0)
        for fault, share in zip(self.table.faults, self.by_fault[: len(self.table.faults)], strict=True):
            found[fault.kind.key] += float(share)
        return {key: share for key, share in found.items() if share > 0}

    @cached_property
    def by_part(self) -> dict[str, float]:
        """How likely each part or setting is to be what is wrong, and `UNKNOWN` for all that is not known."""
        shares = np.bincount(self.table.part_of, self.by_fault, len(self.table.parts))
        found = {key: float(share) for key, share in zip(self.table.parts, shares, strict=True)}
        return found | {UNKNOWN: found[UNKNOWN] + float(self.unknown.sum())}

    @cached_property
    def astray(self) -> dict[str, float]:
        """How likely it is that something in no list sits at one station alone, by the station."""
        strays, found = self.table.strays, {stray.station: 0.0 for stray in self.table.strays}
        for stray, share in zip(strays, self.by_fault[len(self.table.faults) :], strict=True):
            found[stray.station] += float(share)
        return found

    @property
    def likeliest(self) -> Fault:
        """The likeliest fault of the likeliest known part."""
        known = {key: share for key, share in self.by_part.items() if key != UNKNOWN}
        part = self.table.parts.index(max(known, key=lambda key: known[key]))
        return self.table.faults[int(np.argmax(np.where(self.table.part_of == part, self.by_fault, -1.0)))]

    @cached_property
    def level_m(self) -> float:
        """Where the level is believed to be [m]."""
        share = self.weight.sum(axis=0) + self.unknown
        return float(share @ self.table.levels / share.sum())

    @cached_property
    def entropy(self) -> float:
        """How unsure it is which part is wrong [bit]."""
        return _entropy(np.array(list(self.by_part.values())))

    @cached_property
    def particles(self) -> Particles:
        """The pairs of fault and level that count."""
        flat = self.weight.ravel()
        there = np.flatnonzero(flat > _LIGHT * flat.max())
        part = np.repeat(self.table.part_of, LEVELS)[there]
        return Particles(there, flat[there] / flat[there].sum(), part)

    @cached_property
    def _cuts(self) -> dict[str, Cut]:
        return {}

    def spread(self, test: FaultTest) -> Array:
        """How likely each outcome is with each part wrong: joint shares of shape (parts, outcomes)."""
        found = spreads(self.table, [self.particles], [test])
        self._cuts.update(found.cuts[0])
        return found.joint[0, 0, :, : int(found.count[0, 0])]

    def tells(self, tests: Sequence[FaultTest]) -> list[float]:
        """How much each test is expected to tell of which part is wrong [bit]: their mutual information."""
        return [float(bits) for bits in tell([self], tests)[0]]

    def cells(self, test: FaultTest) -> Cells:
        """Into which cells each particle's reading may fall."""
        return self._cells_at(test, self.particles.place)

    def unknown_spread(self, test: FaultTest, count: int) -> Array:
        """How likely each outcome is where nothing known is wrong: joint shares of shape (levels, outcomes).

        Notes
        -----
        As it should be, or anything; but what it once read that was strange, it reads again (`_known_again`).
        """
        places = self.table.sound * LEVELS + np.arange(LEVELS)
        cells = self._cells_at(test, places)
        sound = np.zeros((LEVELS, max(count, int(cells.cell.max()) + 1)))
        for column in range(cells.cell.shape[1]):
            sound[np.arange(LEVELS), cells.cell[:, column]] += cells.share[:, column]
        sound = sound[:, :count]
        if not test.outcomes:
            sound = (1 - OUTLIERS) * sound + OUTLIERS / count
        found = (1 - UNKNOWN_OUTLIERS) * sound + UNKNOWN_OUTLIERS / count
        earlier = next((one for one in reversed(self.found) if one.test == test.key), None)
        if earlier is not None:
            cell = min(self._cell_of(test, earlier), count - 1)
            again = np.full(count, OUTLIERS / max(count - 1, 1))
            again[cell] = 1 - OUTLIERS
            strange = (UNKNOWN_OUTLIERS / count / found[:, cell])[:, None]
            found = strange * again + (1 - strange) * found
        return np.asarray(self.unknown[:, None] * found)

    def _cell_of(self, test: FaultTest, finding: Finding) -> int:
        if test.outcomes:
            return test.outcomes.index(finding.outcome)
        if finding.value is None:
            return 0
        cut = self._cut(test)
        return int(cell_of(np.array((observed(test, finding.value) - cut.low) / cut.width), cut.last))

    def _cut(self, test: FaultTest) -> Cut:
        if test.key not in self._cuts:
            self.spread(test)
        return self._cuts[test.key]

    def _cells_at(self, test: FaultTest, places: NDArray[np.intp]) -> Cells:
        if test.outcomes:
            shares = self.table.shares[test.key][places // LEVELS]
            cells = np.tile(np.arange(shares.shape[1]), (len(places), 1))
            nothing = np.full(len(places), np.nan)
            return Cells(cells, shares, nothing, nothing)
        mean, sd = (of[self.table.place[test.key]].ravel()[places] for of in (self.table.mean, self.table.sd))
        cut = self._cut(test)
        shown = np.isfinite(mean)
        falls = ((np.where(shown, mean, cut.low) - cut.low) / cut.width)[:, None] + (sd / cut.width)[
            :, None
        ] * SEVENTHS
        cells = cell_of(falls, cut.last)
        cells[~shown] = 0
        share = np.broadcast_to(1 / len(SEVENTHS), cells.shape)
        return Cells(cells, share, np.where(shown, mean, np.nan), sd)

    def surprise(self, finding: Finding) -> float:
        """How much better a finding is taken for a slip than for what is listed: above 1 it is doubtful."""
        like, _ = self._likelihoods(finding)
        column, listed = self.table.column(finding.test), slice(len(self.table.faults))
        weight = self.weight[listed]
        believed = max(float((weight * like[listed]).sum() / weight.sum()), 1e-300)
        if column.test.outcomes:
            return float(1 / len(column.test.outcomes) / believed)
        return float(0.1 * _anything(finding.value, column, self.table.sound) / believed)


def _anything(value: float | None, column: Column, sound: int) -> float:
    """How likely a reading is that could be anything: even over the scale, and thinning out beyond it."""
    if value is None:
        return 1.0 / column.scale
    low, high = float(np.nanmin(column.mean[sound])), float(np.nanmax(column.mean[sound]))
    beyond = max(low - observed(column.test, value), observed(column.test, value) - high, 0.0)
    # However absurd it is, it stays possible.
    beyond = min(beyond, _FAR * column.scale)
    return float(0.5 * column.scale / (column.scale + beyond) ** 2)


def _again(column: Column, value: float | None, earlier: float | None) -> float:
    """How likely a reading is where the same thing read `earlier`."""
    if value is None or earlier is None:
        return 50.0 / column.scale if value == earlier else OUTLIERS / column.scale
    # Two readings, each with its own unrest.
    sd = np.asarray(np.sqrt(2) * np.nanmedian(column.sd))
    return float(_normal(np.asarray(observed(column.test, value) - observed(column.test, earlier)), sd))


def _density(column: Column, value: float | None) -> Array:
    shown = np.isfinite(column.mean)
    if value is None:
        # Nothing shown is as telling as a reading that is right to a fiftieth of the scale.
        return np.where(shown, 0.0, 50.0 / column.scale)
    with np.errstate(invalid="ignore"):
        like = _normal(observed(column.test, value) - column.mean, column.sd)
    return np.where(shown, like, 0.0)


def _entropy(shares: Array) -> float:
    there = shares[shares > 0]
    there = there / there.sum()
    return float(-(there @ np.log2(there)))


def tell(beliefs: Sequence[Belief], tests: Sequence[FaultTest]) -> Array:
    """How much tests are expected to tell of which part is wrong, by each of some beliefs over one table.

    Returns
    -------
    ndarray of shape (beliefs, tests)
        Their mutual information [bit].
    """
    if not beliefs or not tests:
        return np.zeros((len(beliefs), len(tests)))
    return information(spreads(beliefs[0].table, [one.particles for one in beliefs], tests).joint)
