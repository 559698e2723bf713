"""Finding faults: data by their schema, readings by the network in closed form, Bayes' rule, the choice of a test."""

from __future__ import annotations

import itertools
import json
import math
from dataclasses import replace
from importlib import resources
from typing import Any
from unittest import TestCase

import numpy as np
from jsonschema import Draft202012Validator

from rasante.core.faults import fault, fault_test, installation
from rasante.core.faults.advice import SURE, Standing, advise, advise_after, outcomes
from rasante.core.faults.belief import UNKNOWN, UNKNOWN_OUTLIERS, Belief, Finding, information
from rasante.core.faults.fault import fault_kinds, faults_of, faults_of_kind, parts, priors
from rasante.core.faults.fault_test import fault_tests
from rasante.core.faults.loops import OPEN_OHM, alone, answers, arriving, ohms, volts
from rasante.core.faults.predict import Reader, Wrong, read
from rasante.core.faults.table import table_of
from rasante.core.wiring.circuit import Circuit
from rasante.core.wiring.circuit_network import LOOP_CURRENTS
from rasante.core.wiring.edits import Break, Insert, Put, edit_circuit
from rasante.core.wiring.wires import resistance

from .fault_cases import Bench, Case, advised, cases, installations, textbook, work_through

BARRIER = "two-wire with barrier, to a screen by registers"
FARM = "new pressure sensor on a farm"


def data(name: str) -> Any:
    """One of the room's files."""
    return json.loads(resources.files("rasante.core.faults").joinpath(name).read_text(encoding="utf-8"))


def one(key: str, at: installation.Installation, value: float | None = None) -> Wrong:
    """An installation with one fault."""
    return Wrong(at, faults_of_kind(at, fault_kinds()[key], None if value is None else (value,))[0])


def reads(key: str, test: str, at: installation.Installation, level: float, value: float | None = None) -> float:
    """What a test reads of an installation with one fault, at a level by share of the height."""
    return float(read(Reader(one(key, at, value), np.array([level * at.sound.top_m])), fault_tests()[test]).mean[0])


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
            self.assertLessEqual(set(kind.when), words | {"barrier", "meter"}, kind.key)
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
        # Two kinds need a circuit of their own: see the tests of them below.
        self.assertEqual(set(fault_kinds()) - met, set())


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


