"""The scaling chain hop by hop: there and back, by the trade's figures, and by published standards."""

from __future__ import annotations

import math
import random
from unittest import TestCase

import iapws
import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from rasante.core.devices.device_sheet import fault_texts
from rasante.core.gauges.model import check_model, generic_models
from rasante.core.quantities.errors import InputError
from rasante.core.quantities.typed import read_quantity
from rasante.core.quantities.units import UNITS
from rasante.core.scaling import registers
from rasante.core.scaling.chain_form import Mounted, chain_start, read_chain
from rasante.core.scaling.chain_judge import judge_chain
from rasante.core.scaling.chain_line import fault_values, read_chain_line, readable, slopes_at, steps_at
from rasante.core.scaling.chain_settings import keys_of, settle
from rasante.core.scaling.chain_values import find_level
from rasante.core.scaling.numbers import Register
from rasante.core.scaling.steps import stepped

from .chain_cases import backward, chain, file_of, forward, get, ground, put, random_chain, run
from .gauge_cases import lying, upright
from .said import said

WELL = {
    "sensor__quantity": "pressure", "sensor__high": "15 psi", "scaled__unit": "ft", "scaled__decimals": "1",
    "shown__unit": "ft", "shown__decimals": "1",
}  # fmt: skip


def codes(c) -> set[str]:
    return {judgement.code for judgement in judge_chain(c, "metric")}


class ThereAndBack(TestCase):
    @given(st.integers(0, 10**6), st.floats(0.02, 0.98))
    def test_every_hop_undoes_itself_to_its_step(self, seed: int, share: float) -> None:
        c = random_chain(random.Random(seed))
        low, high = readable(c)
        value = level = low + share * (high - low)
        for station in c.stations[1:]:
            hop = c.hop(station)
            if isinstance(hop, Register) and not registers.fits(hop.type, float(hop.raw(np.array([value]))[0])):
                # Below the sensor's zero an unsigned register wraps round: there is no way back.
                return
            out = forward(c, station, value, exact=False)
            if station != "shown" or c.screen.shows in ("level", "ullage", "linear_pct"):
                back = backward(c, station, out)
                self.assertAlmostEqual(back, value, delta=2e-7 * max(abs(value), abs(back), 1e-3))
            if hop.step and station != "shown":
                self.assertLessEqual(abs(forward(c, station, value) - out), hop.step / 2 * (1 + 1e-6))
            value = out
        steps = sum(steps_at(c, slopes_at(c, level)).values())
        values = run(c, level)
        for station in c.stations:
            if station == "shown" and c.screen.shows in ("volume", "volume_pct"):
                continue
            self.assertLessEqual(abs(c.level_from(station, values[station]) - level), steps + 1e-6, station)

    @given(st.integers(0, 10**6))
    def test_a_settled_chain_agrees_with_itself(self, seed: int) -> None:
        c = random_chain(random.Random(seed))
        self.assertNotIn("parts", codes(c))
        self.assertEqual(settle(c), c)

    @given(
        st.sampled_from(sorted(registers.TYPES)),
        st.sampled_from(sorted(registers.ORDERS)),
        st.floats(-(2.0**127), 2.0**127, width=32),
    )
    def test_registers_give_back_what_they_were_given(self, kind: str, order: str, number: float) -> None:
        if not registers.is_float(kind):
            least, most = registers.bounds(kind)
            number = float(round(math.fmod(number, most - least) % (most - least) + least))
        words = registers.encode(number, kind, order)
        self.assertEqual(registers.decode(words, kind, order), number)
        self.assertEqual(registers.read_words(registers.show_words(words), kind), words)

    @given(st.floats(-1e6, 1e6), st.integers(0, 5))
    def test_steps_round_and_cut_off(self, value: float, decimals: int) -> None:
        step = 10.0**-decimals
        self.assertLessEqual(abs(stepped(value, decimals) - value), step / 2 * (1 + 1e-6))
        cut = stepped(value, decimals, "truncate")
        self.assertLess(abs(cut - value), step * (1 + 1e-6))
        self.assertLessEqual(abs(cut), abs(value) + 1e-9 * max(1, abs(value)))


