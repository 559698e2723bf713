"""What is believed and what is advised: by hand, by enumeration and by quadrature."""

from __future__ import annotations

import itertools
import math
import re
from dataclasses import replace
from unittest import TestCase

import numpy as np
from scipy.integrate import quad

from rasante.core.faults import installation
from rasante.core.faults.advice import SURE, Standing, advise, outcomes, rivals_left
from rasante.core.faults.belief import Belief, Finding
from rasante.core.faults.case_ahead import look_ahead, meanings
from rasante.core.faults.case_form import read_case
from rasante.core.faults.case_words import verdict_text, where_text
from rasante.core.faults.cells import Cells
from rasante.core.faults.fault_test import fault_tests
from rasante.core.faults.information import mutual_information
from rasante.core.faults.installation import conductors
from rasante.core.faults.outliers import Outliers, outliers_of
from rasante.core.faults.table import Table, table_of
from rasante.core.faults.unlisted import UNKNOWN
from rasante.core.wiring.circuit_kinds import read_wiring
from tests.tags import slow

from .chain_cases import chain
from .fault_cases import BARRIER, FARM, Bench, Case, installations, one, reads


def rows_of(table: Table, kind: str) -> np.ndarray:
    """Which rows of a table are of one kind of fault, of shape (rows, 1)."""
    listed = [each.kind.key == kind for each in table.faults]
    return np.array([*listed, *([False] * (len(table.strays) + 1))])[:, None]


def only(table: Table, kind: str, unknown: float = 1e-9) -> Cells:
    """Cells of one kind of fault, or of all, and so much of what is in no list."""
    prior = np.repeat(table.prior[:, None], len(table.levels), axis=1)
    listed = np.arange(table.rows)[:, None] < len(table.faults)
    share = np.where(listed & (rows_of(table, kind) if kind else True), prior, 1e-15)
    share[table.unlisted] = share[: table.unlisted].sum() * unknown / (1 - unknown) / len(table.levels)
    return Cells.at_first(share)


