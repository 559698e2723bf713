"""What is known of noise: how much it hangs together from one reading to the next, and what a slope is then good for.

White noise is not taken for granted. How strongly readings hang together is told from what a straight line leaves of
them, by as much as it may be at worst, since a short series that creeps looks smooth; the interval of a slope is that
of a first-order process with so much correlation.

References
----------
.. [1] M. G. Kendall, "Note on bias in the estimation of autocorrelation", Biometrika 41 (1954) 403-404; from memory.
.. [2] G. E. P. Box, G. M. Jenkins, G. C. Reinsel, Time Series Analysis, 4th ed. (2008), section 3.2; from memory.
"""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Any

import numpy as np

from ..quantities.arrays import Array


@dataclass(frozen=True)
class Slope:
    """A straight line through readings, in their unit.

    Parameters
    ----------
    slope : float
        By the second.
    half_width : float
        Of its interval at the confidence that was asked for, by the second; infinite where nothing can be said.
    spread : float
        Standard deviation of the readings about the line.
    value : float
        At the newest reading, by the line.
    correlation : float
        How much neighbouring readings may hang together at most [1].
    """

    slope: float
    half_width: float
    spread: float
    value: float
    correlation: float


@cache
def _table() -> Any:
    return json.loads(resources.files(__package__).joinpath("slope_intervals.json").read_text("utf-8"))


@cache
def _arrays() -> tuple[Array, Array, Array, dict[str, Array]]:
    """Counts, correlations, the lowest estimate that each leaves, and by confidence how many standard errors."""
    table = _table()
    factors = {name: np.array(rows) for name, rows in table["standard_errors"].items()}
    return np.array(table["counts"], float), np.array(table["correlations"]), np.array(table["lowest"]), factors


#: Confidences that the table has: of one look, and of one among many.
USUAL, OFTEN = "0.95", "0.998"
#: Fewer readings than these say nothing of a slope.
FEWEST = 4


def correlation_of(rest: Array) -> float:
    """How much neighbours hang together, by what a straight line leaves of a series [1]; not corrected."""
    total = float(rest @ rest)
    return float(rest[1:] @ rest[:-1]) / total if total > 0 else 0.0


def correlation_at_most(estimate: float, count: int) -> float:
    """How much neighbours may hang together at most where a series of so many readings gives an estimate [1]."""
    counts, correlations, lowest, _ = _arrays()
    rows = [float(np.interp(np.log(count), np.log(counts), lowest[:, at])) for at in range(len(correlations))]
    return float(np.interp(estimate, rows, correlations))


def standard_errors(correlation: float, count: int, confidence: str = USUAL) -> float:
    """By how many plain standard errors a slope may be off, in a process with so much correlation."""
    counts, correlations, _, factors = _arrays()
    at = [
        float(np.interp(np.log(count), np.log(counts), factors[confidence][:, place]))
        for place in range(len(correlations))
    ]
    return float(np.interp(correlation, correlations, at))


def fit_slope(times_s: Array, values: Array, least_sd: float = 0.0, confidence: str = USUAL) -> Slope:
    """Put a straight line through readings, with the interval of its slope.

    Parameters
    ----------
    times_s, values : ndarray of shape (n,)
        When each was read [s], and what it read, in the order of time.
    least_sd : float
        Standard deviation that a reading has in any case, in its unit.
    confidence : {"0.95", "0.998"}
        Of the interval: `USUAL` for one look, `OFTEN` for one of many at the same series.

    Notes
    -----
    Least squares; the standard error as if readings were independent, times what a first-order process needs at the
    largest correlation that the residuals leave open (`slope_intervals.json`).
    """
    count = len(times_s)
    centred = times_s - times_s.mean()
    weight = float(centred @ centred)
    if count < FEWEST or weight <= 0:
        value = float(values[-1]) if count else float("nan")
        return Slope(0.0, float("inf"), 0.0, value, 1.0)
    slope = float(centred @ values) / weight
    rest = values - values.mean() - slope * centred
    spread = float(np.sqrt(rest @ rest / (count - 2)))
    most = correlation_at_most(correlation_of(rest), count)
    half = standard_errors(most, count, confidence) * max(spread, least_sd) / np.sqrt(weight)
    return Slope(slope, float(half), spread, float(values.mean() + slope * centred[-1]), most)


def effective_count(count: int, correlation: float) -> float:
    """How many independent readings as many correlated ones are worth: n (1 − ρ) / (1 + ρ), one at least."""
    return max(count * (1 - correlation) / (1 + correlation), 1.0)
