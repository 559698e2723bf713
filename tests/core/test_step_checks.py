"""What a step of a visit judges by itself: a level against the tape, a dial against a sensor, two depths, courses."""

from __future__ import annotations

from unittest import TestCase

from rasante.core.procedures.checks import (
    depth_ratio,
    judge_against_dial,
    judge_against_dip,
    judge_courses,
    judge_doubling,
)
from rasante.core.quantities.words import Words


class AgainstTheTape(TestCase):
    def test_each_weight_at_its_limit(self) -> None:
        # 10 mm between screen and dip: common practice, no published source.
        for off, weight in ((0.0, "good"), (0.010, "good"), (-0.0101, "watch"), (0.05, "watch"), (-0.051, "stop")):
            self.assertEqual(judge_against_dip(1.2 + off, 1.2).weight, weight, off)

    def test_it_says_which_way_and_by_how_much(self) -> None:
        found = judge_against_dip(0.8, 1.2)
        self.assertEqual((found.value, found.limit), (0.3999999999999999, 0.010))
        self.assertIn("-400 mm from the dip", Words("metric").say(found).replace("−", "-"))
        self.assertIn("15.75 in", Words("us").say(found))


class AgainstTheDial(TestCase):
    def test_a_float_may_be_five_to_ten_per_cent_out(self) -> None:
        # Common practice, no published source: float gauges are 5–10 % out.
        for dial, weight in ((0.50, "good"), (0.55, "good"), (0.58, "watch"), (0.40, "watch"), (0.39, "stop")):
            self.assertEqual(judge_against_dial(0.50, dial).weight, weight, dial)
        self.assertIn("8% apart", Words("metric").say(judge_against_dial(0.50, 0.58)))


class TwoDepths(TestCase):
    def test_twice_the_depth_doubles_the_reading_above_zero(self) -> None:
        # 0.5 V dry, 0.62 V at a depth, 0.74 V at twice that: worked by hand, 0.24 / 0.12.
        self.assertAlmostEqual(depth_ratio(0.5, 0.62, 0.74) or 0, 2.0)
        self.assertEqual(judge_doubling(depth_ratio(0.5, 0.62, 0.74)).weight, "good")

    def test_a_ratio_of_the_raw_readings_would_hide_it(self) -> None:
        # By raw readings 1.3 ÷ 1.0 looks like another sensor; above its zero of 0.7 V it doubles.
        self.assertEqual(judge_doubling(depth_ratio(0.7, 1.0, 1.3)).weight, "good")
        self.assertEqual(judge_doubling(depth_ratio(0.0, 1.0, 1.3)).weight, "stop")

    def test_one_that_measures_nothing(self) -> None:
        self.assertIsNone(depth_ratio(0.5, 0.5, 0.5))
        self.assertEqual(judge_doubling(None).code, "bench-dead")

    def test_a_sensor_that_falls_is_judged_like_one_that_rises(self) -> None:
        self.assertEqual(judge_doubling(depth_ratio(20.0, 18.0, 16.0)).weight, "good")


class Courses(TestCase):
    def test_height_by_rings(self) -> None:
        self.assertEqual(judge_courses(12.0, 12.1).weight, "good")
        far = judge_courses(9.6, 12.0)
        self.assertEqual(far.weight, "watch")
        self.assertIn("12 m inside", Words("metric").say(far).replace("12000 mm", "12 m"))
