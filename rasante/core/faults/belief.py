"""What is believed after some findings: how likely every fault is, part by part, and what a test would tell."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ..quantities.arrays import Array
from .fault import Fault, fault_kinds
from .fault_test import FaultTest
from .predict import observed
from .table import LEVELS, Column, Table
from .unlisted import UNKNOWN, UNKNOWN_OUTLIERS

#: How often somebody reads or writes down something else than what was there; common practice.
OUTLIERS = 0.02
#: Particles that count for less than this beside the likeliest are left out of what a test would tell.
_LIGHT = 1e-5
#: Into how many cells a test's readings are told apart at most, and what share at either end falls together.
_BINS, _TAIL = 100, 0.01
#: Where seven equal shares of a normal distribution have their middles [standard deviations].
_SEVENTHS = np.array([-1.465, -0.792, -0.366, 0.0, 0.366, 0.792, 1.465])
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
    return _quantiles(values[order], weight[order], shares)


def _quantiles(values: Array, weight: Array, shares: tuple[float, ...]) -> list[float]:
    """As `quantiles`, of values that rise; what weighs nothing is not there."""
    summed = np.cumsum(weight)
    places = np.minimum(np.searchsorted(summed, np.array(shares) * summed[-1]), len(summed) - 1)
    return [float(x) for x in values[places]]


def _normal(off: Array, sd: Array) -> Array:
    with np.errstate(over="ignore"):
        scales = np.minimum(np.abs(off / sd), _FAR)
    return np.asarray(np.exp(-0.5 * scales**2) / (sd * np.sqrt(2 * np.pi)))


@dataclass(frozen=True)
class Particles:
    """Pairs of fault and level: their places in a table, how likely each is, and its part by `Table.parts`."""

    place: NDArray[np.intp]
    weight: Array
    part: NDArray[np.intp]


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
        if self.cell.shape[1] != len(_SEVENTHS):
            return np.full(self.cell.shape, np.nan)
        return np.asarray(self.mean[:, None] + self.sd[:, None] * _SEVENTHS)


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

    def spread(self, test: FaultTest) -> Array:
        """How likely each outcome is with each part wrong: joint shares of shape (parts, outcomes)."""
        table, parts = self.table, len(self.table.parts)
        if test.outcomes:
            rows = np.bincount(self.particles.place // LEVELS, self.particles.weight, len(table.part_of))
            shares = (rows[:, None] * table.shares[test.key]).T
            return np.array([np.bincount(table.part_of, one, parts) for one in shares]).T
        alike, weight = table.alike(test.key), self._lots(test)
        there = np.flatnonzero(weight)
        mean, sd, weight = alike.mean[there], alike.sd[there], weight[there]
        low, width, last = self._cut(test)
        shown = np.isfinite(mean)
        middle, apart = np.where(shown, (mean - low) / width, 0.0), sd / width
        first = alike.part[there] * (last + 4)
        found = np.zeros(parts * (last + 4))
        for seventh in _SEVENTHS:
            cell = np.where(shown, _cell(middle + apart * seventh, last), 0)
            found += np.bincount(first + cell, weight, len(found))
        joint = found.reshape(parts, last + 4) / len(_SEVENTHS)
        count = int(np.max(np.flatnonzero(joint.any(axis=0)), initial=0)) + 1
        joint = joint[:, :count]
        return np.asarray((1 - OUTLIERS) * joint + OUTLIERS * joint.sum(axis=1, keepdims=True) / count)

    def _lots(self, test: FaultTest) -> Array:
        """What the particles weigh in each lot of places that a test does not tell apart."""
        if test.key not in self._weighed:
            alike = self.table.alike(test.key)
            lots = np.bincount(alike.lot[self.particles.place], self.particles.weight, len(alike.mean))
            self._weighed[test.key] = np.asarray(lots, dtype=float)
        return self._weighed[test.key]

    @cached_property
    def _weighed(self) -> dict[str, Array]:
        return {}

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
        low, width, last = self._cut(test)
        return int(_cell(np.array((observed(test, finding.value) - low) / width), last))

    def _cut(self, test: FaultTest) -> tuple[float, float, int]:
        """How a test's readings are cut into cells: where the first begins, how wide they are, and the last."""
        alike = self.table.alike(test.key)
        shown = len(alike.by_sd)
        weight = self._lots(test)[:shown]
        if not weight.any():
            return 0.0, 1.0, 0
        low, high = _quantiles(alike.mean[:shown], weight, (_TAIL, 1 - _TAIL))
        (middle,) = _quantiles(alike.sd[alike.by_sd], weight[alike.by_sd], (0.5,))
        # Twice the usual ± wide, so that what one reading cannot tell apart falls together.
        width = max((high - low) / _BINS, 2 * middle, 1e-12)
        return low, width, int(np.ceil((high - low) / width)) + 2

    def _cells_at(self, test: FaultTest, places: NDArray[np.intp]) -> Cells:
        if test.outcomes:
            shares = self.table.shares[test.key][places // LEVELS]
            cells = np.tile(np.arange(shares.shape[1]), (len(places), 1))
            nothing = np.full(len(places), np.nan)
            return Cells(cells, shares, nothing, nothing)
        mean, sd = (of[self.table.place[test.key]].ravel()[places] for of in (self.table.mean, self.table.sd))
        low, width, last = self._cut(test)
        shown = np.isfinite(mean)
        falls = ((np.where(shown, mean, low) - low) / width)[:, None] + (sd / width)[:, None] * _SEVENTHS
        cells = _cell(falls, last)
        cells[~shown] = 0
        share = np.broadcast_to(1 / len(_SEVENTHS), cells.shape)
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

    def tells(self, test: FaultTest) -> float:
        """How much a test is expected to tell of which part is wrong [bit]: their mutual information."""
        return information(self.spread(test))


def _cell(widths: Array, last: int) -> NDArray[np.intp]:
    """The cells of readings that are so many widths beyond where the first cell begins; 0 is nobody's here."""
    return np.clip(np.floor(widths), -2.0, last).astype(np.intp) + 3


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


def information(joint: Array) -> float:
    """Mutual information of rows and columns of joint shares [bit].

    Notes
    -----
    I = Σ p(a, b) log₂ p(a, b) / (p(a) p(b)): what knowing the column tells of the row.
    """
    total = joint.sum()
    if total <= 0:
        return 0.0
    joint = joint / total
    outer = joint.sum(axis=1, keepdims=True) * joint.sum(axis=0, keepdims=True)
    there = joint > 0
    return max(float(np.sum(joint[there] * np.log2(joint[there] / outer[there]))), 0.0)