class TheTradesFigures(TestCase):
    def test_a_pound_is_two_feet_and_a_third_of_water(self) -> None:
        # Common practice, no published source: 1 psi = 2.31 ft of water. Density by IAPWS-IF97 at 18 °C.
        density = iapws.IAPWS97(T=291.15, P=0.101325).rho
        c = chain(**WELL, liquid__density=f"{density} kg/m3")
        feet = c.level_from("sensed", UNITS["psi"].si) / UNITS["ft"].si
        self.assertAlmostEqual(feet, 2.31, 3)
        wide = put(c, scaled_decimals=2)
        # Common practice, no published source: 0–15 psi spans 34.65 ft, 0–10 psi 23.1 ft.
        self.assertAlmostEqual(settle(wide).scaling.high, 34.65, 2)
        self.assertAlmostEqual(settle(put(wide, sensor_high=10 * UNITS["psi"].si)).scaling.high, 23.1, 2)
        # Divide by the specific gravity for other liquids.
        self.assertAlmostEqual(settle(put(wide, liquid_density=density * 0.84)).scaling.high, 34.65 / 0.84, 1)

    def test_fifteen_bits_on_twenty_milliamperes(self) -> None:
        # Common practice, no published source: 6553 counts at 4 mA, 32767 at 20 mA; 346 is 34.6 ft.
        c = chain(**WELL)
        self.assertEqual((get(c, "counts_low"), get(c, "counts_high")), (6553, 32767))
        self.assertEqual(forward(c, "counts", 0.004), 6553)
        self.assertEqual(forward(c, "counts", 0.020), 32767)
        for counts in (6553, 13000, 20000, 32767):
            share = (counts - 6553) / (32767 - 6553)
            self.assertAlmostEqual(backward(c, "counts", counts), 0.004 + 0.016 * share, 12)
        self.assertEqual(forward(c, "words", 34.6), 346)

    def test_a_swap_without_rescaling_reads_two_thirds(self) -> None:
        # Common practice, no published source: a 15 psi sensor where the receiver is set for 10 psi.
        old = chain(**{**WELL, "sensor__high": "10 psi", "scaled__decimals": "3", "shown__decimals": "3"})
        swapped = put(old, sensor_high=15 * UNITS["psi"].si)
        for level in (0.5, 1.3, 2.6):
            self.assertAlmostEqual(run(swapped, level)["shown"] / run(old, level)["shown"], 2 / 3, 3)

    def test_a_working_transmitter_stays_within_its_limits(self) -> None:
        # NAMUR NE 43, from memory: measuring 3.8 to 20.5 mA, fault at or below 3.6 or at or above 21.0 mA.
        c = chain(sensor__low="500 mm", sensor__high="2 m")
        self.assertEqual(forward(c, "sent", -5.0), 0.0038)
        self.assertEqual(forward(c, "sent", 9.0), 0.0205)
        self.assertEqual(fault_values(c)["arriving"], 0.0036)
        self.assertEqual(fault_values(put(c, signal_fault="high"))["arriving"], 0.0210)
        self.assertIsNone(fault_values(put(c, signal_fault="hold")))

    def test_floating_point_words_in_both_orders(self) -> None:
        # IEEE 754-2019 binary32: 1, −2, π and 34.6 by sign, exponent and fraction.
        known = {1.0: 0x3F800000, -2.0: 0xC0000000, math.pi: 0x40490FDB, 34.6: 0x420A6666}
        for number, bits in known.items():
            high, low = bits >> 16, bits & 0xFFFF
            self.assertEqual(registers.encode(number, "float32", "ABCD"), (high, low))
            self.assertEqual(registers.encode(number, "float32", "CDAB"), (low, high))
            swapped = tuple((word >> 8) | (word & 0xFF) << 8 for word in (high, low))
            self.assertEqual(registers.encode(number, "float32", "BADC"), swapped)
            self.assertAlmostEqual(registers.decode((low, high), "float32", "CDAB"), number, 5)
        # Two's complement.
        self.assertEqual(registers.encode(-9, "int16"), (0xFFF7,))
        self.assertEqual(registers.decode((0xFFF7,), "uint16"), 65527)
        self.assertEqual(registers.wrapped(40000, "int16"), -25536)

    def test_columns_of_water_are_conventional(self) -> None:
        # ISO 80000-4 / NIST SP 811 B.8: 1 mH2O = 9806.65 Pa, 1 inH2O = 249.0889 Pa.
        self.assertAlmostEqual(read_quantity("2 mH2O", "pressure"), 19613.3, 6)
        self.assertAlmostEqual(read_quantity("1 inH₂O", "pressure"), 249.0889, 4)

    def test_the_products_density_follows_its_temperature(self) -> None:
        def density(tank: str, product: str, celsius: str) -> float:
            file = lying(product) if tank == "lying" else upright(product)
            entries = {"sensor.quantity": "pressure", "liquid.temperature": celsius}
            found = read_chain(entries, ground(file, chain_start(file, None, "", None, "metric")), "metric")
            assert found.chain is not None, found.form.problems
            return get(found.chain, "liquid_density")

        for celsius in (4.0, 20.0, 60.0):
            by_if97 = iapws.IAPWS97(T=celsius + 273.15, P=0.101325).rho
            self.assertAlmostEqual(density("upright", "water", f"{celsius} °C"), by_if97, 1)
        # ASTM D1250 (1980), generalized products: 840 kg/m³ at 15 °C has a factor of 0.9915 at 25 °C, by hand.
        self.assertAlmostEqual(density("lying", "diesel", "25 °C"), 840 * 0.9915, 1)
        # Lemmon, McLinden, Wagner (2009), boiling propane at 20 °C, as CoolProp gives it.
        self.assertAlmostEqual(density("lying", "propane", "20 °C"), 500.06, 1)

    def test_water_weighs_what_the_standard_says(self) -> None:
        start = chain_start(file_of("upright"), None, "", None, "metric")
        density = float(start["liquid.density"].split()[0])
        self.assertAlmostEqual(density, iapws.IAPWS97(T=288.15, P=0.101325).rho, 1)