class OnTheLoop(TestCase):
    """The network of a two-wire loop with two cables, against what Ohm's law gives by hand."""

    def setUp(self) -> None:
        self.at = installations()[FARM]
        assert self.at.wired is not None
        self.loop = self.at.wired
        self.signal = self.at.sound.signal
        assert self.signal is not None

    def across(self, circuit: Circuit, place: str) -> float:
        """Volts of the pair at a place, while the sensor means to send 12 mA."""
        found = volts(self.loop, circuit, self.signal, f"{place}.+", f"{place}.−", np.array([0.012]))
        return float(found[0])

    def test_sound_all_that_is_sent_arrives(self) -> None:
        sent = np.array([LOOP_CURRENTS[1], 0.012, LOOP_CURRENTS[3]])
        np.testing.assert_allclose(arriving(self.loop, self.signal, sent), sent, rtol=1e-9)

    def test_a_wet_splice_adds_what_its_ohms_let_through(self) -> None:
        # Across the box stand 24 V less what input and near cable take: by 1 kΩ some 22 mA / (1 + R/1000).
        leak, near = 5000.0, 2 * resistance(40.0, 0.5, 20.0) + 250.0 + 0.1
        circuit = one("wet-splice", self.at, leak).circuit
        assert circuit is not None
        found = float(arriving(circuit, self.signal, np.array([0.008]))[0])
        # I = i + (24 − I R) / leak, solved for I.
        self.assertAlmostEqual(found, (0.008 + 24 / leak) / (1 + near / leak), delta=2e-6)

    def test_open_ends_short_ends_and_a_broken_core(self) -> None:
        sound = ohms(self.loop, self.loop, "field.+", "field.−", "joined")
        # The plug lies beyond where the ends are joined, the core before it.
        for key, joined in (("plug-open", sound), ("core-open", OPEN_OHM)):
            circuit = one(key, self.at).circuit
            assert circuit is not None
            self.assertEqual(ohms(self.loop, circuit, "field.+", "field.−", "joined"), joined, key)
            self.assertAlmostEqual(float(arriving(circuit, self.signal, np.array([0.012]))[0]), 0.0, places=6)
        shorted = one("short", self.at).circuit
        assert shorted is not None
        self.assertAlmostEqual(ohms(self.loop, shorted, "field.+", "field.−"), 0.5, delta=0.01)
        whole = 2 * (resistance(40.0, 0.5, 20.0) + resistance(15.0, 0.5, 20.0))
        self.assertAlmostEqual(ohms(self.loop, self.loop, "field.+", "field.−", "joined"), whole, delta=0.01)
        half = 2 * resistance(40.0, 0.5, 20.0)
        self.assertAlmostEqual(ohms(self.loop, self.loop, "field.+", "field.−", "box"), half, delta=0.01)
        self.assertEqual(ohms(self.loop, self.loop, "field.+", "field.−", "free"), OPEN_OHM)

    def test_volts_tell_before_and_behind_what_is_open(self) -> None:
        loose = one("clamp-open", self.at).circuit
        assert loose is not None
        self.assertAlmostEqual(self.across(loose, "panel"), 24.0, delta=0.1)
        self.assertAlmostEqual(self.across(loose, "field"), 0.0, delta=0.1)
        apart = one("splice-open", self.at).circuit
        assert apart is not None
        self.assertAlmostEqual(self.across(apart, "inbox"), 24.0, delta=0.1)
        self.assertAlmostEqual(self.across(apart, "box"), 0.0, delta=0.1)

    def test_alone_leaves_the_panel_behind(self) -> None:
        dead = one("no-supply", self.at).circuit
        assert dead is not None
        self.assertAlmostEqual(float(arriving(dead, self.signal, np.array([0.012]))[0]), 0.0, places=5)
        for place in ("panel", "box", "sensor"):
            taken = alone(self.loop, dead, place)
            self.assertAlmostEqual(float(arriving(taken, self.signal, np.array([0.012]))[0]), 0.012, places=9)
        # A wet splice is on its way from the panel, and not from the sensor.
        wet = one("wet-splice", self.at, 2000.0).circuit
        assert wet is not None
        panel, sensor = (float(arriving(alone(self.loop, wet, p), self.signal, np.array([0.008]))[0])
                         for p in ("panel", "sensor"))  # fmt: skip
        self.assertGreater(panel, 0.016)
        self.assertAlmostEqual(sensor, 0.008, places=9)

    def test_a_bus_answers_while_it_is_powered_and_its_lines_are_whole(self) -> None:
        at = installations()["digital on a bus"]
        assert at.wired is not None
        self.assertTrue(answers(at.wired, at.wired))
        for key in ("no-supply", "fuse", "reversed", "short", "plug-open", "clamp-open", "core-open", "splice-open"):
            for each in faults_of_kind(at, fault_kinds()[key]):
                circuit = Wrong(at, each).circuit
                assert circuit is not None
                self.assertFalse(answers(at.wired, circuit), each.says)

    def test_new_edits_refuse_what_is_not_there(self) -> None:
        part = self.loop.of_kind("fuse") or self.loop.of_kind("supply")
        for edit in (Put("nobody", "ohm", 1.0), Put(part[0].id, "colour", 1.0), Break("cable1", "9"),
                     Insert("nowhere", part[0])):  # fmt: skip
            with self.assertRaises(ValueError):
                edit_circuit(self.loop, edit)


