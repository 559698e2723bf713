"""Is it still yet: generated ramps, stops, spikes, waves and steps, and the slope against a reference library."""

from __future__ import annotations

from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import linregress

from rasante.core.quantities.errors import InputError
from rasante.core.readings.series import OFTEN, standard_errors
from rasante.core.readings.stillness import FEWEST, find_spikes, judge_stillness, noise_of, window_for

#: Drift that still counts as still in these tests [mm/s].
ALLOWED = 0.1


class Ramps(TestCase):
    def test_a_slow_ramp_in_noise_is_hardly_ever_called_still(self) -> None:
        """0.2 mm/s with 1 mm of noise, read each second: at most 2 % of all moments (the job's own bound)."""
        for allowed in (0.05, ALLOWED):
            false = tried = 0
            for seed in range(15):
                values = 0.2 * np.arange(300) + np.random.default_rng(seed).normal(0, 1, 300)
                for end in range(FEWEST, 300, 13):
                    tried += 1
                    false += judge_stillness(range(end), values[:end], allowed).state == "still"
            self.assertLessEqual(false / tried, 0.02, allowed)

    def test_a_true_stop_is_found_soon(self) -> None:
        """Within one and a half times the window after the ramp has ended, in 24 of 25."""
        late = []
        for seed in range(25):
            seconds = np.arange(400.0)
            values = 0.2 * np.minimum(seconds, 150) + np.random.default_rng(seed).normal(0, 1, 400)
            for end in range(152, 400):
                found = judge_stillness(seconds[:end], values[:end], ALLOWED)
                if found.state == "still":
                    late.append((end - 151) / found.window_s)
                    break
            else:
                late.append(float("inf"))
        self.assertGreaterEqual(sum(share <= 1.5 for share in late), 24, sorted(late)[-3:])
        # And not so soon that the ramp would still be half of what was looked at.
        self.assertGreater(float(np.median(late)), 0.5)

    def test_what_it_says_is_yet_to_come_comes(self) -> None:
        seconds = np.arange(400.0)
        values = 0.5 * np.minimum(seconds, 100) + np.random.default_rng(4).normal(0, 0.5, 400)
        at = judge_stillness(seconds[:112], values[:112], ALLOWED)
        self.assertNotEqual(at.state, "still")
        self.assertGreater(at.to_go_s, 0)
        then = 112 + int(1.5 * at.to_go_s) + 2
        self.assertEqual(judge_stillness(seconds[:then], values[:then], ALLOWED).state, "still")

    def test_too_few_says_how_long_yet(self) -> None:
        values = np.random.default_rng(2).normal(1000, 1, 12)
        found = judge_stillness(range(12), values, ALLOWED)
        self.assertEqual(found.state, "too few")
        self.assertAlmostEqual(found.to_go_s, found.window_s - 11)
        self.assertEqual(judge_stillness([], [], ALLOWED).state, "too few")

    def test_a_fast_one_is_told_before_the_window_is_full(self) -> None:
        values = 5.0 * np.arange(10) + np.random.default_rng(3).normal(0, 1, 10)
        self.assertEqual(judge_stillness(range(10), values, ALLOWED).state, "moving")


class Disturbed(TestCase):
    def still(self, seed: int = 5, count: int = 120) -> np.ndarray:
        return 1000 + np.random.default_rng(seed).normal(0, 1, count)

    def test_single_spikes_change_nothing(self) -> None:
        values = self.still()
        plain = judge_stillness(range(120), values, ALLOWED)
        values[[30, 60, 90, 118]] += (80, -200, 1e4, 55)
        spiked = judge_stillness(range(120), values, ALLOWED)
        self.assertEqual((plain.state, spiked.state), ("still", "still"))
        self.assertLessEqual({30, 60, 90, 118}, set(spiked.spikes))
        self.assertAlmostEqual(plain.value, spiked.value, delta=0.2)

    def test_a_step_is_no_spike(self) -> None:
        values = self.still()
        values[110:] += 40
        found = judge_stillness(range(120), values, ALLOWED)
        self.assertNotEqual(found.state, "still")
        self.assertFalse(find_spikes(np.array([1.0, 1, 1, 1, 9, 9, 9, 9]), 0.1).any())

    def test_waves_are_unsteady_not_still(self) -> None:
        seconds = np.arange(240.0)
        values = self.still(count=240) + 15 * np.sin(seconds / 4)
        self.assertEqual(judge_stillness(seconds, values, ALLOWED, own_spread=1.0).state, "unsteady")
        # The same swing from an instrument that swings so by itself is its own.
        self.assertEqual(judge_stillness(seconds, values, 1.0, own_spread=12.0).state, "still")

    def test_steps_of_a_coarse_reading(self) -> None:
        """A reading in steps of 5 mm says nothing before what is allowed could have moved it by one."""
        flat = judge_stillness(range(40), [1000.0] * 40, ALLOWED, resolution=5.0)
        self.assertEqual((flat.state, flat.window_s >= 50.0), ("too few", True))
        self.assertEqual(judge_stillness(range(200), [1000.0] * 200, ALLOWED, resolution=5.0).state, "still")
        ramp = np.round(0.3 * np.arange(200) / 5) * 5
        self.assertEqual(judge_stillness(range(200), ramp, ALLOWED, resolution=5.0).state, "moving")


