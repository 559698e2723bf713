"""What a row of readings is doing, how fast it changes, and when a mark is reached."""

from __future__ import annotations

from unittest import TestCase

import numpy as np

from rasante.core.readings.ahead import rate_now, when_reached
from rasante.core.readings.condition import CONDITIONS, Expected, late_after, tell

MM = 1e-3
USUAL = Expected(10.0, 0.0, 2.4, 0.5 * MM, 1 * MM, 5 * MM)


def row(seed: int = 0, count: int = 240, level: float = 1.2, noise: float = 1 * MM) -> tuple[np.ndarray, np.ndarray]:
    times = np.arange(count) * 10.0
    drawn = np.random.default_rng(seed).normal(0, noise, count)
    return times, np.round((level + drawn) / (0.5 * MM)) * 0.5 * MM


class Conditions(TestCase):
    def told(self, times: np.ndarray, values: np.ndarray, now: float | None = None, **more) -> str:
        expected = more.pop("expected", USUAL)
        return tell(times, values, float(times[-1]) + 2 if now is None else now, expected, **more).key

    def test_each_by_its_own_row(self) -> None:
        times, still = row()
        ramp = np.arange(240) * 10.0
        rows = {
            "still": still,
            "filling": still + 0.2 * MM * ramp,
            "drawing": still - 0.2 * MM * ramp,
            "drifting": still + 0.004 * MM * ramp,
            "noisy": np.round(row(noise=8 * MM)[1], 4),
            "periodic": still + 0.02 * np.sin(2 * np.pi * ramp / 130),
            "stepping": still + np.where(ramp > 1200, 0.25, 0.0),
            "frozen": np.concatenate([still[:150], np.full(90, still[150])]),
            "ceiling": np.minimum(still + 1.0 * MM * ramp, 2.4),
            "floor": np.maximum(still - 1.0 * MM * ramp, 0.0),
        }
        for key, values in rows.items():
            self.assertEqual(self.told(times, values), key)

    def test_age_comes_before_all_else(self) -> None:
        times, still = row()
        late = late_after(10.0)
        self.assertEqual(late, 30.0)
        self.assertEqual(self.told(times, still, times[-1] + late - 1), "still")
        self.assertEqual(self.told(times, still, times[-1] + late + 1), "stale")
        self.assertEqual(self.told(times, still, times[-1] + 201), "lost")
        self.assertEqual(self.told(times, still, faulty=True), "fault")
        self.assertEqual(self.told(times, np.append(still[:-1], np.nan)), "fault")
        nothing = tell([], [], 0.0, USUAL)
        self.assertEqual((nothing.key, nothing.live, nothing.sound), ("none", False, False))
        # What reports once a second is not late after three.
        self.assertEqual(late_after(1.0), 20.0)

    def test_what_is_typed_or_from_a_file_is_no_fault_of_anybodys(self) -> None:
        told = tell([0.0, 86400.0], [1.2, 1.1], 20 * 86400.0, Expected(0.0, 0.0, 2.4))
        self.assertEqual((told.key, told.live, told.age_s), ("typed", False, 19 * 86400.0))
        self.assertEqual(tell([], [], 0.0, Expected(0.0)).key, "none")

    def test_what_stands_still_by_nature_is_not_frozen(self) -> None:
        quiet = Expected(10.0, 0.0, 2.4, 1 * MM, 0.0)
        times = np.arange(240) * 10.0
        self.assertEqual(self.told(times, np.full(240, 1.2), expected=quiet), "still")
        # After a filling too, as long as it does not jitter by more than its step.
        filled = np.append(np.linspace(1, 1.2, 100), np.full(140, 1.2))
        self.assertEqual(self.told(times, filled, expected=quiet), "still")
        self.assertEqual(self.told(times, filled, expected=Expected(10.0, 0.0, 2.4, 1 * MM, 2 * MM)), "frozen")

    def test_a_single_spike_is_no_step(self) -> None:
        times, still = row()
        still[120] += 0.5
        self.assertEqual(self.told(times, still), "still")

    def test_still_is_said_of_still_rows(self) -> None:
        said = [self.told(*row(seed)) for seed in range(100)]
        self.assertGreaterEqual(said.count("still"), 97)

    def test_every_condition_has_words(self) -> None:
        self.assertTrue(all(words and words[0].islower() for words in CONDITIONS.values()))


