"""A cable rung out, what arrived, the supply before it is connected, the kit; and fields as they are typed."""

from __future__ import annotations

from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from rasante.core.gauges.plan import read_gauge_plan
from rasante.core.quantities.errors import InputError
from rasante.core.quantities.form import Form
from rasante.core.quantities.signals import OUTPUTS, link_of
from rasante.core.wiring.receiving import judge_supply, kit_list, read_arrived, read_measured_supply, receiving_check
from rasante.core.wiring.ring_out import ring_out
from rasante.core.wiring.start import wiring_start

from .gauge_cases import VENT, lying, model
from .said import said

PINS = ("1", "2", "3", "4")
WIRES = ("brown", "white", "blue", "black")


def matrix(goes: dict[str, str], ohm: str = "0.8", otherwise: str = "OL") -> list[list[str]]:
    return [[ohm if goes.get(pin) == wire else otherwise for wire in WIRES] for pin in PINS]


class RungOut(TestCase):
    @settings(max_examples=60, deadline=None)
    @given(st.permutations(WIRES))
    def test_any_order_is_found(self, order) -> None:
        goes = dict(zip(PINS, order, strict=True))
        found = ring_out(PINS, WIRES, matrix(goes), WIRES)
        self.assertEqual({f.pin: f.conductors[0] for f in found.findings}, goes)
        self.assertTrue(all(f.state == "joined" for f in found.findings))
        swaps = {
            tuple(sorted((a, b)))
            for a in PINS
            for b in PINS
            if a != b and goes[a] == WIRES[PINS.index(b)] and goes[b] == WIRES[PINS.index(a)]
        }
        self.assertEqual(set(found.swapped), swaps)

    def test_open_short_doubtful(self) -> None:
        ohms = matrix({"1": "brown", "2": "white", "3": "blue", "4": "black"})
        ohms[3] = ["OL", "OL", "OL", "OL"]
        ohms[0][1] = "0.9"
        found = ring_out(PINS, WIRES, ohms)
        states = {f.pin: f.state for f in found.findings}
        self.assertEqual(states, {"1": "short", "2": "short", "3": "joined", "4": "open"})
        self.assertEqual(found.unused, ("black",))
        wet = matrix({"1": "brown", "2": "white", "3": "blue", "4": "black"})
        wet[0][1] = "47 kΩ"
        self.assertIn("leakage", ring_out(PINS, WIRES, wet).findings[0].says)
        crimp = matrix({"1": "brown", "2": "white", "3": "blue", "4": "black"})
        crimp[2][2] = "180"
        self.assertEqual(ring_out(PINS, WIRES, crimp).findings[2].state, "doubtful")

    def test_what_was_not_measured_is_not_said_to_be_open(self) -> None:
        ohms = [["", "", "", ""] for _ in PINS]
        found = ring_out(PINS, WIRES, ohms)
        self.assertEqual({f.state for f in found.findings}, {"unread"})
        self.assertEqual(found.unused, ())
        ohms[0] = ["OL", "", "", ""]
        self.assertEqual(ring_out(PINS, WIRES, ohms).findings[0].state, "unread")

    def test_what_cannot_be_read_is_refused_at_its_cell(self) -> None:
        ohms = matrix({})
        ohms[1][2] = "twelve"
        ohms[3][0] = "-4"
        with self.assertRaises(InputError) as refused:
            ring_out(PINS, WIRES, ohms)
        self.assertEqual([p.where for p in refused.exception.problems], ["ohms[1][2]", "ohms[3][0]"])
        for pins in ((), ("1", "1"), tuple(str(n) for n in range(30))):
            with self.assertRaises(InputError):
                ring_out(pins, WIRES, [])