class AlongTheChain(TestCase):
    def setUp(self) -> None:
        self.at = installations()[BARRIER]

    def test_another_range_reads_two_thirds(self) -> None:
        """A 0–15 in the place of a 0–10: the screen reads two thirds. Common practice, no published source."""
        for level in (0.3, 0.6):
            sound, wrong = (reads(key, "counts", self.at, level, value) for key, value in
                            (("nothing", None), ("other-range", 1.5)))  # fmt: skip
            # 6553 counts at 4 mA, 32767 at 20 mA of a 15-bit card: common practice.
            self.assertAlmostEqual((wrong - 6553) / (sound - 6553), 2 / 3, places=4)

    def test_a_channel_dead_in_its_lower_range_stands_at_its_floor_then_follows(self) -> None:
        given = [reads("channel-floor", f"inject-{x}", self.at, 0.5, 0.6) for x in (0, 25, 50, 75, 100)]
        np.testing.assert_allclose(given, [6553, 6553, 6553, 6553 + 0.75 * 26214, 32767], atol=1)

    def test_the_input_is_sound_whatever_the_sensor_does(self) -> None:
        for key in ("sensor-dead", "zero-drift", "sensor-noisy", "no-supply", "wet-splice", "breather"):
            self.assertAlmostEqual(reads(key, "inject-50", self.at, 0.4), 6553 + 26214 / 2, delta=1, msg=key)

    def test_the_sensor_alone_is_sound_whatever_the_input_does(self) -> None:
        sound = reads("nothing", "alone", self.at, 0.4)
        for key in ("channel-dead", "input-range", "old-scaling", "no-supply", "fuse", "barrier-open", "earth-loop"):
            self.assertAlmostEqual(reads(key, "alone", self.at, 0.4), sound, places=6, msg=key)

    def test_lifted_clear_a_moved_sensor_reads_its_zero_and_a_drifted_one_does_not(self) -> None:
        self.assertAlmostEqual(reads("moved", "in-air", self.at, 0.5), 0.004, places=5)
        self.assertAlmostEqual(reads("zero-drift", "in-air", self.at, 0.5, 0.1), 0.004 + 0.0016, places=5)

    def test_a_dip_tells_the_level_unless_it_is_what_is_wrong(self) -> None:
        top = self.at.sound.top_m
        self.assertAlmostEqual(reads("sensor-dead", "dip", self.at, 0.5), 0.5 * top)
        self.assertAlmostEqual(reads("dip-wrong", "dip", self.at, 0.5, 0.1), 0.6 * top)
        self.assertAlmostEqual(reads("dip-wrong", "dip-again", self.at, 0.5, 0.1), 0.5 * top)

    def test_on_another_channel_a_dead_one_is_left_behind(self) -> None:
        sound = reads("nothing", "channel", self.at, 0.5)
        self.assertAlmostEqual(reads("channel-dead", "channel", self.at, 0.5), sound)
        self.assertNotAlmostEqual(reads("channel-dead", "counts", self.at, 0.5), sound)


