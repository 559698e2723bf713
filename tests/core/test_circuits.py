"""Circuits as they are wired: made from choices, written, read, judged, drawn, and probed with the meter."""

from __future__ import annotations

from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from rasante.core.quantities.errors import InputError
from rasante.core.wiring.circuit import MOST_WIRES, check_circuit, circuit_document
from rasante.core.wiring.circuit_drawing import draw_circuit, terminal_list
from rasante.core.wiring.circuit_kinds import LINKS, read_wiring
from rasante.core.wiring.circuit_network import Condition, elements, joined
from rasante.core.wiring.circuit_rules import judge_circuit
from rasante.core.wiring.loop_budget import loop_budget
from rasante.core.wiring.meter import FUSE_A, SHUNT_OHM, VOLT_OHM, Leads, read_meter
from rasante.core.wiring.network import solve
from rasante.core.wiring.voltage_link import voltage_link

from .said import said

LOOP = {"cable[0].length": "100 m", "cable[0].size": "0.5 mm²", "meter": "yes"}
SWAPPED = {"end.cable11b>sensor+.b": "sensor.−", "end.cable12b>sensor−.b": "sensor.+"}


def circuit(entries: dict[str, str]):
    wiring = read_wiring(entries, "metric")
    assert wiring.form.problems == [], wiring.form.problems
    return wiring.circuit


def codes(entries: dict[str, str], flammable: bool = False) -> dict[str, str]:
    return {judgement.code: judgement.weight for judgement in judge_circuit(circuit(entries), flammable)}


class Documents(TestCase):
    def test_every_link_is_written_and_read_back(self) -> None:
        for kind in LINKS:
            made = circuit({"kind": kind, **LOOP, "barrier": "yes", "cable[1].length": "5 m", "shield": "both"})
            again = check_circuit(circuit_document(made))
            self.assertEqual(circuit_document(again), circuit_document(made))
            self.assertEqual(again.points, made.points)

    def test_what_is_wrong_is_said_at_its_place(self) -> None:
        good = circuit_document(circuit(LOOP))
        cases = (
            ({"format": "other"}, "format"),
            ({"parts": good["parts"] + [{"id": "x", "kind": "toaster"}]}, "parts[7].kind"),
            ({"parts": good["parts"] + [good["parts"][0]]}, "parts[7].id"),
            ({"wires": [{"id": "a", "a": "supply.+", "b": "moon.1"}]}, "wires[0].b"),
            ({"wires": [{}] * (MOST_WIRES + 1)}, "wires"),
            ({"parts": [p for p in good["parts"] if p["id"] != "sensor"], "wires": []}, "parts"),
        )
        for changes, where in cases:
            with self.subTest(where), self.assertRaises(InputError) as refused:
                check_circuit({**good, **changes})
            self.assertIn(where, [problem.where for problem in refused.exception.problems])
        spoiled = circuit_document(circuit(LOOP))
        spoiled["parts"][0]["values"]["volt"] = -24
        with self.assertRaises(InputError) as refused:
            check_circuit(spoiled)
        self.assertEqual(refused.exception.problems[0].where, "parts[0].values.volt")

    def test_fields_that_cannot_be_read_are_blamed_and_the_circuit_stands(self) -> None:
        typed = {
            "kind": "morse",
            "supply.nominal": "lots",
            "cable[0].size": "7 stone",
            "end.w9.a": "x",
            "fuse": "maybe",
        }
        wiring = read_wiring(typed, "metric")
        self.assertEqual({p.where for p in wiring.form.problems}, {"kind", "supply.nominal", "cable[0].size", "fuse"})
        self.assertEqual(wiring.circuit.kind, "two_wire")
        inside_out = read_wiring({"supply.nominal": "24", "supply.least": "30"}, "metric")
        self.assertEqual(inside_out.form.problems[0].where, "supply.nominal")


