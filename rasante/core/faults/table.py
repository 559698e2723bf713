"""What every test would read of everything that may be wrong with an installation, worked out once."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property, partial
from threading import Lock

import numpy as np
from numpy.typing import NDArray

from ..quantities.arrays import Array
from .fault import Fault, faults_of, parts, priors
from .fault_test import FaultTest, test_between, tests_of
from .installation import Installation
from .predict import Common, Expected, Reader, Wrong, read, scale
from .unlisted import AT_ONE_STATION, UNKNOWN, UNKNOWN_PRIOR, Sound, Stray, StrayReader, strays_of

#: Levels at which everything is worked out, by share of the height.
LEVELS = 41


@dataclass(frozen=True)
class Column:
    """A test with the mean and standard deviation of what it reads, of shape (faults, levels), and its scale."""

    test: FaultTest
    mean: Array
    sd: Array
    scale: float


@dataclass(frozen=True)
class Alike:
    """Places of a table that a test does not tell apart, each lot once; most faults leave most readings as they are.

    Parameters
    ----------
    lot : ndarray of int, shape (tests, places)
        Which lot of its test each place of the table is in.
    begins : ndarray of int, shape (tests + 1,)
        Where each test's lots begin in what follows.
    mean, sd : ndarray of shape (lots,)
        What is read of each, a test's lowest mean first; last those with a mean of NaN, where nothing is shown.
    part : ndarray of int, shape (lots,)
        By `Table.parts`.
    """

    lot: NDArray[np.int32]
    begins: NDArray[np.intp]
    mean: Array
    sd: Array
    part: NDArray[np.intp]


def _put_together(means: Array, sds: Array, part: NDArray[np.intp]) -> Alike:
    lot = np.empty(means.shape, dtype=np.int32)
    kept: list[tuple[Array, Array, NDArray[np.intp]]] = []
    for at, (mean, sd) in enumerate(zip(means, sds, strict=True)):
        shown = np.isfinite(mean)
        widths = np.where(shown, sd, 1.0)
        order = np.lexsort((part, widths, np.where(shown, mean, np.inf)))
        each = mean[order], widths[order], part[order]
        same = (each[0][1:] == each[0][:-1]) | ~(shown[order][1:] | shown[order][:-1])
        begins = np.concatenate([[True], ~(same & (each[1][1:] == each[1][:-1]) & (each[2][1:] == each[2][:-1]))])
        lot[at, order] = np.cumsum(begins) - 1
        kept.append((each[0][begins], each[1][begins], each[2][begins]))
    starts = np.cumsum([0, *(len(one[0]) for one in kept)])
    mean, sd, whose = (np.concatenate(of) for of in zip(*kept, strict=True))
    return Alike(lot, starts, mean, sd, whose)


@dataclass(frozen=True)
class Table:
    """Everything that every test would read, for one installation.

    Parameters
    ----------
    at : Installation
    faults : tuple of Fault
        One row each.
    strays : tuple of Stray
        What is in no list and sits at one station; one row each, after the faults.
    tests : tuple of FaultTest
        Those that can be done.
    levels : ndarray of shape (levels,)
        Innages [m].
    mean, sd : ndarray of shape (tests, rows, levels)
        In each test's own scale; a mean of NaN where nothing is shown.
    shares : mapping of str to ndarray of shape (rows, outcomes)
        Of the tests that read signs.
    prior : ndarray of shape (rows,)
        They add up to what is not left for anything at all.
    """

    at: Installation
    faults: tuple[Fault, ...]
    strays: tuple[Stray, ...]
    tests: tuple[FaultTest, ...]
    levels: Array
    mean: Array
    sd: Array
    shares: Mapping[str, Array]
    prior: Array

    @cached_property
    def parts(self) -> tuple[str, ...]:
        """The parts that its faults blame, in the file's order; last what is in no list."""
        there = {fault.kind.part for fault in self.faults}
        return (*(key for key in parts() if key in there), UNKNOWN)

    @cached_property
    def part_of(self) -> NDArray[np.intp]:
        """Each row's part, by its place in `parts`."""
        listed = [self.parts.index(fault.kind.part) for fault in self.faults]
        return np.array([*listed, *([len(self.parts) - 1] * len(self.strays))])

    @cached_property
    def place(self) -> dict[str, int]:
        """Each test's row, by its key."""
        return {test.key: at for at, test in enumerate(self.tests)}

    @cached_property
    def alike(self) -> Alike:
        """The places at which a test reads the same, and the same part is to blame; put together once."""
        flat = (len(self.tests), -1)
        return _put_together(self.mean.reshape(flat), self.sd.reshape(flat), np.repeat(self.part_of, LEVELS))

    @cached_property
    def scales(self) -> Array:
        """How far each test's readings go."""
        return np.array([scale(test, self.at) for test in self.tests])

    @cached_property
    def sound(self) -> int:
        """The row of nothing being wrong."""
        return next(row for row, fault in enumerate(self.faults) if fault.kind.key == "nothing")

    @cached_property
    def readers(self) -> tuple[Callable[[FaultTest], Expected], ...]:
        """The wrong installations, for readings that are no test of the list."""
        return _readers(self.at, self.faults, self.strays, self.levels)

    @cached_property
    def _others(self) -> dict[str, Column]:
        return {}

    def column(self, key: str) -> Column:
        """A test with all that it would read; also of two terminals that no test of the list names.

        Parameters
        ----------
        key : str
            A test's key, or ``volts|red|black`` or ``ohms|red|black`` with two terminals of the circuit.
        """
        if key in self.place:
            row = self.place[key]
            return Column(self.tests[row], self.mean[row], self.sd[row], float(self.scales[row]))
        if key not in self._others:
            test = test_between(key)
            found = [reader(test) for reader in self.readers]
            mean, sd = (np.array([getattr(one, name) for one in found])[None] for name in ("mean", "sd"))
            wide = widened(mean, sd, self.faults, self.strays)[0]
            self._others[key] = Column(test, mean[0], wide, scale(test, self.at))
        return self._others[key]