class Ahead(TestCase):
    def test_the_rate_is_within_its_half_width(self) -> None:
        times = np.arange(0, 3600, 30.0)
        within = 0
        for seed in range(200):
            values = 10 + 0.002 * times + np.random.default_rng(seed).normal(0, 0.05, len(times))
            rate = rate_now(times, values)
            assert rate is not None
            within += abs(rate.rate - 0.002) <= rate.u95
        self.assertGreaterEqual(within / 200, 0.9)

    def test_a_new_rate_is_not_mixed_with_the_old(self) -> None:
        times = np.arange(0, 7200, 30.0)
        values = np.interp(times, [0, 6000, 7200], [10, 10, 16]) + np.random.default_rng(4).normal(
            0, 0.01, len(times)
        )
        rate = rate_now(times, values)
        assert rate is not None
        self.assertAlmostEqual(rate.rate, 6 / 1200, delta=2e-4)
        self.assertLessEqual(rate.over_s, 1300)

    def test_a_single_step_of_the_reading_is_no_rate(self) -> None:
        times = np.arange(0, 600, 10.0)
        values = np.where(times < 300, 1.485, 1.484)
        rate = rate_now(times, values, 1 * MM)
        assert rate is not None
        self.assertFalse(rate.moves)
        expected = Expected(10.0, 0.0, 2.4, 1 * MM, 0.0, 5 * MM)
        self.assertEqual(tell(times, values, 601.0, expected).key, "still")

    def test_two_steps_are_nothing_yet_and_three_are_a_filling(self) -> None:
        """A reading that comes in whole millimetres, with no noise of its own."""
        times = np.arange(0, 600, 10.0)
        expected = Expected(10.0, 0.0, 2.4, 1 * MM, 0.0, 5 * MM)
        for steps, key in ((2, "still"), (4, "filling")):
            values = 1.4 + 1 * MM * np.floor((steps + 1) * np.arange(60) / 60)
            self.assertEqual(tell(times, values, 595.0, expected).key, key, steps)
            self.assertEqual(tell(times, -values, 595.0, Expected(10.0, -2.4, 0.0, 1 * MM, 0.0, 5 * MM)).key,
                             {"filling": "drawing"}.get(key, key))  # fmt: skip

    def test_when_a_mark_is_reached(self) -> None:
        times = np.arange(0, 3600, 60.0)
        rate = rate_now(times, 10 - 0.001 * times)
        reached = when_reached(rate, {"low": 5.0, "empty": 1.0, "high": 12.0})
        self.assertEqual([one.key for one in reached], ["low", "empty"])
        left = 10 - 0.001 * times[-1]
        self.assertAlmostEqual(reached[0].in_s, (left - 5) / 0.001, delta=1)
        self.assertTrue(all(one.soonest_s <= one.in_s <= one.latest_s for one in reached))

    def test_nothing_is_foretold_of_what_stands_still(self) -> None:
        times = np.arange(0, 3600, 60.0)
        for seed in range(50):
            rate = rate_now(times, 10 + np.random.default_rng(seed).normal(0, 0.05, len(times)))
            assert rate is not None
            if not rate.moves:
                self.assertEqual(when_reached(rate, {"low": 5.0, "high": 15.0}), [])
        self.assertEqual(when_reached(None, {"low": 5.0}), [])
        self.assertIsNone(rate_now([0, 1, 2], [1, 2, 3]))
        # Ten weeks ahead nobody knows.
        slow = rate_now(times, 10 - 1e-7 * times)
        self.assertEqual(when_reached(slow, {"low": 5.0}), [])
