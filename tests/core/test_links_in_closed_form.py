"""Every link against its closed form, by Ohm's law alone, for whatever it is made of."""

from __future__ import annotations

from unittest import TestCase

from hypothesis import assume, given, settings
from hypothesis import strategies as st

from rasante.core.wiring.circuit_drawing import draw_circuit
from rasante.core.wiring.circuit_kinds import LINKS, read_wiring
from rasante.core.wiring.circuit_network import Condition, elements, joined
from rasante.core.wiring.loop_budget import loop_budget
from rasante.core.wiring.network import solve
from rasante.core.wiring.voltage_link import voltage_link
from rasante.core.wiring.wires import resistance
from tests.tags import slow

OHM = st.floats(1, 400).map(lambda value: round(value, 3))
LENGTH = st.floats(1, 2000).map(lambda value: round(value, 2))
AREA = st.sampled_from([0.34, 0.5, 0.75, 1.0, 1.5])


def runs(data, count: int) -> tuple[dict[str, str], list[tuple[float, float]]]:
    """Cable runs: their entries, and (length, area) of each."""
    found = [(data.draw(LENGTH), data.draw(AREA)) for _ in range(count)]
    entries = {}
    for index, (length, area) in enumerate(found):
        entries[f"cable[{index}].length"] = f"{length} m"
        entries[f"cable[{index}].size"] = f"{area} mm²"
    return entries, found


@slow
class TwoWire(TestCase):
    @settings(max_examples=120, deadline=None)
    @given(st.data())
    def test_the_volts_are_the_supply_less_every_resistance(self, data) -> None:
        entries, cables = runs(data, data.draw(st.integers(1, 3)))
        volts = data.draw(st.floats(18, 40).map(lambda v: round(v, 2)))
        hot = data.draw(st.floats(0, 80).map(lambda v: round(v, 1)))
        input_ohm, meter, burden, line, back = (data.draw(OHM) for _ in range(5))
        entries |= {
            "supply.least": f"{volts} V", "supply.nominal": f"{volts + 1} V", "supply.most": f"{volts + 2} V",
            "input.ohm": f"{input_ohm} Ω", "meter": "yes", "meter.ohm": f"{meter} Ω", "burden.ohm": f"{burden} Ω",
            "barrier": "yes", "barrier.ohm": f"{line} Ω", "barrier.return_ohm": f"{back} Ω", "hottest": f"{hot} °C",
            "fuse.rating": "1 A".replace("1 A", "1000 mA"),
        }  # fmt: skip
        wiring = read_wiring(entries, "metric")
        self.assertEqual(wiring.form.problems, [])
        found = loop_budget(wiring.circuit, wiring.hottest_c)
        pair = sum(2 * resistance(length, area, hot) for length, area in cables)
        # The supply's own 0.1 Ω and the fuse's 5 Ω count in.
        total = 0.1 + 5.0 + input_ohm + meter + burden + line + back + pair
        for at in found.at:
            self.assertAlmostEqual(at.volts, volts - at.current_a * total, 6)
        self.assertAlmostEqual(found.burden_margin_v, found.at[-1].margin_v - 0.0225 * 250, 9)
        self.assertAlmostEqual(sum(share for _, share in found.shares), 0.0225 * total, delta=0.02)

    @settings(max_examples=60, deadline=None)
    @given(st.data())
    def test_what_flows_is_what_is_meant_or_what_the_rest_allows(self, data) -> None:
        entries, cables = runs(data, 1)
        ohm = data.draw(st.floats(50, 3000).map(lambda v: round(v, 1)))
        entries |= {"input.ohm": f"{ohm} Ω", "hottest": "20 °C", "sensor.lift_off": "10 V", "supply.least": "24 V"}
        wiring = read_wiring({**entries, "supply.nominal": "24 V", "supply.most": "25 V"}, "metric")
        found = loop_budget(wiring.circuit, wiring.hottest_c)
        total = 5.1 + ohm + 2 * resistance(*cables[0], 20.0)
        for at in found.at:
            # Below lift-off a transmitter is a resistance of lift-off by its current.
            expected = at.current_a if at.margin_v >= 0 else 24 / (total + 10 / at.current_a)
            self.assertAlmostEqual(at.flows_a, expected, 9)