class Believing(TestCase):
    def setUp(self) -> None:
        self.table = table_of(installations()[FARM])

    def test_bayes_rule_by_hand(self) -> None:
        """A sign of two outcomes: posterior = prior × likelihood / sum, over all faults and what is unknown."""
        first = Belief.first(self.table)
        after = first.after(Finding("scaling", outcome="other"))
        like = self.table.shares["scaling"][:, 1]
        joint = first.by_fault * like
        sound = like[self.table.sound]
        unknown = float(first.unknown.sum()) * ((1 - UNKNOWN_OUTLIERS) * sound + UNKNOWN_OUTLIERS * 0.5)
        np.testing.assert_allclose(after.by_fault, joint / (joint.sum() + unknown), rtol=1e-9)
        self.assertAlmostEqual(after.by_part[UNKNOWN], unknown / (joint.sum() + unknown), places=12)

    def test_the_order_of_findings_does_not_matter(self) -> None:
        found = [Finding("counts", 12000.0), Finding("look", outcome="live"), Finding("dip", 1.2)]
        ends = []
        for order in itertools.permutations(found):
            belief = Belief.first(self.table)
            for each in order:
                belief = belief.after(each)
            ends.append(list(belief.by_part.values()))
        np.testing.assert_allclose(ends, [ends[0]] * 6, rtol=1e-9)

    def test_shares_stay_shares(self) -> None:
        belief = Belief.first(self.table, (1.0, 0.2))
        self.assertAlmostEqual(belief.level_m, 1.0, delta=0.05)
        for each in (Finding("shown", 1e9), Finding("counts", -1e6), Finding("arriving", None)):
            belief = belief.after(each)
            self.assertAlmostEqual(sum(belief.by_part.values()), 1.0, places=9)
            self.assertTrue(all(math.isfinite(share) for share in belief.by_part.values()))

    def test_information_of_what_is_known_in_closed_form(self) -> None:
        # Independent: nothing. One to one over four: two bits. A binary channel wrong by a tenth: 1 − H(0.1).
        self.assertAlmostEqual(information(np.full((2, 5), 0.1)), 0)
        self.assertAlmostEqual(information(np.eye(4) / 4), 2)
        noise = -(0.1 * math.log2(0.1) + 0.9 * math.log2(0.9))
        self.assertAlmostEqual(information(np.array([[0.45, 0.05], [0.05, 0.45]])), 1 - noise)

    def test_what_a_test_tells_is_what_enumeration_says(self) -> None:
        """Expected information by definition: entropy now, less what is left on average over what may be found."""
        belief = Belief.first(self.table).after(Finding("look", outcome="live"))
        known = {part: share for part, share in belief.by_part.items() if part != UNKNOWN}
        total = sum(known.values())

        def entropy(shares: list[float]) -> float:
            return -sum(p * math.log2(p) for p in shares if p > 0)

        now = entropy([share / total for share in known.values()])
        for key in ("scaling", "mount", "label", "input-setting", "inject-still"):
            test = fault_tests()[key]
            left = 0.0
            for at, _ in enumerate(test.outcomes):
                joint = belief.by_fault * self.table.shares[key][:, at]
                by_part = np.bincount(self.table.part_of, joint, len(self.table.parts))
                left += by_part.sum() / total * entropy(list(by_part / by_part.sum()))
            self.assertAlmostEqual(belief.tells(test), now - left, delta=2e-4, msg=key)

    def test_numbers_are_told_apart_as_a_fine_quadrature_does(self) -> None:
        """The same for a reading that is a number, by 4,000 cells of its exact density instead of a few."""
        belief = Belief.first(self.table).after(Finding("look", outcome="live"))
        weight = belief.weight / belief.weight.sum()
        for key in ("counts", "arriving", "pair-volts", "alone"):
            column = self.table.column(key)
            around = 5 * column.sd.max()
            cells = np.linspace(column.mean.min() - around, column.mean.max() + around, 4001)
            joint = np.zeros((len(self.table.parts), len(cells)))
            for row, part in enumerate(self.table.part_of):
                off = (cells[None] - column.mean[row][:, None]) / column.sd[row][:, None]
                dense = np.exp(-0.5 * off**2) / column.sd[row][:, None]
                joint[part] += weight[row] @ dense
            joint /= joint.sum()
            joint = 0.98 * joint + 0.02 * joint.sum(axis=1, keepdims=True) / len(cells)
            self.assertAlmostEqual(belief.tells(fault_tests()[key]), information(joint), delta=0.05, msg=key)


