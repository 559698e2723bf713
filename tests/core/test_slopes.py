"""Slopes by every school: worked cases, least squares by a reference, and outliers among noise."""

from __future__ import annotations

from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from rasante.core.quantities.errors import InputError
from rasante.core.scaling.slopes import find_outlier, read_slopes, slope_of

from .said import said


def entries(pairs, **more: str) -> dict[str, str]:
    found = {key.replace("__", "."): value for key, value in more.items()}
    for index, (signal, level) in enumerate(pairs):
        found[f"readings[{index}].signal"] = str(signal)
        found[f"readings[{index}].level"] = str(level)
    return found


class Schools(TestCase):
    def test_a_perfect_sensor_is_the_same_by_all(self) -> None:
        # 0–2500 mm over 4–20 mA: 156.25 mm a milliampere.
        pairs = [(4 + 16 * h / 2500, f"{h} mm") for h in (250, 1000, 1750, 2500)]
        found = read_slopes(entries(pairs, sheet__zero="0 mm", sheet__full="2.5 m"), "metric")
        self.assertEqual([s.school for s in found.slopes], ["sheet", "one", "two", "fit", "ratio", "averaged"])
        for slope in found.slopes:
            self.assertAlmostEqual(slope.per_unit_m * 1000, 156.25, 6)
            self.assertAlmostEqual(slope.full_m, 2.5, 9)
            self.assertLess(slope.worst_m, 1e-9)
        self.assertEqual([j.code for j in found.judgements], ["no-offset"])

    def test_an_offset_is_shown_by_the_line_and_hidden_by_the_ratios(self) -> None:
        # Hangs 100 mm off the floor: level = 100 mm + 156.25 mm × (I − 4 mA).
        pairs = [(4 + (h - 100) / 156.25, f"{h} mm") for h in (300, 900, 1500, 2100)]
        found = read_slopes(entries(pairs), "metric")
        fit = slope_of(found, "fit")
        self.assertAlmostEqual(fit.zero_m, 0.1, 9)
        self.assertAlmostEqual(fit.per_unit_m * 1000, 156.25, 6)
        # By hand: 300/200, 900/800, 1500/1400 and 2100/2000 of the true slope, averaged: 1.1866 of it.
        averaged = slope_of(found, "averaged")
        expected = np.mean([300 / 200, 900 / 800, 1500 / 1400, 2100 / 2000])
        self.assertAlmostEqual(averaged.per_unit_m / 0.15625, expected, 9)
        offset = next(j for j in found.judgements if j.code == "offset")
        self.assertIn("100 mm", said(offset))
        self.assertIn("hide", said(offset))
        self.assertEqual(slope_of(found, "one").zero_m, 0.0)

    def test_least_squares_against_numpy(self) -> None:
        rng = np.random.default_rng(5)
        x = rng.uniform(4, 20, 12)
        y = 0.3 + 0.12 * (x - 4) + rng.normal(0, 0.01, 12)
        found = read_slopes(entries([(f"{a:.15g}", f"{b:.15g} m") for a, b in zip(x, y, strict=True)]), "metric")
        fit = slope_of(found, "fit")
        (slope, zero), covariance = np.polyfit(x - 4, y, 1, cov=True)
        self.assertAlmostEqual(fit.per_unit_m, slope, 9)
        self.assertAlmostEqual(fit.zero_m, zero, 9)
        self.assertAlmostEqual(fit.zero_se_m, np.sqrt(covariance[1, 1]), 9)
        self.assertAlmostEqual(fit.per_unit_se_m, np.sqrt(covariance[0, 0]), 9)
        self.assertAlmostEqual(fit.r, np.corrcoef(x, y)[0, 1], 9)
        through, *_ = np.linalg.lstsq((x - 4)[:, None], y, rcond=None)
        self.assertAlmostEqual(slope_of(found, "ratio").per_unit_m, float(through[0]), 9)

    def test_the_bench_test_of_two_depths(self) -> None:
        # Two depths in a bucket should double the reading above zero (common practice).
        good = read_slopes(entries([("5.6", "250 mm"), ("7.2", "500 mm")]), "metric")
        self.assertEqual([(j.code, j.weight) for j in good.judgements], [("bench", "good")])
        bad = read_slopes(entries([("6.6", "250 mm"), ("8.2", "500 mm")]), "metric")
        self.assertIn("2.00 times the depth gives 1.62 times", said(bad.judgements[0]))

    def test_counts_of_a_card(self) -> None:
        # A common 0–20 mA card of 15 bits: 6553 counts at 4 mA, 32767 at 20 mA (common practice); 34.65 ft over them.
        pairs = [(6553 + (32767 - 6553) * share, f"{34.65 * share} ft") for share in (0.1, 0.5, 0.9)]
        found = read_slopes(entries(pairs, signal="counts", zero="6553", full="32767"), "us")
        self.assertAlmostEqual(slope_of(found, "fit").full_m / 0.3048, 34.65, 6)

    def test_what_differs_from_the_sheet_is_told(self) -> None:
        # A 0–10 psi sensor where 0–15 psi is believed: two thirds of the slope.
        pairs = [(4 + 16 * h / 7040, f"{h} mm") for h in (1000, 3000, 5000)]
        found = read_slopes(entries(pairs, sheet__zero="0", sheet__full="10.56 m"), "metric")
        self.assertIn(
            "0.667 of the data sheet's", next(said(j) for j in found.judgements if j.code == "sheet-differs")
        )
        kept = read_slopes(entries(pairs), "metric", (0.0, 10.56))
        self.assertAlmostEqual(slope_of(kept, "sheet").full_m, 10.56, 9)

    def test_the_sheet_says_at_most_a_hundred_metres(self) -> None:
        for text, problems in (("100 m", []), ("-100 m", []), ("101 m", ["sheet.full"]), ("-101 m", ["sheet.full"])):
            found = read_slopes(entries([(4, "0 mm"), (20, "2 m")], sheet__zero="0 mm", sheet__full=text), "metric")
            self.assertEqual([one.where for one in found.form.problems], problems, text)

    def test_too_few_readings(self) -> None:
        empty = read_slopes({}, "metric")
        self.assertEqual((empty.slopes, empty.judgements), ((), ()))
        with self.assertRaisesRegex(InputError, "lacks readings"):
            slope_of(empty, "fit")
        wrong = read_slopes(entries([("much", "1 m"), ("5", "far")], full="4", zero="4"), "metric")
        self.assertEqual({p.where for p in wrong.form.problems}, {"readings[0].signal", "readings[1].level", "full"})


class Outliers(TestCase):
    def test_a_slipped_reading_is_found(self) -> None:
        rng = np.random.default_rng(7)
        missed = 0
        for _ in range(200):
            x = np.sort(rng.uniform(4, 20, 8))
            y = 0.15 * (x - 4) + rng.normal(0, 0.002, 8)
            slipped = int(rng.integers(8))
            y[slipped] += rng.choice([-1, 1]) * 0.06
            missed += find_outlier(x, y) != slipped
        self.assertLessEqual(missed, 10)

    def test_noise_alone_accuses_nobody(self) -> None:
        rng = np.random.default_rng(8)
        accused = sum(
            find_outlier(x := np.sort(rng.uniform(4, 20, 8)), 0.15 * x + rng.normal(0, 0.002, 8)) is not None
            for _ in range(500)
        )
        # The test's level is 1 %: 5 expected, 3 standard deviations are 12.
        self.assertLessEqual(accused, 12)

    @settings(max_examples=60, deadline=None)
    @given(st.lists(st.floats(4, 20), min_size=0, max_size=12))
    def test_on_one_line_there_is_none(self, x) -> None:
        signals = np.array(x)
        self.assertIsNone(find_outlier(signals, 0.1 * signals + 0.3))
