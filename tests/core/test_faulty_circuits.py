"""Circuits with something wrong in them, as data: what the meter measures, by Ohm and Kirchhoff by hand."""

from __future__ import annotations

from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from rasante.core.quantities.errors import InputError
from rasante.core.quantities.signals import SIGNALS
from rasante.core.wiring.circuit import Circuit, check_circuit, circuit_document
from rasante.core.wiring.circuit_kinds import read_wiring
from rasante.core.wiring.circuit_network import Condition
from rasante.core.wiring.circuit_rules import judge_circuit
from rasante.core.wiring.edits import Leak, Lift, Series, Swap, edit_circuit
from rasante.core.wiring.meter import Leads, measure
from rasante.core.wiring.transfer import arriving, transfer
from tests.tags import slow

#: A loop of 24 V and an input of 250 Ω, its wire too short and thick to count.
LOOP = {
    "cable[0].length": "0.1 m",
    "cable[0].size": "2.5 mm²",
    "input.ohm": "250 Ω",
    "fuse": "no",
    "supply.nominal": "24 V",
}
MA4 = SIGNALS["ma4"]
OVER_SENSOR = Leads("V", "sensor.+", "sensor.−")


def circuit(**entries: str) -> Circuit:
    made = read_wiring({**LOOP, **{key.replace("__", "."): text for key, text in entries.items()}}, "metric")
    assert made.form.problems == [], made.form.problems
    return made.circuit


def feed_wire(one: Circuit) -> str:
    """The wire at the sensor's plus."""
    return next(wire.id for wire in one.wires if "sensor.+" in (wire.a, wire.b))


class Measured(TestCase):
    @settings(max_examples=40, deadline=None)
    @given(st.floats(0.004, 0.020), st.floats(1, 300))
    def test_a_bad_splice_takes_its_volts_and_no_current(self, amp, ohm) -> None:
        sound = circuit()
        bad = edit_circuit(sound, Series(feed_wire(sound), ohm))
        there = Condition(current_a=amp)
        # By hand: 24 V less the current through 250 Ω, and through the splice.
        self.assertAlmostEqual(measure(sound, there, OVER_SENSOR), 24 - amp * 250, delta=5e-3)
        self.assertAlmostEqual(measure(bad, there, OVER_SENSOR), 24 - amp * (250 + ohm), delta=5e-3)
        self.assertAlmostEqual(arriving(bad, MA4, there), amp, delta=1e-9)

    @settings(max_examples=40, deadline=None)
    @given(st.floats(0.004, 0.018), st.floats(2e3, 1e6))
    def test_a_leak_beside_the_sensor_adds_to_what_it_sends(self, amp, ohm) -> None:
        bad = edit_circuit(circuit(), Leak("sensor.+", "sensor.−", ohm))
        # By hand: I = amp + U/R over the sensor, U = 24 − 250 I.
        by_hand = (amp + 24 / ohm) / (1 + 250 / ohm)
        self.assertAlmostEqual(arriving(bad, MA4, Condition(current_a=amp)), by_hand, delta=4e-6)

    def test_a_wire_off_or_the_wrong_way_round_sends_nothing(self) -> None:
        sound = circuit()
        for edit in (Lift(feed_wire(sound)), Swap("sensor.+", "sensor.−")):
            self.assertAlmostEqual(arriving(edit_circuit(sound, edit), MA4, Condition()), 0.0, delta=5e-6)

    def test_too_much_in_the_loop_holds_the_signal_down(self) -> None:
        # By hand: short of its 10 V one that means 20 mA is the 500 Ω that it is there; 24 V over 1500 Ω is 16 mA.
        sound = circuit(sensor__lift_off="10 V")
        bad = edit_circuit(sound, Series(feed_wire(sound), 750.0))
        self.assertAlmostEqual(arriving(bad, MA4, Condition(current_a=0.012)), 0.012, delta=1e-6)
        self.assertAlmostEqual(arriving(bad, MA4, Condition(current_a=0.020)), 0.016, delta=1e-5)

    def test_a_calibrator_left_in_the_loop_holds_it(self) -> None:
        # In series the smaller of two currents flows: 12 mA meant, 8 mA let through.
        left = circuit(calibrator="yes", calibrator__current="8 mA")
        self.assertAlmostEqual(arriving(left, MA4, Condition(current_a=0.012)), 0.008, delta=1e-5)
        self.assertAlmostEqual(arriving(left, MA4, Condition(current_a=0.006)), 0.006, delta=1e-5)
        self.assertEqual(next(j.weight for j in judge_circuit(left, False) if j.code == "calibrator"), "stop")

    def test_without_its_supply_no_kind_sends_anything(self) -> None:
        for kind, signal, ohm in (
            ("two_wire", "ma4", "250 Ω"),
            ("three_wire", "v10", "1 MΩ"),
            ("four_wire", "ma4", "250 Ω"),
        ):
            made = circuit(kind=kind, input__ohm=ohm)
            with self.subTest(kind):
                there = Condition(current_a=0.012, share=0.5)
                self.assertGreater(arriving(made, SIGNALS[signal], there), 0.4 * SIGNALS[signal].span)
                off = Condition(current_a=0.012, share=0.5, supply="off")
                self.assertAlmostEqual(arriving(made, SIGNALS[signal], off), 0.0, delta=5e-6)


