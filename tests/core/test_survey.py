"""The survey: fields as typed, each understood or refused at its place."""

from __future__ import annotations

from unittest import TestCase

from rasante.core.quantities.errors import InputError
from rasante.core.tanks.ports import judge_ports, read_ports, read_position
from rasante.core.tanks.survey import entries_of, judge_reference, read_survey

from .said import said
from .samples import example

TYPED = {
    "name": "North",
    "product": "diesel",
    "shape.kind": "horizontal_cylinder",
    "shape.diameter_mm": "5' 3 1/4\"",
    "shape.shell_length_mm": "3,2 m",
    "shape.left_head.kind": "torispherical",
    "shape.left_head.dish_radius_mm": "1 D",
    "shape.left_head.knuckle_radius_mm": "0.06 D",
    "shape.right_head.kind": "flat",
    "reference_height_mm": "1700",
}


class Survey(TestCase):
    def test_typed_fields_become_a_document(self) -> None:
        survey = read_survey(TYPED)
        document = survey.require().document
        self.assertEqual(document["shape"]["diameter_mm"], 1606.55)
        self.assertEqual(document["shape"]["shell_length_mm"], 3200.0)
        self.assertAlmostEqual(document["shape"]["left_head"]["knuckle_radius_mm"], 96.393)
        self.assertEqual(document["reference_height_mm"], 1700.0)

    def test_half_a_sump_is_told_at_what_lacks_and_a_slip_of_the_pen_at_itself(self) -> None:
        for typed, where, words in (
            ({"sump.depth_mm": "200"}, "sump.volume_l", "type both"),
            ({"sump.volume_l": "30 L"}, "sump.depth_mm", "type both"),
            ({"sump.depth_mm": "200", "sump.volume_l": "much"}, "sump.volume_l", ""),
        ):
            problem = read_survey(TYPED | typed).fields[where].problem or ""
            self.assertTrue(problem, typed)
            self.assertEqual("type both" in problem, bool(words), typed)

    def test_a_bare_number_is_kept_with_its_unit(self) -> None:
        self.assertEqual(read_survey(TYPED).fields["reference_height_mm"].kept, "1700 mm")
        self.assertEqual(read_survey(TYPED, "us").fields["reference_height_mm"].kept, "1700 in")
        self.assertEqual(read_survey(TYPED).fields["shape.diameter_mm"].kept, "5' 3 1/4\"")

    def test_nonsense_is_refused_at_its_field(self) -> None:
        refused = {
            "shape.diameter_mm": ["-5 mm", "0", "NaN", "10 km", "wide"],
            "shape.left_head.knuckle_radius_mm": ["2 D"],
            "shape.left_head.dish_radius_mm": ["0.3 D"],
            "reference_height_mm": ["-1 m"],
            "gauge_position_mm": ["9 m"],
        }
        for path, texts in refused.items():
            for text in texts:
                with self.subTest(f"{path}={text}"):
                    survey = read_survey(TYPED | {path: text})
                    self.assertIsNone(survey.file)
                    self.assertEqual(survey.fields[path].state, "wrong")
                    self.assertEqual([f.path for f in survey.fields.values() if f.state == "wrong"], [path])

    def test_what_is_not_typed_yet_is_not_called_wrong(self) -> None:
        survey = read_survey({"shape.kind": "box"})
        self.assertEqual(survey.fields["shape.length_mm"].state, "empty")
        with self.assertRaises(InputError) as caught:
            survey.require()
        self.assertIn("shape.length_mm", {problem.where for problem in caught.exception.problems})

    def test_it_is_drawn_before_it_is_named(self) -> None:
        survey = read_survey(TYPED | {"name": ""})
        self.assertIsNotNone(survey.drawn)
        self.assertIsNone(survey.file)

    def test_a_multiple_of_the_diameter_needs_the_diameter(self) -> None:
        survey = read_survey(TYPED | {"shape.diameter_mm": ""})
        self.assertIn("type that first", survey.fields["shape.left_head.dish_radius_mm"].problem)

    def test_a_document_survives_being_typed_again(self) -> None:
        document = example()
        self.assertEqual(dict(read_survey(entries_of(document)).require().document), document)

    def test_a_reference_point_inside_the_tank_is_pointed_out(self) -> None:
        tank = read_survey(TYPED | {"reference_height_mm": "1506.55 mm"}).require().tank
        self.assertIn("100 mm", said(judge_reference(tank)[0]))
        self.assertEqual(judge_reference(read_survey(TYPED).require().tank), [])


class Ports(TestCase):
    """The rules are common practice, no published source."""

    def judge(self, *uses: list[str]) -> list[tuple[str, str]]:
        ports = read_ports([{"name": f"port {i}", "uses": one} for i, one in enumerate(uses)])
        return [(found.weight, found.code) for found in judge_ports(ports)]

    def test_the_vent_is_never_blocked(self) -> None:
        self.assertEqual(self.judge(["fill"], ["vent"]), [("good", "vented")])
        self.assertIn(("stop", "no-vent"), self.judge(["fill"]))
        self.assertIn(("watch", "shared-vent"), self.judge(["vent", "gauge"], ["fill"]))
        self.assertIn(("watch", "shared-fill"), self.judge(["fill", "gauge"], ["vent"]))
        self.assertEqual(self.judge(), [("watch", "ports-unknown")])

    def test_an_opening_is_called_by_its_name_where_it_has_one(self) -> None:
        for name, called in (("North nozzle", "North nozzle is also"), ("", "The vent is also")):
            ports = read_ports([{"name": name, "uses": ["vent", "gauge"]}])
            (found,) = (one for one in judge_ports(ports) if one.code == "shared-vent")
            self.assertTrue(said(found).startswith(called), said(found))
        (both,) = judge_ports(read_ports([{"name": "", "uses": ["fill", "gauge"]}, {"name": "V", "uses": ["vent"]}]))
        self.assertTrue(said(both).startswith("One opening both fills"), said(both))

    def test_bad_ports_are_refused(self) -> None:
        for bad in ({}, [{"uses": []}], [{"uses": ["chimney"]}], [{"name": "x", "uses": ["vent"], "colour": 1}], [3]):
            with self.subTest(str(bad)), self.assertRaises(InputError):
                read_ports(bad)

    def test_positions_are_lengths_or_words(self) -> None:
        self.assertEqual(read_position("0.4 m", "metric"), (400.0, "0.4 m"))
        self.assertEqual(read_position("12", "us"), (304.8, "12 in"))
        self.assertEqual(read_position("edge", "metric"), (None, "edge"))
