"""Chains against other references: NumPy's words, `fluids`' tank, closed forms of steps; and every gauge."""

from __future__ import annotations

import math
import random
import warnings
from itertools import pairwise
from unittest import TestCase

import numpy as np
from fluids.geometry import TANK
from scipy.interpolate import CubicHermiteSpline

from rasante.core.devices.rescale import LINKS
from rasante.core.gauges.model import check_model, generic_models
from rasante.core.scaling import registers
from rasante.core.scaling.agreement import beyond_chance, instrument, predict
from rasante.core.scaling.chain import STATIONS, all_settings
from rasante.core.scaling.chain_form import chain_start, read_chain
from rasante.core.scaling.chain_judge import judge_chain
from rasante.core.scaling.chain_line import read_chain_line, readable
from rasante.core.scaling.hypotheses import hypotheses
from rasante.core.scaling.marks import Surroundings, read_marks
from rasante.core.scaling.panel_meter import meter_ends
from rasante.core.scaling.parting import find_parting
from rasante.core.scaling.steps import step_one
from rasante.core.scaling.volumes import curve_of
from tests.tags import slow

from .chain_cases import chain, file_of, forward, get, ground, put, random_chain, run
from .gauge_cases import lying, upright
from .said import said


class Words(TestCase):
    def test_words_that_are_no_number_stay_none_without_a_warning(self) -> None:
        # A signalling and a quiet NaN, and an infinity (IEEE 754).
        words = np.array([[0x7F80, 0x0001], [0x7FC0, 0x0000], [0x7F80, 0x0000]])
        with warnings.catch_warnings():
            warnings.simplefilter("error")
            found = registers.from_words(words, "float32", "ABCD")
        self.assertTrue(np.isnan(found[:2]).all() and np.isinf(found[2]))

    """NumPy's own byte orders as the reference."""

    DTYPES = {"int16": "i2", "uint16": "u2", "int32": "i4", "uint32": "u4", "float32": "f4"}
    NUMBERS = {
        "int16": (0, 1, -1, 346, -32768, 32767), "uint16": (0, 346, 65535), "int32": (0, -9, 123456789, -(2**31)),
        "uint32": (0, 4000000000), "float32": (0.0, 34.6, -1200.25, 1e-20, 3.0e38),
    }  # fmt: skip

    def by_numpy(self, number: float, kind: str, order: str) -> tuple[int, ...]:
        big = np.array([number], f">{self.DTYPES[kind]}").view(">u2").astype(int)
        words = big[::-1] if order in ("CDAB", "DCBA") else big
        if order in ("BADC", "DCBA"):
            words = np.array([((word & 0xFF) << 8) | (word >> 8) for word in words])
        return tuple(int(word) for word in words)

    def test_every_type_in_every_order(self) -> None:
        for kind, numbers in self.NUMBERS.items():
            for order in registers.ORDERS:
                for number in numbers:
                    words = registers.encode(number, kind, order)
                    self.assertEqual(words, self.by_numpy(number, kind, order), (kind, order, number))
                    there = np.array([number], self.DTYPES[kind])[0]
                    self.assertEqual(registers.decode(words, kind, order), float(there))

    def test_low_words_first_are_little_endian_by_the_byte(self) -> None:
        words = registers.encode(34.6, "float32", "DCBA")
        data = b"".join(word.to_bytes(2, "big") for word in words)
        self.assertEqual(data, np.array([34.6], "<f4").tobytes())

    def test_what_does_not_fit_wraps_as_numpy_does(self) -> None:
        for kind in ("int16", "uint16", "int32"):
            for number in (40000, -40000, 70001, 2**31 + 5):
                wrapped = int(np.array([number], "i8").astype(self.DTYPES[kind])[0])
                self.assertEqual(float(registers.wrapped(np.array([float(number)]), kind)[0]), wrapped)


