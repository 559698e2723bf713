"""Judgements in somebody's units: one sentence, its numbers written for the reader; and a section by its widths."""

from __future__ import annotations

from unittest import TestCase

from rasante.core.quantities.judgement import by_weight, good, phrase, stop, stops, watch
from rasante.core.quantities.words import Words, places_by
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


class Tape(TestCase):
    def test_a_sentence_has_no_more_digits_than_a_tape(self) -> None:
        for metres, metric, us in (
            (5.19973, "5200 mm", "204.71 in"), (0.0123, "12 mm", "0.48 in"), (0.00974, "9.7 mm", "0.38 in"),
            (-0.2504, "-250 mm", "-9.86 in"), (0.0, "0 mm", "0 in"), (0.9545, "955 mm", "37.58 in"),
        ):  # fmt: skip
            for system, text in (("metric", metric), ("us", us)):
                said = Words(system).fill("{value:length} off", {"value": metres})
                self.assertEqual(said, f"{text} off")


class Worth(TestCase):
    def test_a_volume_has_no_more_digits_than_its_half_width_bears(self) -> None:
        # JCGM 100:2008, 7.2.6: two digits of U at most, and the value to the same place; its own examples there,
        # m = 100.021 47 g with uc = 0.35 mg (7.2.2), and 10.057 62 Ω with 27 mΩ written 10.058 Ω (7.2.6).
        self.assertEqual(places_by(0.027, 4), 3)
        self.assertEqual(places_by(0.35e-3, 5), 5)
        metric, us = Words("metric"), Words("us")
        self.assertEqual(metric.worth(14.7548, 0.0832), "14755 ± 83 L")
        self.assertEqual(metric.worth(14.7548, 0.0009), "14754.80 ± 0.90 L")
        self.assertEqual(metric.worth(29.3828), "29380 L")
        self.assertEqual(metric.worth(0.0), "0 L")
        self.assertEqual(us.worth(14.7548, 0.0832), "3898 ± 22 US gal")
