"""The outside world in time: contents by hand and by bookkeeping, chance that can be had again, links and meters."""

from __future__ import annotations

import tempfile
import time
from dataclasses import replace
from pathlib import Path
from unittest import TestCase

import numpy as np
from scipy.stats import kstest

from rasante.core.plant.chance import normal, uniform
from rasante.core.plant.flows import DAY_S, Calendar, Flow, Pump, Vessel, every_day, temperature
from rasante.core.plant.instruments import FlowMeter, Instrument, Link, Surface, nightly, readings_of
from rasante.core.plant.plant import Plant
from rasante.core.quantities.errors import InputError
from rasante.core.scaling.edits import Delay, Gain, Noise, Stick
from rasante.simulator.world import EDITS, Sensor, World, read_state
from rasante.simulator.yard_file import TrueTank, make_yard

from .chain_cases import chain, file_of
from .plant_cases import MONDAY, QUAY, WEEK_S, ice_plant


class Chance(TestCase):
    def test_the_same_place_gives_the_same_draw_in_whatever_order(self) -> None:
        places = np.arange(1000)
        drawn = normal(5, places)
        np.testing.assert_array_equal(normal(5, places[::-1])[::-1], drawn)
        self.assertEqual(float(normal(5, np.array([17]))[0]), drawn[17])
        self.assertLess(abs(np.corrcoef(drawn, normal(6, places))[0, 1]), 0.1)

    def test_it_is_even_and_normal_by_kolmogorov_and_smirnov(self) -> None:
        places = np.arange(20_000)
        self.assertGreater(kstest(uniform(3, places), "uniform").pvalue, 0.01)
        self.assertGreater(kstest(normal(3, places), "norm").pvalue, 0.01)
        # Neighbouring places have nothing to do with one another.
        self.assertLess(abs(np.corrcoef(normal(3, places[:-1]), normal(3, places[1:]))[0, 1]), 0.03)


class Calendars(TestCase):
    def test_days_of_the_week(self) -> None:
        # 13 November 2023 was a Monday: the second day is a Tuesday.
        tuesdays = every_day(MONDAY, MONDAY + 2 * WEEK_S, 8.0, 1800.0, days=[1])
        self.assertEqual(tuesdays.starts, (MONDAY + DAY_S + 8 * 3600, MONDAY + 8 * DAY_S + 8 * 3600))
        self.assertTrue(tuesdays.on(tuesdays.starts[0]))
        self.assertFalse(tuesdays.on(tuesdays.ends[0]))
        self.assertEqual(tuesdays.next_edge(tuesdays.starts[0]), tuesdays.ends[0])
        self.assertEqual(tuesdays.next_edge(tuesdays.ends[1]), float("inf"))

    def test_spans_that_lie_over_one_another_are_refused(self) -> None:
        with self.assertRaisesRegex(InputError, "order of time"):
            Calendar((0.0, 5.0), (6.0, 9.0))

    def test_the_day_is_warmest_in_the_afternoon(self) -> None:
        hours = MONDAY + np.arange(0, 24) * 3600.0
        # The weather of whole days apart, as it goes on from one day to the next.
        warm = np.mean([temperature(hours + day * DAY_S, 10.0, 4.0, 1) for day in range(200)], axis=0)
        self.assertEqual(int(np.argmax(warm)), 15)
        self.assertAlmostEqual(float(warm.max() - warm.min()), 8.0, delta=0.5)


