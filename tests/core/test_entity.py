"""Intrinsically safe loops by their entity parameters: each pair from both sides, and the cable's share by hand."""

from __future__ import annotations

from unittest import TestCase

from rasante.core.quantities.typed import read_quantity
from rasante.core.wiring.circuit import Circuit, check_circuit, circuit_document
from rasante.core.wiring.circuit_kinds import WiringForm, read_wiring
from rasante.core.wiring.circuit_rules import judge_circuit
from rasante.core.wiring.entity import Loop, judge_entity, loop_of

from .said import said

#: A usual 28 V, 93 mA barrier for gas group IIC, and a transmitter that fits it; made up.
BARRIER = {"work_v": 26.0, "uo_v": 28.0, "io_a": 0.093, "po_w": 0.65, "co_f": 83e-9, "lo_h": 4.2e-3}
SENSOR = {"ui_v": 30.0, "ii_a": 0.1, "pi_w": 0.75, "ci_f": 5e-9, "li_h": 10e-6}
TYPED = {
    "kind": "two_wire", "barrier": "yes", "supply.nominal": "22 V", "supply.most": "24 V",
    "barrier.working": "26 V", "barrier.uo": "28 V", "barrier.io": "93 mA", "barrier.po": "650 mW",
    "barrier.co": "83 nF", "barrier.lo": "4.2 mH", "sensor.ui": "30 V", "sensor.ii": "100 mA", "sensor.pi": "0.75 W",
    "sensor.ci": "5 nF", "sensor.li": "10 µH",
}  # fmt: skip


def loop(barrier: dict[str, float] | None = None, sensor: dict[str, float] | None = None, **keys: float) -> Loop:
    return Loop(
        {**BARRIER, **(barrier or {})}, {**SENSOR, **(sensor or {})}, **{"cable_m": 100, "supply_v": 24} | keys
    )


def codes(one: Loop) -> dict[str, str]:
    return {found.code: found.weight for found in judge_entity(one)}


def wired(**changes: str) -> WiringForm:
    return read_wiring({**TYPED, **{key.replace("__", "."): text for key, text in changes.items()}}, "metric")


def rules(circuit: Circuit) -> dict[str, str]:
    return {found.code: found.weight for found in judge_circuit(circuit, flammable=True)}


class Pairs(TestCase):
    def test_a_loop_that_fits(self) -> None:
        self.assertEqual(codes(loop()), {"entity": "good"})

    def test_each_pair_turns_where_it_is_equal(self) -> None:
        for code, part, key, at in (
            ("entity-voltage", "sensor", "ui_v", 28.0),
            ("entity-current", "sensor", "ii_a", 0.093),
            ("entity-power", "sensor", "pi_w", 0.65),
        ):
            with self.subTest(code):
                self.assertEqual(codes(loop(**{part: {key: at}})), {"entity": "good"})
                self.assertEqual(codes(loop(**{part: {key: at * 0.999}})), {code: "stop"})

    def test_the_cable_stores_too(self) -> None:
        # 200 pF and 1 µH a metre (IEC 60079-14, from memory): 390 m have 78 nF, and with 5 nF inside that is 83 nF.
        self.assertEqual(codes(loop(cable_m=390)), {"entity": "good"})
        self.assertEqual(codes(loop(cable_m=391)), {"entity-capacitance": "stop"})
        # 4.19 mH of cable and 10 µH inside are the 4.2 mH that are allowed; its capacitance set free.
        free = {"co_f": 1e-3}
        self.assertEqual(codes(loop(free, cable_m=4190)), {"entity": "good"})
        self.assertEqual(codes(loop(free, cable_m=4191)), {"entity-inductance": "stop"})

    def test_the_words_and_the_numbers_behind_them(self) -> None:
        found = judge_entity(loop({"co_f": 60e-9}, cable_m=300))[0]
        # 300 m have 60 nF, and 5 nF are inside.
        self.assertEqual(said(found), "Sensor and 300 m of cable have 65 nF together; the barrier allows 60 nF (Co).")
        assert found.value is not None and found.limit is not None
        self.assertAlmostEqual(found.value, 65e-9, places=15)
        self.assertAlmostEqual(found.limit, 60e-9, places=15)
        found = judge_entity(loop(sensor={"ii_a": 0.05}))[0]
        self.assertEqual(said(found), "The barrier lets up to 93 mA out (Io); the sensor may take 50 mA (Ii).")
        self.assertEqual((found.value, found.limit), (0.093, 0.05))

    def test_the_working_voltage(self) -> None:
        self.assertEqual(codes(loop(supply_v=26.0)), {"entity": "good"})
        self.assertEqual(codes(loop(supply_v=26.1)), {"barrier-supply": "stop"})
        # Nothing stated: no usual barrier works on 35 V.
        bare = Loop({}, {}, 10, 35.0)
        self.assertEqual(codes(bare), {"barrier-supply": "stop", "entity-missing": "watch"})
        self.assertIn("may reach 35.0 V", said(judge_entity(bare)[0]))
        self.assertEqual(codes(Loop({}, {}, 10, 24.0)), {"entity-missing": "watch"})

    def test_what_is_not_stated_is_named_one_by_one(self) -> None:
        barrier = {key: value for key, value in BARRIER.items() if key != "co_f"}
        sensor = {key: value for key, value in SENSOR.items() if key != "li_h"}
        found = judge_entity(Loop(barrier, sensor, 100, 24))
        self.assertEqual([one.code for one in found], ["entity-missing"])
        self.assertIn("Not stated: of the barrier Co; of the sensor Li.", said(found[0]))
        # What is negligible is stated as nothing, and that is a statement.
        self.assertEqual(codes(loop(sensor={"ci_f": 0.0, "li_h": 0.0})), {"entity": "good"})


