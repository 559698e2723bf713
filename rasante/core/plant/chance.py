"""Chance that can be had again: every draw belongs to a seed and a whole number, in any order."""

from __future__ import annotations

import zlib

import numpy as np
import scipy
from numpy.typing import NDArray

from ..quantities.arrays import Array

_GOLDEN = np.uint64(0x9E3779B97F4A7C15)


def seed_of(seed: int, name: str) -> int:
    """A seed for one thing of many, by its name."""
    return (seed * 1_000_003 + zlib.crc32(name.encode())) & 0x7FFFFFFFFFFFFFFF


def uniform(seed: int, places: NDArray[np.int64]) -> Array:
    """Draw evenly from between 0 and 1, ends left out.

    Parameters
    ----------
    seed : int
        Whose chance it is.
    places : array of int, any shape
        Which draws: the same place gives the same draw for ever.

    References
    ----------
    .. [1] G. L. Steele, D. Lea, C. H. Flood, "Fast splittable pseudorandom number generators", OOPSLA 2014: the
       finalizer of SplitMix64, from memory.
    """
    with np.errstate(over="ignore"):
        z = np.asarray(places, dtype=np.int64).astype(np.uint64) * _GOLDEN + np.uint64(seed & 0xFFFFFFFFFFFFFFFF)
        z = (z ^ (z >> np.uint64(30))) * np.uint64(0xBF58476D1CE4E5B9)
        z = (z ^ (z >> np.uint64(27))) * np.uint64(0x94D049BB133111EB)
        z ^= z >> np.uint64(31)
    return np.asarray(((z >> np.uint64(11)).astype(float) + 0.5) / 2.0**53)


def normal(seed: int, places: NDArray[np.int64]) -> Array:
    """Draw from the standard normal distribution; see `uniform`."""
    return np.asarray(scipy.special.ndtri(uniform(seed, places)))