class Contents(TestCase):
    def test_a_filling_by_hand(self) -> None:
        plant = Plant(
            (Vessel("a", QUAY, 5.0),), (Flow("fill", None, "a", 0.01, Calendar((MONDAY + 60,), (MONDAY + 160,))),)
        )
        state, course = plant.advance(plant.start(MONDAY), MONDAY + 300)
        self.assertAlmostEqual(state.volumes["a"], 6.0, places=9)
        np.testing.assert_allclose(course.volume("a", MONDAY + np.array([0.0, 60, 110, 160, 300])), [5, 5, 5.5, 6, 6])
        self.assertAlmostEqual(state.moved["fill"], 1.0, places=9)

    def test_nothing_is_lost_between_tanks(self) -> None:
        plant = ice_plant()
        state, course = plant.advance(plant.start(MONDAY), MONDAY + WEEK_S)
        # A switching is met within a hundredth of a second.
        self.assertAlmostEqual(sum(state.volumes.values()) + state.moved["ice"], 31.5, delta=1e-4)
        self.assertTrue((course.volumes["header"] >= -1e-12).all())
        # All that the header got it got from the upright tank.
        self.assertAlmostEqual(30.0 - state.volumes["upright"], state.moved["pump"], delta=1e-4)

    def test_a_pump_runs_from_mark_to_mark(self) -> None:
        plant = ice_plant()
        _, course = plant.advance(plant.start(MONDAY), MONDAY + 6 * 3600)
        when = MONDAY + np.arange(0, 6 * 3600, 5.0)
        on, held = course.ran("pump", when), course.volume("header", when)
        self.assertTrue(on.any() and (~on).any())
        starts = held[1:][~on[:-1] & on[1:]]
        ends = held[1:][on[:-1] & ~on[1:]]
        # Within what flows in five seconds.
        np.testing.assert_allclose(starts, 1.0, atol=0.01)
        np.testing.assert_allclose(ends, 2.6, atol=0.01)
        # It fills at 2 − 0.5 L/s: 1.6 m³ in 1067 s.
        runs = np.diff(np.flatnonzero(np.diff(on.astype(int))))[::2] * 5.0
        np.testing.assert_allclose(runs[1:], 1.6 / 0.0015, atol=10)

    def test_it_is_the_same_in_one_go_or_in_many(self) -> None:
        plant = ice_plant()
        whole, _ = plant.advance(plant.start(MONDAY), MONDAY + DAY_S)
        state = plant.start(MONDAY)
        for hour in range(1, 25):
            state, _ = plant.advance(state, MONDAY + hour * 3600)
        for name, volume in whole.volumes.items():
            # A switching is met within a hundredth of a second.
            self.assertAlmostEqual(state.volumes[name], volume, delta=0.002)

    def test_an_empty_tank_gives_only_what_it_gets_and_a_full_one_runs_over(self) -> None:
        always = Calendar((MONDAY,), (MONDAY + DAY_S,))
        plant = Plant(
            (Vessel("a", QUAY, 0.1), Vessel("b", QUAY, QUAY.capacity - 0.05)),
            (
                Flow("trickle", None, "a", 0.0001, always),
                Flow("draw", "a", "b", 0.001, always),
            ),
        )
        state, _ = plant.advance(plant.start(MONDAY), MONDAY + 3600)
        self.assertAlmostEqual(state.volumes["a"], 0.0, places=6)
        self.assertAlmostEqual(state.moved["draw"], 0.1 + 0.36, delta=1e-4)
        self.assertAlmostEqual(state.volumes["b"], QUAY.capacity)
        self.assertAlmostEqual(state.spilled["b"], 0.46 - 0.05, delta=1e-4)

    def test_hands_open_and_shut_whatever_the_calendar_says(self) -> None:
        plant = ice_plant()
        state = plant.hand(plant.start(MONDAY), "pump", True)
        state = plant.hand(state, "ice", False)
        state, _ = plant.advance(state, MONDAY + 100)
        self.assertAlmostEqual(state.volumes["header"], 1.5 + 0.2, places=6)
        state = plant.hand(state, "pump", None)
        self.assertNotIn("pump", state.hands)
        with self.assertRaisesRegex(InputError, "nothing is called valve"):
            plant.hand(state, "valve", True)
        with self.assertRaisesRegex(InputError, "holds 0 to"):
            plant.put(state, "header", 99.0)

    def test_what_cannot_be_is_refused(self) -> None:
        with self.assertRaisesRegex(InputError, "names no vessel"):
            Plant((Vessel("a", QUAY, 1.0),), (Flow("x", "a", "b", 1.0),))
        with self.assertRaisesRegex(InputError, "more than nothing"):
            Plant((Vessel("a", QUAY, 1.0),), (), (Pump("p", "a", None, 0.0, "a", 1, 2),))

    def test_warm_liquid_stands_higher(self) -> None:
        plant = Plant((Vessel("a", QUAY, 10.0, 8e-4),), (), (), 1, 10.0, 5.0)
        when = MONDAY + np.arange(0, DAY_S, 3600)
        level, warm = plant.level("a", np.full(24, 10.0), when), plant.temperature(when)
        self.assertEqual(int(np.argmax(level)), int(np.argmax(warm)))
        np.testing.assert_allclose(QUAY.volume(level), 10.0 * (1 + 8e-4 * (warm - 10)), rtol=1e-6)


