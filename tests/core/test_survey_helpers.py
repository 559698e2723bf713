"""Survey helpers, the dimension from the data plate, limits and dips: by hand, from practice, or as inverses."""

from __future__ import annotations

import math
from math import pi
from typing import ClassVar
from unittest import TestCase

import numpy as np

from rasante.core.quantities.errors import InputError
from rasante.core.tanks.helpers import HELPERS, work_out
from rasante.core.tanks.limits import limits_of
from rasante.core.tanks.measured import METHODS
from rasante.core.tanks.solve import solve_dimension
from rasante.core.tanks.survey import entries_of, read_survey
from rasante.core.tanks.tank_file import check_document
from tests.tags import slow

from .samples import example, random_level_tank, tank_file

LYING = {
    "name": "t",
    "shape.kind": "horizontal_cylinder",
    "shape.diameter_mm": "1500 mm",
    "shape.shell_length_mm": "2600 mm",
    "shape.left_head.kind": "flat",
    "shape.right_head.kind": "flat",
}


def worked(key: str, **measures: str) -> float:
    return work_out(key, {f"how.x.{name}": text for name, text in measures.items()}, "how.x", "metric").value_m


class Helpers(TestCase):
    """Common practice in the trade, no published source; figures worked by hand."""

    def test_the_arithmetic(self) -> None:
        self.assertAlmostEqual(worked("outside_less_walls", outside="2416 mm", wall="8 mm"), 2.4)
        self.assertAlmostEqual(worked("circumference", around="7590 mm", plate="6 mm"), 7.59 / pi - 0.012)
        self.assertAlmostEqual(
            worked("circumference", around="7590 mm", plate="6 mm", paint="0.5 mm"), 7.59 / pi - 0.013
        )
        self.assertAlmostEqual(
            worked("double_wall", reference="5' 3 1/4\"", riser="4 in", interstice="1 1/4 in"), 58 * 0.0254
        )
        self.assertAlmostEqual(worked("rings", rings="3", course="1.5 m", rest="420 mm"), 4.92)
        self.assertAlmostEqual(worked("overflow_from_reference", reference="6.2 m", down="0.5 m"), 5.7)
        self.assertAlmostEqual(worked("rise_over_length", rise="72 mm", over="4.8 m") * 1000, 15.0)

    def test_nothing_left_is_refused_where_it_was_measured(self) -> None:
        with self.assertRaises(InputError) as caught:
            worked("double_wall", reference="100 mm", riser="90 mm", interstice="20 mm")
        self.assertEqual(caught.exception.problems[0].where, "how.x.interstice")
        for key, measures in (
            ("rings", {"rings": "many", "course": "1 m"}),
            ("outside_less_walls", {"outside": "2 m"}),
            ("circumference", {"around": "-2 m", "plate": "3 mm"}),
        ):
            with self.subTest(key), self.assertRaises(InputError):
                worked(key, **measures)

    def test_every_helper_says_what_it_fills_and_how_well(self) -> None:
        filled = {key for key, helper in HELPERS.items() if "shape.diameter_mm" in helper.fields}
        self.assertEqual(filled, {"outside_less_walls", "circumference", "double_wall"})
        for helper in HELPERS.values():
            self.assertTrue(helper.fields and helper.formula)
            self.assertIn(helper.method, ("", *METHODS))

    def test_a_survey_keeps_what_was_measured_with_what_came_of_it(self) -> None:
        typed = LYING | {
            "shape.diameter_mm": "",
            "how.shape.diameter_mm": "double_wall",
            "how.shape.diameter_mm.reference": "1610",
            "how.shape.diameter_mm.riser": "92 mm",
            "how.shape.diameter_mm.interstice": "18 mm",
            "how.slope_mm_per_m": "rise_over_length",
            "how.slope_mm_per_m.rise": "-13 mm",
            "how.slope_mm_per_m.over": "2.6 m",
        }
        survey = read_survey(typed)
        document = survey.require().document
        self.assertEqual(document["shape"]["diameter_mm"], 1500)
        self.assertEqual(document["slope_mm_per_m"], -5)
        kept = {path: field.kept for path, field in survey.fields.items()}
        self.assertEqual(kept["how.shape.diameter_mm.reference"], "1610 mm")
        self.assertEqual(kept["how.shape.diameter_mm"], "double_wall")
        # What was kept reads back as the same tank.
        again = read_survey({path: text for path, text in kept.items() if text})
        self.assertEqual(again.require().document, document)

    def test_a_measure_that_cannot_be_is_blamed_where_it_is_typed(self) -> None:
        """What is typed at a measure is blamed there and at what comes of it; what is not typed is waited for."""
        bad = LYING | {"how.shape.diameter_mm": "circumference", "shape.diameter_mm": ""}
        for text, states in (("seven", ("wrong", "wrong")), ("", ("empty", "empty"))):
            fields = read_survey(bad | {"how.shape.diameter_mm.around": text}).fields
            found = tuple(fields[path].state for path in ("how.shape.diameter_mm.around", "shape.diameter_mm"))
            self.assertEqual(found, states, text)
        self.assertTrue(fields["shape.diameter_mm"].problem)

    def test_a_measure_that_is_missing_is_waited_for(self) -> None:
        survey = read_survey(LYING | {"how.shape.diameter_mm": "circumference", "shape.diameter_mm": ""})
        self.assertIsNone(survey.file)
        self.assertIn("circumference is not typed yet", survey.fields["shape.diameter_mm"].problem)

    def test_every_document_comes_back_from_its_entries(self) -> None:
        hull = [[-70, 0], [70, 0], [420, 400], [-420, 400]]
        shapes = [
            {"kind": "sphere", "diameter_mm": 3000},
            {"kind": "points", "points": [[0, 0], [100, 52.5], [200, 180]], "between": "straight"},
            {"kind": "prism", "length_mm": 900, "section": {"kind": "polygon", "points_mm": hull}},
            {
                "kind": "courses",
                "courses": [{"circumference_mm": 9000, "plate_mm": 5, "height_mm": 1000}],
                "strapped_at_c": -3.5,
                "bottom": {"kind": "conical_inward", "depth_mm": 80},
            },
        ]
        documents = [
            *(dict(tank_file(shape).document) for shape in shapes),
            example(slope_mm_per_m=12.5, measured={"all": "strapped", "diameter_mm": "tape_inside"}),
            example(
                floor_heel_l=12,
                sump={"depth_mm": 200, "volume_l": 30},
                outlet_height_mm=-50,
                overflow_height_mm=2300,
                safe_fill_pct=95,
                uncertainty={"slope_mm_per_m": 2, "diameter_mm": 3},
            ),
        ]
        for document in documents:
            with self.subTest(document["shape"]["kind"]):
                self.assertEqual(read_survey(entries_of(document)).require().document, document)