class ThreeWire(TestCase):
    @settings(max_examples=120, deadline=None)
    @given(st.data())
    def test_lift_and_loading(self, data) -> None:
        # With R of one core, Rout of the output and Rin of the input, the minus core carries the sensor's own current
        # less the signal's: i = (Vout + I R) / (Rin + Rout + 2 R), and the input sees i Rin.
        entries, ((length, area),) = runs(data, 1)
        draw_ma = data.draw(st.floats(1, 60).map(lambda v: round(v, 2)))
        out, inn = data.draw(OHM), data.draw(st.floats(500, 2e6).map(lambda v: round(v, 1)))
        entries |= {
            "kind": "three_wire", "sensor.draw": f"{draw_ma} mA", "sensor.output_ohm": f"{out} Ω",
            "input.ohm": f"{inn} Ω", "hottest": "20 °C", "sensor.lift_off": "1 V", "fuse.rating": "1000 mA",
        }  # fmt: skip
        wiring = read_wiring(entries, "metric")
        self.assertEqual(wiring.form.problems, [])
        core = resistance(length, area, 20.0)
        found = voltage_link(wiring.circuit, wiring.hottest_c)
        assume(found.sensor_v > 1.0)
        for at in found.at:
            current = (at.meant_v + draw_ma / 1000 * core) / (inn + out + 2 * core)
            self.assertAlmostEqual(at.read_v, current * inn, 6)
            self.assertAlmostEqual(at.error_share, (current * inn - at.meant_v) / 10, 6)


class FourWire(TestCase):
    @settings(max_examples=60, deadline=None)
    @given(st.data())
    def test_an_active_output_drives_its_current_up_to_its_volts(self, data) -> None:
        entries, ((length, area),) = runs(data, 1)
        ohm = data.draw(st.floats(50, 1500).map(lambda v: round(v, 1)))
        entries |= {"kind": "four_wire", "input.ohm": f"{ohm} Ω", "sensor.drives": "15 V", "supply.nominal": "30 V"}
        wiring = read_wiring({**entries, "supply.most": "31 V", "sensor.draw": "5 mA"}, "metric")
        self.assertEqual(wiring.form.problems, [])
        solution = solve(elements(wiring.circuit, Condition(current_a=0.02)))
        total = ohm + 2 * resistance(length, area, 20.0)
        # Saturated it is 15 V behind 1 Ω.
        self.assertAlmostEqual(solution.current["input"], min(0.02, 15 / (total + 1)), 9)


class Drawn(TestCase):
    @settings(max_examples=80, deadline=None)
    @given(st.data())
    def test_upright_stretches_of_different_wires_never_meet(self, data) -> None:
        kind = data.draw(st.sampled_from(list(LINKS)))
        entries, _ = runs(data, data.draw(st.integers(1, 4)))
        for tick in ("barrier", "meter", "connector", "fuse"):
            entries[tick] = data.draw(st.sampled_from(["yes", "no"]))
        wiring = read_wiring(
            {**entries, "kind": kind, "shield": data.draw(st.sampled_from(["panel", "both", "no"]))}, "metric"
        )
        circuit = wiring.circuit
        drawing = draw_circuit(circuit, {wire.id: (wire.a, wire.b) for wire in wiring.planned})
        self.assertTrue(all(line.planned for line in drawing.lines))
        node = joined(circuit)
        of = {wire.id: node[wire.a] for wire in circuit.wires}
        upright = []
        for line in drawing.lines:
            for (x0, y0), (x1, y1) in zip(line.points, line.points[1:], strict=False):
                if x0 == x1 and y0 != y1:
                    upright.append((x0, min(y0, y1), max(y0, y1), of[line.id]))
        for index, (x, low, high, net) in enumerate(upright):
            for other_x, other_low, other_high, other in upright[index + 1 :]:
                if x == other_x and net != other:
                    self.assertTrue(high <= other_low or other_high <= low)
