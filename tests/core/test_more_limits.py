"""What a single changed sign would spoil: words, wires, cold and unknown liquids, and unlike settings."""

from __future__ import annotations

from unittest import TestCase

import numpy as np

from rasante.core.devices.device_sheet import coefficients
from rasante.core.gauges.suit import level_parts
from rasante.core.quantities.errors import InputError
from rasante.core.quantities.odd_units import awg_of
from rasante.core.scaling.chain_settings import unlike
from rasante.core.scaling.registers import decode, encode

from .chain_cases import chain
from .gauge_cases import judged, lying, meet, model, upright


class Words(TestCase):
    def test_one_word_that_is_none_spoils_them_all(self) -> None:
        for words in ((70000, 5), (5, 70000), (-1, 5), (5, -1)):
            with self.assertRaises(InputError) as refused:
                decode(words, "int32")
            self.assertIn("65535", refused.exception.problems[0].what)
        self.assertEqual(decode((0, 65535), "int32"), 65535)
        self.assertEqual(decode(encode(-2, "int32", "CDAB"), "int32", "CDAB"), -2)

    def test_too_few_or_too_many(self) -> None:
        for words in ((1,), (1, 2, 3)):
            with self.assertRaises(InputError):
                decode(words, "float32")


class Wires(TestCase):
    def test_gauge_numbers(self) -> None:
        # ASTM B258, from memory: 36 AWG is 0.127 mm across, 12 AWG 3.309 mm², 20 AWG 0.5176 mm².
        for number, area in ((12, 3.309), (20, 0.5176), (36, np.pi / 4 * 0.127**2)):
            self.assertAlmostEqual(awg_of(area), number, delta=0.01)


class Temperatures(TestCase):
    def test_the_cold_counts_as_the_heat_does(self) -> None:
        one = model("hydrostatic")
        levels = np.array([1.0])

        def part(low: str, high: str) -> float:
            there = meet(lying(), {"site.temperature_low": low, "site.temperature_high": high})
            return float(level_parts(one, there, levels)["temperature"][0])

        # 40 K below 20 °C and 40 K above it, against 10 K.
        self.assertAlmostEqual(part("-20 °C", "20 °C") / part("20 °C", "60 °C"), 1.0, delta=0.05)
        self.assertGreater(part("-20 °C", "20 °C"), 3.5 * part("20 °C", "30 °C"))


class Densities(TestCase):
    def assumed(self, product: str) -> str:
        return " ".join(meet(lying(product)).assumed)

    def test_what_is_not_known_is_said_to_be(self) -> None:
        self.assertIn("not known: type the lightest and the heaviest", self.assumed("sludge"))
        self.assertNotIn("not known: type", self.assumed("diesel"))


class Settings(TestCase):
    def test_unlike_by_more_than_a_millionth(self) -> None:
        self.assertFalse(unlike(1000.0, 1000.0005))
        self.assertTrue(unlike(1000.0, 1000.01))
        self.assertTrue(unlike("level", "distance"))
        self.assertTrue(unlike("level", 1.0))
        self.assertFalse(unlike("level", "level"))
        self.assertFalse(unlike(0.0, 1e-13))


class Coefficients(TestCase):
    def test_m_and_b_carry_every_value_that_the_chain_has(self) -> None:
        # A scaling that begins at 500 mm: output = m × input + b, for whatever counts arrive.
        c = chain(sensor__quantity="level", sensor__low="500 mm", sensor__high="2500 mm", scaled__unit="mm")
        self.assertGreater(c.scaling.low, 400)
        m, b = coefficients(c)["number"]
        levels = np.linspace(0.6, 2.4, 25)
        values = c.run(levels, exact=False)
        np.testing.assert_allclose(m * values["counts"] + b, values["number"], atol=1e-6)
        m, b = coefficients(c)["counts"]
        np.testing.assert_allclose(m * values["arriving"] * 1000 + b, values["counts"], atol=1e-6)


class Crude(TestCase):
    def test_a_float_is_out_by_its_share_of_the_tank(self) -> None:
        # By hand: a twentieth of a 3 m upright tank is 150 mm of level anywhere in it.
        expected = judged(meet(upright(height=3000)), model("float")).expected
        assert expected is not None
        self.assertGreaterEqual(expected.u95_level_m, 0.150 - 1e-9)
        self.assertLess(expected.u95_level_m, 0.260)


class Cut(TestCase):
    def test_places_that_are_cut_off_cost_half_a_place_on_average(self) -> None:
        c = chain(sensor__quantity="level", scaled__unit="cm", scaled__decimals="1", scaled__rounding="truncate",
                  counts__bits="16")  # fmt: skip
        levels = np.linspace(0.2, 1.8, 4001)
        cut, smooth = c.run(levels)["number"], c.run(levels, exact=False)["number"]
        self.assertAlmostEqual(float(np.mean(cut - smooth)), 0.0, delta=0.005)
        self.assertAlmostEqual(float(np.mean(cut - levels * 100)), -0.05, delta=0.006)
