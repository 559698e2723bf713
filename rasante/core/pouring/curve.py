"""The curve through what was poured: volume over reading, with what it may be off by at every reading."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
import scipy

from ..quantities.arrays import Array

#: Of the difference between the straight line and the smooth curve across a gap, and of the change of the surface
#: from gap to gap, what the curve is off by, k = 2; and what a bend that no pour has seen may add, as a share of
#: what lies in the gap: more where the gaps are few. Found on 400 simulated tanks other than those of the tests.
_BETWEEN, _CHANGE, _UNSEEN, _FEW = 1.0, 0.12, 0.010, 0.35
#: Where in a gap the two are compared.
_QUARTERS = np.array([0.25, 0.5, 0.75])


@dataclass(frozen=True)
class Curve:
    """Volume over reading.

    Parameters
    ----------
    reading : ndarray, shape (n,)
        Of the sensor or the dip, rising; in its own unit.
    volume : ndarray, shape (n,)
        In the tank at each [m³], rising.
    random : ndarray, shape (n,)
        What each volume may be off by for itself, k = 2 [m³]: repeats of the meter up to there, and the reading.
    common : ndarray, shape (n,)
        What all are off by together, k = 2 [m³]: the start, and the meter's factor.
    """

    reading: Array
    volume: Array
    random: Array
    common: Array

    @cached_property
    def _smooth(self) -> scipy.interpolate.PchipInterpolator:
        return scipy.interpolate.PchipInterpolator(self.reading, self.volume)

    def at(self, reading: Array | float) -> Array:
        """Volume [m³] at readings within those that were taken."""
        return np.asarray(self._smooth(reading))

    @cached_property
    def gap_half(self) -> Array:
        """What the curve may be off by within each gap for its shape alone, k = 2 [m³], shape (n − 1,)."""
        width, poured = np.diff(self.reading), np.diff(self.volume)
        if len(width) == 1:
            # Nothing is known of the shape yet: from a wedge to its reverse.
            return np.asarray(poured / 4)
        within = self.reading[:-1, None] + width[:, None] * _QUARTERS
        line = self.volume[:-1, None] + poured[:, None] * _QUARTERS
        bent = np.abs(self.at(within) - line).max(axis=1)
        change = np.abs(np.diff(poured / width))
        nearby = np.maximum(np.append(change, 0.0), np.insert(change, 0, 0.0))
        unseen = (_UNSEEN + _FEW / len(width) ** 2) * poured
        return np.asarray(np.maximum(_BETWEEN * bent, _CHANGE * nearby * width) + unseen)

    def half(self, reading: Array | float) -> Array:
        """What the volume may be off by at readings, k = 2 [m³]; same shape as `reading`."""
        x = np.asarray(reading, dtype=float)
        gap = np.clip(np.searchsorted(self.reading, x, side="right") - 1, 0, len(self.reading) - 2)
        share = np.clip((x - self.reading[gap]) / np.diff(self.reading)[gap], 0.0, 1.0)
        shape = self.gap_half[gap] * np.sqrt(4 * share * (1 - share))
        own = np.interp(x, self.reading, self.random)
        together = np.interp(x, self.reading, self.common)
        return np.asarray(np.sqrt(shape**2 + own**2 + together**2))

    @cached_property
    def worst(self) -> float:
        """What the table may be off by at most, k = 2 [m³]."""
        middles = self.reading[:-1] + np.diff(self.reading) / 2
        return float(self.half(np.concatenate([self.reading, middles])).max())
