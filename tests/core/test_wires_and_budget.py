"""Copper, loops and voltage links against published tables and cases worked by hand."""

from __future__ import annotations

from unittest import TestCase

from rasante.core.quantities.typed import read_quantity
from rasante.core.wiring.circuit_kinds import read_wiring
from rasante.core.wiring.loop_budget import loop_budget
from rasante.core.wiring.voltage_link import voltage_link
from rasante.core.wiring.wires import awg_area, resistance, size_name

#: The case of the books: 24 V, 250 Ω, 1 km of 0.5 mm² pair at 20 °C, no fuse.
BOOK = {
    "supply.nominal": "24 V", "supply.least": "24 V", "supply.most": "24 V", "fuse": "no",
    "cable[0].length": "1 km", "cable[0].size": "0.5 mm²", "hottest": "20 °C", "sensor.lift_off": "12 V",
}  # fmt: skip


def budget(entries: dict[str, str], american: bool = False):
    wiring = read_wiring(entries, "us" if american else "metric")
    assert wiring.form.problems == []
    return loop_budget(wiring.circuit, wiring.hottest_c, american)


class Copper(TestCase):
    def test_against_the_largest_resistances_of_iec_60228(self) -> None:
        # IEC 60228:2004, table 2, class 2 stranded plain copper, largest resistance at 20 °C [Ω/km]; from memory.
        # They are limits: pure copper of the nominal area stays below them, by a tenth at most.
        for area, most in ((0.5, 36.0), (0.75, 24.5), (1.0, 18.1), (1.5, 12.1), (2.5, 7.41)):
            with self.subTest(area):
                ours = resistance(1000, area)
                self.assertLess(ours, most)
                self.assertGreater(ours, most * 0.9)

    def test_against_the_american_wire_table(self) -> None:
        # NBS Handbook 100, "Copper Wire Tables", solid annealed copper at 20 °C, Ω per 1000 ft; from memory.
        for number, ohm in (
            (24, 25.67),
            (22, 16.14),
            (20, 10.15),
            (18, 6.385),
            (16, 4.016),
            (14, 2.525),
            (12, 1.588),
        ):
            with self.subTest(number):
                self.assertAlmostEqual(resistance(304.8, awg_area(number)) / ohm, 1, 2)

    def test_areas_of_gauges(self) -> None:
        # ASTM B258, areas of solid wire [mm²]; from memory.
        for number, area in ((24, 0.205), (20, 0.518), (18, 0.823), (14, 2.08), (12, 3.31)):
            self.assertAlmostEqual(awg_area(number) / area, 1, 2)
            self.assertEqual(size_name(awg_area(number)), f"{number} AWG")
            self.assertAlmostEqual(read_quantity(f"{number} AWG", "wire", "metric"), awg_area(number), 12)
        self.assertEqual(size_name(0.5), "0.5 mm²")

    def test_hot_copper_resists_more(self) -> None:
        # α = 0.00393/K from 20 °C: a tenth more at 45.4 °C. IEC 60028, from memory.
        self.assertAlmostEqual(resistance(100, 1, 20 + 0.1 / 0.00393) / resistance(100, 1, 20), 1.1, 9)