class Rules(TestCase):
    def test_every_link_made_as_it_should_be_is_right(self) -> None:
        for kind in LINKS:
            for extra in ({}, LOOP, {"cable[1].length": "5 m"}, {"burden.ohm": "50"}):
                self.assertEqual(codes({"kind": kind, **extra}), {"wired": "good"}, (kind, extra))

        self.assertEqual(codes({**LOOP, "input.mode": "active"}), {"wired": "good"})

    def test_polarity(self) -> None:
        self.assertEqual(codes({**LOOP, **SWAPPED})["reversed"], "stop")
        moved = {"end.input−>meter+.a": "input.+", "end.input+>cable12a.a": "input.−"}
        self.assertEqual(codes({**LOOP, **moved})["input-reversed"], "stop")

    def test_exactly_one_supply(self) -> None:
        # An active four-wire output on an input that powers its loop, and an input that powers a loop with a supply.
        for kind in ("four_wire", "two_wire"):
            found = {j.code: said(j) for j in judge_circuit(circuit({"kind": kind, "input.mode": "both"}))}
            self.assertRegex(found["two-supplies"], "both drive this loop")
            self.assertIn("Input", found["two-supplies"])
        # A passive transmitter on a passive input with the supply's wire off.
        self.assertEqual(codes({"end.input−>supply−.b": "nowhere"})["no-supply"], "stop")

    def test_shorts_opens_and_fuses(self) -> None:
        self.assertEqual(codes({"extra[0].a": "supply.+", "extra[0].b": "supply.−"})["short"], "stop")
        self.assertEqual(codes({"extra[0].a": "sensor.+", "extra[0].b": "sensor.−"})["sensor-short"], "stop")
        self.assertEqual(codes({"extra[0].a": "cable1.1a", "extra[0].b": "supply.−"})["fuse-blows"], "stop")
        loose = codes({"end.cable12b>sensor−.b": "nowhere"})
        self.assertEqual((loose["open"], loose["not-connected"]), ("stop", "stop"))
        self.assertEqual(codes({"fuse": "no"})["no-fuse"], "watch")

    def test_shields_grounds_and_barriers(self) -> None:
        self.assertEqual(codes({"shield": "both"})["shield-loop"], "watch")
        self.assertEqual(codes({"shield": "none"})["shield-floats"], "watch")
        self.assertEqual(codes({"shield": "field"}), {"wired": "good"})
        self.assertEqual(codes({"shield": "no"}), {"wired": "good"})
        self.assertEqual(codes({"kind": "three_wire", "end.input−>supply−.b": "nowhere"})["no-common"], "stop")
        self.assertEqual(codes({}, flammable=True)["no-barrier"], "watch")
        self.assertNotIn(
            "no-barrier",
            codes({"barrier": "yes", "supply.least": "28", "supply.nominal": "28", "supply.most": "30"}, True),
        )

    @settings(max_examples=120, deadline=None)
    @given(st.data())
    def test_however_it_is_wired_it_is_judged_solved_and_drawn(self, data) -> None:
        kind = data.draw(st.sampled_from(list(LINKS)))
        base = {"kind": kind, "barrier": data.draw(st.sampled_from(["yes", "no"])), "shield": "panel"}
        wiring = read_wiring(base, "metric")
        points = st.sampled_from([*wiring.circuit.points, "nowhere"])
        moves = {
            f"end.{data.draw(st.sampled_from(wiring.planned)).id}.{data.draw(st.sampled_from('ab'))}": data.draw(
                points
            )
            for _ in range(data.draw(st.integers(0, 4)))
        }
        extra = {f"extra[0].{end}": data.draw(points) for end in "ab"}
        made = circuit({**base, **moves, **extra})
        found = judge_circuit(made)
        if any(judgement.code == "unsolved" for judgement in found):
            self.assertEqual(found[0].weight, "stop")
        else:
            loop_budget(made, 50.0)
            voltage_link(made, 50.0)
            for setting in ("V", "mA", "Ω"):
                red, black = data.draw(st.permutations(made.points))[:2]
                read_meter(made, Condition(), Leads(setting, red, black))
        self.assertGreater(len(found), 0)
        drawing = draw_circuit(made, {wire.id: (wire.a, wire.b) for wire in wiring.planned})
        self.assertEqual({spot.point for spot in drawing.spots}, set(made.points))
        self.assertEqual(len(drawing.lines), len(made.wires))
        for line in drawing.lines:
            for x, y in line.points:
                self.assertTrue(0 <= x <= drawing.width and 0 <= y <= drawing.height)

    def test_plugs(self) -> None:
        plugged = {"kind": "three_wire", "connector": "yes", "pin[0]": "1", "pin[1]": "2", "pin[2]": "3"}
        self.assertEqual(codes(plugged), {"wired": "good"})
        made = circuit({**plugged, "pin[1]": "4"})
        self.assertIn(("plug.4", "sensor.out"), [(wire.a, wire.b) for wire in made.wires])
        self.assertEqual(made.name("plug.4"), "M12 pin 4")
        same = read_wiring({"connector": "yes", "pin[0]": "1", "pin[1]": "1"}, "metric")
        self.assertIn("sensor-short", {judgement.code for judgement in judge_circuit(same.circuit)})
        self.assertEqual(loop_budget(same.circuit, 50).at[0].flows_a, 0.0)
        twice = read_wiring({**plugged, "pin[1]": "3"}, "metric").form.problems
        self.assertEqual({problem.where for problem in twice}, {"pin[1]", "pin[2]"})

    def test_the_supply_of_sensors_with_supply_wires(self) -> None:
        base = {"kind": "three_wire", "sensor.lift_off": "12 V", "sensor.most": "28 V"}
        self.assertEqual(codes({**base, "supply.nominal": "30 V"})["supply-high"], "stop")
        self.assertEqual(codes({**base, "supply.nominal": "13 V"})["supply-low"], "stop")
        self.assertEqual(codes(base), {"wired": "good"})


