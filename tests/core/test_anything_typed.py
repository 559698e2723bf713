"""Whatever is typed into the fields, the core answers with problems at their places and never with a failure."""

from __future__ import annotations

import math
from unittest import TestCase

import numpy as np
from hypothesis import example, given, settings
from hypothesis import strategies as st

from rasante.core.proving.places import APPLIED, CELLS, READ
from rasante.core.proving.proof import judge_proof
from rasante.core.proving.proof_csv import read_proof_csv
from rasante.core.proving.proof_entries import blank_proof, check_entries
from rasante.core.quantities.errors import InputError
from rasante.core.quantities.signals import SIGNALS
from rasante.core.quantities.typed import read_quantity
from rasante.core.scaling.chain_form import read_chain
from rasante.core.scaling.chain_judge import judge_chain
from rasante.core.scaling.sensing import SENSING
from rasante.core.tanks.kinds import HEADS, SHAPES
from rasante.core.tanks.survey import read_survey
from rasante.core.tanks.tank_file import read_tank_file, write_tank_file
from rasante.core.tanks.uncertainty import volume_uncertainty

from .chain_cases import ground
from .said import said
from .test_proof import FILE, LEVEL, TANK

# Text as it comes from thumbs, gloves and other programs: numbers, units, marks, and anything else.
NUMBERS = st.sampled_from(
    ["0", "1", "12", "1600", "2,4", "1.6", "1,600", "-5", "3/4", "1e5", "1e400", "٣", "½", "0x10"]
)
UNITS = st.sampled_from(["", " mm", "mm", " m", "'", '"', " in", " ft", " D", " L", " gal", " %", " mA", " km", "²"])
TYPED = st.one_of(
    st.builds(lambda number, unit: number + unit, NUMBERS, UNITS),
    st.builds(lambda a, b, c, d: a + b + " " + c + d, NUMBERS, UNITS, NUMBERS, UNITS),
    st.text(max_size=12),
)
PATHS = ["shape.kind", "name", "product", "reference_height_mm", "gauge_position_mm"] + [
    f"{prefix}{path}"
    for path in (
        "diameter_mm", "shell_length_mm", "shell_height_mm", "length_mm", "width_mm", "height_mm", "corner_radius_mm",
        "left_head.depth_mm", "left_head.dish_radius_mm", "left_head.knuckle_radius_mm", "right_head.depth_mm",
    )
    for prefix in ("shape.", "uncertainty.")
]  # fmt: skip


