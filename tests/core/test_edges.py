"""Edges that a rule turns at, each from the side where it does and the side where it does not."""

from __future__ import annotations

import itertools
import math
from unittest import TestCase

import numpy as np

from rasante.core.gauges.placement import read_obstacles, read_spot
from rasante.core.gauges.probes import proposed_school
from rasante.core.gauges.situation import read_situation
from rasante.core.gauges.suit import judge_models
from rasante.core.gauges.tilt import surface_at
from rasante.core.quantities.errors import InputError
from rasante.core.quantities.form import Form
from rasante.core.scaling.chain_line import slopes_at, steps_at
from rasante.core.scaling.chain_values import places_text
from rasante.core.scaling.hypotheses import hypotheses
from rasante.core.scaling.marks import place
from rasante.core.tanks.device_points import fit_device
from rasante.core.tanks.points import Points
from rasante.core.tanks.polygon import from_widths
from rasante.core.tanks.tank_file import check_document
from rasante.core.wiring.circuit_kinds import read_wiring
from rasante.core.wiring.circuit_network import Condition
from rasante.core.wiring.meter import Leads, measure

from .chain_cases import chain
from .gauge_cases import VENT, lying, meet, model, upright


class Probes(TestCase):
    def test_a_probe_of_seven_hundred_millimetres_needs_no_foot(self) -> None:
        # Common practice, no published source: no foot up to 700 mm.
        self.assertEqual(proposed_school(0.7, 0.0)[0], "hard")
        self.assertEqual(proposed_school(0.700_001, 0.0)[0], "sprung")
        self.assertEqual(proposed_school(0.7, 1e-4)[0], "free")


class Obstacles(TestCase):
    def read(self, ports: list[dict[str, object]] | None = None, **entries: str):
        form = Form({f"obstacles[0].{key}": text for key, text in entries.items()}, "metric")
        return form, read_obstacles(form, ports or [])

    def test_where_it_stands_is_asked_for_only_where_it_is_lacking(self) -> None:
        form, found = self.read(kind="float")
        self.assertEqual(([p.where for p in form.problems], found), (["obstacles[0].x"], []))
        form, found = self.read(kind="float", x="2 m")
        self.assertEqual((form.problems, [(one.x_m, one.y_m) for one in found]), ([], [(2.0, 0.0)]))
        # What cannot be read is told once, as that.
        form, _ = self.read(kind="float", x="two")
        self.assertEqual([p.where for p in form.problems], ["obstacles[0].x"])
        self.assertNotIn("type where", form.problems[0].what)

    def test_a_filling_jet_stands_at_its_opening_unless_the_gauge_shares_it(self) -> None:
        fill = {"name": "Fill", "uses": ["fill"], "position": "1.5 m"}
        _, found = self.read([fill])
        self.assertEqual([(one.kind, one.name, one.x_m) for one in found], [("inlet", "Fill", 1.5)])
        self.assertEqual(self.read([{**fill, "uses": ["fill", "gauge"]}])[1], [])
        self.assertEqual(self.read([{**fill, "position": ""}])[1], [])


class Situations(TestCase):
    def test_the_surface_at_a_spot_of_a_sloped_tank(self) -> None:
        # y(x) = (h + (x₀ − x) sin θ) / cos θ, from the definition: the surface is level, the tank is not.
        slope, gauge, spot, innage = 0.03, 1.0, 3.5, 0.9
        angle = math.atan(slope)
        there = meet(lying(slope_mm_per_m=30, gauge_position_mm=1000), {"spot.x": "3500 mm"})
        expected = (innage + (gauge - spot) * math.sin(angle)) / math.cos(angle)
        self.assertAlmostEqual(there.surface_m(innage), expected, 12)
        self.assertEqual(meet(lying(), {"spot.x": "3500 mm"}).surface_m(innage), innage)

    def test_temperatures_the_wrong_way_round_are_told(self) -> None:
        def problems(low: str, high: str) -> list[str]:
            form = Form({"site.temperature_low": low, "site.temperature_high": high}, "metric")
            read_situation(form, lying(), VENT)
            return [problem.where for problem in form.problems]

        self.assertEqual(problems("30 °C", "10 °C"), ["site.temperature_low"])
        self.assertEqual(problems("10 °C", "30 °C"), [])
        self.assertEqual(problems("10 °C", "10 °C"), [])

    def test_a_spot_at_no_opening_is_judged_by_none(self) -> None:
        spot = read_spot(Form({"spot.x": "1 m"}, "metric"), VENT)
        self.assertEqual(spot.port, "")

    def test_models_are_judged_at_the_levels_that_are_worked_with(self) -> None:
        there = meet(upright(), {"site.lowest": "500 mm", "site.highest": "2500 mm"})
        expected = judge_models(there, [model("ultrasonic")])[0].expected
        assert expected is not None
        self.assertTrue(0.5 - 1e-9 <= expected.at_m <= 2.5 + 1e-9, expected)


