"""What is believed and what is advised: by hand, by enumeration and by quadrature."""

from __future__ import annotations

import itertools
import math
import re
from dataclasses import replace
from unittest import TestCase

import numpy as np

from rasante.core.faults import installation
from rasante.core.faults.advice import SURE, Standing, advise, outcomes
from rasante.core.faults.belief import Belief, Finding, tell
from rasante.core.faults.case_ahead import look_ahead, meanings
from rasante.core.faults.case_form import read_case
from rasante.core.faults.case_words import verdict_text, where_text
from rasante.core.faults.fault_test import fault_tests
from rasante.core.faults.installation import conductors
from rasante.core.faults.spreads import OUTLIERS, information
from rasante.core.faults.table import Table, table_of
from rasante.core.faults.unlisted import UNKNOWN, UNKNOWN_OUTLIERS
from rasante.core.wiring.circuit_kinds import read_wiring
from tests.tags import slow

from .chain_cases import chain
from .fault_cases import BARRIER, FARM, Bench, Case, installations, one


def rows_of(table: Table, kind: str) -> np.ndarray:
    """Which rows of a table are of one kind of fault, of shape (rows, 1)."""
    listed = [each.kind.key == kind for each in table.faults]
    return np.array([*listed, *([False] * len(table.strays))])[:, None]


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
        astray = joint[len(self.table.faults) :].sum()
        self.assertAlmostEqual(after.by_part[UNKNOWN], (unknown + astray) / (joint.sum() + unknown), places=12)

    def test_the_order_of_findings_does_not_matter(self) -> None:
        found = [Finding("counts", 12000.0), Finding("look", outcome="live"), Finding("dip", 1.2)]
        ends = []
        for order in itertools.permutations(found):
            belief = Belief.first(self.table)
            for each in order:
                belief = belief.after(each)
            ends.append(list(belief.by_part.values()))
        np.testing.assert_allclose(ends, [ends[0]] * 6, rtol=1e-9)

    def test_what_fits_nothing_and_comes_again_is_no_slip(self) -> None:
        """Two findings of one test: the same again speaks for what is not known, another speaks for a slip."""
        first = Belief.first(self.table).after(Finding("scaling", outcome="other"))
        before = float(first.unknown.sum())
        sound = float(self.table.shares["scaling"][self.table.sound, 1])
        like = (1 - UNKNOWN_OUTLIERS) * sound + UNKNOWN_OUTLIERS * 0.5
        strange = UNKNOWN_OUTLIERS * 0.5 / like
        for outcome, again in (("other", 1 - OUTLIERS), ("same", OUTLIERS)):
            after = first.after(Finding("scaling", outcome=outcome))
            column = self.table.shares["scaling"][:, ("same", "other").index(outcome)]
            plain = (1 - UNKNOWN_OUTLIERS) * float(column[self.table.sound]) + UNKNOWN_OUTLIERS * 0.5
            unknown = before * (strange * again + (1 - strange) * plain)
            joint = first.by_fault * column
            astray, known = (float(of.sum()) for of in np.split(joint, [len(self.table.faults)])[::-1])
            self.assertAlmostEqual(after.by_part[UNKNOWN], (unknown + astray) / (unknown + astray + known), places=12)
        # Of a number: what no fault reads, read twice alike, is something that is not known.
        absurd = Belief.first(self.table).after(Finding("number", -3.0e4))
        self.assertGreater(absurd.after(Finding("number", -3.0e4)).by_part[UNKNOWN], 0.9)
        self.assertLess(absurd.after(Finding("number", 1.0)).by_part[UNKNOWN], absurd.by_part[UNKNOWN])

    def test_where_every_outcome_leaves_the_same_suspect_it_says_of_what_else_it_tells(self) -> None:
        at = installations()[BARRIER]
        signs = (("look", "noisy"), ("alone-still", "restless"), ("inject-still", "steady"))
        rows = {f"rows[{at}].test": test for at, (test, _) in enumerate(signs)}
        rows |= {f"rows[{at}].outcome": outcome for at, (_, outcome) in enumerate(signs)}
        found = read_case(rows, at, "metric")
        kinds = [meanings(found, choice.test, "metric") for choice in found.advice.choices]
        for choice, told in zip(found.advice.choices, kinds, strict=True):
            self.assertAlmostEqual(sum(one.share for one in told), 1, delta=0.02)
            # Of what it tells next to nothing, nothing is said: a part in 10¹⁶ of a bit is dust.
            said = "it tells most of" in told[0].means
            self.assertEqual(said, len(told) == 1 and choice.bits > 1e-3, choice.test.key)
            self.assertNotIn("nothing", told[0].means)
        self.assertTrue([told for told in kinds if len(told) == 1])
        self.assertTrue([told for told in kinds if len(told) > 1])
        for told in kinds:
            # Two lines that name the same parts are apart by more than the eye passes over.
            said = [re.findall(r"(\d+) %", one.means) for one in told]
            parts = [re.sub(r"\d+", "", one.means) for one in told]
            for (these, first), (those, second) in itertools.combinations(zip(parts, said, strict=True), 2):
                if these == those and first and second:
                    self.assertGreaterEqual(abs(int(first[0]) - int(second[0])), 5, told)

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
        shares = np.bincount(self.table.part_of, belief.by_fault, len(self.table.parts))
        total = float(shares.sum())

        def entropy(shares: list[float]) -> float:
            return -sum(p * math.log2(p) for p in shares if p > 0)

        now = entropy(list(shares / total))
        for key in ("scaling", "mount", "label", "input-setting", "inject-still"):
            test = fault_tests()[key]
            left = 0.0
            for at, _ in enumerate(test.outcomes):
                joint = belief.by_fault * self.table.shares[key][:, at]
                by_part = np.bincount(self.table.part_of, joint, len(self.table.parts))
                left += by_part.sum() / total * entropy(list(by_part / by_part.sum()))
            self.assertAlmostEqual(belief.tells([test])[0], now - left, delta=2e-4, msg=key)

    def test_many_beliefs_and_tests_at_once_are_as_each_by_itself(self) -> None:
        first = Belief.first(self.table)
        beliefs = [first, first.after(Finding("look", outcome="noisy")), first.after(Finding("counts", 5000.0))]
        tests = list(self.table.tests)
        told = tell(beliefs, tests)
        self.assertEqual(told.shape, (3, len(tests)))
        self.assertGreater(np.ptp(told, axis=0).max(), 0.1)
        for row, belief in enumerate(beliefs):
            for column, test in enumerate(tests):
                alone = belief.spread(test)
                self.assertAlmostEqual(float(alone.sum()), 1.0, places=9)
                self.assertAlmostEqual(told[row, column], float(information(alone)), places=9, msg=test.key)
        self.assertEqual(tell([], tests).shape, (0, len(tests)))
        self.assertEqual(tell(beliefs, []).shape, (3, 0))

    @slow
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
            self.assertAlmostEqual(belief.tells([fault_tests()[key]])[0], information(joint), delta=0.05, msg=key)


