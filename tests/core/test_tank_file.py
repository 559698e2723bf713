"""The tank file: what it takes, what it refuses, and in which words."""

from __future__ import annotations

import copy
import json
from typing import Any
from unittest import TestCase

import jsonschema
from hypothesis import given, settings
from hypothesis import strategies as st

from rasante.core.quantities.errors import InputError
from rasante.core.tanks.schema import make_schema
from rasante.core.tanks.survey import read_survey
from rasante.core.tanks.tank_file import check_document, json_schema, read_tank_file, write_tank_file

from .samples import EXAMPLE, example, text


class Good(TestCase):
    def test_the_example_without_its_slope(self) -> None:
        file = read_tank_file(text(EXAMPLE))
        self.assertEqual((file.name, file.product), ("Net loft diesel", "diesel"))
        self.assertAlmostEqual(file.tank.inside_height, 2.4)
        self.assertAlmostEqual(file.tank.reference_height_m, 2.55)

    def test_written_and_read_without_loss(self) -> None:
        document = example(reference_height_mm=2550.123456789)
        document["shape"]["diameter_mm"] = 1606.55
        again = json.loads(write_tank_file(read_tank_file(text(document)).document))
        self.assertEqual(again, document)

    def test_a_byte_order_mark_and_a_zero_slope_are_passed_over(self) -> None:
        read_tank_file("\ufeff" + text(example(slope_mm_per_m=0)))

    def test_without_a_reference_height_ullage_is_from_the_inside_top(self) -> None:
        self.assertAlmostEqual(check_document(example(reference_height_mm=None)).tank.reference_height_m, 2.4)


def changed(path: str, value: object) -> str:
    document = copy.deepcopy(EXAMPLE)
    *above, last = path.split(".")
    inner = document
    for key in above:
        inner = inner[key]
    inner[last] = value
    return text(document)


class Refused(TestCase):
    def refuse(self, content: str, where: str, words: str) -> None:
        with self.assertRaises(InputError) as caught:
            read_tank_file(content)
        found = {problem.where: problem.what for problem in caught.exception.problems}
        self.assertIn(where, found)
        self.assertRegex(found[where], words)

    def test_not_json(self) -> None:
        self.refuse('{"format": ', "", "not JSON at line 1, column 12")
        self.refuse("", "", "nothing in it")
        self.refuse("[" * 100_000, "", "nested far too deep")
        self.refuse(text([1, 2]), "", "must be an object")

    def test_wrong_tag(self) -> None:
        self.refuse(text(example(format="other/2")), "format", "not a tank file of this kind")
        self.refuse(text(example(format=None)), "format", "no format")

    def test_keys(self) -> None:
        self.refuse(text(example(colour="red")), "colour", "not known")
        self.refuse(changed("shape.roof", 3), "shape.roof", "not known")
        document = copy.deepcopy(EXAMPLE)
        del document["shape"]["shell_length_mm"]
        self.refuse(text(document), "shape.shell_length_mm", "missing")
        self.refuse('{"format": "rasante.tank/1", "format": "rasante.tank/1"}', "format", "written twice")
        self.refuse(changed("shape.kind", "cylinder"), "shape.kind", "known are horizontal_cylinder")

    def test_numbers(self) -> None:
        self.refuse(changed("shape.diameter_mm", "2400"), "shape.diameter_mm", "must be a number")
        self.refuse(changed("shape.diameter_mm", True), "shape.diameter_mm", "must be a number")
        self.refuse(changed("shape.diameter_mm", 1e308), "shape.diameter_mm", "finite number of a size")
        self.refuse(text(EXAMPLE).replace("2400", "NaN"), "", "NaN is not a number")
        self.refuse(text(EXAMPLE).replace("2550", "Infinity"), "", "Infinity is not a number")
        self.refuse(text(EXAMPLE).replace("2550", "1e999"), "reference_height_mm", "finite")
        self.refuse(text(EXAMPLE).replace("2550", "9" * 5000), "", "not a tank file")
        self.refuse(changed("shape.diameter_mm", 0), "shape.diameter_mm", "more than 0")
        self.refuse(changed("shape.diameter_mm", -5), "shape.diameter_mm", "more than 0")
        self.refuse(changed("shape.shell_length_mm", 1e7), "shape.shell_length_mm", "up to 100 m")

    def test_size(self) -> None:
        self.refuse("x" * 5_000_000, "", "5.0 MB; a tank file has at most 1 MB")

    def test_shapes_that_cannot_be(self) -> None:
        self.refuse(
            changed("shape.right_head.knuckle_radius_mm", 3000), "shape.right_head.knuckle_radius_mm", "larger"
        )
        self.refuse(
            changed("shape.right_head.dish_radius_mm", 900), "shape.right_head.dish_radius_mm", "cannot reach"
        )
        self.refuse(changed("shape.left_head.depth_mm", 5000), "shape.left_head.depth_mm", "cannot be")
        self.refuse(text(example(slope_mm_per_m=580)), "slope_mm_per_m", "steeper than 30°")
        ball = {"kind": "sphere", "diameter_mm": 3000}
        self.refuse(text(example(shape=ball, slope_mm_per_m=5, uncertainty=None)), "slope_mm_per_m", "no length")
        self.refuse(text(example(gauge_position_mm=7000)), "gauge_position_mm", "past the end")
        self.refuse(text(example(uncertainty={"width_mm": 3})), "uncertainty.width_mm", "not known")
        self.refuse(text(example(uncertainty={"diameter_mm": 1500})), "uncertainty.diameter_mm", "measure it again")

    def test_deadwood_that_cannot_be(self) -> None:
        part = {"from_mm": 300, "to_mm": 800, "volume_l": -90000}
        self.refuse(text(example(deadwood=[part])), "deadwood[0].volume_l", "would fall")
        self.refuse(text(example(deadwood=[part | {"to_mm": 200}])), "deadwood[0].to_mm", "must be above")
        self.refuse(text(example(deadwood=[part | {"to_mm": 2600}])), "deadwood[0].to_mm", "above the inside height")
        self.refuse(text(example(deadwood={})), "deadwood", "must be a list")

    @settings(max_examples=150, deadline=None)
    @given(
        st.recursive(
            st.none() | st.booleans() | st.floats() | st.text(max_size=8),
            lambda inner: (
                st.lists(inner, max_size=3)
                | st.dictionaries(
                    st.sampled_from(["format", "name", "shape", "kind", "deadwood", "uncertainty", "diameter_mm"]),
                    inner,
                    max_size=4,
                )
            ),
            max_leaves=8,
        )
    )
    def test_anything_else_is_refused_by_the_same_error(self, junk: object) -> None:
        document = {"format": "rasante.tank/1", "name": "junk", "shape": junk}
        with self.assertRaises(InputError):
            check_document(document)
        with self.assertRaises(InputError):
            check_document(junk)