@slow
class FromTheDataPlate(TestCase):
    def test_it_finds_what_made_the_capacity(self) -> None:
        rng = np.random.default_rng(50)
        for _ in range(25):
            file = random_level_tank(rng)
            shape = dict(file.document["shape"])
            key = str(rng.choice([k for k in shape if k.endswith("_mm") and k != "corner_radius_mm"]))
            value = shape.pop(key)
            if key in ("width_mm", "height_mm", "diameter_mm"):
                shape.pop("corner_radius_mm", None)
                value = None
            document = {**file.document, "shape": shape}
            for head in ("left_head", "right_head"):
                if key == "diameter_mm" and head in shape:
                    shape[head] = {"kind": "hemispherical"}
            try:
                found = solve_dimension(document, key, file.tank.capacity, 0.0)
            except InputError as error:
                self.assertNotEqual(key, "shell_length_mm", str(error))
                continue
            filled = check_document({**document, "shape": {**shape, key: found.value_mm}})
            self.assertAlmostEqual(filled.tank.capacity / file.tank.capacity, 1.0, places=9)
            if value is not None:
                self.assertAlmostEqual(found.value_mm / value, 1.0, places=8)

    def test_how_far_it_moves(self) -> None:
        # By hand: L = 4 C / (π D²), so ± 1 % of C is ± 1 % of L, and ± 1 % of D is ∓ 2 %.
        document = {"shape": {"kind": "horizontal_cylinder", "diameter_mm": 2000, "left_head": {"kind": "flat"},
                              "right_head": {"kind": "flat"}}, "uncertainty": {"diameter_mm": 20}}  # fmt: skip
        found = solve_dimension(document, "shell_length_mm", 10.0, 0.1)
        self.assertAlmostEqual(found.value_mm, 10_000 / pi, places=5)
        moves = {m.label: m.moves_mm for m in found.movements}
        self.assertAlmostEqual(moves["Nominal capacity"], 100 / pi, places=4)
        self.assertAlmostEqual(moves["Inside diameter"] / found.value_mm, 0.02, places=4)
        self.assertEqual(found.movements[0].label, "Inside diameter")

    def test_it_refuses_when_it_cannot_be(self) -> None:
        heads = {"kind": "ellipsoidal", "depth_mm": 600}
        shape = {"kind": "horizontal_cylinder", "diameter_mm": 2400, "left_head": heads, "right_head": heads}
        # The heads alone hold 3.6 m³: no shell is short enough.
        with self.assertRaisesRegex(InputError, "no value of it gives 2000 L"):
            solve_dimension({"shape": shape}, "shell_length_mm", 2.0, 0.01)
        with self.assertRaisesRegex(InputError, "more than 0"):
            solve_dimension({"shape": shape}, "shell_length_mm", 0.0, 0.0)

    def test_in_the_survey_it_waits_and_follows(self) -> None:
        typed = LYING | {"shape.shell_length_mm": "", "how.shape.shell_length_mm": "capacity"}
        waiting = read_survey(typed)
        self.assertIsNone(waiting.file)
        typed["how.shape.shell_length_mm.capacity"] = "4600 L"
        typed["how.shape.shell_length_mm.within"] = "2 %"
        first = read_survey(typed)
        length = first.require().document["shape"]["shell_length_mm"]
        self.assertAlmostEqual(length, 4.6e9 / (pi * 750**2), places=3)
        self.assertGreater(first.document["uncertainty"]["shell_length_mm"], length * 0.02)
        wider = read_survey(typed | {"shape.diameter_mm": "1600 mm"})
        self.assertLess(wider.require().document["shape"]["shell_length_mm"], length)
        wrong = read_survey(typed | {"how.shape.shell_length_mm.capacity": "46 m"})
        self.assertTrue(wrong.fields["how.shape.shell_length_mm.capacity"].problem)


