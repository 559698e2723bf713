"""Liquids: volume correction against printed figures and the equation itself, water against `iapws`, propane."""

from __future__ import annotations

from math import exp
from unittest import TestCase

from iapws import IAPWS97

from rasante.core.products.correction import expansion, standard_density, volume_correction
from rasante.core.products.liquid import read_liquid
from rasante.core.products.registry import product_of
from rasante.core.quantities.errors import InputError
from rasante.core.quantities.typed import read_quantity
from rasante.core.tanks.contents import contents_at

from .samples import tank_file

BOX = tank_file({"kind": "box", "length_mm": 2000, "width_mm": 1000, "height_mm": 1000}).tank


class RefinedProducts(TestCase):
    """API MPMS 11.1 / ASTM D1250 (1980), generalized products."""

    def test_by_hand(self) -> None:
        # Diesel of 840 kg/m³ at 15 °C, 25 °C in the tank; worked by hand from α = K₀/ρ² + K₁/ρ.
        alpha = 186.9696 / 840**2 + 0.4862 / 840
        self.assertAlmostEqual(
            volume_correction(840, 25, "15C"), exp(-alpha * 10 * (1 + 0.8 * alpha * 10)), places=12
        )
        self.assertEqual(round(volume_correction(840, 25, "15C"), 4), 0.9915)

    def test_at_60_f(self) -> None:
        # Table 6B, 36 °API at 80 °F: 0.9907 (from memory of the printed table, four figures).
        density = read_quantity("36 API", "density", "us")
        self.assertAlmostEqual(density, 141.5 / 167.5 * 999.016, places=6)
        self.assertAlmostEqual(volume_correction(density, (80 - 32) / 1.8, "60F"), 0.9907, delta=0.00015)

    def test_expansions_of_the_trade(self) -> None:
        # Common practice, no published source: diesel about 0.08 %, petrol about 0.12 % a degree Celsius.
        self.assertAlmostEqual(expansion(840, "15C") * 100, 0.084, delta=0.004)
        self.assertAlmostEqual(expansion(745, "15C") * 100, 0.121, delta=0.006)

    def test_both_standards_tell_the_same_liquid(self) -> None:
        # 60 °F is 15.56 °C: a liquid's density at one standard follows from the other to a few parts in a million.
        for density in (700.0, 745.0, 800.0, 840.0, 960.0):
            at_60f = density * volume_correction(density, (60 - 32) / 1.8, "15C")
            for celsius in (-5.0, 30.0):
                by_15 = density * volume_correction(density, celsius, "15C")
                by_60 = at_60f * volume_correction(at_60f, celsius, "60F")
                self.assertAlmostEqual(by_60 / by_15, 1.0, delta=4e-5)

    def test_observed_density_goes_back_and_forth(self) -> None:
        for density in (690.0, 780.0, 838.0, 900.0):
            for celsius in (-10.0, 12.0, 40.0):
                observed = density * volume_correction(density, celsius, "15C")
                self.assertAlmostEqual(standard_density(observed, celsius, "15C"), density, places=6)

    def test_outside_the_tables(self) -> None:
        for density, celsius, where in ((500, 15, "density"), (1200, 15, "density"), (840, 400, "temperature")):
            with self.assertRaises(InputError) as caught:
                volume_correction(density, celsius, "15C")
            self.assertEqual(caught.exception.problems[0].where, where)


class OtherLiquids(TestCase):
    def test_water(self) -> None:
        """Package `iapws`: IAPWS-IF97, independent of the property library that the core uses."""
        for celsius in (4.0, 15.0, 30.0, 60.0):
            liquid = read_liquid("water", {"temperature": f"{celsius} °C"}, "15C", "metric")
            theirs = IAPWS97(T=celsius + 273.15, P=0.101325).rho
            self.assertAlmostEqual(liquid.density_in_tank, theirs, delta=0.05)

    def test_propane_by_the_gallon(self) -> None:
        # Common practice, no published source: about 4.2 lb/gal at 60 °F.
        liquid = read_liquid("propane", {}, "60F", "us")
        pounds = liquid.density * 3.785411784e-3 / 0.45359237
        self.assertAlmostEqual(pounds, 4.2, delta=0.06)
        self.assertIn("pure propane", liquid.assumed)

    def test_observed_density_scales_a_pure_liquid(self) -> None:
        pure = read_liquid("butane", {"temperature": "30 °C"}, "15C", "metric")
        mixed = read_liquid("butane", {"temperature": "30 °C", "density": "570 kg/m³"}, "15C", "metric")
        self.assertAlmostEqual(mixed.density, 570.0)
        self.assertAlmostEqual(mixed.correction, pure.correction)
        with self.assertRaisesRegex(InputError, "times that of pure butane"):
            read_liquid("butane", {"density": "840 kg/m³"}, "15C", "metric")

    def test_names(self) -> None:
        self.assertEqual(product_of("Marine diesel").group, "fuel_oil")
        self.assertEqual(product_of("red diesel").group, "fuel_oil")
        self.assertEqual(product_of("milk").group, "")
        for product in ("", "milk"):
            with self.assertRaisesRegex(InputError, "nothing is known"):
                read_liquid(product, {}, "15C", "metric")


class Contents(TestCase):
    def test_water_is_taken_off_before_anything_else(self) -> None:
        # By hand: 2 m² of plan; 500 mm of liquid over 30 mm of water.
        liquid = read_liquid("diesel", {"density": "838", "density_at": "20", "temperature": "5", "water": "30 mm"},
                             "15C", "metric")  # fmt: skip
        found = contents_at(BOX, liquid, 0.5)
        self.assertAlmostEqual(found.gross_m3, 0.94)
        self.assertAlmostEqual(found.water_m3, 0.06)
        self.assertAlmostEqual(found.standard_m3, 0.94 * liquid.correction)
        self.assertAlmostEqual(found.mass_kg, 0.94 * liquid.density_in_tank, places=9)
        self.assertEqual(contents_at(BOX, liquid, 0.01).gross_m3, 0.0)

    def test_typed_as_people_write(self) -> None:
        for text, expected in (("840", 840), ("0.84 kg/L", 840), ("0,84 SG", 0.84 * 999.016), ("7.0 lb/gal", 838.8)):
            self.assertAlmostEqual(read_quantity(text, "density", "metric"), expected, delta=0.05)
        self.assertAlmostEqual(read_quantity("60 F", "temperature", "metric"), 15.5556, places=3)
        self.assertAlmostEqual(read_quantity("59", "temperature", "us"), 15.0)
        for text, expected in (
            ("1:200", 5.0),
            ("1 in 50", 20.0),
            ("0.5 %", 5.0),
            ("1/16 in/ft", 1000 / 192),
            ("-3", -3),
        ):
            self.assertAlmostEqual(read_quantity(text, "slope", "metric"), expected, places=6)
        self.assertAlmostEqual(read_quantity("30°", "slope", "metric"), 577.3503, places=3)
        for text, quantity in (
            ("warm", "temperature"),
            ("8 bar", "density"),
            ("1:0", "slope"),
            ("1/0 in/ft", "slope"),
        ):
            with self.subTest(text), self.assertRaises(InputError):
                read_quantity(text, quantity, "metric")