class Believing(TestCase):
    def setUp(self) -> None:
        self.table = table_of(installations()[FARM])

    def test_bayes_rule_by_hand(self) -> None:
        """A sign of two outcomes: posterior = prior × likelihood / sum, over all faults and what is unknown."""
        first = Belief.prior(self.table)
        after = first.updated(Finding("scaling", outcome="other"))
        joint = first.by_fault * self.table.column("scaling").shares[:, 1]
        np.testing.assert_allclose(after.by_fault, joint / joint.sum(), rtol=1e-9)
        unlisted = joint[len(self.table.faults) :].sum()
        self.assertAlmostEqual(after.by_part[UNKNOWN], unlisted / joint.sum(), places=12)

    def test_the_order_of_findings_does_not_matter(self) -> None:
        found = [Finding("counts", 12000.0), Finding("look", outcome="live"), Finding("dip", 1.2)]
        ends = []
        for order in itertools.permutations(found):
            belief = Belief.prior(self.table)
            for each in order:
                belief = belief.updated(each)
            ends.append(list(belief.by_part.values()))
        # Slips are put together by their moments: what is likely at all agrees.
        np.testing.assert_allclose(ends, [ends[0]] * 6, atol=0.005)

    def test_what_fits_nothing_and_comes_again_is_no_slip(self) -> None:
        """A number that no fault reads, read twice alike, is not known; another speaks for a slip."""
        absurd = Belief.prior(self.table).updated(Finding("number", -3.0e4))
        self.assertGreater(absurd.updated(Finding("number", -3.0e4)).by_part[UNKNOWN], 0.9)
        self.assertLess(absurd.updated(Finding("number", 1.0)).by_part[UNKNOWN], absurd.by_part[UNKNOWN])

    def test_the_fifth_look_at_the_same_screen_tells_nothing_new(self) -> None:
        at = installations()[BARRIER]
        for off in (0.02, -0.02):
            level = 0.5 * at.sound.top_m
            dip = Finding("dip", level)
            shown = Finding("shown", at.sound.at(level, exact=False)["shown"] + off * at.spans["shown"])
            belief = Belief.prior(table_of(at)).updated(Finding("look", outcome="live")).updated(dip)
            looks = [belief := belief.updated(shown) for _ in range(6)]
            for part, share in looks[1].by_part.items():
                self.assertAlmostEqual(looks[-1].by_part[part], share, delta=0.03, msg=part)

    def test_a_harmless_offset_seen_at_many_places_condemns_nothing(self) -> None:
        """Two per cent: within what a sensor is good for as it is installed (common practice)."""
        at = installations()[BARRIER]
        belief = Belief.prior(table_of(at)).updated(Finding("look", outcome="live"))
        level, off = 0.5 * at.sound.top_m, 0.02 * at.sound.top_m
        there = at.sound.at(level + off, exact=False)
        seen = {
            "shown": "shown", "far": "shown", "number": "number", "register": "words", "counts": "counts",
            "arriving": "arriving", "alone": "sent", "alone-box": "sent", "alone-sensor": "sent",
        }  # fmt: skip
        for test, stage in seen.items():
            belief = belief.updated(Finding(test, there[stage]))
        once = belief.updated(Finding("dip", level)).by_part
        self.assertLess(once["breather"], 0.5)
        self.assertLess(once["sensor"], 0.5)

    def test_a_stuck_channel_is_not_laid_to_the_sensor_reading_by_reading(self) -> None:
        """Once counts are read, all that follows from them says nothing of what is before them."""
        for name in (BARRIER, FARM):
            at = installations()[name]
            belief = Belief.prior(table_of(at)).updated(Finding("look", outcome="frozen"))
            for key in ("shown", "dip", "dip-again", "counts"):
                belief = belief.updated(Finding(key, reads("channel-stuck", key, at, 0.75, 0.18)))
            before = belief.by_part
            for key in ("number", "register", "far", "shown"):
                belief = belief.updated(Finding(key, reads("channel-stuck", key, at, 0.75, 0.18)))
            after = belief.by_part
            self.assertAlmostEqual(
                after["channel"] / after["sensor"], before["channel"] / before["sensor"], delta=0.03, msg=name
            )
            self.assertEqual(advise(belief, Standing()).verdict, "go-on")

    def test_where_nothing_arrives_people_inject_the_low_end_and_no_sensor_is_condemned(self) -> None:
        """What was put in is as typed: with a core broken, and 4 mA put in, the input is good, and that is all."""
        at = installations()[BARRIER]
        belief = Belief.prior(table_of(at))
        for finding in (
            Finding("look", outcome="live"), Finding("arriving", 0.0), Finding("counts", 0.0),
            Finding("inject-same", 6553.0, put_in=0.004),
        ):  # fmt: skip
            belief = belief.updated(finding)
        self.assertLess(belief.by_part["sensor"], 0.4)
        self.assertGreater(sum(belief.by_part[part] for part in ("cable", "splice", "connection", "supply")), 0.3)
        offered = {choice.test.key for choice in advise(belief, Standing("panel")).choices}
        self.assertNotIn("inject-same", offered)
        alive = Belief.prior(table_of(at)).updated(Finding("arriving", 0.0105))
        offered = {choice.test.key: choice.test for choice in advise(alive, Standing("panel")).choices}
        self.assertEqual(offered["inject-same"].reads["put_in"], 0.0105)

    def test_outliers_integrate_to_one_over_what_an_instrument_can_show(self) -> None:
        at = installations()[BARRIER]
        tests = [test for test in table_of(at).tests if not test.outcomes]
        self.assertGreater(len(tests), 30)
        for test in tests:
            one = outliers_of(test, at)
            total = one.density(None)
            ends = sorted({one.least, one.low, one.high, one.most})
            for low, high in itertools.pairwise(ends):
                total += quad(one.density, low, high, limit=200)[0]
            self.assertAlmostEqual(total, 1.0, places=6, msg=test.key)
        self.assertGreater(Outliers(0.0, 1.0).density(1e9), 0)

    def test_cells_follow_the_kalman_filter_of_a_line(self) -> None:
        """Two readings of one unknown with an unknown offset in common, in closed form by the covariance of both."""
        column, level = self.table.column("dip"), 12
        first = np.zeros((self.table.rows, len(self.table.levels)))
        first[self.table.sound, level] = 1.0
        cells, there = Cells.at_first(first), self.table.sound * len(self.table.levels) + level
        names, slope = column.slopes_at(np.array([there]))
        none, slip = np.zeros(first.size), np.zeros(first.size)
        mean, sd = float(column.mean.ravel()[there]), float(column.sd.ravel()[there])
        read = (mean + 0.01, mean + 0.014)
        for value in read:
            cells, _ = cells.updated(column, value, none, slip)
        design = np.array([slope[:, 0], slope[:, 0]], dtype=float)
        shared = design @ design.T + sd**2 * np.eye(2)
        exact = design.T @ np.linalg.solve(shared, np.array(read) - mean)
        np.testing.assert_allclose(cells.mean[there][names], exact, rtol=1e-5)

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
            if said or choice.bits > 0.01:
                self.assertEqual(said, len(told) == 1, choice.test.key)
            self.assertNotIn("nothing", max(told, key=lambda one: one.share).means)
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
        belief = Belief.prior(self.table, (1.0, 0.2))
        self.assertAlmostEqual(belief.level_m, 1.0, delta=0.05)
        for each in (Finding("shown", 1e9), Finding("counts", -1e6), Finding("arriving", None)):
            belief = belief.updated(each)
            self.assertAlmostEqual(sum(belief.by_part.values()), 1.0, places=9)
            self.assertTrue(all(math.isfinite(share) for share in belief.by_part.values()))

    def test_information_of_what_is_known_in_closed_form(self) -> None:
        # Independent: nothing. One to one over four: two bits. A binary channel wrong by a tenth: 1 − H(0.1).
        self.assertAlmostEqual(mutual_information(np.full((2, 5), 0.1)), 0)
        self.assertAlmostEqual(mutual_information(np.eye(4) / 4), 2)
        noise = -(0.1 * math.log2(0.1) + 0.9 * math.log2(0.9))
        self.assertAlmostEqual(mutual_information(np.array([[0.45, 0.05], [0.05, 0.45]])), 1 - noise)

    def test_what_a_test_tells_is_what_enumeration_says(self) -> None:
        """Expected information by definition: entropy now, less what is left on average over what may be found."""
        belief = Belief.prior(self.table).updated(Finding("look", outcome="live"))
        shares = np.bincount(self.table.part_of, belief.by_fault, len(self.table.parts))
        total = float(shares.sum())

        def entropy(shares: list[float]) -> float:
            return -sum(p * math.log2(p) for p in shares if p > 0)

        now = entropy(list(shares / total))
        for key in ("scaling", "mount", "label", "input-setting", "inject-still"):
            test = fault_tests()[key]
            left = 0.0
            for at, _ in enumerate(test.outcomes):
                joint = belief.by_fault * self.table.column(key).shares[:, at]
                by_part = np.bincount(self.table.part_of, joint, len(self.table.parts))
                left += by_part.sum() / total * entropy(list(by_part / by_part.sum()))
            told = belief.expected_bits([self.table.column(key)])[0]
            self.assertAlmostEqual(told, now - left, delta=2e-4, msg=key)

    def test_many_tests_at_once_are_as_each_by_itself(self) -> None:
        first = Belief.prior(self.table)
        columns = [self.table.column(test.key) for test in self.table.tests]
        for belief in (first, first.updated(Finding("look", outcome="noisy")), first.updated(Finding("counts", 5e3))):
            told = belief.expected_bits(columns)
            self.assertGreater(np.ptp(told), 0.1)
            for bits, column in zip(told, columns, strict=True):
                alone = belief.joint([column])[0]
                self.assertAlmostEqual(float(alone.sum()), 1.0, places=9)
                self.assertAlmostEqual(bits, float(mutual_information(alone)), places=9, msg=column.test.key)
        self.assertEqual(first.expected_bits([]), [])

    @slow
    def test_numbers_are_told_apart_as_a_fine_quadrature_does(self) -> None:
        """The same for a reading that is a number, by 4,000 cells of its exact density instead of a few."""
        belief = Belief.prior(self.table).updated(Finding("look", outcome="live"))
        cells = belief.particles
        for key in ("counts", "arriving", "pair-volts", "alone"):
            column = self.table.column(key)
            mean, sd = cells.expected(column)
            values = np.linspace(mean.min() - 5 * sd.max(), mean.max() + 5 * sd.max(), 4001)
            joint = np.zeros((len(self.table.parts), len(values)))
            for weight, middle, width, part in zip(
                cells.weight, mean, sd, self.table.part_of[cells.row], strict=True
            ):
                joint[part] += weight * np.exp(-0.5 * ((values - middle) / width) ** 2) / width
            joint /= joint.sum()
            joint = 0.98 * joint + 0.02 * joint.sum(axis=1, keepdims=True) / len(values)
            told = belief.expected_bits([column])[0]
            self.assertAlmostEqual(told, float(mutual_information(joint)), delta=0.06, msg=key)


