"""What is believed after some findings: how likely every fault is, part by part, and what a test would tell."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from ..quantities.arrays import Array
from .cells import Cells, normal_density
from .fault import Fault, fault_kinds
from .fault_test import sensor_rivals
from .information import Spread, joint_shares, mutual_information, spread
from .outliers import OUTLIERS
from .predict import observed
from .table import LEVELS, Column, Table
from .unlisted import UNKNOWN

#: What a test would tell is worked out over so many cells at most, and none that counts for less than this beside the
#: likeliest.
_MOST_CELLS, _LIGHT = 600, 1e-7
#: Who looks at a sign again sees what he saw before, in so many cases, whatever is there; common practice.
_SAME_AGAIN = 0.7


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
    put_in : float or None
        The signal that was put in, as it was typed [A or V]; None where it was as the test has it, or none.
    """

    test: str
    value: float | None = None
    outcome: str = ""
    put_in: float | None = None


@dataclass(frozen=True)
class Belief:
    """How likely everything is.

    Parameters
    ----------
    table : Table
    cells : Cells
        How likely each row of the table at each level is, and where in it the truth lies.
    found : tuple of Finding
        What it rests on.
    odd : mapping of str to ndarray of shape (levels,)
        By the test: with something in no list that may read anything, how likely the last reading was such a one.
    """

    table: Table
    cells: Cells
    found: tuple[Finding, ...] = ()
    odd: Mapping[str, Array] = field(default_factory=dict)

    @classmethod
    def prior(cls, table: Table, expected_m: tuple[float, float] | None = None) -> Belief:
        """What is believed before anything is found.

        Parameters
        ----------
        expected_m : (float, float), optional
            What the level should be by the book or the last good reading, and by how much that may be off [m].
        """
        level = np.ones(LEVELS)
        if expected_m is not None:
            # Within a stretch between two levels all are as likely as one another.
            sd = np.hypot(expected_m[1] / 2, (table.levels[1] - table.levels[0]) / np.sqrt(12))
            level = normal_density(table.levels - expected_m[0], np.array(sd)) + 1e-4
        return cls(table, Cells.at_first(table.prior[:, None] * (level / level.sum())))

    def updated(self, finding: Finding) -> Belief:
        """What is believed once something is found (Bayes' rule, with outliers allowed for)."""
        column, cells = self.table.column(finding.test, finding.put_in), self.cells
        odd = dict(self.odd)
        if column.test.outcomes:
            likely = column.shares[cells.row, column.test.outcomes.index(finding.outcome)]
            earlier = self._earlier(finding.test)
            if earlier is not None:
                again = float(earlier.outcome == finding.outcome)
                likely = _SAME_AGAIN * again + (1 - _SAME_AGAIN) * likely
            return Belief(self.table, cells.weighed(likely), (*self.found, finding), odd)
        slip, outlier = self._outlier(column, finding)
        if finding.value is None:
            nothing = ~np.isfinite(column.mean.ravel()[cells.place])
            likely = (1 - slip) * nothing + slip * outlier
            after = cells.weighed(likely)
        else:
            after, likely = cells.updated(column, observed(column.test, finding.value), outlier, slip)
        anywhere = cells.row == self.table.unlisted
        share = np.zeros(LEVELS)
        share[cells.place[anywhere] % LEVELS] = (slip * outlier)[anywhere] / np.maximum(likely[anywhere], 1e-300)
        odd[_same(column)] = share
        return Belief(self.table, after, (*self.found, finding), odd)

    def _earlier(self, test: str) -> Finding | None:
        return next((one for one in reversed(self.found) if one.test == test), None)

    def _outlier(self, column: Column, finding: Finding) -> tuple[Array, Array]:
        """How often a reading has nothing to do with what is there, in each cell, and how likely it is then.

        Notes
        -----
        A slip comes once. What is in no list reads as it should, or anything; but what it read, it reads again.
        """
        slip = self.table.slip[self.cells.row]
        found = np.full(len(self.cells.place), column.outliers.density(_in_scale(column, finding.value)))
        same = _same(column)
        columns = ((one, self.table.column(one.test, one.put_in)) for one in self.found)
        earlier = [one for one, other in columns if _same(other) == same]
        if not earlier or same not in self.odd:
            return slip, found
        anywhere = np.flatnonzero(self.cells.row == self.table.unlisted)
        odd = self.odd[same][self.cells.place[anywhere] % LEVELS]
        # What it read as it should, it reads so again, but for the slips that all make.
        plain = (1 - odd) * OUTLIERS
        found[anywhere] = (odd * _again(column, finding, earlier) + plain * found[anywhere]) / (odd + plain)
        slip[anywhere] = odd + plain
        return slip, found

    @cached_property
    def by_fault(self) -> Array:
        """How likely each row of the table is, of shape (rows,)."""
        return np.asarray(np.bincount(self.cells.row, self.cells.weight, self.table.rows), dtype=float)

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
        return {key: float(share) for key, share in zip(self.table.parts, shares, strict=True)}

    @cached_property
    def unlisted_by_stage(self) -> dict[str, float]:
        """How likely it is that something in no list sits at one station alone, by the station."""
        strays, first = self.table.strays, len(self.table.faults)
        found = {stray.station: 0.0 for stray in strays}
        for stray, share in zip(strays, self.by_fault[first : first + len(strays)], strict=True):
            found[stray.station] += float(share)
        return found

    @cached_property
    def sensor_odds(self) -> dict[str, float]:
        """How much likelier the sensor is than each group of parts for which a good one is condemned."""
        shares = self.by_part
        found = {}
        for group, parts in sensor_rivals().items():
            against = sum(shares.get(part, 0.0) for part in parts)
            found[group] = shares.get("sensor", 0.0) / max(against, 1e-300)
        return found

    @property
    def likeliest(self) -> Fault:
        """The likeliest fault of the likeliest known part."""
        known = {key: share for key, share in self.by_part.items() if key != UNKNOWN}
        part = self.table.parts.index(max(known, key=lambda key: known[key]))
        listed = self.by_fault[: len(self.table.faults)]
        of_part = self.table.part_of[: len(self.table.faults)] == part
        return self.table.faults[int(np.argmax(np.where(of_part, listed, -1.0)))]

    @cached_property
    def level_m(self) -> float:
        """Where the level is believed to be [m]."""
        return float(self.cells.weight @ self.table.levels[self.cells.place % LEVELS])

    @cached_property
    def entropy(self) -> float:
        """How unsure it is which part is wrong [bit]."""
        there = np.array([share for share in self.by_part.values() if share > 0])
        there = there / there.sum()
        return float(-(there @ np.log2(there)))

    @cached_property
    def particles(self) -> Cells:
        """Cells that stand for all, for what a test would tell."""
        return self.cells.thinned(_MOST_CELLS, _LIGHT)

    def spread(self, column: Column) -> Spread:
        """What a test is expected to read, by the cells that count."""
        return spread(self.particles, column)

    def joint(self, columns: Sequence[Column]) -> Array:
        """How likely each outcome of some tests is with each part wrong, of shape (tests, parts, bins)."""
        return joint_shares(self.table, self.particles, columns, self.by_fault)

    def expected_bits(self, columns: Sequence[Column]) -> list[float]:
        """How much each test is expected to tell of which part is wrong [bit]: their mutual information."""
        return [float(bits) for bits in mutual_information(self.joint(columns))] if columns else []

    def outlier_odds(self, finding: Finding) -> float:
        """How much better a finding is taken for a slip than for what is listed: above 1 it is doubtful."""
        column, cells = self.table.column(finding.test, finding.put_in), self.cells
        listed = cells.row < len(self.table.faults)
        weight = np.where(listed, cells.weight, 0.0)
        weight = weight / max(weight.sum(), 1e-300)
        if column.test.outcomes:
            like = column.shares[cells.row, column.test.outcomes.index(finding.outcome)]
            return float(1 / len(column.test.outcomes) / max(weight @ like, 1e-300))
        anything = 0.1 * column.outliers.density(_in_scale(column, finding.value))
        if finding.value is None:
            like = (~np.isfinite(column.mean.ravel()[cells.place])).astype(float)
        else:
            mean, sd = cells.expected(column)
            shown = np.isfinite(mean)
            off = observed(column.test, finding.value) - np.where(shown, mean, 0.0)
            like = np.where(shown, normal_density(off, sd), 0.0)
        like = (1 - OUTLIERS) * like + OUTLIERS * anything
        return float(anything / max(weight @ like, 1e-300))


def _in_scale(column: Column, value: float | None) -> float | None:
    return None if value is None else observed(column.test, value)


def _same(column: Column) -> str:
    """What a test reads: two that read the same read the same again, whoever does them."""
    return repr(sorted(column.test.reads.items(), key=lambda one: one[0]))


def _again(column: Column, finding: Finding, every: Sequence[Finding]) -> float:
    """How likely a reading is where the same thing gave the last of some earlier ones."""
    earlier = every[-1]
    if finding.value is None or earlier.value is None:
        return (
            1 - OUTLIERS
            if finding.value == earlier.value
            else OUTLIERS * column.outliers.density(_in_scale(column, finding.value))
        )
    # Each reading has its own unrest; the more there were before, the better it is known what they are about.
    sd = np.asarray(np.sqrt(1 + 1 / len(every)) * np.nanmedian(column.sd))
    apart = observed(column.test, finding.value) - observed(column.test, earlier.value)
    return float(normal_density(np.asarray(apart), sd))
