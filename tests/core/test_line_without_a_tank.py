"""The line without a tank: any one value gives all others; what is not known is said with what it may mean."""

from __future__ import annotations

import math
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st
from iapws import IAPWS97

from rasante.core.quantities.units import System
from rasante.core.scaling.bare import BESIDE, Bare, read_bare
from rasante.core.scaling.chain import STATIONS
from rasante.core.scaling.chain_values import value_text

FOOT, PSI, GRAVITY = 0.3048, 6894.757293168361, 9.80665


def bare(system: System = "us", **entries: str) -> Bare:
    return read_bare({key.replace("__", "."): text for key, text in entries.items()}, system)


def feet(found: Bare) -> float:
    assert found.level_m is not None, found.form.problems
    return found.level_m / FOOT


class ByPractice(TestCase):
    """Common practice, no published source: 1 psi is 2.31 ft of water; 0–15 psi spans 34.65 ft."""

    def test_a_milliampere_reading_of_a_stranger_s_sensor(self) -> None:
        # 10.4 mA is 40 % of span: 6 psi, 13.86 ft; were it 0–10 psi, 4 psi and 9.24 ft.
        found = bare(value__sent="10.4")
        self.assertAlmostEqual(feet(found), 6 * 2.31, delta=0.02)
        self.assertEqual(found.says, "At 10.4 mA a 0–15 psi sensor stands under 13.9 ft of water.")
        other = {one.unless: one.level_m / FOOT for one in found.meanings}
        self.assertAlmostEqual(other["it is 0–10 psi"], 4 * 2.31, delta=0.02)
        self.assertAlmostEqual(other["it is 0–30 psi"], 12 * 2.31, delta=0.03)
        # Diesel is 840 kg/m³: divide by its density. And 10.4 of 20 mA are 52 %.
        self.assertAlmostEqual(other["the liquid is diesel"], 6 * 2.31 / 0.84, delta=0.03)
        self.assertAlmostEqual(other["the signal is 0–20 mA"], 0.52 * 34.65, delta=0.05)

    def test_what_is_known_has_no_other_meaning(self) -> None:
        for known, gone in (
            ({"tank__product": "diesel"}, "the liquid is"),
            ({"liquid__density": "840 kg/m3"}, "the liquid is"),
            ({"sensor__high": "10 psi"}, "it is 0–"),
            ({"signal__kind": "ma0"}, "the signal is"),
        ):
            told = [one.unless for one in bare(value__sent="10.4", **known).meanings]
            self.assertFalse([one for one in told if one.startswith(gone)], known)
            self.assertTrue(told, known)
        # Of counts nobody asks by which current they came.
        self.assertFalse([one for one in bare(value__counts="17039").meanings if one.unless.startswith("the signal")])

    def test_every_other_value_stands_at_the_line(self) -> None:
        found = bare(value__sent="12 mA")
        c = found.chain.chain
        assert c is not None and found.line is not None
        stops = {stop.station: value_text(c, stop.station, stop.value, "us") for stop in found.line.stops}
        self.assertEqual((stops["sensed"], stops["sent"], stops["counts"]), ("7.5 psi", "12 mA", "19660"))
        self.assertTrue(stops["shown"].startswith("17.3"), stops)

    def test_the_other_way_round(self) -> None:
        # 7.5 psi, half of the range, are 17.33 ft.
        self.assertRegex(
            bare(value__level="17.33 ft").says, r"^Under 17\.3 ft of water a 0–15 psi sensor sends 12(\.00\d)? mA\.$"
        )
        self.assertTrue(bare(value__counts="17039").says.startswith("At counts 17039 a 0–15 psi sensor stands under"))
        looks = bare("metric", sensor__quantity="distance", sensor__low="6 m", sensor__high="0 m", tank__height="6 m",
                     value__level="3 m")  # fmt: skip
        self.assertEqual(looks.says, "At 3.00 m a 6000–0 mm sensor sends 12 mA.")

    def test_two_values_part(self) -> None:
        # 0–10 psi replaced by 0–15 psi and forgotten: the screen reads two thirds of the truth.
        found = bare(value__sent="12 mA", value__shown=f"{17.32 * 2 / 3:.2f}", at="sent")
        assert found.parting is not None
        self.assertIn("part at the", found.parting.says)
        self.assertGreater(len(found.parting.parting.explanations), 0)
        agree = bare(value__sent="12 mA", value__sensed="7.5 psi", at="sent")
        assert agree.parting is not None
        self.assertIn("Nothing parts", agree.parting.says)
        self.assertIsNone(bare(value__sent="12 mA").parting)