class Unlisted(TestCase):
    """What is in no list and sits at one station."""

    def setUp(self) -> None:
        self.table = table_of(installations()[BARRIER])
        self.rows = {
            stray.station: len(self.table.faults) + row
            for row, stray in enumerate(self.table.strays)
            if row % 21 == 10  # the middle of each station's values
        }

    def test_before_it_all_is_sound_and_after_it_all_follows(self) -> None:
        table, sound = self.table, self.table.sound
        self.assertEqual(set(self.rows), {"counts", "number", "words", "shown"})
        stations = table.at.sound.stations
        for station, row in self.rows.items():
            for test in table.tests:
                reads = test.reads.get("station")
                if reads not in stations or "inject" in test.reads:
                    continue
                mean = table.column(test.key).mean[row]
                if stations.index(reads) < stations.index(station):
                    np.testing.assert_array_equal(mean, table.column(test.key).mean[sound], f"{station} {test.key}")
                elif not test.reads.get("spare"):
                    self.assertLess(np.ptp(mean), 1e-9, f"{station} {test.key}: one value at whatever level")

    def test_what_it_makes_of_a_value_put_in_nobody_knows(self) -> None:
        inject = self.table.column("inject-50")
        row, sound = self.rows["counts"], self.table.sound
        self.assertGreater(inject.sd[row].min(), 0.4 * self.table.at.spans["counts"])
        self.assertLess(inject.sd[sound].max(), 0.02 * self.table.at.spans["counts"])
        # Put in after it, it reads as it should: a number is nothing to the counts before it.
        np.testing.assert_array_equal(inject.mean[self.rows["number"]], inject.mean[sound])

    def test_a_digital_sensors_own_number_is_the_sensor(self) -> None:
        digital = table_of(installations()["digital on a bus"])
        self.assertNotIn("number", {stray.station for stray in digital.strays})

    def test_where_it_sits_is_said(self) -> None:
        """Counts and number as a dip has it, and a screen that is far off by no factor that people use."""
        at = installations()[BARRIER]
        level = 0.4 * at.sound.top_m
        sound = at.sound.at(level, exact=False)
        off = f"{0.6 * at.ends['shown'][1] + 0.4 * sound['shown']:.0f}"
        typed = {
            "shown": off, "look": "live", "far": off, "age": "fresh", "dip": f"{level * 1000:.0f} mm",
            "counts": f"{sound['counts']:.0f}", "number": f"{sound['number']:.0f}",
            "register": f"{sound['words']:.0f}", "map": "same", "screen": "same", "table": "same",
        }  # fmt: skip
        entries = {}
        for row, (test, text) in enumerate(typed.items()):
            column = "outcome" if fault_tests()[test].outcomes else "value"
            entries |= {f"rows[{row}].test": test, f"rows[{row}].{column}": text}
        found = read_case(entries, at, "metric")
        self.assertEqual(found.form.problems, [])
        self.assertEqual((found.advice.verdict, found.advice.astray), ("nothing-fits", "shown"))
        self.assertIn("between “Read from it” and “Shown”", where_text(found.advice))
        what, where, then = verdict_text(found.advice)
        self.assertEqual((what, where), ("Nothing that is known here fits", where_text(found.advice)))
        self.assertIn("two faults at once", then)
        # As long as it goes on, nothing is said of it.
        first = read_case({key: entries[key] for key in ("rows[0].test", "rows[0].value")}, at, "metric")
        self.assertEqual(where_text(first.advice), "")