class Drawings(TestCase):
    def test_no_two_upright_stretches_lie_on_one_another(self) -> None:
        for kind in LINKS:
            made = circuit({"kind": kind, **LOOP, "barrier": "yes", "cable[1].length": "5 m"})
            drawing = draw_circuit(made, {})
            lanes = [(line.points[1][0]) for line in drawing.lines if len(line.points) == 4]
            self.assertEqual(len(lanes), len(set(lanes)), kind)

    def test_boxes_keep_clear_of_one_another(self) -> None:
        boxes = draw_circuit(circuit({**LOOP, "barrier": "yes", "cable[1].length": "5 m"}), {}).boxes
        for i, a in enumerate(boxes):
            for b in boxes[i + 1 :]:
                apart = a.x + a.width <= b.x or b.x + b.width <= a.x or a.y + a.height <= b.y or b.y + b.height <= a.y
                self.assertTrue(apart, (a.name, b.name))

    def test_terminals_stand_where_their_wires_leave(self) -> None:
        """At the panel on its right edge, in the field on its left; each in its box, and the boxes in their order."""
        for kind in LINKS:
            made = circuit({"kind": kind, **LOOP, "barrier": "yes", "cable[1].length": "5 m"})
            drawing = draw_circuit(made, {})
            boxes = {box.id: box for box in drawing.boxes}
            place = {part.id: part.place for part in made.parts}
            for spot in drawing.spots:
                box = boxes[spot.point.split(".")[0]]
                self.assertTrue(box.x <= spot.x <= box.x + box.width and box.y < spot.y < box.y + box.height, spot)
                edge = {"panel": box.x + box.width, "field": box.x}.get(place[box.id])
                if edge is not None:
                    self.assertEqual((spot.x, spot.side), (edge, "right" if place[box.id] == "panel" else "left"))
            for one in made.parts:
                for other in made.parts:
                    if (one.place, other.place) in (("panel", "run"), ("run", "field")):
                        self.assertLess(boxes[one.id].x + boxes[one.id].width, boxes[other.id].x)

    def test_a_wire_that_was_moved_is_told(self) -> None:
        wiring = read_wiring({**LOOP, **SWAPPED}, "metric")
        drawing = draw_circuit(wiring.circuit, {wire.id: (wire.a, wire.b) for wire in wiring.planned})
        self.assertEqual(sum(not line.planned for line in drawing.lines), 2)

    def test_the_list_names_every_end(self) -> None:
        rows = terminal_list(circuit({**LOOP, "core[0]": "green-yellow"}))
        first = next(row for row in rows if row["b"] == "sensor.+")
        self.assertEqual((first["from"], first["to"]), ("Cable core 1, field end", "Transmitter +"))
        self.assertEqual(first["mark"], "green-yellow")


