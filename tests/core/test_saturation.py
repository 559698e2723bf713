"""The series of boiling liquids, and gases, against what they were fitted to; water against IAPWS-IF97."""

from __future__ import annotations

from unittest import TestCase

import numpy as np
from iapws import IAPWS97

from rasante.core.loading.gas import Gas
from rasante.core.products.saturation import liquid_density, vapour_density, vapour_pressure
from rasante.core.quantities.errors import InputError
from tests.tags import slow

from .samples import coolprop

#: From freezing to just below the critical point [°C].
RANGES = {"Water": (0.06, 373.7), "n-Propane": (-187.0, 96.5), "n-Butane": (-138.0, 151.8)}


@slow
class AgainstCoolProp(TestCase):
    """In one class: to read CoolProp takes seconds, and a class is run by one worker."""

    def test_they_hold_the_equations_they_were_fitted_to(self) -> None:
        for fluid, (low, high) in RANGES.items():
            # Whatever stands at the ends and the seams of the series, and between.
            for celsius in np.unique(np.concatenate([np.linspace(low, high, 97), np.arange(-180.0, 160.0, 15.0)])):
                if not low <= celsius <= high:
                    continue
                kelvin, at = celsius + 273.15, float(celsius)
                state = ("P", 101325) if fluid == "Water" and celsius < 99 else ("Q", 0)
                for series, wanted in (
                    (liquid_density, coolprop("D", "T", kelvin, *state, fluid)),
                    (vapour_density, coolprop("D", "T", kelvin, "Q", 1, fluid)),
                    (vapour_pressure, coolprop("P", "T", kelvin, "Q", 0, fluid)),
                ):
                    said = f"{series.__name__}, {fluid} at {celsius:.2f} °C"
                    self.assertAlmostEqual(series(fluid, at) / wanted, 1, 9, said)

    def test_pure_ones_are_coolprops(self) -> None:
        for butane, fluid in ((0.0, "n-Propane"), (1.0, "n-Butane")):
            for celsius in (-20.0, 0.0, 15.0, 40.0):
                kelvin = celsius + 273.15
                self.assertAlmostEqual(
                    Gas(butane).density(celsius), coolprop("D", "T", kelvin, "Q", 0, fluid), places=6
                )
                self.assertAlmostEqual(
                    Gas(butane).vapour_density(celsius), coolprop("D", "T", kelvin, "Q", 1, fluid), places=6
                )
                self.assertAlmostEqual(
                    Gas(butane).pressure(celsius) / coolprop("P", "T", kelvin, "Q", 0, fluid), 1, places=9
                )

    def test_a_mixture_is_near_coolprops_own(self) -> None:
        # Half and half by weight; CoolProp takes molar shares.
        share = (0.5 / 44.0956) / (0.5 / 44.0956 + 0.5 / 58.1222)
        mixture = f"Propane[{share}]&n-Butane[{1 - share}]"
        for celsius in (0.0, 15.0, 30.0):
            reference = coolprop("D", "T", celsius + 273.15, "Q", 0, mixture)
            self.assertAlmostEqual(Gas(0.5).density(celsius) / reference, 1, delta=0.01)


class Series(TestCase):
    def test_water_is_the_steam_tables_water(self) -> None:
        for celsius in (1.0, 15.0, 60.0, 98.0):
            by_if97 = IAPWS97(T=celsius + 273.15, P=0.101325).rho
            self.assertAlmostEqual(liquid_density("Water", celsius), by_if97, delta=0.02)
        boiling = IAPWS97(T=423.15, x=0)
        self.assertAlmostEqual(liquid_density("Water", 150.0), boiling.rho, delta=0.05)
        self.assertAlmostEqual(vapour_pressure("Water", 150.0) / 1e6, boiling.P, delta=2e-4)

    def test_where_it_is_no_liquid_is_said(self) -> None:
        for fluid, (low, high) in RANGES.items():
            for celsius in (low - 2, high + 2, float("nan")):
                with self.subTest(f"{fluid} at {celsius}"), self.assertRaises(InputError) as refused:
                    liquid_density(fluid, celsius)
                (problem,) = refused.exception.problems
                self.assertEqual(problem.where, "temperature")
                self.assertIn(f"outside what liquid {fluid.removeprefix('n-').lower()} can be at", problem.what)
