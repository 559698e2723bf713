"""What every test would read of everything that may be wrong with an installation, worked out once."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property, partial

import numpy as np
from numpy.typing import NDArray

from ..quantities.arrays import Array
from ..quantities.once import once
from .fault import Fault, faults_of, parts, priors
from .fault_test import FaultTest, fault_tests, shared_accuracies, test_between, tests_of
from .installation import Installation
from .latents import CELL_SD, LEVEL, VALUE, latent
from .outliers import OUTLIERS, Outliers, outliers_of
from .predict import Common, Expected, Reader, Wrong, read, scale, station_of
from .unlisted import (
    AT_ONE_STATION,
    UNKNOWN,
    UNKNOWN_OUTLIERS,
    UNKNOWN_PRIOR,
    Sound,
    Stray,
    StrayReader,
    strays_of,
)

#: Levels at which everything is worked out, by share of the height.
LEVELS = 25
#: How many installations' tables are kept at hand.
_MOST_TABLES = 12
#: Slopes are kept with fewer digits than readings: they only say how much of a reading is shared.
_Slope = NDArray[np.float32]


@dataclass(frozen=True)
class Column:
    """A test with what it would read of every row at every level.

    Parameters
    ----------
    test : FaultTest
    mean, sd : ndarray of shape (rows, levels)
        In the test's own scale; a mean of NaN where nothing is shown. The deviation is what one reading has by
        itself: what several share is in the slopes.
    names : tuple of int
        The latent variables that its readings hang on, of `latents`.
    slopes : ndarray of shape (names, rows · levels)
        By how much a reading moves with one standard deviation of each.
    shares : ndarray of shape (rows, outcomes)
        Of a test that reads a sign: how likely each outcome is; else empty.
    scale : float
        How far its readings go.
    outliers : Outliers
    """

    test: FaultTest
    mean: Array
    sd: Array
    names: tuple[int, ...]
    slopes: _Slope
    shares: Array
    scale: float
    outliers: Outliers

    def slopes_at(self, place: NDArray[np.intp]) -> tuple[list[int], _Slope]:
        """The latent variables that its readings hang on, and the slopes at some places, of shape (names, n)."""
        return list(self.names), self.slopes[:, place]


@dataclass(frozen=True)
class Table:
    """Everything that every test would read, for one installation.

    Parameters
    ----------
    at : Installation
    faults : tuple of Fault
        One row each.
    strays : tuple of Stray
        What is in no list and sits at one station; one row each, after the faults. The last row of all is what is in
        no list and may read anything anywhere.
    tests : tuple of FaultTest
        Those that can be done, and of which it is known beforehand what is put in.
    levels : ndarray of shape (levels,)
        Innages [m].
    prior : ndarray of shape (rows,)
        They add up to 1.
    """

    at: Installation
    faults: tuple[Fault, ...]
    strays: tuple[Stray, ...]
    tests: tuple[FaultTest, ...]
    levels: Array
    prior: Array
    _columns: dict[str, Column]
    _readers: tuple[Callable[[FaultTest], Expected], ...]

    @property
    def rows(self) -> int:
        """How many rows it has."""
        return len(self.faults) + len(self.strays) + 1

    @property
    def unlisted(self) -> int:
        """The row of what is in no list and may read anything anywhere: the last."""
        return self.rows - 1

    @cached_property
    def parts(self) -> tuple[str, ...]:
        """The parts that its faults blame, in the file's order; last what is in no list."""
        there = {fault.kind.part for fault in self.faults}
        return (*(key for key in parts() if key in there), UNKNOWN)

    @cached_property
    def part_of(self) -> NDArray[np.intp]:
        """Each row's part, by its place in `parts`."""
        listed = [self.parts.index(fault.kind.part) for fault in self.faults]
        return np.array([*listed, *([len(self.parts) - 1] * (len(self.strays) + 1))])

    @cached_property
    def slip(self) -> Array:
        """How often a reading of each row is anything at all, of shape (rows,)."""
        found = np.full(self.rows, OUTLIERS)
        found[self.unlisted] = UNKNOWN_OUTLIERS
        return found

    @cached_property
    def sound(self) -> int:
        """The row of nothing being wrong."""
        return next(row for row, fault in enumerate(self.faults) if fault.kind.key == "nothing")

    @cached_property
    def every_test(self) -> tuple[FaultTest, ...]:
        """All tests that can be done, those too that put in what was read before."""
        return tuple(tests_of(self.at))

    def column(self, key: str, put_in: float | None = None) -> Column:
        """A test with all that it would read; also of two terminals that no test of the list names.

        Parameters
        ----------
        key : str
            A test's key, or ``volts|red|black`` or ``ohms|red|black`` with two terminals of the circuit.
        put_in : float, optional
            The signal that was put in [A or V], where that is not as the test has it.
        """
        name = key if put_in is None else f"{key} {put_in:.6g}"
        if name not in self._columns:
            test = fault_tests()[key].with_input(put_in) if key in fault_tests() else test_between(key)
            self._columns[name] = _column(test, self.at, self.faults, self.strays, self._readers)
        return self._columns[name]