class Instruments(TestCase):
    def setUp(self) -> None:
        tank = file_of("lying").tank
        self.plant = Plant((Vessel("a", tank, tank.capacity / 2),), (), (), 3, 10.0, 0.0)
        _, self.course = self.plant.advance(self.plant.start(MONDAY), MONDAY + DAY_S)
        self.when = MONDAY + np.arange(0, 3600, 10.0)
        self.chain = chain("lying")
        self.level = tank.level(tank.capacity / 2)

    def test_a_still_surface_reads_as_the_chain_has_it(self) -> None:
        one = Instrument("a", self.chain)
        for station in self.chain.stations:
            np.testing.assert_allclose(
                one.read(self.plant, self.course, station, self.when), self.chain.at(self.level)[station], rtol=1e-6
            )

    def test_what_is_wrong_shows_from_its_station_on(self) -> None:
        stuck = Instrument("a", self.chain, (Stick("sent", 0.0123),))
        self.assertTrue((stuck.read(self.plant, self.course, "sent", self.when) == 0.0123).all())
        np.testing.assert_allclose(stuck.read(self.plant, self.course, "level", self.when), self.level, rtol=1e-9)
        more = Instrument("a", self.chain, (Gain("arriving", 1.1),))
        right = self.chain.at(self.level, exact=False)
        np.testing.assert_allclose(more.read(self.plant, self.course, "arriving", self.when), 1.1 * right["arriving"])
        noisy = Instrument("a", self.chain, (Noise("sent", 1e-4),))
        self.assertAlmostEqual(
            float(np.std(noisy.read(self.plant, self.course, "sent", self.when))), 1e-4, delta=1e-5
        )

    def test_a_delay_shows_what_was(self) -> None:
        late = Instrument("a", self.chain, (Delay("shown", 120.0),), drift_m_s=1e-5, drift_since_s=MONDAY)
        soon = replace(late, edits=())
        when = self.when[60:]
        np.testing.assert_allclose(
            late.read(self.plant, self.course, "level", when), soon.read(self.plant, self.course, "level", when - 120)
        )

    def test_a_storm_is_rougher_than_the_calm(self) -> None:
        storm = Calendar((MONDAY + 1800,), (MONDAY + 3600,))
        surface = Surface(0.001, 0.02, 3.1, storm)
        heave = surface.heave(1, self.when)
        self.assertAlmostEqual(float(np.std(heave[:180])), 0.001, delta=2e-4)
        self.assertGreater(float(np.std(heave[180:])), 0.008)
        np.testing.assert_array_equal(heave, surface.heave(1, self.when))

    def test_a_link_loses_delays_and_rests_at_night(self) -> None:
        night = nightly(MONDAY, MONDAY + DAY_S, 2.0, 3600.0)
        link = Link(60.0, 5.0, 0.1, night)
        one = Instrument("a", self.chain)
        sent = link.sent_at(MONDAY, MONDAY + DAY_S - 1)
        self.assertEqual(len(sent), 1440)
        times, arrive, values = readings_of(self.plant, self.course, one, "shown", link, sent)
        self.assertEqual(len(times), len(values))
        self.assertAlmostEqual(len(times) / 1380, 0.9, delta=0.03)
        np.testing.assert_allclose(arrive - times, 5.0)
        self.assertFalse(((times >= MONDAY + 7200) & (times < MONDAY + 10800)).any())
        kept = replace(link, keeps=True, loss=0.0)
        times, arrive, _ = readings_of(self.plant, self.course, one, "shown", kept, sent)
        self.assertEqual(len(times), 1440)
        at_night = (times >= MONDAY + 7200) & (times < MONDAY + 10800)
        np.testing.assert_allclose(arrive[at_night], MONDAY + 10800 + 5)

    def test_a_meter_counts_by_its_factor(self) -> None:
        plant = Plant(
            (Vessel("a", QUAY, 1.0),), (Flow("fill", None, "a", 0.005, Calendar((MONDAY,), (MONDAY + 1000,))),)
        )
        _, course = plant.advance(plant.start(MONDAY), MONDAY + 2000)
        meter = FlowMeter("fill", 1000.0, 1.004)
        self.assertEqual(float(meter.count(course, np.array([MONDAY + 2000.0]))[0]), np.floor(5 / 1.004 * 1000))
        self.assertAlmostEqual(float(meter.rate(course, np.array([MONDAY + 500.0]))[0]), 0.005 / 1.004, delta=2e-4)