class TheOtherWay(TestCase):
    def test_any_value_finds_its_level(self) -> None:
        c = chain(**WELL, register__type="float32")
        values = run(c, 1.5, exact=False)
        words = registers.show_words(registers.encode(values["words"], "float32"))
        typed = {
            "level": "1500", "sensed": f"{values['sensed'] / 100} mbar", "sent": f"{values['sent'] * 1000} mA",
            "counts": str(values["counts"]), "number": f"{values['number']} ft", "words": words,
            "read": str(values["read"]), "shown": "1.5 m",
        }  # fmt: skip
        for station, text in typed.items():
            # The scaled ends are rounded to a tenth of a foot: 34.6 for 34.5996.
            self.assertAlmostEqual(find_level(c, station, text, "metric"), 1.5, delta=2e-5)
        for station, text in (("shown", "40 ft"), ("sent", "3.5 mA"), ("counts", "x"), ("nowhere", "1")):
            with self.assertRaises(InputError):
                find_level(c, station, text, "metric")


class Judged(TestCase):
    def test_what_does_not_agree_is_named(self) -> None:
        c = chain(**WELL)
        self.assertIn("agrees", codes(c))
        for wrong in (
            put(c, scaled_high=23.1),
            put(c, counts_at_low=0.0),
            put(c, scaled_low=get(c, "scaled_high"), scaled_high=get(c, "scaled_low")),
            put(c, shown_from="m"),
            put(c, read_multiplier=1.0),
        ):
            self.assertIn("parts", codes(wrong))
            self.assertNotIn("agrees", codes(wrong))
        text = said(judge_chain(put(c, scaled_high=23.1), "metric")[0])
        self.assertIn("scaled.high", text)

    def test_limits_are_told(self) -> None:
        self.assertIn("register", codes(chain(scaled__unit="mm", scaled__decimals="2")))
        self.assertIn("digits", codes(chain(scaled__unit="mm", scaled__digits="3")))
        self.assertIn("bits", codes(chain(counts__bits="12", counts__low="6553", counts__high="32767")))
        self.assertIn("over-range", codes(chain()))
        self.assertNotIn("over-range", codes(chain(counts__low="5530", counts__high="27648")))
        self.assertIn("top-unread", codes(chain(sensor__high="2 m")))
        self.assertIn("outside", codes(chain(sensor__low="5 m", sensor__high="8 m")))
        self.assertIn("wasted-span", codes(chain(sensor__high="9 m")))
        self.assertIn("coarse", codes(chain(scaled__unit="m", scaled__decimals="1", shown__unit="m")))

    def test_a_fault_that_looks_like_a_level_is_told(self) -> None:
        self.assertIn("fault-seen", codes(chain()))
        # A volume stops at nothing: 3.6 mA shows what an empty tank does.
        self.assertIn("fault-looks-like-a-level", codes(chain(shown__as="volume")))
        self.assertIn("fault-holds", codes(chain(signal__fault="hold")))
        self.assertIn("fault-holds", codes(chain(shown__error="hold")))
        for setting, who in (({"signal__fault": "hold"}, "the sensor"), ({"shown__error": "hold"}, "the screen")):
            said = [one for one in judge_chain(chain(**setting), "metric") if one.code == "fault-holds"]
            self.assertEqual([one.numbers["who"] for one in said], [who])
        told = chain(shown__as="volume", shown__error="flag")
        # NAMUR NE 43, from memory: at or below 3.6 mA, at or above 21.0 mA it is a fault.
        self.assertEqual((get(told, "shown_below"), get(told, "shown_above")), (0.0036, 0.0210))
        self.assertIn("fault-seen", codes(told))
        self.assertIn("fault-overlaps", codes(put(told, shown_below=0.0039)))
        self.assertIn("fault-looks-like-a-level", codes(put(told, shown_below=0.0030)))
        line = read_chain_line(told, file_of("upright"), 1.0)
        self.assertEqual(fault_texts(told, "metric")[-1], ("shown", "an error"))
        self.assertEqual([limit for limit, _ in line.beyond], [0.0038, 0.0205])
        self.assertIn("fault-looks-like-a-level", codes(chain(signal__kind="v10")))
        # A card that begins at 4 mA and an unsigned register make the fault an empty tank.
        self.assertIn("fault-looks-like-a-level", codes(chain(counts__low="0", counts__over="ends")))