class Steps(TestCase):
    def test_one_count_by_hand(self) -> None:
        # 12 bits from nothing: 819 to 4095 counts for 4 to 20 mA, over 3 m of range.
        c = chain(counts__bits="12")
        stops = {stop.station: stop for stop in read_chain_line(c, file_of("upright"), 1.5).stops}
        self.assertEqual((get(c, "counts_low"), get(c, "counts_high")), (819, 4095))
        self.assertAlmostEqual(stops["counts"].step_m, 3.0 / (4095 - 819), 9)
        surface = math.pi * 1.0**2
        self.assertAlmostEqual(stops["counts"].step_m3, 3.0 / (4095 - 819) * surface, 6)
        self.assertAlmostEqual(stops["number"].step_m, 0.001, 9)

    def test_three_digits_and_cut_off_tenths(self) -> None:
        c = chain(scaled__unit="cm", scaled__decimals="1", scaled__digits="3", scaled__rounding="truncate")
        self.assertEqual(forward(c, "number", 32767.0), 99.9)
        self.assertEqual(step_one(12.39, 1, "truncate"), 12.3)
        self.assertEqual(step_one(-12.39, 1, "truncate"), -12.3)
        self.assertEqual(step_one(0.29, 2, "truncate"), 0.29)
        self.assertEqual(step_one(12.35, 1), 12.4)

    def test_a_card_that_is_full_stops_or_wraps(self) -> None:
        c = chain(sensor__high="1.5 m", counts__low="0", counts__high="32767")
        above = 0.0205
        self.assertEqual(forward(c, "counts", above), 32767)
        self.assertEqual(forward(put(c, counts_over="wrap"), "counts", above), 33791 - 32768)
        self.assertEqual(forward(put(c, counts_bits=16), "counts", above), 33791)

    def test_after_three_time_constants_a_filter_has_followed(self) -> None:
        self.assertLess(math.exp(-3), 0.05)
        typed = {"marks.high": "90 %", "fill_rate": "800 L", "response": "0"}
        c = chain("lying", filter__time="20")
        found = read_marks(typed, c.screen.volumes.tank, c, Surroundings(), "metric")
        text = next(said(j) for j in found.judgements if j.code == "response")
        self.assertIn("60 s of them the filter's", text)

    def test_a_panel_meter_shows_the_middle_in_the_middle(self) -> None:
        c = chain(sensor__quantity="pressure", sensor__high="0.4 bar", sensor__zero="70 mm")
        ends = meter_ends(c, "mm", 5)
        middle = c.level_from("sent", 0.012) * 1000
        self.assertAlmostEqual((ends.low + ends.high) / 2, middle, delta=1.0)
        self.assertAlmostEqual(ends.low, 70.0, 3)

    def test_a_panel_meter_shows_as_many_places_as_its_digits_hold(self) -> None:
        c = chain(sensor__quantity="pressure", sensor__high="0.4 bar")
        full = c.level_from("sent", 0.020)
        self.assertTrue(1 < full < 9.99, "metres with one digit before the point")
        for unit, digits, places in (("m", 3, 2), ("m", 4, 3), ("m", 6, 3), ("mm", 4, 0), ("mm", 6, 2), ("cm", 4, 1)):
            ends = meter_ends(c, unit, digits)
            self.assertEqual(ends.decimals, places, f"{unit}, {digits} digits")
            self.assertLessEqual(ends.high * 10**places, 10**digits - 1)


class Tanks(TestCase):
    def test_marks_stand_where_fluids_has_them(self) -> None:
        tank = file_of("lying").tank
        reference = TANK(D=2.0, L=5.0, horizontal=True)
        typed = {f"marks.{key}": f"{share} %" for key, share in (("high", 90), ("reorder", 30), ("empty", 4))}
        for mark in read_marks(typed, tank, None, Surroundings(), "metric").marks:
            self.assertAlmostEqual(reference.V_from_h(mark.level_m), mark.value * reference.V_total, 8)

    def test_a_screen_shows_fluids_volumes(self) -> None:
        c = chain("lying", shown__as="volume", scaled__decimals="3", scaled__unit="m", shown__decimals="1")
        reference = TANK(D=2.0, L=5.0, horizontal=True)
        for level in (0.2, 0.9, 1.7):
            self.assertAlmostEqual(run(c, level, exact=False)["shown"], reference.V_from_h(level) * 1000, delta=0.05)