class Meter(TestCase):
    def read(self, setting: str, red: str, black: str, entries: dict[str, str] = LOOP, **condition):
        at = Condition(**{"current_a": 0.012, **condition})
        return read_meter(circuit(entries), at, Leads(setting, red, black))

    def test_volts_are_what_ohm_says(self) -> None:
        # 12 mA through 250 Ω is 3 V; the meter's 10 MΩ takes 25 parts in a million of it.
        self.assertAlmostEqual(self.read("V", "input.+", "input.−").value, 3.0 * VOLT_OHM / (VOLT_OHM + 250), 5)
        swapped = self.read("V", "input.−", "input.+")
        self.assertLess(swapped.value, 0)
        self.assertIn("swapped", swapped.says)
        self.assertEqual(self.read("V", "sensor.+", "cable1.1b").says, "Both leads touch the same wire.")
        self.assertIn("prove it dead", self.read("V", "supply.+", "supply.−", supply="off").says)

    def test_milliamperes_in_series_and_never_across(self) -> None:
        wire = "cable11b>sensor+"
        series = self.read("mA", "cable1.1b", f"{wire}~", lifted=frozenset([wire]))
        self.assertAlmostEqual(series.value, 0.012, 9)
        self.assertFalse(series.caution)
        across = self.read("mA", "sensor.+", "sensor.−")
        self.assertTrue(across.caution)
        self.assertIn("not the loop's current", across.says)
        # Across the supply the meter's 5 Ω would carry amperes.
        short = self.read("mA", "supply.+", "supply.−")
        self.assertTrue(short.caution and short.value is None)
        self.assertGreater(24 / SHUNT_OHM, FUSE_A)

    def test_ohms_only_with_the_power_off(self) -> None:
        live = self.read("Ω", "input.+", "input.−")
        self.assertTrue(live.caution and live.shows == "----")
        self.assertAlmostEqual(self.read("Ω", "input.+", "input.−", supply="off").value, 250, 1)
        # By hand: 100 m of 0.5 mm² at 20 °C is 3.448 Ω.
        self.assertAlmostEqual(self.read("Ω", "cable1.1a", "cable1.1b", supply="off").value, 3.448, 2)
        blocked = self.read("Ω", "sensor.+", "sensor.−", supply="off")
        self.assertGreater(blocked.value, 1e6)
        wire = "cable12b>sensor−"
        self.assertEqual(self.read("Ω", "sensor.−", f"{wire}~", supply="off", lifted=frozenset([wire])).value, 0.0)
        self.assertEqual(self.read("Ω", "cable1.2b", "sensor.−", supply="off", lifted=frozenset([wire])).shows, "OL")

    def test_a_sensor_the_wrong_way_round_shows(self) -> None:
        volts = self.read("V", "sensor.+", "sensor.−", {**LOOP, **SWAPPED})
        self.assertLess(volts.value, -20)

    def test_wrong_places_are_refused(self) -> None:
        for setting, red, where in (("A", "input.+", "setting"), ("V", "moon.+", "red")):
            with self.assertRaises(InputError) as refused:
                self.read(setting, red, "input.−")
            self.assertEqual(refused.exception.problems[0].where, where)

    def test_kirchhoff_holds_in_every_link(self) -> None:
        for kind in LINKS:
            made = circuit({"kind": kind, **LOOP, "barrier": "yes", "cable[1].length": "900 m"})
            for current in (0.0036, 0.0225):
                solution = solve(elements(made, Condition(current_a=current, supply="volt_min", hottest_c=60)))
                self.assertLess(solution.residual, 1e-12, kind)
            self.assertEqual(set(joined(made)), set(made.points))