class AnyOne(TestCase):
    def test_each_station_leads_to_the_same_line(self) -> None:
        whole = {
            "sensor__high": "15 psi",
            "tank__diameter": "10 ft",
            "tank__height": "40 ft",
            "tank__product": "water",
        }
        level = bare(value__sent="10.4 mA", **whole)
        c = level.chain.chain
        assert c is not None and level.line is not None and level.volume_m3 is not None
        values = {stop.station: value_text(c, stop.station, stop.value, "us") for stop in level.line.stops}
        values |= {"span_pct": "40 %", "volume": f"{level.volume_m3 * 1000:.3f} L"}
        self.assertGreaterEqual(
            set(values), {"level", "sensed", "sent", "counts", "number", "words", "shown", *BESIDE}
        )
        for station, text in values.items():
            with self.subTest(station, text=text):
                again = bare(**{f"value__{station}": text}, **whole)
                # To one count of fifteen bits, one place of the scaled number.
                self.assertAlmostEqual(feet(again), feet(level), delta=0.02)

    def test_the_volume_by_the_diameter_alone(self) -> None:
        found = bare("metric", tank__diameter="2 m", value__level="1.5 m")
        self.assertAlmostEqual(found.volume_m3, math.pi * 1.5, places=9)
        self.assertIsNone(bare("metric", value__level="1.5 m").volume_m3)
        asked = bare("metric", value__volume="100 L")
        self.assertIn("asks for the diameter", asked.form.problems[0].what)

    def test_water_by_its_own_density(self) -> None:
        # 6 psi by the density that IAPWS-IF97 gives water at 15 °C.
        found = bare(value__sent="10.4 mA", tank__product="water")
        self.assertAlmostEqual(found.level_m, 6 * PSI / (IAPWS97(T=288.15, P=0.101325).rho * GRAVITY), delta=2e-3)

    def test_rings_times_a_course_are_a_height(self) -> None:
        found = bare("metric", tank__rings="4", tank__course="1.5 m", value__level="5.9 m")
        self.assertAlmostEqual(found.file.tank.inside_height, 6.0)
        over = bare("metric", tank__rings="4", tank__course="1.5 m", value__level="6.2 m")
        self.assertIn("goes from 0 to 6.00 m", over.form.problems[0].what)
        self.assertIsNone(over.level_m)
        self.assertIn(
            "tank.rings", [p.where for p in bare("metric", tank__rings="60", tank__course="9 m").form.problems]
        )

    def test_a_sensor_that_looks_down(self) -> None:
        # 6 m to 0.5 m away: 12 mA are 3.25 m away, under a reference at the top.
        found = bare("metric", sensor__quantity="distance", sensor__low="6 m", sensor__high="0.5 m",
                     tank__height="6 m", value__sent="12 mA")  # fmt: skip
        self.assertAlmostEqual(found.level_m, 6 - 3.25, places=6)
        self.assertEqual(found.meanings, ())


class Typed(TestCase):
    def test_nothing_typed_asks_for_nothing(self) -> None:
        for system in ("us", "metric"):
            found = read_bare({}, system)
            self.assertEqual((found.level_m, found.form.problems, found.chain.form.problems), (None, [], []))
            self.assertIsNotNone(found.chain.chain)

    def test_what_cannot_be_read_is_told_at_its_field(self) -> None:
        for entries, where in (
            ({"value__sent": "many"}, "value.sent"), ({"tank__height": "tall", "value__sent": "8"}, "tank.height"),
            ({"tank__product": "sludge", "value__sent": "8"}, "tank.product"),
            ({"value__counts": "9", "signal__kind": "digital"}, "value.counts"),
        ):  # fmt: skip
            with self.subTest(entries):
                self.assertIn(where, [problem.where for problem in bare(**entries).form.problems])
        self.assertIn("sensor.high", [p.where for p in bare(sensor__high="wide").chain.form.problems])

    @given(
        st.dictionaries(
            st.sampled_from(["at", "tank.height", "tank.diameter", "tank.product", "tank.rings", "tank.course",
                             "sensor.high", "sensor.quantity", "signal.kind", "liquid.density", "counts.bits",
                             *(f"value.{key}" for key in (*STATIONS, *BESIDE))]),
            st.sampled_from(["0", "1", "-3", "12 mA", "15 psi", "4 ft", "2 m", "x", "water", "sent", "nan", "1e9",
                             "distance", "digital", "v10", "40 %", "900 L", "0x1 0x2", "😀", "9" * 70, " "]),
            max_size=7,
        ),
        st.sampled_from(["metric", "us"]),
    )  # fmt: skip
    def test_whatever_is_typed_gets_an_answer_or_a_problem(self, entries: dict[str, str], system: System) -> None:
        found = read_bare(entries, system)
        if found.level_m is not None:
            self.assertTrue(-1e-9 <= found.level_m <= found.file.tank.inside_height + 1e-9)
            self.assertTrue(found.says)
        for problem in found.form.problems:
            self.assertIn(problem.where, {*entries, "tank.rings"})
