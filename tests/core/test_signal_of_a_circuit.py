"""A circuit and its chain speak of one signal: it starts the chain, and where the two differ that is told."""

from __future__ import annotations

from unittest import TestCase

from rasante.core.quantities.signals import OUTPUTS, SIGNALS
from rasante.core.scaling.chain_form import chain_start, read_chain
from rasante.core.scaling.chain_judge import judge_chain
from rasante.core.wiring.circuit import Circuit
from rasante.core.wiring.circuit_kinds import read_wiring
from rasante.core.wiring.transfer import carried

from .chain_cases import file_of, ground
from .gauge_cases import model


def wired(**entries: str) -> Circuit:
    return read_wiring({key.replace("__", "."): text for key, text in entries.items()}, "metric").circuit


def codes(kind: str, circuit: Circuit) -> dict[str, str]:
    file = file_of("lying")
    found = read_chain({"signal.kind": kind, "sensor.high": "2 m"}, ground(file, circuit=circuit), "metric")
    assert found.chain is not None, found.form.problems
    return {one.code: one.weight for one in judge_chain(found.chain, "metric")}


class Carried(TestCase):
    def test_every_output_of_the_registry_is_carried_by_its_own_circuit(self) -> None:
        for name, output in OUTPUTS.items():
            entries = {"kind": output.link}
            if output.link == "three_wire":
                entries["output"] = name.partition("V")[0]
            with self.subTest(name):
                self.assertEqual(carried(wired(**entries))[:1], (output.signal,) if output.signal else ())

    def test_only_what_feeds_itself_may_send_down_to_nothing(self) -> None:
        self.assertEqual(carried(wired(kind="two_wire")), ("ma4",))
        self.assertEqual(carried(wired(kind="four_wire")), ("ma4", "ma0"))


class Started(TestCase):
    def test_a_chain_starts_from_its_circuit_where_no_gauge_is_planned(self) -> None:
        file = file_of("lying")
        circuit = wired(kind="three_wire", output="2-10")
        self.assertEqual(chain_start(file, None, "", None, "metric", circuit)["signal.kind"], "v210")
        self.assertNotIn("signal.kind", chain_start(file, None, "", None, "metric"))
        gauge = model("hydrostatic")
        self.assertEqual(chain_start(file, gauge, "4-20mA two-wire", None, "metric", circuit)["signal.kind"], "ma4")
        # A float with no output of its own says nothing of what is wired beside it.
        self.assertEqual(chain_start(file, model("float"), "", None, "metric", circuit)["signal.kind"], "v210")


class Judged(TestCase):
    def test_another_signal_than_the_circuits_is_a_stop(self) -> None:
        for kind, circuit, told in (
            ("v10", wired(kind="three_wire", output="2-10"), True),
            ("v210", wired(kind="three_wire", output="2-10"), False),
            ("ma4", wired(kind="three_wire", output="0-10"), True),
            ("ma0", wired(kind="two_wire"), True),
            ("ma0", wired(kind="four_wire"), False),
            ("ma4", wired(kind="contact"), True),
        ):
            with self.subTest(kind=kind, sensor=circuit.sensor.kind):
                self.assertEqual(codes(kind, circuit).get("other-signal"), "stop" if told else None)

    def test_the_words_name_both(self) -> None:
        file = file_of("lying")
        circuit = wired(kind="three_wire", output="2-10")
        c = read_chain({"signal.kind": "v10"}, ground(file, circuit=circuit), "metric").chain
        assert c is not None
        told = next(one for one in judge_chain(c, "metric") if one.code == "other-signal")
        self.assertEqual(told.numbers["signal"], SIGNALS["v10"].name)
        self.assertEqual(told.numbers["wired"], SIGNALS["v210"].name)