class Receiving(TestCase):
    def check(self, **got: str) -> dict[str, tuple[bool | None, str]]:
        form = Form({f"got.{key}": text for key, text in got.items()}, "metric")
        found = receiving_check(model("hydrostatic"), "4-20mA two-wire", 5.0, read_arrived(form))
        assert form.problems == [], form.problems
        return {check.key: (check.agrees, said(check.says)) for check in found}

    def test_all_as_ordered(self) -> None:
        got = self.check(
            range="2.5 m", output="4-20mA two-wire", wires="2", supply_least="9 V", supply_most="32 V", cable="5 m",
            materials="yes",
        )  # fmt: skip
        self.assertTrue(all(agrees for agrees, _ in got.values()))
        self.assertEqual({agrees for agrees, _ in self.check().values()}, {None})

    def test_more_wires_than_any_sensor_has_are_refused(self) -> None:
        for wires, right in (("12", True), ("13", False), ("0", False)):
            form = Form({"got.wires": wires}, "metric")
            read_arrived(form)
            self.assertEqual(not form.problems, right, wires)

    def test_each_difference_says_what_follows(self) -> None:
        got = self.check(
            range="5 m", output="0-10V three-wire", wires="3", supply_least="14 V", supply_most="30 V", cable="2 m",
            materials="no",
        )  # fmt: skip
        self.assertFalse(any(agrees for agrees, _ in got.values()))
        self.assertIn("the cable's length", got["range"][1])
        self.assertIn("1.60 times off", self.check(range="4 m")["range"][1])
        self.assertIn("3.0 m too short", got["cable"][1])
        self.assertIn("takes 2 wires", got["wires"][1])

    def test_wires_of_outputs(self) -> None:
        counts = {"4-20mA two-wire": 2, "0-10V three-wire": 3, "4-20mA four-wire": 4, "digital RS-485": 4}
        for output, count in counts.items():
            self.assertEqual(OUTPUTS[output].wires, count)

    def test_the_supply_before_it_is_connected(self) -> None:
        cases = {
            "24.1 V": "supply-right",
            "27 V": "supply-off",
            "8 V": "supply-low",
            "40 V": "supply-high",
            "-24 V": "supply-reversed",
        }
        for volts, code in cases.items():
            measured = read_measured_supply(Form({"got.measured": volts}, "metric"))
            assert measured is not None
            found = judge_supply(measured, 10, 36, 24)
            self.assertEqual(found.code, code, volts)
        self.assertIsNone(read_measured_supply(Form({}, "metric")))

    def test_the_kit_follows_from_method_product_and_link(self) -> None:
        kit = kit_list("petrol", model("capacitance"), "three_wire", "38 mm", True)
        self.assertEqual(len(kit), len(set(kit)))
        for item in ("Saw, file", "Gas detector", "Plugs, studs and sleeves", "Adapter for the opening: 38 mm"):
            self.assertIn(item, kit)
        water = kit_list("drinking water", model("rods"), "contact", "", False)
        self.assertIn("Disinfectant", water)
        self.assertNotIn("Gas detector", water)
        self.assertIn("Coupling grease", kit_list("propane", model("sonar"), "digital", "", False))


