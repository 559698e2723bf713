"""What every test reads of a wrong installation: by the network in closed form, and along the chain."""

from __future__ import annotations

from dataclasses import replace
from unittest import TestCase

import numpy as np

from rasante.core.faults.fault import fault_kinds, faults_of, faults_of_kind
from rasante.core.faults.fault_test import fault_tests
from rasante.core.faults.loops import OPEN_OHM, alone, answers, arriving, ohms, volts
from rasante.core.faults.predict import Common, Reader, Wrong, read, station_of
from rasante.core.faults.series import judge_series
from rasante.core.quantities.errors import InputError
from rasante.core.quantities.signals import Signal
from rasante.core.scaling.edits import Set
from rasante.core.scaling.hypotheses import hypotheses
from rasante.core.wiring import transfer
from rasante.core.wiring.circuit import Circuit, Part
from rasante.core.wiring.circuit_network import LOOP_CURRENTS, Condition
from rasante.core.wiring.edits import Break, Insert, Put, edit_circuit
from rasante.core.wiring.wires import resistance

from .chain_cases import chain
from .fault_cases import BARRIER, FARM, installations, one, reads
from .said import said


class Everywhere(TestCase):
    def test_what_arrives_is_what_the_network_says_wherever_a_part_changes_its_state(self) -> None:
        """Few points are solved, and straight lines drawn between: against the network at each of nine."""
        tried, starving = 0, 0
        for at in installations().values():
            signal, plan = at.sound.signal, at.wired
            if signal is None or plan is None:
                continue
            sent = np.unique([*np.linspace(0.0, signal.fault_high * 1.05, 7), signal.low, signal.high])
            for fault in faults_of(at):
                circuit = Wrong(at, fault).circuit
                if circuit is None or circuit == plan:
                    continue
                with self.subTest(f"{fault.kind.key} {fault.value}"):
                    solved = [by_network(circuit, signal, float(one)) for one in sent]
                    found = arriving(circuit, signal, sent)
                    np.testing.assert_allclose(found, solved, rtol=1e-9, atol=1e-9 * signal.high)
                tried += 1
                starving += solved[-1] < 0.98 * sent[-1]
        self.assertGreater(tried, 300)
        self.assertGreater(starving, 50)


