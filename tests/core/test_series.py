"""What readings that hang together are good for: intervals and verdicts over white and AR(1) noise."""

from __future__ import annotations

import json
from unittest import TestCase

import numpy as np
from scipy.signal import lfilter
from scipy.stats import linregress

from rasante.core.readings.ahead import rate_now, when_reached
from rasante.core.readings.series import (
    OFTEN,
    USUAL,
    correlation_at_most,
    effective_count,
    fit_slope,
    standard_errors,
)
from rasante.core.readings.stillness import find_spikes, judge_stillness
from tests import slope_intervals
from tests.tags import slow


def noise(count: int, correlation: float, series: int, seed: int) -> np.ndarray:
    """First-order processes by SciPy's filter, of unit deviation, begun long before."""
    steps = np.random.default_rng(seed).normal(0, np.sqrt(1 - correlation**2), (series, count + 300))
    return lfilter([1.0], [1.0, -correlation], steps, axis=1)[:, 300:]


class Intervals(TestCase):
    def test_slope_is_that_of_least_squares(self) -> None:
        """``scipy.stats.linregress``."""
        draw = np.random.default_rng(3)
        times = np.sort(draw.uniform(0, 100, 40))
        values = 4 + 0.3 * times + draw.normal(0, 1, 40)
        found, reference = fit_slope(times, values), linregress(times, values)
        self.assertAlmostEqual(found.slope, reference.slope, places=12)
        self.assertGreater(found.half_width, 1.9 * reference.stderr)
        self.assertAlmostEqual(found.value, reference.intercept + reference.slope * times[-1], places=9)

    def test_they_hold_in_95_of_100_whatever_hangs_together(self) -> None:
        for correlation in (0.0, 0.5, 0.8, 0.95):
            for count in (4, 6, 12, 40, 160):
                times = np.arange(count, dtype=float)
                every = [fit_slope(times, one) for one in noise(count, correlation, 400, count)]
                held = np.mean([abs(one.slope) <= one.half_width for one in every])
                self.assertGreaterEqual(held, 0.94, f"{correlation} {count}")

    def test_white_noise_costs_no_more_than_it_must(self) -> None:
        """Of 100 white readings an interval is at most half as wide again as Student's."""
        times = np.arange(100.0)
        every = [fit_slope(times, one) for one in noise(100, 0.0, 100, 5)]
        plain = [linregress(times, one).stderr * 1.98 for one in noise(100, 0.0, 100, 5)]
        self.assertLess(np.median([one.half_width for one in every]) / np.median(plain), 1.6)

    def test_too_few_and_equal_times_say_nothing(self) -> None:
        for times in ([0.0, 1.0, 2.0], [5.0] * 8):
            found = fit_slope(np.array(times), np.arange(len(times), dtype=float))
            self.assertEqual((found.slope, found.half_width), (0.0, float("inf")))

    def test_what_the_table_says_of_a_correlation(self) -> None:
        self.assertGreater(correlation_at_most(0.9, 400), 0.9)
        self.assertLess(correlation_at_most(0.0, 400), 0.3)
        self.assertGreater(correlation_at_most(-0.2, 5), 0.5)
        self.assertGreater(standard_errors(0.9, 60, OFTEN), standard_errors(0.9, 60, USUAL))
        # n (1 − ρ) / (1 + ρ): Box, Jenkins, Reinsel, from memory.
        self.assertAlmostEqual(effective_count(190, 0.9), 10.0)

    @slow
    def test_the_table_is_what_its_seed_makes(self) -> None:
        kept = json.loads(slope_intervals.PLACE.read_text("utf-8"))
        made = slope_intervals.made()
        np.testing.assert_allclose(made["lowest"], kept["lowest"], atol=2e-3)
        for confidence, rows in kept["standard_errors"].items():
            np.testing.assert_allclose(made["standard_errors"][confidence], rows, rtol=2e-3, err_msg=confidence)


class Verdicts(TestCase):
    def test_what_stands_is_not_said_to_move(self) -> None:
        for correlation in (0.0, 0.5, 0.9, 0.95):
            for count in (6, 20, 60):
                rates = [rate_now(np.arange(count) * 60.0, one) for one in noise(count, correlation, 250, count)]
                moves = np.mean([rate.moves for rate in rates if rate is not None])
                self.assertLessEqual(moves, 0.07, f"{correlation} {count}")

    def test_when_a_mark_is_reached_lies_between_the_earliest_and_the_latest(self) -> None:
        """A level that falls by 2 a minute in noise of 1: the true time lies within in 94 of 100."""
        for correlation in (0.0, 0.9):
            held = []
            for one in noise(40, correlation, 300, 8):
                times = np.arange(40) * 60.0
                rate = rate_now(times, 1000 - times / 30 + one)
                reached = when_reached(rate, {"low": 800.0})
                truly = (1000 - times[-1] / 30 - 800) * 30
                held += [reached[0].soonest_s - 45 <= truly <= reached[0].latest_s + 45] if reached else []
            self.assertGreater(len(held), 250)
            self.assertGreaterEqual(np.mean(held), 0.94, correlation)

    def test_a_drift_is_never_still_over_a_whole_watch(self) -> None:
        """1.2 to 1.5 times what is allowed, looked at every nine readings: still in at most one watch in forty."""
        said = []
        for seed in range(40):
            for drift in (1.2, 1.5):
                one = noise(300, 0.9, 1, seed)[0] + drift * 0.1 * np.arange(300)
                looks = (judge_stillness(np.arange(end), one[:end], 0.1).state for end in range(12, 300, 9))
                said.append(any(state == "still" for state in looks))
        self.assertLessEqual(np.mean(said), 0.025)

    def test_what_stands_is_found_still_though_it_hangs_together(self) -> None:
        still = 0
        for seed in range(20):
            one = noise(400, 0.9, 1, 100 + seed)[0]
            looks = (judge_stillness(np.arange(end), one[:end], 0.1).state for end in range(40, 401, 20))
            still += any(state == "still" for state in looks)
        self.assertGreaterEqual(still, 19)

    def test_white_noise_is_hardly_ever_thrown_away(self) -> None:
        for count in (5, 6, 8, 12, 20, 50, 200):
            draw = np.random.default_rng(count)
            out = np.mean([find_spikes(draw.normal(0, 1, count), 1e-12).mean() for _ in range(2000)])
            self.assertLessEqual(out, 0.011, count)