class Schema(TestCase):
    """The JSON Schema that ships says the same as the reader about keys, types and ranges."""

    def test_it_is_the_one_made_from_the_kinds(self) -> None:
        self.assertEqual(json_schema(), make_schema())
        jsonschema.Draft202012Validator.check_schema(json_schema())

    def test_it_agrees_with_the_reader(self) -> None:
        validator = jsonschema.Draft202012Validator(json_schema())
        self.assertTrue(validator.is_valid(EXAMPLE))
        bad = ["colour", "shape.roof", "shape.diameter_mm", "shape.left_head.kind", "deadwood", "name"]
        for path in bad:
            document = json.loads(changed(path, "nonsense" if path != "name" else 5))
            with self.subTest(path):
                self.assertFalse(validator.is_valid(document))
                with self.assertRaises(InputError):
                    check_document(document)


class FewPoints(TestCase):
    """An 80 L tub, 700 mm high, of which a device knows three points: 64 L at half its height."""

    TUB = ((0, 0), (350, 64), (700, 80))

    def text(self, **keys: Any) -> str:
        shape = {"kind": "points", "points": [list(point) for point in self.TUB], **keys}
        return json.dumps({"format": "rasante.tank/1", "name": "Tub", "shape": shape})

    def test_they_are_joined_as_the_device_joins_them(self) -> None:
        # 12 L of 64 L are 350 × 12 / 64 = 65.6 mm; smoothed, they would stand at 49 mm.
        file = read_tank_file(self.text())
        self.assertAlmostEqual(file.tank.level(0.012) * 1000, 350 * 12 / 64, places=6)
        self.assertEqual(file.document["shape"]["between"], "straight")
        smooth = read_tank_file(self.text(between="smooth"))
        self.assertAlmostEqual(smooth.tank.level(0.012) * 1000, 49.0, delta=1.0)

    def test_many_are_smooth_and_what_is_said_stays(self) -> None:
        for count, between in ((9, "straight"), (10, "smooth")):
            points = [[i * 10, i * i] for i in range(count)]
            shape = {"kind": "points", "points": points}
            document = {"format": "rasante.tank/1", "name": "Chart", "shape": shape}
            self.assertEqual(read_tank_file(json.dumps(document)).document["shape"]["between"], between)
        for said in ("smooth", "straight"):
            self.assertEqual(read_tank_file(self.text(between=said)).document["shape"]["between"], said)

    def test_a_document_that_was_kept_without_the_word_stays_what_it_was(self) -> None:
        kept = check_document(json.loads(self.text()))
        self.assertNotIn("between", kept.document["shape"])
        self.assertAlmostEqual(kept.tank.level(0.012) * 1000, 49.0, delta=1.0)

    def test_a_survey_by_hand_says_which_it_takes(self) -> None:
        typed = {"name": "Tub", "shape.kind": "points"}
        for index, (level, volume) in enumerate(self.TUB):
            typed |= {f"shape.points[{index}].level_mm": f"{level}", f"shape.points[{index}].volume_l": f"{volume}"}
        survey = read_survey(typed)
        assert survey.file is not None
        self.assertEqual(survey.fields["shape.between"].kept, "straight")
        self.assertAlmostEqual(survey.file.tank.level(0.012) * 1000, 65.625, places=6)
        survey = read_survey({**typed, "shape.between": "smooth"})
        assert survey.file is not None
        self.assertAlmostEqual(survey.file.tank.level(0.012) * 1000, 49.0, delta=1.0)

    def test_nonsense_beside_it_is_told_as_before(self) -> None:
        for points in (3, "x", None, {}):
            with self.assertRaises(InputError) as refused:
                read_tank_file(self.text(points=points))
            self.assertIn("shape.points", {problem.where for problem in refused.exception.problems})
