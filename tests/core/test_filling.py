"""Nothing under pressure is filled, marked or worked with above its filling limit."""

from __future__ import annotations

import math
from typing import Any
from unittest import TestCase

from scipy.optimize import brentq

from rasante.core.gauges.situation import read_situation
from rasante.core.products.registry import product_of
from rasante.core.quantities.errors import InputError
from rasante.core.quantities.form import Form
from rasante.core.scaling.marks import MARKS, Surroundings, read_marks
from rasante.core.tanks.check import overfilled
from rasante.core.tanks.limits import limits_of
from rasante.core.tanks.survey import entries_of, read_survey
from rasante.core.tanks.tank_file import TankFile, check_document

SPHERE = {"format": "rasante.tank/1", "name": "Sphere", "shape": {"kind": "sphere", "diameter_mm": 2000}}
CODE = {"filling_limit_pct": 86, "filling_limit_source": "Island code, above ground"}
RADIUS = 1.0


def sphere(product: str, **keys: Any) -> TankFile:
    return check_document({**SPHERE, "product": product, **keys})


def filled(share: float) -> float:
    """Level of a sphere's cap, π h² (3 R − h) / 3, that is so much of it."""
    whole = 4 / 3 * math.pi * RADIUS**3
    return float(brentq(lambda h: math.pi * h**2 * (3 * RADIUS - h) / 3 - share * whole, 0, 2 * RADIUS, xtol=1e-12))


class Limits(TestCase):
    def test_liquid_under_pressure_fills_four_fifths_where_nothing_better_is_known(self) -> None:
        # Common practice, no published source here: 80 %, the code in force having its own table.
        for name in ("propane", "commercial propane", "Propane HD-5", "LPG (autogas)", "butane", "propane slops"):
            with self.subTest(name):
                self.assertEqual(product_of(name).fills_to, 0.8)
                found = limits_of(sphere(name).tank)
                assert found.filling_level_m is not None and found.filling_m3 is not None
                self.assertAlmostEqual(found.filling_level_m, filled(0.8), 8)
                self.assertAlmostEqual(found.filling_m3, 0.8 * 4 / 3 * math.pi, 9)
                self.assertEqual((found.safe_m3, found.safe_level_m), (found.filling_m3, found.filling_level_m))
        for name in ("diesel", "water", ""):
            self.assertIsNone(limits_of(sphere(name).tank).filling_m3, name)

    def test_what_is_liquefied_has_a_limit_whatever_language_it_is_written_in(self) -> None:
        for name in (
            "ammonia", "Anhydrous ammonia", "propylene", "isobutane", "CO2", "LNG", "R134a", "chlorine", "Chlor",
            "dimethyl ether", "propano", "butane commercial", "Flüssiggas", "GPL", "dióxido de carbono",
        ):  # fmt: skip
            with self.subTest(name):
                self.assertEqual(product_of(name).fills_to, 0.8)
                above = overfilled({**SPHERE, "product": name, "safe_fill_pct": 98})
                self.assertIn("above the filling limit of 80 %", above.what if above else "")

    def test_what_is_in_no_list_is_taken_for_a_gas_in_a_vessel_built_for_pressure(self) -> None:
        above = overfilled({**SPHERE, "product": "process gas 7", "safe_fill_pct": 98})
        self.assertIn("above the filling limit of 80 %", above.what if above else "")
        self.assertAlmostEqual(limits_of(sphere("process gas 7").tank).safe_m3, 0.8 * 4 / 3 * math.pi, 9)
        flat = {**SPHERE, "product": "process gas 7", "safe_fill_pct": 95, "shape": {
            "kind": "box", "length_mm": 2000, "width_mm": 1000, "height_mm": 1000}}  # fmt: skip
        self.assertIsNone(limits_of(check_document(flat).tank).filling_m3)

    def test_a_safe_fill_below_it_stays_and_one_above_counts_up_to_it(self) -> None:
        whole = 4 / 3 * math.pi
        self.assertAlmostEqual(limits_of(sphere("propane", safe_fill_pct=70).tank).safe_m3, 0.7 * whole, 9)
        # As a tank of before may have been kept: it opens, and is not filled above the limit.
        self.assertAlmostEqual(limits_of(sphere("propane", safe_fill_pct=97).tank).safe_m3, 0.8 * whole, 9)
        self.assertAlmostEqual(limits_of(sphere("propane", safe_fill_pct=85, **CODE).tank).safe_m3, 0.85 * whole, 9)
        self.assertAlmostEqual(limits_of(sphere("propane", **CODE).tank).safe_m3, 0.86 * whole, 9)
        # A figure of the code for propane says nothing of diesel.
        self.assertAlmostEqual(limits_of(sphere("diesel", **CODE).tank).safe_m3, whole, 9)

    def test_the_code_s_own_figure_names_its_source(self) -> None:
        for keys, where in (
            ({"filling_limit_pct": 86}, "filling_limit_source"),
            ({**CODE, "filling_limit_source": "  "}, "filling_limit_source"),
            ({**CODE, "filling_limit_pct": 0}, "filling_limit_pct"),
            ({**CODE, "filling_limit_pct": 101}, "filling_limit_pct"),
            ({**CODE, "filling_limit_source": 201 * "x"}, "filling_limit_source"),
        ):
            with self.subTest(keys), self.assertRaises(InputError) as refused:
                sphere("propane", **keys)
            self.assertEqual([problem.where for problem in refused.exception.problems], [where])
        sphere("propane", **{**CODE, "filling_limit_source": 200 * "x"})

    def test_a_file_with_more_is_told_at_its_key(self) -> None:
        for safe, keys, told in ((80, {}, False), (80.1, {}, True), (86, CODE, False), (87, CODE, True)):
            problem = overfilled({**SPHERE, "product": "butane", "safe_fill_pct": safe, **keys})
            self.assertEqual(problem is not None and problem.where == "safe_fill_pct", told, (safe, keys))
        self.assertIsNone(overfilled({**SPHERE, "product": "diesel", "safe_fill_pct": 97}))


