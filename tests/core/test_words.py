"""Judgements in somebody's units: one sentence, its numbers written for the reader; and a section by its widths."""

from __future__ import annotations

from unittest import TestCase

from rasante.core.quantities.judgement import by_weight, good, phrase, stop, stops, watch
from rasante.core.quantities.words import Words
from rasante.core.tanks.survey import read_survey


class Sentences(TestCase):
    def test_one_judgement_in_two_systems(self) -> None:
        # NIST SP 811: 25.4 mm an inch, 3.785 411 784 L a US gallon, 0.3048 m a foot.
        one = stop("short", "The top {value:length} is lost, {lost:volume} of it.", value=0.4, limit=0.0, lost=1.0)
        self.assertIn("400 mm is lost, 1000", Words("metric").say(one))
        self.assertIn("15.75 in is lost, 264.2", Words("us").say(one))
        self.assertEqual((one.value, one.limit, one.weight), (0.4, 0.0, "stop"))

    def test_a_run_of_cable_is_told_in_metres_or_feet(self) -> None:
        one = phrase("{run:run} of cable", run=30.48)
        self.assertEqual(Words("us").say(one), "100 ft of cable")
        self.assertEqual(Words("metric").say(one), "30 m of cable")
        self.assertEqual(Words("metric").say(phrase("{run:run}", run=2.44)), "2.4 m")

    def test_the_heaviest_first_and_the_rest_in_their_order(self) -> None:
        found = [good("a", "a"), watch("b", "b"), stop("c", "c"), watch("d", "d")]
        self.assertEqual([one.code for one in by_weight(found)], ["c", "b", "d", "a"])
        self.assertEqual([one.code for one in stops(found)], ["c"])


class Widths(TestCase):
    def test_a_section_by_widths_holds_what_lies_between_them(self) -> None:
        typed = {
            "name": "Keel", "shape.kind": "prism", "shape.length_mm": "1 m", "shape.section.kind": "polygon",
            "shape.section.traced": "widths",
        }  # fmt: skip
        for index, (at, width) in enumerate((("0", "200 mm"), ("300", "600 mm"), ("700", "600 mm"))):
            typed[f"shape.section.widths[{index}].at_mm"] = at
            typed[f"shape.section.widths[{index}].width_mm"] = width
        # By hand: (0.2 + 0.6) / 2 × 0.3 + 0.6 × 0.4 = 0.36 m², a metre long.
        self.assertAlmostEqual(read_survey(typed, "metric").require().tank.capacity, 0.36, 9)


class Worth(TestCase):
    def test_a_volume_has_no_more_digits_than_its_half_width_bears(self) -> None:
        metric, us = Words("metric"), Words("us")
        self.assertEqual(metric.worth(14.7548, 0.0832), "14750 ± 80 L")
        self.assertEqual(metric.worth(14.7548, 0.0009), "14754.8 ± 0.9 L")
        self.assertEqual(metric.worth(29.3828), "29380 L")
        self.assertEqual(metric.worth(0.0), "0 L")
        self.assertEqual(us.worth(14.7548, 0.0832), "3900 ± 20 US gal")
