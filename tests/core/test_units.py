"""Quantities as people type them. Factors: NIST SP 811 appendix B (inch, foot, US and imperial gallon)."""

from __future__ import annotations

from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st
from scipy import constants

from rasante.core.quantities.errors import InputError
from rasante.core.quantities.odd_units import ODD
from rasante.core.quantities.typed import read_number, read_quantity, with_unit
from rasante.core.quantities.units import GRAVITY, SYSTEM_UNITS, UNITS, show


class Lengths(TestCase):
    def test_as_people_write_them(self) -> None:
        written = {
            "5' 3 1/4\"": 63.25 * 0.0254,
            "5 ft 3 1/4 in": 63.25 * 0.0254,
            "5'3": 63 * 0.0254,
            "5'-3 1/4\"": 63.25 * 0.0254,
            "5′ 3¼″": 63.25 * 0.0254,
            "63 in": 63 * 0.0254,
            "63in.": 63 * 0.0254,
            '63 1/2"': 63.5 * 0.0254,
            "3/4 in": 0.75 * 0.0254,
            "1600 mm": 1.6,
            "1 600 mm": 1.6,
            "1600mm": 1.6,
            "1.6m": 1.6,
            "1,6 m": 1.6,
            "1.600,5 mm": 1.6005,
            "1,600.5 mm": 1.6005,
            "1m 60cm": 1.6,
            "160 CM": 1.6,
            "-12 mm": -0.012,
            "1600": 1.6,
            ".5 m": 0.5,
        }
        for text, metres in written.items():
            with self.subTest(text):
                self.assertAlmostEqual(read_quantity(text, "length"), metres, places=12)

    def test_a_bare_number_is_in_the_systems_own_unit(self) -> None:
        self.assertAlmostEqual(read_quantity("63", "length", "us"), 63 * 0.0254)
        self.assertAlmostEqual(read_quantity("63", "length", "metric"), 0.063)

    def test_what_can_be_read_two_ways_is_refused(self) -> None:
        for text in ("1,600 mm", "2,400"):
            with self.subTest(text), self.assertRaisesRegex(InputError, "two ways"):
                read_quantity(text, "length")

    def test_a_thousands_mark_is_no_foot_and_a_foot_has_no_more_than_twelve_inches(self) -> None:
        for system in ("metric", "us"):
            with self.assertRaisesRegex(InputError, "can be read two ways: write 1600"):
                read_quantity("1'600", "length", system)
        with self.assertRaisesRegex(InputError, "has 14 inches after feet"):
            read_quantity("5' 14\"", "length", "us")
        self.assertAlmostEqual(read_quantity("5' 11 7/8\"", "length", "us"), (71.875) * 0.0254)

    def test_sixty_characters_are_enough_for_a_measurement(self) -> None:
        self.assertEqual(read_quantity("1600 mm".rjust(60, "0"), "length", "metric", ""), 1.6)
        with self.assertRaisesRegex(InputError, "too long"):
            read_quantity("1600 mm".rjust(61, "0"), "length", "metric", "")

    def test_nonsense_is_refused_in_words(self) -> None:
        for text in (
            "",
            "NaN",
            "inf",
            "1e999 mm",
            "five",
            "12 kg",
            "5 mm 3 m",
            "12 13 mm",
            "1/0 in",
            "9**9",
            "1" * 70,
        ):
            with self.subTest(text), self.assertRaises(InputError) as caught:
                read_quantity(text, "length", where="shape.diameter_mm")
            self.assertEqual(caught.exception.problems[0].where, "shape.diameter_mm")
            self.assertGreater(len(caught.exception.problems[0].what), 15)