class Surveyed(TestCase):
    def read(self, **typed: str):
        return read_survey({"name": "Sphere", "shape.kind": "sphere", "shape.diameter_mm": "2 m", **typed})

    def test_a_safe_fill_above_it_is_refused_at_its_field(self) -> None:
        survey = self.read(product="propane", safe_fill_pct="85 %")
        self.assertIn("above the filling limit of 80 %", survey.fields["safe_fill_pct"].problem)
        self.assertIsNone(survey.file)
        with self.assertRaises(InputError):
            survey.require()
        self.assertIsNotNone(self.read(product="diesel", safe_fill_pct="97 %").file)
        self.assertIsNotNone(self.read(product="propane", safe_fill_pct="80 %").file)

    def test_with_the_code_s_figure_and_its_source_it_is_taken(self) -> None:
        typed = {"product": "butane", "safe_fill_pct": "85 %", "filling_limit_pct": "86"}
        self.assertIn("which code", self.read(**typed).fields["filling_limit_source"].problem)
        survey = self.read(**typed, filling_limit_source="Island code")
        assert survey.file is not None
        self.assertEqual(survey.file.document["filling_limit_pct"], 86)
        self.assertEqual(entries_of(survey.file.document)["filling_limit_pct"], "86.0 %")
        self.assertEqual(entries_of(survey.file.document)["filling_limit_source"], "Island code")
        alone = self.read(product="butane", filling_limit_source="Island code")
        self.assertIn("type the figure", alone.fields["filling_limit_pct"].problem)

    def test_its_field_says_what_counts_until_then(self) -> None:
        self.assertIn("80 %", self.read(product="propane").fields["filling_limit_pct"].says)
        self.assertEqual(self.read(product="diesel").fields["filling_limit_pct"].says, "")


class Marked(TestCase):
    def test_no_mark_stands_above_it(self) -> None:
        tank = sphere("propane").tank
        for key in MARKS:
            typed = {f"marks.{key}": "80.5 %"}
            found = read_marks(typed, tank, None, Surroundings(), "metric")
            self.assertEqual([problem.where for problem in found.form.problems], [f"marks.{key}"])
            self.assertIn("filling limit", found.form.problems[0].what)
            self.assertEqual(found.marks, ())
            self.assertNotIn("marks", [judgement.code for judgement in found.judgements])
            self.assertEqual(
                len(read_marks({f"marks.{key}": "79.9 %"}, tank, None, Surroundings(), "metric").marks), 1
            )

    def test_as_a_level_and_with_the_code_s_figure(self) -> None:
        above = f"{filled(0.83) * 1000:.1f} mm"
        for keys, count in (({}, 0), (CODE, 1)):
            found = read_marks({"marks.safe": above}, sphere("propane", **keys).tank, None, Surroundings(), "us")
            self.assertEqual(len(found.marks), count)


class Working(TestCase):
    def test_the_highest_level_that_is_worked_with(self) -> None:
        file = sphere("propane", reference_height_mm=2000)
        form = Form({}, "metric")
        there = read_situation(form, file, [])
        self.assertAlmostEqual(there.highest_m, filled(0.8), 8)
        self.assertIn("highest level: the filling limit", there.assumed)
        form = Form({"site.highest": "1.9 m"}, "metric")
        there = read_situation(form, file, [])
        self.assertEqual([problem.where for problem in form.problems], ["site.highest"])
        self.assertAlmostEqual(there.highest_m, filled(0.8), 8)
        form = Form({"site.highest": "1 m"}, "metric")
        self.assertAlmostEqual(read_situation(form, file, []).highest_m, 1.0)
        self.assertEqual(form.problems, [])