class Parts(TestCase):
    def test_slope_and_error_against_a_reference(self) -> None:
        """``scipy.stats.linregress`` over the same window."""
        draw = np.random.default_rng(7)
        seconds = np.sort(draw.uniform(0, 60, 70))
        values = 12 + 0.4 * seconds + draw.normal(0, 0.05, 70)
        found = judge_stillness(seconds, values, 0.01)
        self.assertEqual(found.spikes, ())
        window = seconds >= seconds[-1] - found.window_s
        reference = linregress(seconds[window], values[window])
        self.assertAlmostEqual(found.slope, reference.slope, places=12)
        # As one look among many asks for, with what a correlation leaves open.
        self.assertGreaterEqual(found.slope_u95, 3.1 * reference.stderr)
        self.assertLess(found.slope_u95, 16 * reference.stderr)

    def test_noise_is_the_readings_own_whatever_they_do_besides(self) -> None:
        draw = np.random.default_rng(8).normal(0, 2.0, 4000)
        for drift in (0.0, 3.0):
            self.assertAlmostEqual(noise_of(draw + drift * np.arange(4000), 0.0), 2.0, delta=0.15)
        self.assertAlmostEqual(noise_of(np.zeros(100), 6.0), 6.0 / np.sqrt(12))

    def test_noise_of_a_reading_that_mostly_stands_is_what_its_jumps_leave(self) -> None:
        # By hand: one jump to 6 and back among 100 zeros has second differences 6, -12, 6 and 95 zeros; their
        # deviation is sqrt(216/98), of which a twelfth counts. Half of them are nothing, so their median is as well.
        values = np.zeros(100)
        values[50] = 6.0
        self.assertAlmostEqual(noise_of(values, 0.0), np.sqrt(216 / 98) / 12)
        self.assertEqual(noise_of(values[:3], 0.0), 0.0)

    def test_the_window_grows_with_noise_and_shrinks_with_what_is_allowed(self) -> None:
        self.assertGreater(window_for(2.0, 1.0, 0.1, 0.0), window_for(1.0, 1.0, 0.1, 0.0))
        self.assertGreater(window_for(1.0, 1.0, 0.05, 0.0), window_for(1.0, 1.0, 0.1, 0.0))
        self.assertEqual(window_for(0.0, 2.0, 0.1, 0.0), FEWEST * 2.0)

    def test_in_the_window_the_slope_is_known_to_five_eighths_of_what_is_allowed(self) -> None:
        for noise, period, allowed in ((1.0, 1.0, 0.1), (3.0, 2.0, 0.05), (0.5, 5.0, 0.2)):
            count = window_for(noise, period, allowed, 0.0) / period
            errors = standard_errors(0.3, int(count), OFTEN)
            half = errors * noise * np.sqrt(12 / (count**3 - count)) / period
            self.assertAlmostEqual(half / allowed, 1 / 1.6, delta=0.1)
        # Where the reading moves by steps, the window holds what is allowed to move by one of them.
        self.assertEqual(window_for(1e-6, 1.0, 0.1, 50.0), 500.0)

    def test_what_cannot_be_judged_is_refused(self) -> None:
        for times, values, allowed in (
            ([0, 1], [1], 0.1),
            ([0, float("nan")], [1, 2], 0.1),
            ([0, 1], [1, 2], 0.0),
            ([0, 1], [1, 2], float("nan")),
        ):
            with self.assertRaises(InputError):
                judge_stillness(times, values, allowed)

    def test_readings_of_one_and_the_same_time_leave_time_to_go(self) -> None:
        times, values = [0.0] * 7 + [1.0], [0.0] * 6 + [1.0, 0.0]
        found = judge_stillness(times, values, 1.0, 1.0)
        self.assertNotEqual(found.state, "still")
        self.assertGreater(found.to_go_s, 0)

    @given(
        st.lists(st.tuples(st.floats(0, 1e6), st.floats(-1e6, 1e6)), max_size=60),
        st.floats(1e-6, 1e3),
        st.floats(0, 100),
    )
    def test_whatever_is_read_there_is_an_answer(
        self, pairs: list[tuple[float, float]], allowed: float, step: float
    ) -> None:
        found = judge_stillness([pair[0] for pair in pairs], [pair[1] for pair in pairs], allowed, step)
        self.assertIn(found.state, ("still", "moving", "unsteady", "too few"))
        self.assertGreaterEqual(found.to_go_s, 0)
        self.assertEqual(found.to_go_s == 0, found.state == "still")
