"""Whatever is typed into a chain, its readings, its marks or its wet ends: an answer, or a problem at its field."""

from __future__ import annotations

import math
import random
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from rasante.core.devices.device_sheet import compare_found, make_items, read_found, sheet_document, to_csv
from rasante.core.devices.rescale import rescale
from rasante.core.gauges.wet_ends import read_wet_ends
from rasante.core.quantities.errors import InputError
from rasante.core.scaling.chain import STATIONS, all_settings
from rasante.core.scaling.chain_form import read_chain
from rasante.core.scaling.chain_judge import judge_chain
from rasante.core.scaling.chain_line import read_chain_line
from rasante.core.scaling.marks import MARKS, Surroundings, read_marks
from rasante.core.scaling.panel_meter import METER_UNITS, meter_ends
from rasante.core.scaling.parting_form import guess_text, read_parting

from .chain_cases import file_of, ground, random_chain

ODD = (
    "0", "-1", "1", "7", "15", "32", "1e9", "-1e9", "1e-9", "NaN", "inf", "x", "½", "5 m", "0 mm", "-3 m", "99 m",
    "3 psi", "0 bar", "4 mA", "20 mA", "-5 mA", "10 V", "3 %", "840 kg/m3", "0.1", "32767", "65536",
    "0x420A 0x6666", "1 2", "😀", "3,5", "1,600", "70000", "1200 L", "12 gal", "-40 °C", "100 °C", "9" * 70,
)  # fmt: skip
TYPED = st.sampled_from(ODD)
SETTINGS = {path: one for path, (_, one) in all_settings().items()}


def value_for(path: str):
    """Something odd, or one of the options where there are some."""
    options = SETTINGS[path].options if path in SETTINGS else {}
    return st.one_of(TYPED, st.sampled_from(sorted(options))) if options else TYPED


PATHS = [*SETTINGS] + ["shown.points", "liquid.temperature", "unknown.path"]
ENTRIES = st.lists(st.sampled_from(PATHS), max_size=7, unique=True).flatmap(
    lambda paths: st.fixed_dictionaries({path: value_for(path) for path in paths})
)
MARKED = [f"marks.{key}" for key in MARKS] + ["fill_rate", "response", "pump"]
WET = [f"{end}[{row}].counts" for end in ("full", "empty") for row in (0, 1, 2, 39)] + [
    "fuel",
    "temperature",
    "still",
]
SYSTEMS = st.sampled_from(["metric", "us"])


class Anything(TestCase):
    @given(ENTRIES, SYSTEMS, st.sampled_from(["lying", "upright"]))
    def test_a_chain_is_read_or_says_what_is_wrong(self, entries: dict[str, str], system, tank: str) -> None:
        file = file_of(tank)
        found = read_chain(entries, ground(file), system)
        if found.chain is None:
            self.assertGreater(len(found.form.problems), 0)
            return
        self.assertEqual(found.form.problems, [])
        for level in (-1.0, 0.0, 0.7, file.tank.inside_height, 50.0):
            line = read_chain_line(found.chain, file, level)
            self.assertEqual([stop.station for stop in line.stops], list(found.chain.stations))
            self.assertFalse(math.isnan(line.u95_m))
        self.assertGreater(len(judge_chain(found.chain, system)), 0)
        document = sheet_document(make_items(found.chain, (), system), {})
        states = {row.state for row in compare_found(document, read_found(to_csv(document)))}
        self.assertEqual(states, {"same"})
        again = rescale(found.chain, found.chain, 0.7, system)
        self.assertGreaterEqual(again.rounding_m, 0)
        for unit in METER_UNITS:
            try:
                self.assertGreaterEqual(meter_ends(found.chain, unit, 4).error_m, 0)
            except InputError as error:
                self.assertTrue(error.problems[0].where.startswith("meter."))

    @given(
        st.integers(0, 10**6),
        st.dictionaries(st.sampled_from([f"rows[{i}].{s}" for i in (0, 1, 11) for s in STATIONS]), TYPED, max_size=8),
        SYSTEMS,
    )
    def test_readings_are_judged_or_say_what_is_wrong(self, seed: int, entries: dict[str, str], system) -> None:
        c = random_chain(random.Random(seed))
        found = read_parting(entries, c, system)
        self.assertTrue(found.says)
        for explanation in found.parting.explanations:
            for index in range(len(explanation.hypotheses)):
                self.assertTrue(guess_text(c, explanation, index, system))
        for problem in found.form.problems:
            self.assertIn(problem.where, entries)

    @given(st.dictionaries(st.sampled_from(MARKED), TYPED), st.integers(0, 10**6), SYSTEMS)
    def test_marks_are_placed_or_say_what_is_wrong(self, entries: dict[str, str], seed: int, system) -> None:
        c = random_chain(random.Random(seed))
        around = Surroundings(0.3, {"start": 0.5, "stop": 1.0, "cutout": 0.2})
        found = read_marks(entries, c.screen.volumes.tank, c, around, system)
        for mark in found.marks:
            self.assertTrue(0 <= mark.level_m <= c.top_m)
        self.assertLessEqual({problem.where for problem in found.form.problems}, set(entries))

    @given(st.dictionaries(st.sampled_from(WET), TYPED), SYSTEMS)
    def test_wet_ends_are_read_or_say_what_is_wrong(self, entries: dict[str, str], system) -> None:
        found = read_wet_ends(entries, system, "diesel")
        self.assertGreater(len(found.judgements), 0)
        self.assertLessEqual({problem.where for problem in found.form.problems}, set(entries))