class AsTyped(TestCase):
    def read(self, **entries: str):
        typed = {key.replace("__", "."): text for key, text in entries.items()}
        return read_chain(typed, ground(file_of("upright")), "metric")

    def test_problems_stand_at_their_fields(self) -> None:
        cases = {
            "sensor.high": {"sensor__low": "3 m", "sensor__high": "3 m"},
            "sensor.low": {"sensor__quantity": "pressure", "sensor__low": "3 m"},
            "counts.bits": {"counts__bits": "12.5"},
            "counts.high": {"counts__low": "100", "counts__high": "100"},
            "scaled.unit": {"scaled__unit": "parsec"},
            "scaled.high": {"scaled__unit": "m", "scaled__decimals": "0", "sensor__high": "400 mm"},
            "shown.unit": {"shown__as": "volume", "shown__unit": "mm"},
            "shown.from": {"shown__takes": "pressure", "scaled__unit": "mm"},
            "shown.points": {"shown__points": "1"},
            "read.multiplier": {"read__multiplier": "0"},
        }
        for path, entries in cases.items():
            found = self.read(**entries)
            self.assertIsNone(found.chain, path)
            self.assertIn(path, {problem.where for problem in found.form.problems}, path)

    def test_what_is_written_can_be_typed(self) -> None:
        for seed in range(40):
            c = random_chain(random.Random(seed))
            file = next(file_of(name) for name in ("lying", "upright") if file_of(name).tank.inside_height == c.top_m)
            for system in ("metric", "us"):
                again = read_chain(keys_of(c, system), ground(file), system).chain
                self.assertIsNotNone(again)
                level = sum(readable(c)) / 2
                self.assertAlmostEqual(
                    run(again, level, exact=False)["number"], run(c, level, exact=False)["number"],
                    delta=2e-4 * abs(c.scaling.high - c.scaling.low),
                )  # fmt: skip

    def test_a_tanks_gauge_is_where_it_begins(self) -> None:
        file = file_of("upright")
        models = {document["name"]: check_model(document) for document in generic_models()}
        deep = next(model for name, model in models.items() if "15 psi" in name)
        start = chain_start(file, deep, "0-10V three-wire", Mounted(0.05, 3.2), "us")
        c = read_chain({}, ground(file, start), "us").chain
        assert c is not None and c.signal is not None
        self.assertEqual((c.sensing.kind, c.signal.key, c.scaling.unit), ("pressure", "v10", "in"))
        self.assertAlmostEqual(c.sensor.range_high / UNITS["psi"].si, 15, 2)
        # It hangs 50 mm off the floor: nobody types that twice.
        self.assertAlmostEqual(c.sensing.zero_m, 0.05)
        radar = next(model for name, model in models.items() if name.startswith("Radar, 10 m"))
        raised = chain_start(file, radar, "4-20mA two-wire", Mounted(None, 3.45), "metric")
        c = read_chain({}, ground(file, raised), "metric").chain
        assert c is not None
        self.assertAlmostEqual(run(c, 1.0)["sensed"], 3.45 - 1.0, 9)