def by_network(circuit: Circuit, signal: Signal, sent: float) -> float:
    """What arrives by the network itself; nothing where it has no answer."""
    sensor, share = circuit.sensor, 0.5
    if sensor.kind == "three_wire":
        low, high = sensor.value("out_low_v"), sensor.value("out_high_v")
        share = (sent - low) / (high - low)
    try:
        return transfer.arriving(circuit, signal, Condition(current_a=max(sent, 1e-7), share=share))
    except InputError:
        return signal.nothing


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

    def test_what_is_let_into_a_wire_lies_in_that_wire_alone(self) -> None:
        part = Part("left", "calibrator", "Calibrator", "panel", {"amp": 0.008})
        for into in self.loop.wires:
            made = edit_circuit(self.loop, Insert(into.id, part))
            near, far = (next(w for w in made.wires if w.id == f"{into.id}~{end}") for end in (1, 2))
            self.assertEqual((near.a, far.b), (into.a, into.b))
            self.assertEqual((near.b, far.a), tuple(f"left.{terminal}" for terminal in part.terminals[:2]))
            self.assertEqual([w for w in made.wires if w not in (near, far)],
                             [w for w in self.loop.wires if w != into])  # fmt: skip

    def test_leads_touched_together_read_what_leads_have(self) -> None:
        self.assertEqual(ohms(self.loop, self.loop, "field.+", "field.+"), 0.1)

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

    def test_where_level_is_taken_for_distance_the_number_is_turned_about_and_the_counts_are_not(self) -> None:
        for level in (0.1, 0.5, 0.8):
            self.assertAlmostEqual(
                reads("backwards", "counts", self.at, level), reads("nothing", "counts", self.at, level)
            )
            number = reads("nothing", "number", self.at, 1 - level)
            self.assertAlmostEqual(
                reads("backwards", "number", self.at, level), number, delta=1e-3 * abs(number) + 0.5
            )

    def test_a_screen_that_takes_level_for_distance_has_a_sound_number_before_it(self) -> None:
        """What Scale says of where a chain parts (“takes level for distance”), by the very same settings."""
        at = installations()["two-wire radar, to a card that shows it"]
        kept = {edit.path: edit.value for edit in one("screen-backwards", at).fault.edits if isinstance(edit, Set)}
        told = [h for h in hypotheses(at.sound, ["shown"]) if h.why == "takes level for distance"]
        self.assertIn(kept, [each.settings for each in told])
        for level in (0.1, 0.5, 0.8):
            self.assertEqual(reads("screen-backwards", "number", at, level), reads("nothing", "number", at, level))
            # From the reference point down to the surface: what it shows and what is so add up to its height.
            both = reads("screen-backwards", "shown", at, level) + reads("nothing", "shown", at, level)
            self.assertAlmostEqual(both, at.sound.screen.reference_m * 1000, delta=1)

    def test_noise_and_lags_are_met_behind_where_they_arise_alone(self) -> None:
        def unrest(key: str, test: str, value: float | None = None) -> float:
            """Standard deviation of what a test reads, by its station's span."""
            common = Common(self.at, np.array([0.5 * self.at.sound.top_m]))
            reader, how = Reader(one(key, self.at, value), common), fault_tests()[test]
            return float(read(reader, how).sd[0]) / self.at.spans[station_of(how, self.at)]

        quiet = fault_tests()["counts"].share
        self.assertAlmostEqual(unrest("nothing", "counts"), quiet)
        for value in (0.05, 0.25):
            self.assertAlmostEqual(unrest("sensor-noisy", "counts", value), np.hypot(quiet, value), places=6)
            self.assertAlmostEqual(unrest("channel-noisy", "counts", value), np.hypot(quiet, value), places=6)
            # A calibrator's steady value leaves the sensor's own unrest behind, and the channel's stays.
            self.assertAlmostEqual(unrest("sensor-noisy", "inject-50", value), fault_tests()["inject-50"].share)
            self.assertGreater(unrest("channel-noisy", "inject-50", value), value)
        # A filter too long is a tenth of the span behind while the level moves, and nothing behind a steady value.
        self.assertAlmostEqual(unrest("filter", "counts"), quiet)
        self.assertAlmostEqual(unrest("filter", "number"), np.hypot(fault_tests()["number"].share, 0.1), places=6)
        self.assertLess(unrest("filter", "inject-far"), 0.02)

    def test_the_settings_that_stood_here_before_are_known(self) -> None:
        """A sensor of another range was fitted, and the scaling is the one for the sensor before it."""
        fuel = {"sensor__quantity": "pressure", "liquid__density": "840 kg/m3"}
        before, now = (chain("upright", **fuel, sensor__high=high) for high in ("0.4 bar", "0.25 bar"))
        at = replace(self.at, chain=now, former=(before,))
        kinds = [each.kind.key for each in faults_of(at)]
        # The scaling alone was another: of input and screen, and of what never was, nothing is made up.
        self.assertEqual([key for key in kinds if key.endswith("-before")], ["scaling-before"])
        self.assertNotIn("scaling-before", [each.kind.key for each in faults_of(self.at)])
        for level in (0.2, 0.7):
            counts = reads("nothing", "counts", at, level)
            self.assertAlmostEqual(reads("scaling-before", "counts", at, level), counts)
            by_old = float(before.ideal.forward("counts", "number", np.array([counts]), exact=False)[0])
            self.assertAlmostEqual(reads("scaling-before", "number", at, level), by_old, places=6)
        self.assertNotEqual(at.signature, replace(at, former=()).signature)

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


class Pasted(TestCase):
    """What is said of a row of readings that was pasted, from 0 to 100, with an unrest of 0.05."""

    def says(self, values: np.ndarray, every_s: float) -> str:
        return said(judge_series(values, every_s, 0.0, 100.0, 0.05).says)

    def test_what_swings_is_told_by_how_fast_it_does(self) -> None:
        unrest = np.random.default_rng(1).normal(0, 0.05, 200)
        # Periods of the trade, no published source: mains, waves, pumps, the day.
        for period_s, cause in ((1.5, "mains"), (15.0, "waves"), (150.0, "a pump or a valve"), (1500.0, "the sun")):
            swing = 50 + 0.2 * np.sin(2 * np.pi * np.arange(200) * 0.04)
            words = self.says(swing + unrest / 10, 0.04 * period_s)
            self.assertIn("it swings every", words)
            self.assertIn(f": {cause}", words)
            self.assertAlmostEqual(float(words.split(" s:")[0].split()[-1]) / period_s, 1, delta=0.1)

    def test_what_stands_jumps_creeps_or_is_restless(self) -> None:
        unrest = np.random.default_rng(2).normal(0, 0.05, 128)
        for words, values in (
            ("the very same value 128 times", np.full(128, 40.0)),
            ("it stands at the highest that it can read", np.r_[np.full(127, 50.0), 100.0]),
            ("it stands at the lowest that it can read", np.r_[np.full(127, 50.0), 0.0]),
            ("it jumps by 4", 20 + 40 * (np.arange(128) > 60) + unrest),
            ("it is more restless than it should be", 50 + 40 * unrest),
            ("it creeps by 0.002 a second", 50 + np.arange(128) * 0.002 + unrest / 10),
            ("it moves as a level does", 50 + unrest),
        ):
            with self.subTest(words):
                self.assertTrue(self.says(values, 1.0).startswith(words), self.says(values, 1.0))
