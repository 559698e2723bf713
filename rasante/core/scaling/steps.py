"""Numbers brought to their places, as devices do it."""

from __future__ import annotations

import numpy as np

from ..quantities.arrays import Array


def stepped(values: Array, decimals: int, rounding: str = "round") -> Array:
    """Bring numbers to their places.

    Parameters
    ----------
    values : ndarray
        The numbers.
    decimals : int
        How many places; −1 keeps them all.
    rounding : {"round", "truncate"}
        Half away from zero, or cut off.

    Returns
    -------
    ndarray
        Of the same shape. What lies within the last digits of a step is that step, so that 0.29 × 100 is 29.
    """
    if decimals < 0:
        return values
    scale = 10.0**decimals
    with np.errstate(invalid="ignore", over="ignore"):
        grown = values * scale
        near = np.rint(grown)
        whole = np.trunc(grown) if rounding == "truncate" else np.copysign(np.floor(np.abs(grown) + 0.5), grown)
        kept = np.where(np.abs(grown - near) < 1e-9 * np.maximum(1.0, np.abs(grown)), near, whole) / scale
        small = np.abs(grown) <= 2.0**52
    return np.asarray(np.where(small, kept, values), dtype=float)


def step_one(value: float, decimals: int, rounding: str = "round") -> float:
    """Bring one number to its places, as `stepped`."""
    return float(stepped(np.asarray(value, dtype=float), decimals, rounding))