class Wired(TestCase):
    def test_as_typed_on_the_screen(self) -> None:
        form = wired()
        self.assertEqual(form.form.problems, [])
        found = loop_of(form.circuit)
        assert found is not None
        for key, value in {**BARRIER, **SENSOR}.items():
            self.assertAlmostEqual({**found.barrier, **found.sensor}[key] / value, 1.0, 12, key)
        self.assertEqual((found.cable_m, found.supply_v), (10.0, 24.0))
        self.assertEqual(rules(form.circuit)["entity"], "good")

    def test_thirty_five_volts_on_a_barrier_are_a_stop(self) -> None:
        bare = read_wiring({"kind": "two_wire", "barrier": "yes", "supply.most": "35 V"}, "metric")
        for form in (wired(supply__nominal="32 V", supply__most="35 V"), bare):
            self.assertEqual(rules(form.circuit)["barrier-supply"], "stop")
            self.assertNotIn("wired", rules(form.circuit))

    def test_without_a_barrier_nothing_is_asked(self) -> None:
        form = read_wiring({"kind": "two_wire"}, "metric")
        self.assertIsNone(loop_of(form.circuit))
        self.assertFalse({code for code in rules(form.circuit) if code.startswith(("entity", "barrier"))})
        self.assertIn("no-barrier", rules(form.circuit))

    def test_an_input_that_feeds_the_loop_is_its_supply(self) -> None:
        found = loop_of(wired(input__mode="active", input__volt="30 V").circuit)
        assert found is not None
        self.assertEqual(found.supply_v, 30.0)

    def test_it_is_kept_in_the_circuit_s_file(self) -> None:
        again = check_circuit(circuit_document(wired().circuit))
        self.assertEqual(loop_of(again), loop_of(wired().circuit))

    def test_units(self) -> None:
        for text, quantity, value in (
            ("83 nF", "capacitance", 83e-9), ("0.083 µF", "capacitance", 83e-9), ("83000 pF", "capacitance", 83e-9),
            ("83", "capacitance", 83e-9), ("4,2 mH", "inductance", 4.2e-3), ("240 µH", "inductance", 240e-6),
            ("650", "power", 0.65), ("0.65 W", "power", 0.65),
        ):  # fmt: skip
            with self.subTest(text):
                self.assertAlmostEqual(read_quantity(text, quantity, "metric") / value, 1.0, 12)
        self.assertEqual(wired().form.fields["barrier.co"].says, "83 nF")
