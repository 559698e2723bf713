"""Cautions, and the data that the screens are built from."""

from __future__ import annotations

from unittest import TestCase

from rasante.core.products.cautions import cautions_for, standing_caution
from rasante.core.products.registry import product_names, product_of
from rasante.core.quantities.errors import InputError, Problem
from rasante.core.quantities.units import SYSTEM_UNITS, UNITS
from rasante.core.tanks.build import check_length
from rasante.core.tanks.kinds import FAMILIES, HEAD_PATTERNS, HEADS, SECTIONS, SHAPES
from rasante.core.tanks.survey import read_survey


def codes(product: str) -> set[str]:
    return {caution.code for caution in cautions_for(product)}


class Cautions(TestCase):
    """The usual cautions of the trade: common practice, no published source."""

    def test_by_product(self) -> None:
        self.assertTrue({"vapour", "safe-loop"} <= codes("diesel"))
        self.assertTrue({"vapour", "pressure"} <= codes("Propane"))
        self.assertNotIn("pressure", codes("diesel"))
        self.assertIn("potable", codes("drinking water"))
        self.assertFalse({"vapour", "pressure", "potable", "safe-loop"} & codes("process water"))

    def test_what_is_not_known_is_treated_as_flammable_and_said_to_be_not_known(self) -> None:
        for name in ("thinner", ""):
            self.assertTrue({"unknown", "drill", "safe-loop"} <= codes(name), name)
            # That it is flammable is not said as a fact.
            self.assertNotIn("vapour", codes(name))
        text = next(one.text for one in cautions_for("thinner") if one.code == "unknown")
        self.assertIn("not known", text)
        self.assertIn("treat it as flammable, and as under pressure in a closed vessel", text)

    def test_injecting_and_overfill_are_cautioned_for_everything(self) -> None:
        for product in [*product_names(), ""]:
            stations = {caution.code: caution.station for caution in cautions_for(product)}
            self.assertEqual((stations["inject"], stations["overfill"]), ("prove", "scale"))

    def test_it_defers_to_codes_and_licensed_practice(self) -> None:
        self.assertIn("local codes", standing_caution())
        self.assertIn("licensed practice", standing_caution())

    def test_each_product_has_a_pattern(self) -> None:
        known = {"fuel", "spirit", "gas", "water", "other"}
        self.assertTrue({product_of(name).pattern for name in product_names()} <= known)
        self.assertEqual(product_of("thinner").pattern, "other")


class Kinds(TestCase):
    def test_each_named_pattern_fills_its_head_and_fits_any_shell(self) -> None:
        for label, kind, entries in HEAD_PATTERNS:
            self.assertEqual(set(entries), {dimension.key for dimension in HEADS[kind].dimensions}, label)
            for diameter in ("300 mm", "6 m"):
                typed = {
                    "name": "p", "shape.kind": "horizontal_cylinder", "shape.diameter_mm": diameter,
                    "shape.shell_length_mm": "1 m", "shape.left_head.kind": kind, "shape.right_head.kind": "flat",
                    **{f"shape.left_head.{key}": text for key, text in entries.items()},
                }  # fmt: skip
                self.assertEqual(read_survey(typed).require().name, "p")

    def test_every_part_that_a_shape_takes_is_known(self) -> None:
        for kind in SHAPES.values():
            for part in kind.parts:
                self.assertTrue(set(part.allowed) <= set(FAMILIES[part.family]))
        self.assertNotIn("conical_inward", SHAPES["horizontal_cylinder"].parts[0].allowed)
        self.assertEqual(SHAPES["box"].parts, ())

    def test_every_dimension_says_where_to_put_the_tape(self) -> None:
        for kind in (*SHAPES.values(), *HEADS.values(), *SECTIONS.values()):
            for dimension in kind.dimensions:
                self.assertIn(dimension.quantity, ("length", "temperature"))
                self.assertGreater(len(dimension.hint), 10)

    def test_ranges(self) -> None:
        for bad in (-1, 0, 0.5, 100_001):
            with self.subTest(bad), self.assertRaises(InputError):
                check_length(bad, "length_mm")
        check_length(0, "corner_radius_mm", may_be_zero=True)
        check_length(100_000, "length_mm")


class Words(TestCase):
    def test_every_system_has_a_unit_for_every_quantity(self) -> None:
        for units in SYSTEM_UNITS.values():
            for quantity, key in units.items():
                self.assertEqual(UNITS[key].quantity, quantity)

    def test_problems_move_under_their_parent(self) -> None:
        error = InputError(Problem("depth_mm", "too deep"), Problem("", "odd")).under("left_head").under("shape")
        self.assertEqual(
            [problem.where for problem in error.problems], ["shape.left_head.depth_mm", "shape.left_head"]
        )
        self.assertEqual(str(error), "shape.left_head.depth_mm: too deep; shape.left_head: odd")