def table_of(at: Installation) -> Table:
    """What every test would read of everything that may be wrong; worked out once for an installation."""
    return _table_of(_Signed(at.signature, at))


class _Signed:
    """An installation by its signature: two of one signature have one table."""

    def __init__(self, signature: str, at: Installation) -> None:
        self.signature, self.at = signature, at

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Signed) and other.signature == self.signature

    def __hash__(self) -> int:
        return hash(self.signature)


@once(_MOST_TABLES)
def _table_of(signed: _Signed) -> Table:
    return make_table(signed.at)


def make_table(at: Installation) -> Table:
    """Work out what every test would read of everything that may be wrong.

    Notes
    -----
    A row is one fault with one value, and stands for what lies about that value, as a level stands for what lies
    about it: how far a reading moves within such a cell is its slope by the value and by the level, and where in the
    cell the truth lies is one unknown for all readings (`cells`). So are the instruments' own accuracies.
    """
    faults, strays = tuple(faults_of(at)), tuple(strays_of(at))
    tests = tuple(test for test in tests_of(at) if test.reads.get("inject") != "same")
    levels = np.linspace(0.01, 0.99, LEVELS) * at.sound.top_m
    readers = _readers(at, faults, strays, levels)
    columns = {test.key: _column(test, at, faults, strays, readers) for test in tests}
    likely = priors(at)
    count: dict[str, int] = {}
    for fault in faults:
        count[fault.kind.key] = count.get(fault.kind.key, 0) + 1
    prior = np.array([likely[fault.kind.key] / count[fault.kind.key] for fault in faults])
    # A kind that makes no fault of this installation leaves its share to the others.
    listed = (1 - UNKNOWN_PRIOR) * prior / prior.sum()
    at_one = UNKNOWN_PRIOR * AT_ONE_STATION if strays else 0.0
    astray = np.full(len(strays), at_one / max(len(strays), 1))
    every = np.concatenate([listed, astray, [UNKNOWN_PRIOR - at_one]])
    return Table(at, faults, strays, tests, levels, every, columns, readers)


#: Where what an instrument is off by comes in.
_ENTERS = {"input": "counts", "display": "shown"}


def _enters(at: Installation) -> dict[str, str]:
    """By what is shared: the station at which it comes in."""
    found = {"sensor": "sent" if at.sound.signal is not None else "number", **_ENTERS}
    if at.sound.card is None and at.sound.signal is not None:
        found["input"] = "number"
    return {name: station for name, station in found.items() if station in at.sound.stations}


def _readers(
    at: Installation, faults: Sequence[Fault], strays: Sequence[Stray], levels: Array
) -> tuple[Callable[[FaultTest], Expected], ...]:
    """What reads every row at the levels: once as it is, then with each instrument off by one standard deviation."""
    enters, share = _enters(at), shared_accuracies()
    blocks = np.repeat(np.arange(len(enters) + 3), LEVELS)
    shifts = {
        station: np.where(blocks == block, share[name] * at.spans[station], 0.0)
        for block, (name, station) in enumerate(enters.items(), 1)
    }
    draws = np.where(blocks == len(enters) + 1, 1 - share["power"], 1.0)
    lags = np.where(blocks == len(enters) + 2, 1.0, 0.0)
    common = Common(at, np.tile(levels, len(enters) + 3), shifts, draws, lags)
    listed = [Reader(Wrong(at, fault), common) for fault in faults]
    sound = Sound(next(reader for reader in listed if reader.fault.kind.key == "nothing"))
    return (
        *(partial(read, one) for one in listed),
        *(StrayReader(at, stray, sound).read for stray in strays),
        sound.read,
    )