class TheBooksCase(TestCase):
    def test_by_hand(self) -> None:
        # By hand: ρ L / A = 1.7241e-8 × 2000 m / 0.5e-6 m² = 68.964 Ω for the pair; with 250 Ω 318.964 Ω, and
        # the supply's own 0.1 Ω; at 22.5 mA 7.179 V are lost and 16.821 V left.
        found = budget(BOOK)
        worst = found.at[-1]
        self.assertAlmostEqual(worst.volts, 24 - 0.0225 * (68.964 + 250 + 0.1), 3)
        self.assertAlmostEqual(worst.margin_v, worst.volts - 12, 9)
        self.assertAlmostEqual(found.burden_margin_v, worst.margin_v - 5.625, 9)
        self.assertEqual([round(at.current_a * 1000, 1) for at in found.at], [3.6, 4.0, 12.0, 20.0, 22.5])
        for at in found.at:
            self.assertAlmostEqual(at.volts, 24 - at.current_a * 319.064, 3)
            self.assertAlmostEqual(at.flows_a, at.current_a, 12)
        for (_, volts), expected in zip(found.shares, (5.625, 1.55169), strict=True):
            self.assertAlmostEqual(volts, expected, 4)

    def test_the_longest_run_just_carries(self) -> None:
        found = budget(BOOK)
        for cable in found.cables:
            if cable.longest_m < 20_000:
                length = f"{cable.longest_m:.9f} m"
                at_limit = budget({**BOOK, "cable[0].length": length, "cable[0].size": cable.name})
                self.assertAlmostEqual(at_limit.at[-1].margin_v, 0, 6)
        # By hand for 0.5 mm²: (12 V / 22.5 mA − 250.1 Ω) / 0.068964 Ω/m.
        half = next(cable for cable in found.cables if cable.name == "0.5 mm²")
        self.assertAlmostEqual(half.longest_m, (12 / 0.0225 - 250.1) / 0.068964, 2)

    def test_the_smallest_wire_is_the_thinnest_that_carries(self) -> None:
        found = budget({**BOOK, "cable[0].length": "3 km"})
        thinner = [cable for cable in found.cables if cable.area_mm2 < found.smallest.area_mm2]
        self.assertGreater(len(thinner), 0)
        self.assertTrue(all(cable.longest_m < 3000 for cable in thinner))
        self.assertGreaterEqual(found.smallest.longest_m, 3000)
        self.assertIsNone(budget({**BOOK, "cable[0].length": "20 km", "burden.ohm": "250"}).smallest)

    def test_american_sizes(self) -> None:
        names = [cable.name for cable in budget({**BOOK, "cable[0].size": "18 AWG"}, american=True).cables]
        self.assertEqual(names, [f"{n} AWG" for n in (24, 22, 20, 18, 16, 14, 12)])

    def test_words(self) -> None:
        def codes(**changes: str) -> dict[str, str]:
            entries = {**BOOK, **{key.replace("__", "."): value for key, value in changes.items()}}
            return {j.code: j.weight for j in budget(entries).judgements}

        self.assertEqual(codes(), {"loop-carries": "good", "no-burden": "watch"})
        self.assertEqual(codes(burden__ohm="250 Ω"), {"loop-short": "stop"})
        self.assertIn("loop-tight", codes(burden__ohm="200 Ω"))
        self.assertEqual(codes(sensor__most="20 V")["supply-high"], "stop")

    def test_of_other_links_there_is_none(self) -> None:
        for kind in ("three_wire", "four_wire", "contact", "digital"):
            self.assertIsNone(budget({"kind": kind}))


class VoltageLinks(TestCase):
    def link(self, **changes: str):
        entries = {"kind": "three_wire", "cable[0].length": "50 m", "cable[0].size": "0.5 mm²", "hottest": "20 °C"}
        entries |= {key.replace("__", "."): value for key, value in changes.items()}
        wiring = read_wiring(entries, "metric")
        return voltage_link(wiring.circuit, wiring.hottest_c)

    def test_the_shared_minus_lifts_the_ground(self) -> None:
        # By hand: 20 mA through 50 m of 0.5 mm² (1.7241 Ω) is 34.48 mV, 0.345 % of 10 V.
        zero = self.link().at[0]
        self.assertAlmostEqual(zero.lift_v, 0.02 * 1.7241, 4)
        self.assertAlmostEqual(zero.error_share, 0.0034482, 5)

    def test_the_input_loads_the_output(self) -> None:
        # By hand: 100 Ω of output, and 1.7241 Ω of core, into 10 kΩ: 10 V read 10 × 10000 / 10101.7 V, the lift
        # being taken off by the same divider. 3-wire formulas worked from Ohm's law.
        full = self.link(input__ohm="10 kΩ", cable0="").at[-1]
        self.assertAlmostEqual(full.loading_v, -(10.0 + full.lift_v) * 101.724 / 10101.724, 3)

    def test_words_grow_with_the_error(self) -> None:
        self.assertEqual(self.link(**{"cable[0].length": "5 m"}).judgements[0].code, "voltage-true")
        self.assertEqual(self.link().judgements[-1].weight, "watch")
        far = self.link(**{"cable[0].length": "900 m"})
        self.assertEqual(far.judgements[-1].weight, "stop")
        starved = self.link(**{"cable[0].length": "20 km"})
        self.assertEqual(starved.judgements[0].code, "sensor-starved")