class Limits(TestCase):
    def test_safe_fill_unpumpable_and_usable(self) -> None:
        # Worked by hand: a box of 2 m² plan, 1 m high, 40 L in the sump; overflow at 900, 95 % safe, suction at 100.
        file = tank_file(
            {"kind": "box", "length_mm": 2000, "width_mm": 1000, "height_mm": 1000},
            sump={"depth_mm": 200, "volume_l": 40},
            overflow_height_mm=900,
            safe_fill_pct=95,
            outlet_height_mm=100,
        )
        found = limits_of(file.tank)
        self.assertAlmostEqual(found.brim_m3, 1.84)
        self.assertAlmostEqual(found.safe_m3, 1.84 * 0.95)
        self.assertAlmostEqual(found.safe_level_m, (1.84 * 0.95 - 0.04) / 2)
        self.assertAlmostEqual(found.unpumpable_m3, 0.24)
        self.assertAlmostEqual(found.usable_m3, 1.84 * 0.95 - 0.24)
        in_sump = check_document({**file.document, "outlet_height_mm": -150})
        self.assertAlmostEqual(limits_of(in_sump.tank).unpumpable_m3, 0.01)

    def test_a_suction_above_the_safe_fill_is_refused_at_its_field(self) -> None:
        survey = read_survey(LYING | {"outlet_height_mm": "1490 mm", "safe_fill_pct": "50 %"})
        self.assertIn("nothing could be drawn", survey.fields["outlet_height_mm"].problem)

    def test_bad_limits(self) -> None:
        for keys, where in (
            ({"safe_fill_pct": 120}, "safe_fill_pct"),
            ({"floor_heel_l": -3}, "floor_heel_l"),
            ({"sump": {"depth_mm": 100}}, "sump.volume_l"),
            ({"outlet_height_mm": 2390, "safe_fill_pct": 95}, "outlet_height_mm"),
            ({"overflow_height_mm": 0}, "overflow_height_mm"),
        ):
            with self.assertRaises(InputError) as caught:
                check_document(example(**keys))
            self.assertEqual(caught.exception.problems[0].where, where)


class Dips(TestCase):
    def test_up_from_the_floor_or_down_from_the_reference(self) -> None:
        up = read_survey(LYING | {"reference_height_mm": "1600", "dip.product": "900", "dip.water": "30 mm"})
        self.assertEqual((up.dip.level_m, up.dip.water_m), (0.9, 0.03))
        down = read_survey(
            LYING
            | {"reference_height_mm": "1600", "dip.read": "ullage", "dip.product": "700 mm", "dip.water": "1570 mm"}
        )
        self.assertAlmostEqual(down.dip.level_m, 0.9)
        self.assertAlmostEqual(down.dip.water_m, 0.03)

    def test_water_above_the_product_is_said_and_keeps_nobody_from_keeping_the_tank(self) -> None:
        survey = read_survey(LYING | {"dip.product": "20 mm", "dip.water": "300 mm"})
        self.assertIn("swap them?", survey.fields["dip.water"].problem)
        self.assertIsNotNone(survey.file)
        self.assertIn(
            "above the inside top", read_survey(LYING | {"dip.product": "9 m"}).fields["dip.product"].problem
        )


