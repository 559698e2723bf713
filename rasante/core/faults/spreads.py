"""What tests are expected to find by what is believed, part by part, cut into cells; many tests at once."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..quantities.arrays import Array
from .fault_test import FaultTest
from .table import LEVELS, Table

#: How often somebody reads or writes down something else than what was there; common practice.
OUTLIERS = 0.02
#: Into how many cells a test's readings are told apart at most, and what share at either end falls together.
_BINS, _TAIL = 100, 0.01
#: Where seven equal shares of a normal distribution have their middles [standard deviations].
SEVENTHS = np.array([-1.465, -0.792, -0.366, 0.0, 0.366, 0.792, 1.465])


@dataclass(frozen=True)
class Particles:
    """Pairs of fault and level: their places in a table, how likely each is, and its part by `Table.parts`."""

    place: NDArray[np.intp]
    weight: Array
    part: NDArray[np.intp]


@dataclass(frozen=True)
class Cut:
    """How a test's readings are cut into cells: where the first begins, how wide they are, and the last."""

    low: float
    width: float
    last: int


@dataclass(frozen=True)
class Spreads:
    """What some tests are expected to find, by each of some beliefs.

    Parameters
    ----------
    joint : ndarray of shape (beliefs, tests, parts, cells)
        How likely each outcome is with each part wrong; 0 beyond a test's own.
    count : ndarray of int, shape (beliefs, tests)
        How many outcomes each has.
    cuts : list of dict of str to Cut
        By each belief, of the tests that read something, by their keys.
    """

    joint: Array
    count: NDArray[np.intp]
    cuts: list[dict[str, Cut]]


@dataclass(frozen=True)
class _Lots:
    """What is believed at lots of places that a test does not tell apart: of many tests, one after the other."""

    test: NDArray[np.intp]
    mean: Array
    sd: Array
    part: NDArray[np.intp]
    weight: Array


