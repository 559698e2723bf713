"""Finding faults: data by their schema, priors, what can be told apart, and cases worked through."""

from __future__ import annotations

import json
from dataclasses import replace
from importlib import resources
from typing import Any
from unittest import TestCase

import numpy as np
from jsonschema import Draft202012Validator

from rasante.core.faults import fault, fault_test, installation
from rasante.core.faults.advice import LEFT
from rasante.core.faults.fault import fault_kinds, faults_of, parts, priors
from rasante.core.faults.fault_test import fault_tests
from rasante.core.faults.table import table_of
from rasante.core.faults.unlisted import UNKNOWN
from tests.tags import slow

from .fault_cases import BARRIER, advised, cases, installations, strange_at, textbook, unknown_faults, work_through


def data(name: str) -> Any:
    """One of the room's files."""
    return json.loads(resources.files("rasante.core.faults").joinpath(name).read_text(encoding="utf-8"))


class AsData(TestCase):
    def test_both_files_are_by_their_schema(self) -> None:
        for name, schema in (("faults.json", fault.fault_schema()), ("fault_tests.json", fault_test.test_schema())):
            with self.subTest(name):
                Draft202012Validator.check_schema(schema)
                wrong = list(Draft202012Validator(schema).iter_errors(data(name)))
                self.assertEqual([(list(error.path), error.message) for error in wrong], [])

    def test_what_is_not_by_it_is_refused(self) -> None:
        rows = data("faults.json")
        for path, bad in (("prior", 0), ("part", "gremlin"), ("wrong", [{"op": "magic"}]), ("look", "odd")):
            changed = json.loads(json.dumps(rows))
            changed["faults"][0][path] = bad
            self.assertTrue(list(Draft202012Validator(fault.fault_schema()).iter_errors(changed)), path)

    def test_every_name_is_known_where_it_is_used(self) -> None:
        """Words of installations and signs: a slip of the pen in the data would silently drop a fault or test."""
        words = {word for at in installations().values() for word in at.has} | {"pressurised"}
        signs = {test.reads["sign"]: test.outcomes for test in fault_tests().values() if "sign" in test.reads}
        for kind in fault_kinds().values():
            self.assertLessEqual(set(kind.when), words | {"barrier", "meter", "former"}, kind.key)
            for sign, seen in kind.signs.items():
                self.assertIn(seen, signs[sign], kind.key)
            self.assertGreater(len(kind.why), 5)
        for test in fault_tests().values():
            self.assertLessEqual(set(test.when) | set(test.unless), words, test.key)
        self.assertEqual(len(fault_kinds()), len(data("faults.json")["faults"]), "two of one key")
        self.assertEqual(len(fault_tests()), len(data("fault_tests.json")["tests"]), "two of one key")

    def test_every_part_that_a_fault_blames_is_in_the_circuit_or_the_chain(self) -> None:
        stations = {station for at in installations().values() for station in at.sound.stations} | {""}
        for part in parts().values():
            self.assertIn(part.hop, stations, part.key)

    def test_every_fault_is_met_somewhere(self) -> None:
        met = {one.kind.key for at in installations().values() for one in faults_of(at)}
        # What stood here before needs a chain that was set otherwise.
        at = installations()[BARRIER]
        before = replace(at.chain, hops=tuple(
            replace(hop, low=hop.low + 100.0) if hop.station == "number" else
            replace(hop, at_low=0.0) if hop.station == "counts" else
            replace(hop, decimals=2) if hop.station == "shown" else hop for hop in at.chain.hops
        ))  # fmt: skip
        met |= {one.kind.key for one in faults_of(replace(at, former=(before,)))}
        self.assertEqual(set(fault_kinds()) - met, set())

    def test_what_no_schema_names_is_refused(self) -> None:
        for schema, name in ((fault.fault_schema(), "faults.json"), (fault_test.test_schema(), "fault_tests.json")):
            check = Draft202012Validator(schema)
            self.assertTrue(check.is_valid(data(name)))
            self.assertFalse(check.is_valid(data(name) | {"more": []}), name)