#: A tank of every kind that may be kept as it stands, to be spoiled in one place or several.
WHOLE: list[dict[str, str]] = [
    {"shape.kind": "horizontal_cylinder", "shape.diameter_mm": "2 m", "shape.shell_length_mm": "4 m",
     "shape.left_head.kind": "ellipsoidal", "shape.left_head.depth_mm": "0.25 D", "shape.right_head.kind": "flat"},
    {"shape.kind": "vertical_cylinder", "shape.diameter_mm": "2 m", "shape.shell_height_mm": "3 m",
     "shape.bottom.kind": "conical_inward", "shape.bottom.depth_mm": "200", "shape.top.kind": "hemispherical"},
    {"shape.kind": "prism", "shape.length_mm": "2 m", "shape.section.kind": "polygon",
     "shape.section.traced": "widths", "shape.section.widths[0].at_mm": "0", "shape.section.widths[0].width_mm": "40",
     "shape.section.widths[1].at_mm": "700", "shape.section.widths[1].width_mm": "900 mm"},
    {"shape.kind": "prism", "shape.length_mm": "2 m", "shape.section.kind": "obround",
     "shape.section.width_mm": "900 mm", "shape.section.height_mm": "4 ft"},
    {"shape.kind": "courses", "shape.courses[0].circumference_mm": "9 m", "shape.courses[0].plate_mm": "5 mm",
     "shape.courses[0].height_mm": "1.5 m"},
    {"shape.kind": "points", "shape.points[0].level_mm": "0", "shape.points[0].volume_l": "0",
     "shape.points[1].level_mm": "500", "shape.points[1].volume_l": "900 L"},
    {"shape.kind": "sphere", "shape.diameter_mm": "3 m"},
]  # fmt: skip
SPOILED = [
    "slope_mm_per_m", "how.slope_mm_per_m", "how.slope_mm_per_m.rise", "how.slope_mm_per_m.over", "measured.all",
    "measured.diameter_mm", "uncertainty.slope_mm_per_m", "uncertainty.volume_pct", "uncertainty.circumference_mm",
    "how.shape.diameter_mm", "how.shape.diameter_mm.around", "how.shape.diameter_mm.plate",
    "how.shape.diameter_mm.capacity", "how.shape.diameter_mm.within", "how.shape.shell_length_mm",
    "how.shape.shell_length_mm.capacity", "floor_heel_l", "sump.depth_mm", "sump.volume_l", "outlet_height_mm",
    "overflow_height_mm", "safe_fill_pct", "dip.read", "dip.product", "dip.water", "shape.section.corner_radius_mm",
    "shape.section.widths[1].at_mm", "shape.section.widths[2].width_mm", "shape.section.points_mm[0].x_mm",
    "shape.section.traced", "shape.courses[0].plate_mm", "shape.courses[3].height_mm", "shape.strapped_at_c",
    "shape.points[1].level_mm", "shape.points[1].volume_l", "shape.between", "shape.section.width_mm",
]  # fmt: skip
WORDS = st.sampled_from(["capacity", "circumference", "rings", "rise_over_length", "ullage", "strapped", "straight"])


class Surveys(TestCase):
    @settings(max_examples=400, deadline=None)
    @given(
        st.sampled_from(WHOLE),
        st.dictionaries(st.sampled_from(SPOILED), st.one_of(TYPED, WORDS), max_size=6),
        st.sampled_from(["metric", "us"]),
    )
    @example(WHOLE[0], {"floor_heel_l": "½"}, "us")
    @example(WHOLE[0], {"floor_heel_l": "0 gal"}, "us")
    @example(WHOLE[0], {"floor_heel_l": "-"}, "us")
    @example(WHOLE[0], {"floor_heel_l": "1e5"}, "us")
    @example(WHOLE[4], {"shape.strapped_at_c": "0 0"}, "us")
    def test_a_survey_of_any_kind_spoiled_anywhere(self, whole, spoiled, system) -> None:
        survey = read_survey({"name": "spoiled", **whole, **spoiled}, system)
        if survey.file is None:
            self.assertTrue(any(field.problem for field in survey.fields.values()))
            return
        tank = survey.file.tank
        volume = tank.volume(np.linspace(0, tank.inside_height, 200))
        self.assertTrue(np.all(np.isfinite(volume)) and np.all(np.diff(volume) >= -1e-9 * tank.capacity))
        u95 = volume_uncertainty(survey.file, np.array([tank.inside_height / 2]))
        self.assertTrue(u95 is None or np.all(np.isfinite(u95)))
        # What is kept of it reads back as the same tank, whatever a bare number means by then.
        kept = {path: field.kept for path, field in survey.fields.items() if field.kept}
        for other in ("metric", "us"):
            again = read_survey(kept, other)
            self.assertEqual(again.require().document, survey.file.document)

    @settings(max_examples=300, deadline=None)
    @given(
        st.sampled_from(list(SHAPES)),
        st.sampled_from(list(HEADS)),
        st.dictionaries(st.sampled_from(PATHS[1:]), TYPED, max_size=12),
        st.dictionaries(
            st.from_regex(r"deadwood\[[0-3]\]\.(from_mm|to_mm|volume_l)", fullmatch=True), TYPED, max_size=4
        ),
        st.sampled_from(["metric", "us"]),
    )
    def test_a_survey(self, kind, head, typed, deadwood, system) -> None:
        heads = {f"shape.{end}.kind": head for end in ("left_head", "right_head", "bottom", "top")}
        survey = read_survey({"shape.kind": kind, **heads, **typed, **deadwood}, system)
        for field in survey.fields.values():
            self.assertIn(field.state, ("empty", "read", "wrong"))
            if field.state == "wrong":
                self.assertTrue(field.problem)
        if survey.file is not None:
            # What was accepted is a tank: it holds something, and its file reads back.
            self.assertTrue(math.isfinite(survey.file.tank.capacity) and survey.file.tank.capacity > 0)
            again = read_tank_file(write_tank_file(survey.file.document))
            self.assertAlmostEqual(again.tank.capacity, survey.file.tank.capacity)
        else:
            self.assertTrue(any(field.problem for field in survey.fields.values()))

    @settings(max_examples=300, deadline=None)
    @given(TYPED, st.sampled_from(["length", "volume", "current", "ratio"]), st.sampled_from(["metric", "us"]))
    def test_a_quantity_is_finite_or_refused_at_its_field(self, text, quantity, system) -> None:
        try:
            value = read_quantity(text, quantity, system, "field")
        except InputError as error:
            self.assertEqual(error.problems[0].where, "field")
        else:
            self.assertTrue(math.isfinite(value))