def spreads(table: Table, beliefs: Sequence[Particles], tests: Sequence[FaultTest]) -> Spreads:
    """Spread some tests' outcomes, by each of some beliefs.

    Parameters
    ----------
    table : Table
    beliefs : sequence of Particles
        What is believed, over this table.
    tests : sequence of FaultTest
        All of the table.

    Notes
    -----
    A reading is spread over seven equal shares of a normal distribution, and every cell gets what is read by a slip.
    """
    parts = len(table.parts)
    read = [at for at, test in enumerate(tests) if not test.outcomes]
    lots = _lots(table, beliefs, [table.place[tests[at].key] for at in read])
    each = (len(beliefs), len(read))
    low, width, last = _cuts(lots, len(beliefs) * len(read))
    most = max([int(last.max(initial=0)) + 4, *(len(test.outcomes) for test in tests)])
    joint = np.zeros((len(beliefs), len(tests), parts, most))
    count = np.tile(np.array([len(test.outcomes) for test in tests], dtype=np.intp), (len(beliefs), 1))
    if read:
        found = _fallen(lots, low, width, last, parts, most).reshape((*each, parts, most))
        filled = found.any(axis=2) * np.arange(1, most + 1)
        count[:, read] = np.maximum(filled.max(axis=2), 1)
        there = np.arange(most) < count[:, read, None]
        slips = OUTLIERS * found.sum(axis=3) / count[:, read, None]
        joint[:, read] = (1 - OUTLIERS) * found + slips[..., None] * there[:, :, None, :]
    for at, test in enumerate(tests):
        for by, particles in enumerate(beliefs if test.outcomes else ()):
            rows = np.bincount(particles.place // LEVELS, particles.weight, len(table.part_of))
            for outcome, share in enumerate(table.shares[test.key].T):
                joint[by, at, :, outcome] = np.bincount(table.part_of, rows * share, parts)
    cut = (of.reshape(each).tolist() for of in (low, width, last))
    keys = [tests[at].key for at in read]
    cuts = [{key: Cut(*one) for key, *one in zip(keys, *of, strict=True)} for of in zip(*cut, strict=True)]
    return Spreads(joint, count, cuts)


def _lots(table: Table, beliefs: Sequence[Particles], rows: Sequence[int]) -> _Lots:
    """What particles weigh in each lot: by one belief, of each test in some rows of the table; then by the next."""
    alike, at = table.alike, np.array(rows, dtype=np.intp)
    begins = alike.begins[at]
    sizes = np.tile(alike.begins[at + 1] - begins, len(beliefs))
    ends = np.cumsum(sizes)
    first = (ends - sizes).reshape(len(beliefs), len(rows))
    lot = [
        (alike.lot[at[:, None], one.place] + offset[:, None]).ravel()
        for one, offset in zip(beliefs, first, strict=True)
    ]
    weighs = [np.tile(one.weight, len(rows)) for one in beliefs]
    weight = np.bincount(np.concatenate(lot), np.concatenate(weighs), int(ends[-1]) if len(ends) else 0)
    there = np.flatnonzero(weight)
    test = np.searchsorted(ends, there, side="right")
    place = there + (begins - first).ravel()[test]
    return _Lots(test, alike.mean[place], alike.sd[place], alike.part[place], np.asarray(weight[there], dtype=float))


def _cuts(lots: _Lots, tests: int) -> tuple[Array, Array, NDArray[np.intp]]:
    """Where each test's first cell begins, how wide its cells are, and its last."""
    shown = np.isfinite(lots.mean)
    test, mean, sd, weight = lots.test[shown], lots.mean[shown], lots.sd[shown], lots.weight[shown]
    low, high = _quantiles(test, mean, weight, (_TAIL, 1 - _TAIL), tests)
    order = np.lexsort((sd, test))
    (middle,) = _quantiles(test, sd[order], weight[order], (0.5,), tests)
    # Twice the usual ± wide, so that what one reading cannot tell apart falls together.
    width = np.maximum(np.maximum((high - low) / _BINS, 2 * middle), 1e-12)
    last = np.ceil((high - low) / width).astype(np.intp) + 2
    # Of a test that shows nothing there is one cell.
    any_shown = np.bincount(test, minlength=tests) > 0
    return np.where(any_shown, low, 0.0), np.where(any_shown, width, 1.0), np.where(any_shown, last, 0)


def _quantiles(
    test: NDArray[np.intp], values: Array, weight: Array, shares: tuple[float, ...], tests: int
) -> list[Array]:
    """Quantiles of what rises within each test and weighs differently; 0 of a test that has none."""
    summed = np.concatenate([[0.0], np.cumsum(weight)])
    begins, ends = (np.searchsorted(test, np.arange(tests), side) for side in ("left", "right"))
    found = []
    for share in shares:
        target = summed[begins] + share * (summed[ends] - summed[begins])
        at = np.clip(np.searchsorted(summed[1:], target), begins, np.maximum(ends - 1, begins))
        found.append(np.where(ends > begins, np.append(values, 0.0)[np.minimum(at, len(values))], 0.0))
    return found


def _fallen(lots: _Lots, low: Array, width: Array, last: NDArray[np.intp], parts: int, most: int) -> Array:
    """What falls into each cell of each test with each part wrong: shares of shape (tests × parts × cells,)."""
    first = (lots.test * parts + lots.part) * most
    shown = np.isfinite(lots.mean)
    test = lots.test[shown]
    falls = (lots.mean[shown] - low[test]) / width[test] + (lots.sd[shown] / width[test]) * SEVENTHS[:, None]
    cells = np.concatenate([(cell_of(falls, last[test]) + first[shown]).ravel(), first[~shown]])
    share = np.tile(lots.weight[shown] / len(SEVENTHS), len(SEVENTHS))
    fallen = np.bincount(cells, np.concatenate([share, lots.weight[~shown]]), len(low) * parts * most)
    return np.asarray(fallen, dtype=float)


def cell_of(widths: Array, last: int | NDArray[np.intp]) -> NDArray[np.intp]:
    """The cells of readings that are so many widths beyond where the first cell begins; 0 is nobody's here."""
    return np.minimum(np.maximum(np.floor(widths), -2.0), last).astype(np.intp) + 3


def information(joint: Array) -> Array:
    """Mutual information of rows and columns of joint shares [bit], of shape (...).

    Parameters
    ----------
    joint : ndarray of shape (..., rows, columns)

    Notes
    -----
    I = H(row) + H(column) − H(row, column): what knowing the column tells of the row.
    """
    total = joint.sum(axis=(-2, -1), keepdims=True)
    joint = np.divide(joint, total, out=np.zeros_like(joint), where=total > 0)
    of_rows, of_columns = (_bits(joint.sum(axis=axis)).sum(axis=-1) for axis in (-1, -2))
    return np.asarray(np.maximum(of_rows + of_columns - _bits(joint).sum(axis=(-2, -1)), 0.0))


def _bits(shares: Array) -> Array:
    return -shares * np.log2(shares, out=np.zeros_like(shares), where=shares > 0)
