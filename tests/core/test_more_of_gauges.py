"""Gauges' small parts: vapour pressures and densities by handbooks, cautions by station, words in both systems."""

from __future__ import annotations

from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from iapws import IAPWS97

from rasante.core.gauges.suit import judge_models, level_parts
from rasante.core.products.cautions import cautions_for
from rasante.core.products.liquid import boiling_pressure, density_at
from rasante.core.products.registry import product_of
from rasante.core.quantities.errors import InputError
from rasante.core.quantities.words import Words
from rasante.core.scaling.chain_judge import judge_gauge

from .chain_cases import chain
from .gauge_cases import demo_tanks, lying, meet, model, upright
from .said import said


class Liquids(TestCase):
    def test_vapour_pressures_by_the_handbook(self) -> None:
        # Perry's Chemical Engineers' Handbook, vapour pressures of propane and n-butane, absolute; from memory [bar].
        for group, celsius, bar in (
            ("propane", 20, 8.36),
            ("propane", -42.1, 1.013),
            ("butane", 20, 2.08),
            ("butane", -0.5, 1.013),
        ):
            with self.subTest(group, celsius=celsius):
                self.assertAlmostEqual(boiling_pressure(product_of(group), celsius) / 1e5 / bar, 1, 2)
        with self.assertRaises(InputError):
            boiling_pressure(product_of("diesel"), 20)
        with self.assertRaises(InputError):
            boiling_pressure(product_of("propane"), 500)

    def test_densities(self) -> None:
        for celsius in (5, 20, 60):
            steam = IAPWS97(T=celsius + 273.15, P=0.101325).rho
            self.assertAlmostEqual(density_at(product_of("water"), celsius) / steam, 1, 4)
        # Typical diesel, 840 kg/m³ at 15 °C, loses about 0.7 kg/m³ for each K (common practice).
        self.assertAlmostEqual(density_at(product_of("diesel"), 15), 840, 6)
        self.assertAlmostEqual(
            (density_at(product_of("diesel"), 15) - density_at(product_of("diesel"), 25)) / 10, 0.7, 1
        )
        with self.assertRaises(InputError):
            density_at(product_of("soup"), 15)


class Cautions(TestCase):
    def test_gauge_and_wiring_have_theirs(self) -> None:
        for product in ("diesel", "propane", "drinking water", "water", "", "something odd"):
            stations = {caution.station for caution in cautions_for(product)}
            self.assertLessEqual({"gauge", "wiring"}, stations, product)
        hot_work = [c for c in cautions_for("petrol") if "hot work" in c.text]
        self.assertEqual(len(hot_work), 1)
        self.assertFalse(any("hot work" in c.text for c in cautions_for("water")))
        self.assertTrue(any("Never open a fitting under pressure" in c.text for c in cautions_for("butane")))
        self.assertTrue(product_of("never heard of").flammable)


class BothSystems(TestCase):
    def test_every_reason_speaks_the_system_that_is_asked_for(self) -> None:
        models = [
            model(key) for key in ("radar", "ultrasonic", "laser", "sonar", "hydrostatic", "capacitance", "rods")
        ]
        for file, ports in demo_tanks()[:4]:
            there = meet(file, {"site.riser": "-50 mm", "site.sediment": "30 mm", "site.bore": "20 mm"}, ports)
            for verdict in judge_models(there, models):
                for reason in verdict.reasons:
                    # No place is left open, and none names the other system's unit.
                    self.assertNotRegex(said(reason, "us"), r" mm|[{}]")
                    self.assertNotRegex(said(reason, "metric"), r"\d in\b|[{}]")

    def test_words(self) -> None:
        self.assertEqual(Words("us").length(0.0254), "1 in")
        self.assertEqual(Words("metric").volume(0.0015), "1.5 L")


class Uncertainties(TestCase):
    @settings(max_examples=80, deadline=None)
    @given(st.floats(0.05, 1.9), st.floats(-30, 60), st.floats(500, 950), st.floats(0, 60))
    def test_parts_never_fall_below_nothing_and_grow_with_their_cause(self, level, hot, density, spread) -> None:
        entries = {
            "site.temperature_low": f"{min(hot, 20):.2f} °C", "site.temperature_high": f"{max(hot, 20):.2f} °C",
            "site.density_low": f"{density:.2f} kg/m3", "site.density_high": f"{density + spread:.2f} kg/m3",
        }  # fmt: skip
        there = meet(lying(), entries)
        at = np.array([level])
        for technology in ("radar", "ultrasonic", "hydrostatic", "capacitance", "sonar"):
            parts = level_parts(model(technology), there, at)
            self.assertTrue(all(float(part[0]) >= 0 for part in parts.values()))
        wide = meet(lying(), {**entries, "site.density_high": f"{density + spread + 10:.2f} kg/m3"})
        self.assertGreater(
            float(level_parts(model("hydrostatic"), wide, at)["density"][0]),
            float(level_parts(model("hydrostatic"), there, at).get("density", np.zeros(1))[0]),
        )

    def test_a_sensor_of_twice_the_range_errs_twice(self) -> None:
        there = meet(upright())
        small, large = (
            level_parts(model("hydrostatic", range_max_mm=mm), there, np.array([1.0]))["accuracy"]
            for mm in (4000, 8000)
        )
        self.assertAlmostEqual(float(large[0] / small[0]), 2, 12)


class Scales(TestCase):
    def test_level_for_level_and_distance_for_distance(self) -> None:
        for technology, quantity, code in (
            ("radar", "level", "level-or-distance"),
            ("hydrostatic", "distance", "level-or-distance"),
            ("rods", "level", "no-scale"),
            ("radar", "distance", None),
            ("hydrostatic", "pressure", None),
            ("capacitance", "counts", None),
        ):
            found = judge_gauge(chain(sensor__quantity=quantity), model(technology))
            self.assertEqual(found and found.code, code, technology)