def _column(
    test: FaultTest,
    at: Installation,
    faults: Sequence[Fault],
    strays: Sequence[Stray],
    readers: Sequence[Callable[[FaultTest], Expected]],
) -> Column:
    every = [reader(test) for reader in readers]
    rows = len(every)
    if test.outcomes:
        nothing = np.full((rows, LEVELS), np.nan)
        shares = np.array([one.shares for one in every])
        sound = next(row for row, fault in enumerate(faults) if fault.kind.key == "nothing")
        shares[-1] = (1 - UNKNOWN_OUTLIERS) * shares[sound] + UNKNOWN_OUTLIERS / shares.shape[1]
        empty = np.zeros((0, rows * LEVELS), dtype=np.float32)
        return Column(test, nothing, nothing, (), empty, shares, 1.0, Outliers(0.0, 1.0))
    blocks = np.array([one.mean for one in every]).reshape(rows, -1, LEVELS)
    mean, sd = np.ascontiguousarray(blocks[:, 0]), np.array([one.sd[:LEVELS] for one in every])
    slopes = {VALUE: _by_value(mean, faults, strays), LEVEL: _slope(mean.T).T}
    enters = _enters(at)
    for block, name in enumerate((*enters, "power", "lag"), 1):
        slopes[latent(name)] = blocks[:, block] - mean
    for name, slope in _of_the_meter(test, at, mean).items():
        slopes[latent(name)] = slope
    moving = {name: np.nan_to_num(slope).ravel() for name, slope in slopes.items()}
    kept = {name: slope for name, slope in moving.items() if slope.any()}
    stacked = np.array(list(kept.values()), dtype=np.float32).reshape(len(kept), rows * LEVELS)
    none = np.zeros((rows, 0))
    return Column(test, mean, sd, tuple(kept), stacked, none, scale(test, at), outliers_of(test, at))


def _of_the_meter(test: FaultTest, at: Installation, mean: Array) -> Mapping[str, Array]:
    """What is shared by readings of one instrument that is no part of the chain: by one standard deviation."""
    share = shared_accuracies()
    if "volts" in test.reads:
        # What a supply truly gives is behind all that is read of it.
        return {"supply": share["supply"] * mean}
    if "ohms" in test.reads:
        return {"ohms": np.full_like(mean, share["ohms"])}
    if station_of(test, at) == "level" and "alone" not in test.reads:
        name = "float" if "float" in test.when else "datum"
        # Another tape, another person: half of what the first dip was off by is in the second as well.
        return {name: np.full_like(mean, share[name] * at.sound.top_m * (0.5 if test.reads.get("fresh") else 1.0))}
    return {}


def _slope(mean: Array) -> Array:
    """How readings of shape (cells, n) move within each cell, by the less steep of its two sides.

    Notes
    -----
    Where a reading bends or jumps, each cell goes on as its flatter side does, and its neighbour stands for the other
    (the minmod limiter of finite volumes).
    """
    if len(mean) < 2:
        return np.zeros_like(mean)
    with np.errstate(invalid="ignore"):
        steps = np.nan_to_num(np.diff(mean, axis=0))
    before, after = np.concatenate([steps[:1], steps]), np.concatenate([steps, steps[-1:]])
    flatter = np.where(np.abs(before) < np.abs(after), before, after)
    return np.asarray(CELL_SD * np.where(before * after > 0, flatter, 0.0))


def _by_value(mean: Array, faults: Sequence[Fault], strays: Sequence[Stray]) -> Array:
    """How a reading moves with the fault's value within its cell."""
    kinds: list[Hashable] = [(f.kind.key, f.conductor) if f.kind.smooth else row for row, f in enumerate(faults)]
    kinds += [stray.station for stray in strays]
    values = np.array([*(fault.value for fault in faults), *(stray.value for stray in strays)])
    found = np.zeros_like(mean)
    for run in _runs(kinds, values):
        found[run] = _slope(mean[run])
    return found


def _runs(kinds: Sequence[Hashable], values: Array) -> list[NDArray[np.intp]]:
    """Rows of one kind whose values follow one another without a gap: about nothing some are left out."""
    runs: list[list[int]] = []
    for row, kind in enumerate(kinds):
        run = runs[-1] if runs else None
        if run is not None and kinds[run[-1]] == kind and not _gap(values, run, row):
            run.append(row)
        else:
            runs.append([row])
    return [np.array(run, dtype=np.intp) for run in runs]


def _gap(values: Array, run: Sequence[int], row: int) -> bool:
    """Whether values are left out before a row: the step is neither as it was before, nor as many times as much."""
    if len(run) < 2:
        return len(run) == 1 and row + 1 < len(values) and _wider(values[run[0]], values[row], values[row + 1])
    return _wider(values[row], values[run[-1]], values[run[-2]])


def _wider(one: float, other: float, third: float) -> bool:
    """Whether the step from one value to another is half as wide again as from there to a third, in either scale."""
    even = abs(one - other) > 1.5 * abs(other - third)
    if one * other <= 0 or other * third <= 0:
        return even
    logs = np.log(np.abs([one, other, third]))
    return even and bool(abs(logs[0] - logs[1]) > 1.5 * abs(logs[1] - logs[2]))
