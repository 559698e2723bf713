"""Make `rasante/core/readings/slope_intervals.json` anew: ``python -m tests.slope_intervals``; seeded, some minutes.

For first-order processes of each length and correlation: the estimate of the correlation that one series in fifty
falls below, and how many plain standard errors the slope of a level series is off at most, in 96.5 and in 99.8 of a
hundred: what is left of a hundred is for the series whose correlation is taken too low.
"""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np

COUNTS = (4, 5, 6, 8, 10, 12, 16, 24, 32, 48, 64, 96, 128, 256, 512)
CORRELATIONS = (0.0, 0.3, 0.5, 0.7, 0.8, 0.9, 0.95, 0.97)
SERIES, SEED = 20_000, 29
PLACE = Path(__file__).parents[1] / "rasante" / "core" / "readings" / "slope_intervals.json"


def processes(count: int, correlation: float, series: int, rng: np.random.Generator) -> np.ndarray:
    """Stationary first-order processes of unit deviation, of shape (series, count)."""
    steps = rng.normal(0.0, np.sqrt(1 - correlation**2), (series, count))
    steps[:, 0] = rng.normal(0.0, 1.0, series)
    for at in range(1, count):
        steps[:, at] += correlation * steps[:, at - 1]
    return steps


def measured(values: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Of each series: the estimate of its correlation about a line, and its slope in plain standard errors."""
    count = values.shape[1]
    centred = np.arange(count) - (count - 1) / 2
    weight = centred @ centred
    slope = values @ centred / weight
    rest = values - values.mean(axis=1, keepdims=True) - slope[:, None] * centred
    total = (rest**2).sum(axis=1)
    estimate = (rest[:, 1:] * rest[:, :-1]).sum(axis=1) / total
    return estimate, np.abs(slope) / np.sqrt(total / (count - 2) / weight)


def made() -> dict:
    """The whole table."""
    lowest, usual, often = [], [], []
    for count in COUNTS:
        rows: tuple[list, list, list] = ([], [], [])
        for correlation in CORRELATIONS:
            rng = np.random.default_rng([SEED, count, int(1000 * correlation)])
            estimate, errors = measured(processes(count, correlation, SERIES if count < 200 else SERIES // 4, rng))
            rows[0].append(round(float(np.quantile(estimate, 0.02)), 4))
            rows[1].append(round(float(np.quantile(errors, 0.965)), 3))
            rows[2].append(round(float(np.quantile(errors, 0.998)), 3))
        for table, row in zip((lowest, usual, often), rows, strict=True):
            # What hangs together more leaves no lower an estimate, and needs no narrower an interval.
            table.append([float(one) for one in np.maximum.accumulate(row)])
    return {
        "about": "first-order processes, 20,000 series each, seed 29: made by tests/slope_intervals.py",
        "counts": list(COUNTS), "correlations": list(CORRELATIONS), "lowest": lowest,
        "standard_errors": {"0.95": usual, "0.998": often},
    }  # fmt: skip


if __name__ == "__main__":
    PLACE.write_text(json.dumps(made(), indent=1) + "\n", encoding="utf-8")