class ItEndsWhereItEnds(TestCase):
    """What is not there is no hop."""

    def test_a_panel_meter_in_the_loop_has_no_counts(self) -> None:
        c = chain(chain__reader="meter", scaled__decimals="1", shown__decimals="1")
        self.assertEqual(c.stations, ("level", "sensed", "sent", "arriving", "number", "shown"))
        self.assertAlmostEqual(run(c, 1.2)["number"], 1200.0, 9)
        self.assertEqual(get(c, "scaled_raw_high"), 0.020)
        self.assertAlmostEqual(find_level(c, "arriving", "12 mA", "metric"), 1.5, 9)
        self.assertIn("agrees", codes(c))

    def test_a_card_that_shows_it_itself_has_no_register(self) -> None:
        c = chain(chain__reader="card")
        self.assertEqual(c.stations[-3:], ("counts", "number", "shown"))
        self.assertIn("agrees", codes(c))

    def test_a_digital_sensor_has_no_signal(self) -> None:
        c = chain(signal__kind="digital", sensor__high="3 m")
        self.assertEqual(c.stations, ("level", "sensed", "number", "words", "read", "shown"))
        with self.assertRaises(InputError):
            find_level(c, "arriving", "12 mA", "metric")
        found = read_chain({"signal.kind": "digital", "chain.reader": "meter"}, ground(file_of("upright")), "metric")
        self.assertEqual([problem.where for problem in found.form.problems], ["chain.reader"])

    def test_a_pressure_sensor_above_the_liquid_feels_nothing(self) -> None:
        c = chain(sensor__quantity="pressure", sensor__high="0.4 bar", sensor__zero="500 mm")
        self.assertEqual((run(c, 0.2)["sensed"], run(c, 0.2)["sent"]), (0.0, 0.004))
        self.assertGreater(run(c, 0.6)["sent"], 0.004)

    def test_two_thousand_levels_at_once_are_each_by_itself(self) -> None:
        for seed in range(12):
            c = random_chain(random.Random(seed))
            levels = np.linspace(0.0, c.top_m, 2000)
            together = c.run(levels)
            for at in (0, 7, 1000, 1999):
                alone = run(c, float(levels[at]))
                for station, values in together.items():
                    self.assertAlmostEqual(values[at], alone[station], places=9)