_TABLES: OrderedDict[str, Table] = OrderedDict()
_ONE_AT_A_TIME = Lock()
#: How many installations' tables are kept at hand.
_MOST_TABLES = 16


def table_of(at: Installation) -> Table:
    """What every test would read of everything that may be wrong; worked out once for an installation."""
    key = at.signature
    # One at a time: who asks for the same meanwhile waits for it, instead of working it out as well.
    with _ONE_AT_A_TIME:
        if key not in _TABLES:
            _TABLES[key] = make_table(at)
            while len(_TABLES) > _MOST_TABLES:
                _TABLES.popitem(last=False)
        _TABLES.move_to_end(key)
        return _TABLES[key]


def make_table(at: Installation) -> Table:
    """Work out what every test would read of everything that may be wrong.

    Notes
    -----
    Between two values of a fault, and two levels, lies what is as likely as they are: a third of the way to the
    neighbours is added to a reading's standard deviation.
    """
    faults, strays, tests = tuple(faults_of(at)), tuple(strays_of(at)), tuple(tests_of(at))
    levels = np.linspace(0.01, 0.99, LEVELS) * at.sound.top_m
    shape = (len(tests), len(faults) + len(strays), LEVELS)
    mean, sd = np.zeros(shape), np.ones(shape)
    shares: dict[str, list[tuple[float, ...]]] = {test.key: [] for test in tests if test.outcomes}
    for row, reader in enumerate(_readers(at, faults, strays, levels)):
        for column, test in enumerate(tests):
            found = reader(test)
            mean[column, row], sd[column, row] = found.mean, found.sd
            if found.shares:
                shares[test.key].append(found.shares)
    sd = widened(mean, sd, faults, strays)
    likely = priors(at)
    count: dict[str, int] = {}
    for fault in faults:
        count[fault.kind.key] = count.get(fault.kind.key, 0) + 1
    prior = np.array([likely[fault.kind.key] / count[fault.kind.key] for fault in faults])
    known = {key: np.array(rows) for key, rows in shares.items()}
    # A kind that makes no fault of this installation leaves its share to the others.
    listed = (1 - UNKNOWN_PRIOR) * prior / prior.sum()
    astray = np.full(len(strays), UNKNOWN_PRIOR * AT_ONE_STATION / max(len(strays), 1))
    return Table(at, faults, strays, tests, levels, mean, sd, known, np.concatenate([listed, astray]))


def _readers(
    at: Installation, faults: Sequence[Fault], strays: Sequence[Stray], levels: Array
) -> tuple[Callable[[FaultTest], Expected], ...]:
    """What reads every row at the levels."""
    common = Common(at, levels)
    listed = [Reader(Wrong(at, fault), common) for fault in faults]
    sound = Sound(next(reader for reader in listed if reader.fault.kind.key == "nothing"))
    return (*(partial(read, one) for one in listed), *(StrayReader(at, stray, sound).read for stray in strays))


def widened(mean: Array, sd: Array, faults: Sequence[Fault], strays: Sequence[Stray]) -> Array:
    """Standard deviations with what lies between neighbours."""
    kinds: list[Hashable] = [(f.kind.key, f.conductor) if f.kind.smooth else row for row, f in enumerate(faults)]
    kinds += [stray.station for stray in strays]
    with np.errstate(invalid="ignore"):
        by_level = np.abs(np.gradient(mean, axis=2)) / 3
        by_value = np.full_like(mean, np.inf)
        for left in range(len(kinds) - 1):
            if kinds[left] == kinds[left + 1]:
                # By the nearer of two neighbours: where values near nothing are left out, the gap is none of theirs.
                apart = np.abs(mean[:, left + 1] - mean[:, left]) / 3
                by_value[:, left] = np.minimum(by_value[:, left], apart)
                by_value[:, left + 1] = np.minimum(by_value[:, left + 1], apart)
        by_value[np.isinf(by_value)] = 0.0
    found = sd**2 + np.nan_to_num(by_level) ** 2 + np.nan_to_num(by_value) ** 2
    return np.asarray(np.sqrt(found))