class Plans(TestCase):
    def plan(self, **entries: str):
        models = {"probe": model("capacitance", range_max_mm=3000), "rods": model("rods"), "radar": model("radar")}
        typed = {key.replace("__", "."): value for key, value in entries.items()}
        return read_gauge_plan(typed, lying(), VENT, models, "metric")

    def test_a_choice_against_the_advice_asks_for_its_reason(self) -> None:
        plan = self.plan(choice__model="rods")
        self.assertTrue(plan.against)
        self.assertIn("say why", next(p.what for p in plan.form.problems if p.where == "choice.reason"))
        self.assertEqual(self.plan(choice__model="rods", choice__reason="the owner insists").form.problems, [])

    def test_what_is_cut_follows_from_the_choice(self) -> None:
        self.assertIsNotNone(self.plan(choice__model="probe").probe)
        self.assertIsNotNone(self.plan(choice__model="rods").rods)
        radar = self.plan(choice__model="radar")
        self.assertEqual((radar.probe, radar.cable, radar.rods), (None, None, None))
        self.assertEqual(radar.output, "4-20mA two-wire")
        # An output of another model is not kept.
        self.assertEqual(self.plan(choice__model="radar", choice__output="relay contact").output, "4-20mA two-wire")

    def test_the_spot_hears_of_the_beam_and_the_blanking(self) -> None:
        plan = self.plan(choice__model="radar", spot__x="100 mm", site__riser="-250 mm")
        found = {judgement.code for judgement in plan.at_the_spot}
        self.assertLessEqual({"beam", "blanking"}, found)
        self.assertNotIn("clear", found)
        self.assertIn("clear", {judgement.code for judgement in self.plan(choice__model="radar").at_the_spot})

    def test_links_and_their_beginnings(self) -> None:
        self.assertEqual(link_of("0-5V three-wire"), "three_wire")
        self.assertEqual(link_of("relay contact"), "contact")
        start = wiring_start(model("radar"), "4-20mA two-wire", True)
        self.assertEqual(start["sensor.lift_off"], "12 V")
        self.assertEqual(start["barrier"], "yes")
        self.assertEqual(wiring_start(None, "", True), {})

    @settings(max_examples=150, deadline=None)
    @given(st.data())
    def test_whatever_is_typed_is_read_or_refused_at_its_field(self, data) -> None:
        paths = [
            "site.highest", "site.lowest", "site.temperature_low", "site.pressure", "site.density_low", "site.zone",
            "site.bore", "site.riser", "site.sediment", "site.supply", "spot.x", "spot.y", "spot.pad_tilt",
            "cut.depth", "cut.gap", "cut.done", "cut.school", "rods.start", "rods.stop", "rods.piece",
            "obstacles[0].kind", "obstacles[0].x", "obstacles[1].radius", "choice.model",
            "choice.output", "cable.have",
        ]  # fmt: skip
        text = st.one_of(
            st.sampled_from(["1 m", "300 mm", "-5", "1e400", "5 bar", "yes", "sprung", "float", "probe", "½ in"]),
            st.text(max_size=10),
        )
        typed = {path: data.draw(text) for path in data.draw(st.lists(st.sampled_from(paths), max_size=8))}
        models = {
            "probe": model("capacitance", range_max_mm=3000),
            "rods": model("rods"),
            "wet": model("hydrostatic"),
        }
        typed["choice.model"] = data.draw(st.sampled_from([*models, "none"]))
        plan = read_gauge_plan(typed, lying(), VENT, models, "metric")
        for problem in plan.form.problems:
            self.assertIn(
                problem.where,
                [
                    *typed,
                    "choice.reason",
                    "obstacles[0].x",
                    "obstacles[1].x",
                    "obstacles[1].kind",
                    "site.density_low",
                ],
            )
        if plan.probe:
            self.assertTrue(np.isfinite(plan.probe.cut_m))
        # What is kept reads back the same whatever a bare number means by then.
        if not plan.form.problems:
            again = read_gauge_plan(plan.form.kept, lying(), VENT, models, "us")
            self.assertEqual(again.form.problems, [])
            self.assertEqual(again.there, plan.there)


class Fields(TestCase):
    def test_bounds_and_units(self) -> None:
        form = Form({"a": "5 ft", "b": "-3 mm", "c": "lots", "d": "24", "e": "7", "f": "maybe"}, "metric")
        self.assertAlmostEqual(form.quantity("a", "length"), 1.524, 9)
        self.assertIsNone(form.quantity("b", "length"))
        self.assertIsNone(form.quantity("c", "voltage"))
        self.assertEqual(form.quantity("d", "voltage"), 24)
        self.assertIsNone(form.number("e", 0, 5))
        self.assertFalse(form.flag("f"))
        self.assertEqual({p.where for p in form.problems}, {"b", "c", "e", "f"})
        self.assertIn("at least 0 mm · 0 in", form.fields["b"].problem)
        self.assertEqual(form.kept["d"], "24 V")
        with self.assertRaises(InputError):
            form.require()
        self.assertEqual(Form({"x": " "}, "us").text("x"), "")
        long = Form({"x": "y" * 99}, "us")
        long.text("x", 40)
        self.assertEqual(long.fields["x"].state, "wrong")