class Advising(TestCase):
    def test_the_chosen_test_is_the_one_that_enumeration_chooses(self) -> None:
        """For signs at one place, where all takes its own minutes alone: argmax of information by the minute."""
        table = table_of(installations()[FARM])
        belief = Belief.first(table).after(Finding("look", outcome="live"))
        here = Standing("panel")
        found = advise(belief, here)
        signs = [one for one in found.choices if one.test.place == "panel" and not one.test.rig]
        best = max(signs, key=lambda one: belief.tells([one.test])[0] / one.test.minutes)
        self.assertEqual(signs[0].test.key, best.test.key)
        for choice in signs:
            self.assertAlmostEqual(choice.bits, belief.tells([choice.test])[0])

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
        sure = np.where(rows_of(table, "sensor-noisy"), belief.weight, 1e-9)
        look = Finding("look", outcome="noisy")
        certain = Belief(table, sure / sure.sum() * (1 - 1e-9), belief.unknown * 1e-9, (look,))
        self.assertGreater(certain.by_part["sensor"], SURE)
        waits = advise(certain, Standing())
        self.assertEqual((waits.verdict, waits.because), ("go-on", "input"))
        self.assertEqual(verdict_text(waits), ())
        self.assertIn(
            waits.choices[0].test.key,
            ("alone", "alone-still", "arriving", "inject-50", "inject-same", "number", "simulate"),
        )
        told = advise(replace(certain, found=(look, Finding("alone", 0.012))), Standing())
        self.assertEqual(told.verdict, "found")
        what, then = verdict_text(told)
        self.assertEqual(what, f"It is the sensor: {told.fault.says}, over 99 %")
        repair = told.fault.kind.repair
        self.assertTrue(then.startswith(f"{repair.do} About {repair.minutes:g} min, with {repair.kit[0]}"), then)

    def test_nothing_is_named_before_it_is_told_from_what_is_in_no_list(self) -> None:
        table = table_of(installations()[FARM])
        first = Belief.first(table)
        channel = np.where(rows_of(table, "channel-stuck"), first.weight, 1e-9)
        for left, verdict in ((0.03, "cannot-tell"), (0.01, "found")):
            unknown = first.unknown / first.unknown.sum() * left
            waits = advise(Belief(table, channel / channel.sum() * (1 - left), unknown), Standing("panel"))
            self.assertEqual((waits.part, waits.verdict), ("channel", verdict))
            said = {"cannot-tell": "Most likely the input channel; nothing", "found": "It is the input channel: "}
            self.assertTrue(verdict_text(waits)[0].startswith(said[verdict]), verdict_text(waits))
            self.assertIn("channel, 97 %" if verdict == "cannot-tell" else "prove it", verdict_text(waits)[1])
        both = replace(waits, verdict="cannot-tell", together=("channel", "sensor"))
        self.assertEqual(
            verdict_text(both)[0], "What can be done now does not tell apart: the input channel, the sensor"
        )
        # What fits nothing is taken again before it is said that nothing fits, unless that is past doubt.
        for left, verdict in ((0.8, "go-on"), (0.99, "nothing-fits")):
            unknown = first.unknown / first.unknown.sum() * left
            look, dip = Finding("look", outcome="live"), Finding("dip", 0.5 * table.at.sound.top_m)
            # Minus a million counts are none that an input gives.
            said = (look, Finding("counts", -1e6), dip)
            lost = Belief(table, first.weight / first.weight.sum() * (1 - left), unknown, said)
            found = advise(lost, Standing("panel"))
            self.assertEqual((found.verdict, found.because, found.choices[0].test.key), (verdict, "again", "counts"))

    def test_outcomes_are_shares_of_one(self) -> None:
        belief = Belief.first(table_of(installations()[FARM]))
        for key in ("counts", "scaling"):
            found = outcomes(belief, fault_tests()[key], 24)
            self.assertAlmostEqual(sum(share for share, _ in found), 1.0)
            # What is left out is under one in two hundred each.
            for part in ("sensor", UNKNOWN):
                mixed = sum(share * one.by_part[part] for share, one in found)
                self.assertAlmostEqual(mixed, belief.by_part[part], delta=0.05 * (1 if part == "sensor" else 0.2))

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

    def test_what_was_taken_again_is_not_to_be_taken_a_third_time(self) -> None:
        at = installations()[BARRIER]
        steps = (("look", "frozen"), ("counts", "0"), ("inject-50", "0"), ("inject-100", "0"), ("inject-0", "30000"))
        typed = {}
        for row, (test, found) in enumerate((*steps, steps[-1])):
            key = "outcome" if test == "look" else "value"
            typed |= {f"rows[{row}].test": test, f"rows[{row}].{key}": found}
        once = read_case({key: text for key, text in typed.items() if not key.startswith("rows[5]")}, at, "metric")
        self.assertEqual([step.doubtful for step in once.steps], [False] * 4 + [True])
        twice = read_case(typed, at, "metric")
        self.assertEqual([step.doubtful for step in twice.steps], [False] * 6)


