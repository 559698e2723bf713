"""What tests are expected to tell: their readings by what is believed, part by part, cut into bins; many at once."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..quantities.arrays import Array
from .cells import Cells
from .outliers import OUTLIERS
from .table import Column, Table

#: Into how many bins a test's readings are told apart at most, and what share at either end falls together.
_BINS, _TAIL = 100, 0.01
#: Where seven equal shares of a normal distribution have their middles [standard deviations].
SEVENTHS = np.array([-1.465, -0.792, -0.366, 0.0, 0.366, 0.792, 1.465])


@dataclass(frozen=True)
class Binning:
    """How a test's readings are cut into bins: where the first begins, how wide they are, and the last."""

    low: float
    width: float
    last: int


@dataclass(frozen=True)
class Spread:
    """What a test is expected to read, by some cells.

    Parameters
    ----------
    bin : ndarray of int, shape (cells, falls)
        Into which bin each may fall; 0 where nothing is shown. Of a sign: its outcomes.
    share : ndarray of shape (cells, falls)
        How likely each fall is in one cell; they add up to 1.
    reads : ndarray of shape (cells, falls)
        What is read then, in the test's own scale; NaN where nothing is shown, and of a sign.
    count : int
        How many bins there are.
    """

    bin: NDArray[np.intp]
    share: Array
    reads: Array
    count: int


def spread(cells: Cells, column: Column) -> Spread:
    """Spread a test's readings by some cells."""
    if column.test.outcomes:
        shares = column.shares[cells.row]
        bins = np.tile(np.arange(shares.shape[1]), (len(shares), 1))
        return Spread(bins, shares, np.full(shares.shape, np.nan), shares.shape[1])
    mean, sd = cells.expected(column)
    cut = _binning(mean[None], sd[None], cells.weight)[0]
    reads = mean[:, None] + sd[:, None] * SEVENTHS
    bins = _bin_of(reads, cut.low, cut.width, np.array(cut.last))
    used, bins = np.unique(np.append(bins, 0), return_inverse=True)
    bins = bins[:-1].reshape(reads.shape)
    return Spread(bins, np.full(reads.shape, 1 / len(SEVENTHS)), reads, len(used))


def joint_shares(table: Table, cells: Cells, columns: Sequence[Column], by_row: Array) -> Array:
    """How likely each outcome is with each part wrong, of shape (tests, parts, bins); 0 beyond a test's own.

    Parameters
    ----------
    table : Table
    cells : Cells
        What is believed.
    columns : sequence of Column
        The tests.
    by_row : ndarray of shape (rows,)
        How likely each row of the table is: all that signs hang on.

    Notes
    -----
    A reading is spread over seven equal shares of a normal distribution, and every bin gets what is read by a slip.
    """
    parts, part = len(table.parts), table.part_of[cells.row]
    read = [at for at, column in enumerate(columns) if not column.test.outcomes]
    signs = [at for at, column in enumerate(columns) if column.test.outcomes]
    most = max([1, *(columns[at].shares.shape[1] for at in signs)])
    fallen = np.zeros((0, parts, 1))
    if read:
        expected = [cells.expected(columns[at]) for at in read]
        fallen = _fallen(
            np.array([one for one, _ in expected]), np.array([sd for _, sd in expected]), cells, part, parts
        )
        most = max(most, fallen.shape[2])
    joint = np.zeros((len(columns), parts, most))
    if read:
        some = fallen.any(axis=1)
        count = np.maximum((some * np.arange(1, some.shape[1] + 1)).max(axis=1), 1)
        there = np.arange(fallen.shape[2]) < count[:, None]
        slips = OUTLIERS * fallen.sum(axis=2) / count[:, None]
        mixed = (1 - OUTLIERS) * fallen + slips[:, :, None] * there[:, None, :]
        joint[read, :, : fallen.shape[2]] = mixed
    for at in signs:
        for outcome, share in enumerate(columns[at].shares.T):
            joint[at, :, outcome] = np.bincount(table.part_of, by_row * share, parts)
    return joint


def _binning(mean: Array, sd: Array, weight: Array) -> list[Binning]:
    """How the readings of some tests are cut; mean and sd of shape (tests, cells)."""
    found = []
    for middle, width_sd in zip(mean, sd, strict=True):
        shown = np.isfinite(middle)
        if not shown.any():
            found.append(Binning(0.0, 1.0, 0))
            continue
        low, high = weighted_quantiles(middle[shown], weight[shown], (_TAIL, 1 - _TAIL))
        (own,) = weighted_quantiles(width_sd[shown], weight[shown], (0.5,))
        # Twice the usual ± wide, so that what one reading cannot tell apart falls together.
        width = max((high - low) / _BINS, 2 * own, 1e-12)
        found.append(Binning(low, width, int(np.ceil((high - low) / width)) + 2))
    return found


def _bin_of(reads: Array, low: float | Array, width: float | Array, last: NDArray[np.intp]) -> NDArray[np.intp]:
    """The bins of readings: 0 where nothing is shown, 1 for what lies far below."""
    with np.errstate(invalid="ignore"):
        steps = np.floor((reads - low) / width)
    shown = np.isfinite(steps)
    return np.where(shown, np.minimum(np.maximum(np.where(shown, steps, 0.0), -2.0), last) + 3, 0).astype(np.intp)


def _fallen(mean: Array, sd: Array, cells: Cells, part: NDArray[np.intp], parts: int) -> Array:
    """What falls into each bin of each test with each part wrong: shares of shape (tests, parts, bins)."""
    cuts = _binning(mean, sd, cells.weight)
    low, width = (np.array([getattr(cut, name) for cut in cuts])[:, None, None] for name in ("low", "width"))
    last = np.array([cut.last for cut in cuts], dtype=np.intp)[:, None, None]
    bins = _bin_of(mean[:, :, None] + sd[:, :, None] * SEVENTHS, low, width, last)
    most = int(last.max()) + 4
    first = (np.arange(len(mean))[:, None] * parts + part)[:, :, None] * most
    share = np.broadcast_to(cells.weight[None, :, None] / len(SEVENTHS), bins.shape)
    fallen = np.bincount((bins + first).ravel(), share.ravel(), len(mean) * parts * most)
    return np.asarray(fallen, dtype=float).reshape(len(mean), parts, most)


def weighted_quantiles(values: Array, weight: Array, shares: tuple[float, ...]) -> list[float]:
    """Quantiles of values that weigh differently."""
    order = np.argsort(values)
    summed = np.cumsum(weight[order])
    places = np.minimum(np.searchsorted(summed, np.array(shares) * summed[-1]), len(summed) - 1)
    return [float(x) for x in values[order][places]]


def mutual_information(joint: Array) -> Array:
    """Mutual information of rows and columns of joint shares [bit], of shape (...).

    Parameters
    ----------
    joint : ndarray of shape (..., rows, columns)

    Notes
    -----
    I = H(row) + H(column) − H(row, column): what knowing the column tells of the row.

    References
    ----------
    .. [1] T. M. Cover, J. A. Thomas, Elements of Information Theory, 2nd ed. (2006), eq. 2.45; from memory.
    """
    total = joint.sum(axis=(-2, -1), keepdims=True)
    joint = np.divide(joint, total, out=np.zeros_like(joint), where=total > 0)
    of_rows, of_columns = (_bits(joint.sum(axis=axis)).sum(axis=-1) for axis in (-1, -2))
    return np.asarray(np.maximum(of_rows + of_columns - _bits(joint).sum(axis=(-2, -1)), 0.0))


def _bits(shares: Array) -> Array:
    return -shares * np.log2(shares, out=np.zeros_like(shares), where=shares > 0)
