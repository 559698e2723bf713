"""Cells: a fault with a stretch of its value and of the level. How likely each is, and where in it the truth lies.

Every cell holds a normal distribution of all that its readings share (`latents`). Within a cell a reading is
linear in
them, so that Bayes' rule is one step of a Kalman filter, and what two readings have in common is counted once; the
sum over cells is what makes it good for whatever is not linear.

References
----------
.. [1] H. W. Sorenson, D. L. Alspach, "Recursive Bayesian estimation using Gaussian sums", Automatica 7 (1971)
   465-479; from memory.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..quantities.arrays import Array
from .latents import latent_names
from .table import LEVELS, Column

#: Beyond so many standard deviations one reading is as absurd as another.
_FARTHEST = 1e4


@dataclass(frozen=True)
class Cells:
    """Cells that count, of one table.

    Parameters
    ----------
    place : ndarray of int, shape (n,)
        Row of the table times its levels, plus the level.
    weight : ndarray of shape (n,)
        How likely each is; they add up to 1.
    mean, covariance : ndarray of shape (n, latents), (n, latents, latents)
        Of the latent variables in each cell, in standard deviations as they were at first.
    """

    place: NDArray[np.intp]
    weight: Array
    mean: Array
    covariance: Array

    @classmethod
    def at_first(cls, weight: Array) -> Cells:
        """All cells of a table before anything is read; weight of shape (rows, levels)."""
        count, size = weight.size, len(latent_names())
        covariance = np.broadcast_to(np.eye(size), (count, size, size))
        share = np.asarray(weight.ravel() / weight.sum())
        return cls(np.arange(count), share, np.zeros((count, size)), covariance)

    @property
    def row(self) -> NDArray[np.intp]:
        """The table's row of each."""
        return self.place // LEVELS

    def thinned(self, most: int, least: float) -> Cells:
        """So many of them at most that stand for all: the likeliest half as they are, the rest drawn by weight.

        Notes
        -----
        What counts for less than a share `least` of the likeliest is left out. The rest is drawn systematically, in
        the order of rows and levels, so that every fault and level keeps its share; nothing in it is by chance.

        References
        ----------
        .. [1] P. Fearnhead, P. Clifford, "On-line inference for hidden Markov models via particle filters", J. R.
           Stat. Soc. B 65 (2003) 887-899; from memory.
        """
        there = np.flatnonzero(self.weight > least * self.weight.max())
        if len(there) <= most:
            return self.of(there)
        half = most // 2
        order = np.argpartition(-self.weight[there], half)
        heavy, light = there[order[:half]], np.sort(there[order[half:]])
        summed = np.cumsum(self.weight[light])
        steps = (np.arange(most - half) + 0.5) / (most - half) * summed[-1]
        drawn, count = np.unique(np.minimum(np.searchsorted(summed, steps), len(light) - 1), return_counts=True)
        share = np.concatenate([self.weight[heavy], summed[-1] * count / (most - half)])
        return self.of(np.concatenate([heavy, light[drawn]]), share)

    def of(self, there: NDArray[np.intp], weight: Array | None = None) -> Cells:
        """Some of them, rescaled; with other weights if any are given."""
        share = self.weight[there] if weight is None else weight
        return Cells(self.place[there], share / share.sum(), self.mean[there], self.covariance[there])

    def mixed(self, share: float, other: Cells, other_share: float) -> Cells:
        """These and others together, each by its share; a cell may be in it twice."""
        weight = np.concatenate([share * self.weight, other_share * other.weight])
        place = np.concatenate([self.place, other.place])
        mean = np.concatenate([self.mean, other.mean])
        covariance = np.concatenate([self.covariance, other.covariance])
        return Cells(place, weight / weight.sum(), mean, covariance)

    def expected(self, column: Column) -> tuple[Array, Array]:
        """Mean and deviation of what a test would read in each, of shape (n,); NaN where nothing is shown."""
        names, slope = column.slopes_at(self.place)
        mean = column.mean.ravel()[self.place] + np.einsum("kn,nk->n", slope, self.mean[:, names])
        shared = np.zeros(len(self.place))
        for at, name in enumerate(names):
            shared += slope[at] ** 2 * self.covariance[:, name, name]
            for other in range(at):
                shared += 2 * slope[at] * slope[other] * self.covariance[:, name, names[other]]
        return mean, np.sqrt(column.sd.ravel()[self.place] ** 2 + np.maximum(shared, 0.0))

    def updated(self, column: Column, value: float, outlier: Array, slip: Array) -> tuple[Cells, Array]:
        """The cells once a reading is known, and how likely it was in each.

        Parameters
        ----------
        column : Column
            The test that was done.
        value : float
            What it read, in the test's own scale.
        outlier, slip : ndarray of shape (n,)
            Density of a reading that has nothing to do with what is there, and how often it is such a one.

        Notes
        -----
        A reading is a good one or a slip; each leaves a normal distribution, and the two are put together by their
        first two moments.
        """
        names, slope = column.slopes_at(self.place)
        gain = np.einsum("nik,kn->ni", self.covariance[:, :, names], slope)
        spread = np.maximum(np.einsum("nk,kn->n", gain[:, names], slope), 0.0)
        variance = spread + column.sd.ravel()[self.place] ** 2
        expected = column.mean.ravel()[self.place] + np.einsum("kn,nk->n", slope, self.mean[:, names])
        shown = np.isfinite(expected)
        off = np.where(shown, value - np.where(shown, expected, 0.0), 0.0)
        good = np.where(shown, (1 - slip) * normal_density(off, np.sqrt(variance)), 0.0)
        likely = good + slip * outlier
        share = np.divide(good, likely, out=np.zeros_like(good), where=likely > 0)
        scaled = gain / variance[:, None]
        step = np.clip(off, -_FARTHEST, _FARTHEST)[:, None] * scaled
        mean = self.mean + share[:, None] * step
        less = scaled[:, :, None] * gain[:, None, :]
        more = (1 - share)[:, None, None] * (step[:, :, None] * step[:, None, :])
        covariance = self.covariance - share[:, None, None] * (less - more)
        weight = self.weight * likely
        return Cells(self.place, weight / weight.sum(), mean, covariance), likely

    def weighed(self, likely: Array) -> Cells:
        """The cells once something is known that says nothing of the latent variables."""
        weight = self.weight * likely
        return Cells(self.place, weight / weight.sum(), self.mean, self.covariance)


def normal_density(off: Array, sd: Array) -> Array:
    """Density of a normal distribution at so far from its middle."""
    with np.errstate(over="ignore"):
        scales = np.minimum(np.abs(off / sd), _FARTHEST)
    return np.asarray(np.exp(-0.5 * scales**2) / (sd * np.sqrt(2 * np.pi)))