class Whatever(TestCase):
    """What people may have wired and may type: there is an answer."""

    LINKS = {
        "two_wire": {"sensor__quantity": "pressure"},
        "three_wire": {"signal__kind": "v10", "sensor__quantity": "level"},
        "four_wire": {"sensor__quantity": "level"},
        "digital": {"signal__kind": "digital", "sensor__quantity": "level"},
    }

    def shares(self, at: installation.Installation, entries: dict[str, str]) -> list[float]:
        found = read_case(entries, at, "metric")
        self.assertEqual(found.form.problems, [])
        look_ahead(found, "metric", steps=0)
        return list(found.advice.belief.by_part.values())

    @slow
    def test_a_wire_that_is_nowhere_takes_tests_away_and_no_more(self) -> None:
        for link, entries in self.LINKS.items():
            made = {"kind": link, "cable[0].length": "9 m", "cable[1].length": "4 m"}
            whole = read_wiring(made, "metric").circuit
            for wire in [conductors(whole)[terminal][-1] for terminal in whole.sensor.terminals]:
                circuit = read_wiring({**made, f"end.{wire.id}.a": "nowhere"}, "metric").circuit
                at = installation.Installation(chain(**entries), circuit, "hydrostatic")
                first = {"rows[0].test": "shown", "rows[0].value": "300"}
                self.assertAlmostEqual(sum(self.shares(at, first)), 1.0, places=9, msg=f"{link} {wire.id}")

    def test_absurd_readings_leave_shares(self) -> None:
        at = installations()[FARM]
        for value in ("1e300", "-1e300", "0", "nothing"):
            shares = self.shares(at, {"rows[0].test": "counts", "rows[0].value": value})
            self.assertAlmostEqual(sum(shares), 1.0, places=9, msg=value)

    def test_volts_across_two_terminals_want_a_circuit(self) -> None:
        at = replace(installations()[FARM], circuit=None)
        found = read_case({"rows[0].test": "volts", "rows[0].value": "12"}, at, "metric")
        self.assertEqual(found.findings, ())
        self.assertEqual([problem.where for problem in found.form.problems], ["rows[0].test"])
        self.assertIn("no circuit is kept of this tank", found.form.problems[0].what)

    def test_what_is_pasted_is_no_finding_until_it_is_entered(self) -> None:
        at = installations()[FARM]
        pasted = read_case({"series": "12000\n" * 20, "rows[0].test": "look"}, at, "metric")
        assert pasted.series is not None
        self.assertEqual((pasted.series.look, pasted.findings), ("frozen", ()))