class Tilted(TestCase):
    def test_a_roll_to_starboard_and_to_port_are_not_the_same(self) -> None:
        # A keeled section that is fuller on one side: the surface across it lies otherwise for either way.
        section = {"kind": "polygon", "points_mm": [[0, 0], [300, 0], [900, 400], [900, 700], [0, 700]]}
        shape = {"kind": "prism", "length_mm": 1500, "section": section}
        tank = check_document(
            {"format": "rasante.tank/1", "name": "Keeled", "product": "diesel", "shape": shape}
        ).tank
        one, other = surface_at(tank, 0.0, 8.0, 0.4), surface_at(tank, 0.0, -8.0, 0.4)
        self.assertAlmostEqual(one.across, -other.across, 9)
        self.assertAlmostEqual(abs(one.across), math.tan(math.radians(8.0)), 6)
        self.assertGreater(abs(one.level - other.level), 1e-3)


class Chains(TestCase):
    def test_a_step_is_worth_its_level_whichever_way_it_counts(self) -> None:
        up = chain(sensor__quantity="level", sensor__high="2000 mm", counts__bits="12")
        down = chain(sensor__quantity="distance", sensor__low="2200 mm", sensor__high="200 mm", counts__bits="12")
        for one in (up, down):
            # A 0–20 mA, 12-bit card: 4095 counts for 20 mA, so 3276 for the 16 mA that are 2000 mm.
            step = steps_at(one, slopes_at(one, 1.0))["counts"]
            self.assertAlmostEqual(step, 2.0 / 3276, delta=2e-6)

    def test_a_mark_outside_is_told_what_the_tank_has(self) -> None:
        tank = upright().tank
        with self.assertRaises(InputError) as refused:
            place(tank, None, "volume", 99.0)
        self.assertIn(f"0 to {math.pi * 3 * 1000:.0f} L", refused.exception.problems[0].what)

    def test_what_a_screen_may_take_its_number_for(self) -> None:
        for takes, said in (
            ("level", "takes level for distance"),
            ("distance", "takes distance for level"),
            ("pressure", "works with another density"),
            ("percent", "another height of 100 %"),
        ):
            unit = {"pressure": "bar", "percent": "pct"}.get(takes, "mm")
            c = chain(sensor__quantity="level", shown__takes=takes, scaled__unit=unit, shown__from=unit)
            reasons = {one.why for one in hypotheses(c, ["shown"])}
            others = {"takes level for distance", "takes distance for level", "another height of 100 %"} - {said}
            with self.subTest(takes):
                self.assertIn(said, reasons)
                self.assertFalse(others & reasons)

    def test_numbers_in_words(self) -> None:
        for value, decimals, text in (
            (1234.5, 0, "1234"), (0.5, 2, "0.5"), (-0.0, 1, "0"), (-0.004, 2, "0"), (3e-9, 2, "3e-09"),
            (5e-7, 3, "5e-07"), (2e-6, 3, "0"), (2e-6, 7, "0.000002"),
            (1e13, 0, "1e+13"), (120.0, 1, "120"), (float("nan"), 1, "nan"),
        ):  # fmt: skip
            with self.subTest(value=value, decimals=decimals):
                self.assertEqual(places_text(value, decimals), text)


class Shapes(TestCase):
    def test_a_width_given_twice_is_one_corner(self) -> None:
        rows = [(0.0, 0.4), (0.5, 0.8), (0.5, 0.8), (0.9, 0.8)]
        points = from_widths(rows)
        self.assertEqual(len(points), 6)
        self.assertEqual(points[0], (0.2, 0.0))
        self.assertNotIn(True, [a == b for a, b in itertools.pairwise(points)])

    def test_a_table_of_points_is_drawn_as_wide_as_it_holds(self) -> None:
        # 1 m³ in the lower metre, 2 in the upper: drawn √1.5 m deep, as their mean is, and as wide as that asks.
        across = Points(((0.0, 0.0), (1.0, 1.0), (2.0, 3.0))).outline().across
        side = math.sqrt(1.5)
        widths = {round(z, 3): round(2 * x, 6) for x, z in across if x > 0}
        self.assertAlmostEqual(widths[0.5], 1 / side, 5)
        self.assertAlmostEqual(widths[1.5], 2 / side, 5)

    def test_a_device_that_resolves_everything_is_taken(self) -> None:
        tank = upright().tank
        for resolution in (0.0, 0.01):
            self.assertLess(fit_device(tank, 4, level_resolution_m=resolution).free.error_m3, 1e-3)
        with self.assertRaises(InputError):
            fit_device(tank, 4, level_resolution_m=-1e-6)
        with self.assertRaises(InputError):
            fit_device(tank, 4, level_resolution_m=tank.inside_height / 2)


class Metered(TestCase):
    def test_the_barrier_s_two_lines_by_ohm_s_law(self) -> None:
        # 12 mA through 250 Ω are 3 V at the input, whatever the cable; a meter of 10 MΩ beside them takes 75 µV.
        form = {"kind": "two_wire", "input.ohm": "250 Ω", "cable[0].length": "100 m"}
        circuit = read_wiring(form, "metric").circuit
        volts = measure(circuit, Condition(current_a=0.012), Leads("V", "input.+", "input.−"))
        self.assertTrue(np.isclose(volts, 3.0, atol=1e-4), volts)