class OtherQuantities(TestCase):
    def test_whatever_is_asked_for_what_cannot_be_read_is_said_with_an_example(self) -> None:
        for system, units in SYSTEM_UNITS.items():
            for quantity in {*units, *ODD}:
                for text in ("?!", "a word", "mm", "3 smoots"):
                    with self.subTest(f"{quantity} {text}"), self.assertRaises(InputError) as refused:
                        read_quantity(text, quantity, system, "field")
                    self.assertEqual([one.where for one in refused.exception.problems], ["field"])
        with self.assertRaisesRegex(InputError, "1200 kg"):
            read_quantity("a word", "mass", "metric", "field")

    def test_gallons(self) -> None:
        self.assertAlmostEqual(read_quantity("1000 US gal", "volume"), 3.785411784)
        self.assertAlmostEqual(read_quantity("1000 imp gal", "volume"), 4.54609)
        self.assertAlmostEqual(read_quantity("1000 gal", "volume", "us"), 3.785411784)
        with self.assertRaisesRegex(InputError, "US gal or imp gal"):
            read_quantity("1000 gal", "volume", "metric")

    def test_current_and_per_cent(self) -> None:
        self.assertAlmostEqual(read_quantity("9,5 mA", "current"), 0.0095)
        self.assertAlmostEqual(read_quantity("12", "current"), 0.012)
        self.assertAlmostEqual(read_quantity("34.6 %", "ratio"), 0.346)
        self.assertAlmostEqual(read_quantity("3500L", "volume"), 3.5)
        self.assertAlmostEqual(read_quantity("3.5 m3", "volume"), 3.5)

    @given(st.floats(-1e6, 1e6))
    def test_what_is_written_reads_back(self, value: float) -> None:
        self.assertEqual(read_number(f"{value!r}".replace("e-0", "e-")), value)

    def test_factors_are_those_of_scipy(self) -> None:
        water = 1000 * constants.g
        scipys = {
            **{"mm": constants.milli, "cm": constants.centi, "in": constants.inch, "ft": constants.foot, "m": 1.0},
            **{"l": constants.liter, "usgal": constants.gallon_US, "impgal": constants.gallon_imp, "m3": 1.0},
            **{"m2": 1.0, "ft2": constants.foot**2, "kg": 1.0, "lb": constants.pound},
            **{"ma": constants.milli, "v": 1.0, "mv": constants.milli, "pct": constants.centi},
            **{"ohm": 1.0, "kohm": constants.kilo, "megohm": constants.mega},
            **{"bar": constants.bar, "mbar": constants.bar / 1000, "kpa": constants.kilo, "psi": constants.psi},
            **{"mh2o": water, "fth2o": water * constants.foot, "inh2o": water * constants.inch},
        }
        self.assertEqual(set(scipys), set(UNITS))
        self.assertEqual(GRAVITY, constants.g)
        for key, si in scipys.items():
            with self.subTest(key):
                self.assertAlmostEqual(UNITS[key].si / si, 1.0, delta=1e-14)

    def test_factors(self) -> None:
        exact = {"in": 0.0254, "ft": 0.3048, "usgal": 3.785411784e-3, "impgal": 4.54609e-3, "ft2": 0.09290304}
        for key, si in exact.items():
            self.assertAlmostEqual(UNITS[key].si, si, places=15)

    def test_a_bare_number_gets_the_unit_that_was_meant(self) -> None:
        for text, kept in (
            ("1700", "1700 in"),
            (" 1 1/2 ", "1 1/2 in"),
            ("½", "½ in"),
            ("5 ¼", "5 ¼ in"),
            ("5 ¼ ft", "5 ¼ ft"),
            ("5'3", "5'3"),
            ("12 mm", "12 mm"),
            ("", ""),
        ):
            self.assertEqual(with_unit(text, "length", "us"), kept)
        self.assertEqual(with_unit("-14", "volume", "metric"), "-14 L")

    def test_a_bare_gallon_is_kept_as_the_one_that_was_meant(self) -> None:
        kept = {
            "40gal": "40US gal",
            "40 Gallons": "40 US gal",
            "40 US gal": "40 US gal",
            "9 imp  gal": "9 imp  gal",
            "½ gal": "½ US gal",
        }
        for text, written in kept.items():
            self.assertEqual(with_unit(text, "volume", "us"), written)
            for system in ("metric", "us"):
                self.assertEqual(read_quantity(written, "volume", system), read_quantity(text, "volume", "us"))
        self.assertEqual(with_unit("40 gal", "volume", "metric"), "40 gal")

    def test_show_drops_empty_places(self) -> None:
        self.assertEqual(show(1.6, "length", "metric"), "1600 mm")
        self.assertEqual(show(-0.00000001, "length", "metric"), "0 mm")
        self.assertEqual(show(0.0254 * 63.25, "length", "us"), "63.25 in")