@slow
class Everything(TestCase):
    def test_every_setting_belongs_to_a_hop_of_some_chain(self) -> None:
        known = all_settings()
        self.assertLessEqual({station for station, _ in known.values()}, set(STATIONS))
        met: set[str] = set()
        for seed in range(60):
            c = random_chain(random.Random(seed))
            met |= set(c.settings())
            self.assertLessEqual(set(c.settings()), set(known))
            self.assertEqual(c.put(c.settings()), c)
        bridge = chain(signal__kind="mv").settings()
        self.assertEqual(met | set(bridge), set(known))
        for _, listed in LINKS.values():
            self.assertLessEqual(set(listed), set(known))

    def test_every_gauge_begins_a_chain_that_agrees(self) -> None:
        for file in (lying(), lying("propane"), upright(), upright("water", 6000)):
            for document in generic_models():
                model = check_model(document)
                for output in model.outputs or ("",):
                    for system in ("metric", "us"):
                        start = chain_start(file, model, output, None, system)
                        found = read_chain({}, ground(file, start), system)
                        self.assertIsNotNone(found.chain, (model.name, output, found.form.problems))
                        assert found.chain is not None
                        codes = {judgement.code for judgement in judge_chain(found.chain, system)}
                        self.assertNotIn("parts", codes, (model.name, output))
                        self.assertEqual(set(found.usual), set(found.chain.known()))

    def test_every_hypothesis_changes_its_own_hop_only(self) -> None:
        known = all_settings()
        for seed in range(30):
            c = random_chain(random.Random(seed))
            hops = c.stations[1:]
            for guess in hypotheses(c, hops):
                self.assertIn(guess.hop, hops)
                for path in guess.settings:
                    station = "number" if c.signal is None and known[path][0] == "sent" else known[path][0]
                    self.assertEqual(station, guess.hop, path)
                level = sum(readable(c)) / 2
                before = hops[: hops.index(guess.hop)]
                if not guess.sought:
                    wrong, right = run(guess.on(c), level), run(c, level)
                    self.assertEqual([wrong[hop] for hop in before], [right[hop] for hop in before])

    def test_what_the_instruments_allow_is_not_accused_and_more_is(self) -> None:
        c = chain(scaled__decimals="2", shown__decimals="2", scaled__unit="mm")
        c = put(c, register_type="float32", read_type="float32")
        level, accused = 1.3, []
        for share in (0.0, 0.0005, 0.001, 0.005, 0.02, 0.1):
            wrong = run(put(c, sensor_high=c.sensor.range_high * (1 + share)), level, exact=False)
            row = {station: wrong[station] for station in ("level", "sent")}
            accused.append(bool(find_parting(c, [row]).hops))
        # A level to ± 3 mm twice, a sensor of ± 0.25 %, a meter of ± 0.1 %: half a per cent at mid-range hides in it.
        self.assertEqual(accused, [False, False, False, False, True, True])
        self.assertGreater(float(instrument(c, "level", np.array([level]))[0]), 0)
        self.assertAlmostEqual(beyond_chance(1), 3.09, 2)
        self.assertGreater(beyond_chance(14), beyond_chance(1))


class Curves(TestCase):
    """SciPy's cubic through the same nodes and slopes."""

    def test_a_tanks_volume_its_slope_and_its_inverse(self) -> None:
        for name in ("lying", "upright"):
            curve = curve_of(file_of(name).tank)
            by_scipy = CubicHermiteSpline(curve.levels, curve.volumes, curve.surfaces)
            levels = np.linspace(curve.levels[0], curve.levels[-1], 4999)[1:-1]
            np.testing.assert_allclose(curve.volume(levels), by_scipy(levels), rtol=1e-9, atol=1e-12)
            np.testing.assert_allclose(curve.surface(levels), by_scipy.derivative()(levels), rtol=1e-6, atol=1e-9)
            np.testing.assert_allclose(curve.level(curve.volume(levels)), levels, atol=1e-8)


class Spread(TestCase):
    """JCGM 101:2008: what a hop adds, against values drawn through it."""

    def test_every_hop_against_draws(self) -> None:
        drawn = np.random.default_rng(3)
        seen = set()
        for seed in range(12):
            c = random_chain(random.Random(seed))
            low, high = readable(c)
            values = c.at(low + 0.45 * (high - low), exact=False)
            for before, station in pairwise(c.stations):
                hop, value = c.hop(station), values[before]
                sigma = 1e-3 * max(abs(value), 1e-3)
                entering = drawn.normal(value, sigma, 4000)
                leaving = c.over(station, entering, exact=False)
                own = float(np.asarray(hop.uncertainty(np.array([value]))).item()) / 2
                leaving = leaving + drawn.normal(0, 1, 4000) * own + drawn.uniform(-0.5, 0.5, 4000) * hop.step
                told = predict(c, before, station, np.array([value]), np.array([sigma]))[1].item()
                if np.std(leaving) > 1e-9 and told > 2e-6 * abs(values[station]):
                    self.assertAlmostEqual(told / float(np.std(leaving)), 1.0, delta=0.06, msg=f"{seed} {station}")
                    seen.add(station)
        self.assertGreaterEqual(len(seen), 6, seen)