class Priors(TestCase):
    def test_they_add_up_and_follow_age_and_technology(self) -> None:
        at = installations()[BARRIER]
        self.assertAlmostEqual(sum(priors(at).values()), 1)
        old = installation.Installation(at.chain, at.circuit, at.technology, 12.0, True)
        new = installation.Installation(at.chain, at.circuit, at.technology, 0.1, True)
        self.assertGreater(priors(old)["sensor-dead"], priors(at)["sensor-dead"])
        self.assertGreater(priors(new)["reversed"], priors(at)["reversed"])
        self.assertGreater(priors(at)["breather"], 0)
        self.assertNotIn("breather", priors(installations()["two-wire radar, to a card that shows it"]))

    def test_its_own_closed_cases_count_as_the_mean_of_a_dirichlet(self) -> None:
        at = installations()[BARRIER]
        seen = replace(at, closed=(("fuse", 5),))
        # 20 cases of the trade's experience and 5 of its own: (20 p + 5) / 25.
        self.assertAlmostEqual(priors(seen)["fuse"], (20 * priors(at)["fuse"] + 5) / 25)
        self.assertAlmostEqual(priors(seen)["short"], 20 * priors(at)["short"] / 25)


class Separable(TestCase):
    def test_every_fault_is_found_by_some_test(self) -> None:
        """Some test, at some level, reads another thing than with nothing wrong by three standard deviations."""
        for name, at in installations().items():
            table = table_of(at)
            sound = table.sound
            for row, each in enumerate(table.faults):
                if each.kind.key in ("nothing", "dip-wrong"):
                    continue
                seen = False
                for test in table.tests:
                    column = table.column(test.key)
                    if test.outcomes:
                        apart = np.abs(column.shares[row] - column.shares[sound]).max() > 0.5
                    else:
                        first, second = column.mean[row], column.mean[sound]
                        gap = np.abs(first - second) / np.hypot(column.sd[row], column.sd[sound])
                        apart = np.any(np.isfinite(first) != np.isfinite(second)) or np.nanmax(gap) > 2.0
                        apart = apart or column.sd[row].max() > 5 * column.sd[sound].max()
                    seen = seen or bool(apart)
                self.assertTrue(seen, f"{name}: {each.says} {each.value:g} cannot be seen by any test")


class Cases(TestCase):
    """A sample of the long trial (`make trials TRIALS=faults`): the right part, soon, and never too sure."""

    @slow
    def test_on_all_installations(self) -> None:
        right, condemned, minutes, ordered = 0, 0, [], []
        count = 24
        for case in cases(count, 424_200):
            course = work_through(case, advised)
            right += course.advice.part in case.parts
            condemned += course.advice.verdict == "found" and course.advice.part == "sensor" not in case.parts
            minutes.append(course.minutes)
            ordered.append(work_through(case, textbook, 60).minutes)
            if course.advice.verdict == "found":
                self.assertLessEqual(course.advice.belief.by_part[UNKNOWN], LEFT)
        self.assertGreaterEqual(right / count, 0.9)
        self.assertLessEqual(condemned, 1)
        self.assertLessEqual(np.median(minutes), 0.6 * np.median(ordered))

    def test_what_is_in_no_list_is_mostly_said_to_fit_nothing(self) -> None:
        every = list(unknown_faults(12, 30))
        ends = [work_through(case).advice for case in every]
        # Who names the very stage at which it sits is not wrong either.
        fits = [
            advice.verdict == "nothing-fits" or parts()[advice.part].hop in strange_at(case)
            for advice, case in zip(ends, every, strict=True)
        ]
        self.assertGreaterEqual(sum(fits), 9)
        # Where it says at which stage it sits, that is so.
        told = [(a.astray, strange_at(case)) for a, case in zip(ends, every, strict=True) if a.astray]
        self.assertGreaterEqual(sum(where in stations for where, stations in told), 0.7 * len(told))
        # What stands at the end, whatever it is, is as sure as may be against what is not known.
        for advice in ends:
            if advice.verdict == "found":
                self.assertLessEqual(advice.belief.by_part[UNKNOWN], LEFT)