class Advising(TestCase):
    def test_the_chosen_test_is_the_one_that_enumeration_chooses(self) -> None:
        """For signs at one place, where all takes its own minutes alone: argmax of information by the minute."""
        table = table_of(installations()[FARM])
        belief = Belief.first(table).after(Finding("look", outcome="live"))
        here = Standing("panel")
        found = advise(belief, [Finding("look", outcome="live")], here)
        signs = [one for one in found.choices if one.test.place == "panel" and not one.test.rig]
        best = max(signs, key=lambda one: belief.tells(one.test) / one.test.minutes)
        self.assertEqual(signs[0].test.key, best.test.key)
        for choice in signs:
            self.assertAlmostEqual(choice.bits, belief.tells(choice.test))

    def test_a_way_is_paid_once_and_a_glance_moves_nobody(self) -> None:
        dip, mount, shown = (fault_tests()[key] for key in ("dip", "mount", "shown"))
        down = Standing("panel")
        self.assertEqual(down.minutes(dip), 12 + 5)
        up = down.at(dip)
        self.assertEqual(up.minutes(mount), 2)
        self.assertEqual(up.at(shown), up)
        inject = fault_tests()["inject-0"]
        self.assertEqual(Standing("panel").minutes(inject), 4 + 1)
        self.assertEqual(Standing("panel", "inject").minutes(inject), 1)

    def test_no_sensor_is_condemned_before_it_is_told_from_the_input(self) -> None:
        table = table_of(installations()[FARM])
        belief = Belief.first(table)
        sure = np.where(np.array([f.kind.part == "sensor" for f in table.faults])[:, None], belief.weight, 1e-9)
        certain = Belief(table, sure / sure.sum() * (1 - 1e-9), belief.unknown * 1e-9)
        self.assertGreater(certain.by_part["sensor"], SURE)
        waits = advise(certain, [Finding("look", outcome="noisy")], Standing())
        self.assertEqual(waits.verdict, "go-on")
        self.assertIn(
            waits.choices[0].test.key, ("alone", "arriving", "inject-50", "inject-same", "number", "simulate")
        )
        told = advise_after(certain, ["look", "alone"], Standing())
        self.assertEqual(told.verdict, "found")

    def test_outcomes_are_shares_of_one(self) -> None:
        belief = Belief.first(table_of(installations()[FARM]))
        for key in ("counts", "scaling"):
            found = outcomes(belief, fault_tests()[key], 24)
            self.assertAlmostEqual(sum(share for share, _ in found), 1.0)
            # What is left out is under one in two hundred each.
            mixed = sum(share * one.by_part["sensor"] for share, one in found)
            known = 1 - belief.by_part[UNKNOWN]
            self.assertAlmostEqual(mixed, belief.by_part["sensor"] / known, delta=0.05)

    def test_what_fits_nothing_else_is_to_be_taken_again(self) -> None:
        at = installations()[BARRIER]
        bench = Bench(Case(at, one("channel-dead", at), 0.5 * at.sound.top_m, 3, frozenset()), mistakes=0.0)
        findings = [bench.do(fault_tests()[key]) for key in ("look", "counts", "inject-50", "inject-100", "arriving")]
        slip = Finding("inject-0", 30000.0)
        belief = Belief.first(table_of(at))
        for each in (*findings, slip):
            belief = belief.after(each)
        self.assertGreater(belief.surprise(slip), 1.0)
        self.assertLess(belief.surprise(findings[2]), 1.0)


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
                for column, test in enumerate(table.tests):
                    if test.outcomes:
                        apart = np.abs(table.shares[test.key][row] - table.shares[test.key][sound]).max() > 0.5
                    else:
                        first, second = table.mean[column, row], table.mean[column, sound]
                        gap = np.abs(first - second) / np.hypot(table.sd[column, row], table.sd[column, sound])
                        apart = np.any(np.isfinite(first) != np.isfinite(second)) or np.nanmax(gap) > 2.0
                        noisy = table.sd[column, row].max() > 5 * table.sd[column, sound].max()
                        apart = apart or noisy
                    seen = seen or bool(apart)
                self.assertTrue(seen, f"{name}: {each.says} {each.value:g} cannot be seen by any test")


class Cases(TestCase):
    """A sample of the long trial (`make trials TRIALS=faults`): the right part, soon, and never too sure."""

    def test_on_all_installations(self) -> None:
        right, condemned, minutes, ordered = 0, 0, [], []
        count = 24
        for case in cases(count, 424_200):
            course = work_through(case, advised)
            right += course.advice.part in case.parts
            condemned += course.advice.verdict == "found" and course.advice.part == "sensor" not in case.parts
            minutes.append(course.minutes)
            ordered.append(work_through(case, textbook, 60).minutes)
        self.assertGreaterEqual(right / count, 0.9)
        self.assertLessEqual(condemned, 1)
        self.assertLessEqual(np.median(minutes), 0.6 * np.median(ordered))