class Unlisted(TestCase):
    """What is in no list and sits at one station."""

    def setUp(self) -> None:
        self.table = table_of(installations()[BARRIER])
        self.rows = {
            stray.station: len(self.table.faults) + row
            for row, stray in enumerate(self.table.strays)
            if row % 9 == 4  # the middle of each station's values
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
        belief = Belief.prior(table).updated(Finding("look", outcome="live"))
        here = Standing("panel")
        found = advise(belief, here)
        signs = [one for one in found.choices if one.test.place == "panel" and not one.test.rig]
        best = max(signs, key=lambda one: belief.expected_bits([table.column(one.test.key)])[0] / one.test.minutes)
        self.assertEqual(signs[0].test.key, best.test.key)
        for choice in signs:
            self.assertAlmostEqual(choice.bits, belief.expected_bits([table.column(choice.test.key)])[0])

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
        look = Finding("look", outcome="noisy")
        certain = Belief(table, only(table, "sensor-noisy"), (look,))
        self.assertGreater(certain.by_part["sensor"], SURE)
        waits = advise(certain, Standing())
        self.assertEqual((waits.verdict, waits.because), ("go-on", "input"))
        self.assertEqual(verdict_text(waits), ())
        self.assertTrue(waits.choices[0].test.isolates)
        # One that tells it from the input alone leaves wiring and connection; one reading may have been misread.
        for done, left in (
            (("alone", "arriving"), ("wiring", "connection")), (("alone-sensor",), ("input", "setting", "wiring",
             "connection")), (("alone-sensor", "in-air"), ()),
        ):  # fmt: skip
            found = tuple(Finding(key, 0.012) for key in done)
            self.assertEqual(rivals_left(replace(certain, found=(look, *found))), left)
        told = advise(replace(certain, found=(look, *found)), Standing())
        self.assertEqual(told.verdict, "found")
        what, then = verdict_text(told)
        self.assertEqual(what, f"It is the sensor: {told.fault.says}, over 99 %")
        repair = told.fault.kind.repair
        self.assertTrue(then.startswith(f"{repair.do} About {repair.minutes:g} min, with {repair.kit[0]}"), then)

    def test_nothing_is_named_before_it_is_told_from_what_is_in_no_list(self) -> None:
        table = table_of(installations()[FARM])
        for left, verdict in ((0.03, "cannot-tell"), (0.01, "found")):
            waits = advise(Belief(table, only(table, "channel-stuck", left)), Standing("panel"))
            # As long as a test is left that tells it from that, it goes on.
            self.assertEqual((waits.part, waits.verdict == "found"), ("channel", verdict == "found"))
            waits = replace(waits, verdict=verdict)
            said = {"cannot-tell": "Most likely the input channel; nothing", "found": "It is the input channel: "}
            self.assertTrue(verdict_text(waits)[0].startswith(said[verdict]), verdict_text(waits))
            self.assertIn("channel, 97 %" if verdict == "cannot-tell" else "prove it", verdict_text(waits)[1])
        both = replace(waits, verdict="cannot-tell", together=("channel", "sensor"))
        self.assertEqual(
            verdict_text(both)[0], "What can be done now does not tell apart: the input channel, the sensor"
        )
        # What fits nothing is taken again before it is said that nothing fits, unless that is past doubt.
        for left, verdict in ((0.8, "go-on"), (0.99, "nothing-fits")):
            look, dip = Finding("look", outcome="live"), Finding("dip", 0.5 * table.at.sound.top_m)
            # Minus a million counts are none that an input gives.
            said = (look, Finding("counts", -1e6), dip)
            lost = Belief(table, only(table, "", left), said)
            found = advise(lost, Standing("panel"))
            self.assertEqual((found.verdict, found.because, found.choices[0].test.key), (verdict, "again", "counts"))

    def test_outcomes_are_shares_of_one(self) -> None:
        belief = Belief.prior(table_of(installations()[FARM]))
        for key in ("counts", "scaling"):
            found = outcomes(belief, fault_tests()[key], 60)
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
        belief = Belief.prior(table_of(at))
        for each in (*findings, slip):
            belief = belief.updated(each)
        self.assertGreater(belief.outlier_odds(slip), 1.0)
        self.assertLess(belief.outlier_odds(findings[2]), 1.0)

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