class TheShellFromTheWhole(TestCase):
    """The overall length, less both heads and two plates: nobody takes it off on a phone."""

    TYPED: ClassVar[dict[str, str]] = {
        "name": "Bullet", "shape.kind": "horizontal_cylinder", "shape.diameter_mm": "1500 mm",
        "how.shape.shell_length_mm": "less_heads", "how.shape.shell_length_mm.overall": "6014 mm",
        "how.shape.shell_length_mm.plate": "7 mm",
        "shape.left_head.kind": "ellipsoidal", "shape.left_head.depth_mm": "0.25 D",
        "shape.right_head.kind": "hemispherical",
    }  # fmt: skip

    def test_what_is_left_is_the_shell(self) -> None:
        survey = read_survey(self.TYPED)
        assert survey.file is not None, survey.fields
        # 6014 − 2 × 7 − 375 − 750.
        self.assertAlmostEqual(survey.document["shape"]["shell_length_mm"], 4875.0)
        self.assertEqual(survey.fields["how.shape.shell_length_mm.overall"].kept, "6014 mm")

    def test_a_dished_head_by_its_own_depth(self) -> None:
        typed = {**self.TYPED, "shape.left_head.kind": "torispherical", "shape.left_head.dish_radius_mm": "1 D",
                 "shape.left_head.knuckle_radius_mm": "0.1 D"}  # fmt: skip
        # A dished head's depth by its radii: R − √((R − D/2)(R + D/2 − 2 r)) for dish R and knuckle r.
        depth = 1500 - math.sqrt((1500 - 750) * (1500 + 750 - 2 * 150))
        shell = read_survey(typed).document["shape"]["shell_length_mm"]
        self.assertAlmostEqual(shell, 6000 - depth - 750, places=5)

    def test_it_waits_for_the_heads_and_says_what_is_wrong(self) -> None:
        path = "shape.shell_length_mm"
        bare = {key: text for key, text in self.TYPED.items() if "right_head" not in key}
        self.assertIn("waits for the heads", read_survey(bare).fields[path].problem)
        bare = {key: text for key, text in self.TYPED.items() if "diameter" not in key}
        self.assertIn("waits for the heads", read_survey(bare).fields[path].problem)
        short = read_survey({**self.TYPED, f"how.{path}.overall": "1100 mm"})
        self.assertIsNone(short.file)
        self.assertEqual(short.fields[path].state, "wrong")
        odd = read_survey({**self.TYPED, f"how.{path}.overall": "six metres"})
        self.assertEqual(odd.fields[f"how.{path}.overall"].state, "wrong")
        empty = read_survey({**self.TYPED, f"how.{path}.overall": ""})
        self.assertIn("overall length is not typed yet", empty.fields[path].problem)


class HeadsByAnUnknownDiameter(TestCase):
    """Heads given as a share of a diameter that only the data plate's capacity tells."""

    TYPED: ClassVar[dict[str, str]] = {
        "name": "Buried", "shape.kind": "horizontal_cylinder", "shape.shell_length_mm": "4 m",
        "how.shape.diameter_mm": "capacity", "how.shape.diameter_mm.within": "1 %",
        "shape.left_head.kind": "ellipsoidal", "shape.left_head.depth_mm": "0.25 D",
        "shape.right_head.kind": "ellipsoidal", "shape.right_head.depth_mm": "0.25 D",
    }  # fmt: skip

    def test_they_grow_with_it(self) -> None:
        # π/4 D² L + 2 × π D³/24, which is πD³/24 for one 2:1 head.
        for metres in (1.2, 1.8, 2.6):
            capacity = math.pi / 4 * metres**2 * 4 + math.pi * metres**3 / 12
            typed = {**self.TYPED, "how.shape.diameter_mm.capacity": f"{capacity * 1000:.6f} L"}
            survey = read_survey(typed)
            assert survey.file is not None, survey.fields
            shape = survey.document["shape"]
            self.assertAlmostEqual(shape["diameter_mm"], metres * 1000, places=3)
            self.assertAlmostEqual(shape["left_head"]["depth_mm"], metres * 250, places=3)
            self.assertAlmostEqual(survey.file.tank.capacity, capacity, places=6)
            self.assertEqual(survey.fields["shape.left_head.depth_mm"].kept, "0.25 D")

    def test_until_the_capacity_is_typed_it_waits(self) -> None:
        survey = read_survey(self.TYPED)
        self.assertIsNone(survey.file)
        self.assertNotIn("multiple of the inside diameter", str(survey.fields["shape.left_head.depth_mm"].problem))