class Yards(TestCase):
    """The demo's yard as it is written, and in motion."""

    def setUp(self) -> None:
        tank = file_of("lying").tank
        self.spec = {
            "seed": 5, "mean_c": 9.0, "swing_k": 2.0,
            "vessels": [{"tank": "a", "start": 0.5}],
            "flows": [{"name": "hose", "target": "a", "l_min": 300.0}],
            "pumps": [],
            "devices": [],
        }  # fmt: skip
        self.now = time.time()
        true = {"a": TrueTank(tank, chain("lying"))}
        self.yard = make_yard(self.spec, true, self.now - 86400, self.now + 86400)
        self.world = World(self.yard, self.yard.plant.start(self.now - 3600))

    def test_a_hose_fills_by_the_yards_own_clock(self) -> None:
        before = self.world.volume("a")
        self.world.hand("hose", True)
        self.world.run_at(3600)
        time.sleep(0.3)
        self.world.run_at(1)
        self.world.hand("hose", None)
        # At least 0.3 s of the wall's clock are 1080 s of the yard's: 5.4 m³, if there is room.
        room = self.yard.plant.vessel("a").tank.capacity
        self.assertGreaterEqual(self.world.volume("a"), min(before + 5.0, room) - 1e-6)
        self.assertFalse(self.world.running("hose"))

    def test_what_is_wrong_is_put_in_and_mended(self) -> None:
        right = self.world.read("a", "sent")
        self.world.edit("a", (EDITS["Stick"]("sent", "0.0036", ""),))
        self.assertEqual(self.world.read("a", "sent"), 0.0036)
        with self.assertRaisesRegex(InputError, "no station moon"):
            self.world.edit("a", (EDITS["Gain"]("moon", "2", ""),))
        self.world.edit("a", ())
        self.assertAlmostEqual(self.world.read("a", "sent"), right, delta=1e-5)

    def test_it_goes_on_where_it_was_kept(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            kept = Path(folder) / "yard.json"
            self.world.keep = kept
            self.world.put("a", 7.0)
            again = World(self.yard, read_state(kept), kept)
            self.assertAlmostEqual(again.volume("a"), 7.0, places=6)

    def test_a_far_screen_shows_what_was(self) -> None:
        drifting = replace(self.yard.instruments["a"], drift_m_s=1e-4, drift_since_s=self.now - 3600)
        self.world.yard.instruments["a"] = drifting  # type: ignore[index]
        here, before = self.world.read("a", "level"), self.world.read("a", "level", 100.0)
        self.assertAlmostEqual(here - before, 100 * 1e-4, delta=3e-3)

    def test_a_sonar_loses_its_echo_tilted_or_off_the_middle(self) -> None:
        self.assertGreater(Sensor().quality, 90)
        self.assertLess(Sensor(tilt_x=6).quality, 25)
        self.assertLess(Sensor(slide_mm=200).quality, 25)