class Chains(TestCase):
    @settings(max_examples=200, deadline=None)
    @given(st.sampled_from([*SENSING, "", "odd"]), st.sampled_from([*SIGNALS, ""]), TYPED, TYPED, TYPED)
    def test_a_chain(self, quantity, signal, low, high, zero) -> None:
        entries = {
            "sensor.quantity": quantity, "signal.kind": signal, "sensor.low": low, "sensor.high": high,
            "sensor.zero": zero,
        }  # fmt: skip
        found = read_chain(entries, ground(FILE), "metric")
        if found.chain is None:
            self.assertTrue(found.form.problems)
            self.assertLessEqual({problem.where for problem in found.form.problems}, set(entries))
            return
        self.assertTrue(all(np.isfinite(values).all() for values in found.chain.run(np.linspace(0, 2.4, 9)).values()))
        judgements = judge_chain(found.chain, "us")
        self.assertTrue(judgements and all(said(judgement) for judgement in judgements))


class Proofs(TestCase):
    @settings(max_examples=200, deadline=None)
    @given(
        st.sampled_from(list(APPLIED)),
        st.sampled_from(list(READ)),
        TYPED,
        st.lists(st.fixed_dictionaries({"applied": TYPED, **dict.fromkeys(CELLS, TYPED)}), min_size=5, max_size=5),
        TYPED,
        TYPED,
    )
    def test_a_proof(self, applied_as, read_as, tolerance, points, measured, indicated) -> None:
        entries = blank_proof(LEVEL) | {
            "applied_as": applied_as,
            "read_as": read_as,
            "tolerance": tolerance,
            "points": points,
            "dip": {"kind": "ullage", "measured": measured, "indicated": indicated, "tolerance": tolerance},
        }
        result = judge_proof(check_entries(entries), LEVEL, TANK, "metric")
        self.assertIn(result.verdict, ("pass", "fail", "incomplete"))
        # Nothing passes that could not be read or is not whole.
        if result.problems or result.missing:
            self.assertEqual(result.verdict, "incomplete")

    @settings(max_examples=200, deadline=None)
    @given(
        st.text(max_size=300)
        | st.lists(st.text(max_size=20), max_size=8).map(
            lambda rows: "\n".join(["run,direction,applied_ma,read_mm", *rows])
        )
    )
    def test_a_csv(self, text) -> None:
        try:
            taken = read_proof_csv(text)
        except InputError as error:
            self.assertEqual(error.problems[0].where, "csv")
        else:
            self.assertEqual(len(taken["points"]), 5)