class Edits(TestCase):
    def test_the_circuit_that_is_edited_stays_as_it_was(self) -> None:
        sound = circuit()
        before = circuit_document(sound)
        for edit in (Series(feed_wire(sound), 9.0), Leak("sensor.+", "input.−", 50.0), Lift(feed_wire(sound))):
            self.assertNotEqual(circuit_document(edit_circuit(sound, edit)), before)
            self.assertEqual(circuit_document(sound), before)

    def test_a_faulty_circuit_is_written_and_read_back(self) -> None:
        sound = circuit()
        bad = edit_circuit(edit_circuit(sound, Series(feed_wire(sound), 33.0)), Leak("sensor.+", "sensor.−", 4700.0))
        again = check_circuit(circuit_document(bad))
        there = Condition(current_a=0.009)
        self.assertEqual(arriving(again, MA4, there), arriving(bad, MA4, there))
        self.assertNotEqual(arriving(again, MA4, there), arriving(sound, MA4, there))

    def test_what_the_circuit_has_not_is_refused(self) -> None:
        for edit in (Series("moon", 1.0), Lift("moon"), Leak("moon.+", "sensor.+", 1.0), Swap("sensor.+", "moon")):
            with self.assertRaises(InputError) as refused:
                edit_circuit(circuit(), edit)
            self.assertIn("moon", refused.exception.problems[0].what)


@slow
class Transfers(TestCase):
    """What arrives for whatever is sent: the curve that a chain uses against the network solved at each value."""

    def test_it_is_the_network_everywhere(self) -> None:
        sound = circuit(sensor__lift_off="10 V")
        for made in (
            sound,
            edit_circuit(sound, Series(feed_wire(sound), 750.0)),
            edit_circuit(sound, Leak("sensor.+", "sensor.−", 5000.0)),
            circuit(calibrator="yes", calibrator__current="8 mA"),
        ):
            curve = transfer(made, MA4)
            assert curve is not None
            sent = np.linspace(MA4.fault_low, MA4.fault_high, 37)
            solved = [arriving(made, MA4, Condition(current_a=float(value))) for value in sent]
            np.testing.assert_allclose(curve.forward(sent), solved, atol=1e-6)
            inside = np.array([0.005, 0.007])
            np.testing.assert_allclose(curve.backward(curve.forward(inside)), inside, atol=1e-7)

    def test_a_voltage_arrives_as_it_was_sent_where_nothing_draws_it(self) -> None:
        """A megohm behind a decimetre of wire: the divider takes less than a thousandth."""
        for output, key in (("1-5", "v15"), ("0-10", "v10")):
            signal = SIGNALS[key]
            curve = transfer(circuit(kind="three_wire", output=output, input__ohm="1 MΩ"), signal)
            assert curve is not None, key
            sent = np.linspace(signal.low, signal.high, 9)
            np.testing.assert_allclose(curve.forward(sent), sent, atol=1e-3 * signal.span)
