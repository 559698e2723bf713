"""The series of boiling liquids against what they were fitted to, and water against IAPWS-IF97."""

from __future__ import annotations

from unittest import TestCase

import numpy as np
from iapws import IAPWS97

from rasante.core.products.saturation import liquid_density, vapour_density, vapour_pressure
from rasante.core.quantities.errors import InputError

from .samples import coolprop

#: From freezing to just below the critical point [°C].
RANGES = {"Water": (0.06, 373.7), "n-Propane": (-187.0, 96.5), "n-Butane": (-138.0, 151.8)}


class Series(TestCase):
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
