"""Loads of liquefied gas: by weight, by the filling limit, with the vapour above, and the point at which to stop."""

from __future__ import annotations

from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st
from scipy import constants

from rasante.core.loading.filling import filling_density, permitted, places
from rasante.core.loading.gas import SIXTY_F, Gas
from rasante.core.loading.load import progress, short_by_float, targets
from rasante.core.loading.load_form import Sensed, read_load
from rasante.core.quantities.errors import InputError
from rasante.core.quantities.words import Words

LB, GAL = constants.pound, constants.gallon_US


class Gases(TestCase):
    def test_propane_weighs_what_people_say(self) -> None:
        # About 4.2 lb by US gallon at 60 °F: common practice, no published source.
        self.assertAlmostEqual(Gas().density(SIXTY_F) * GAL / LB, 4.2, delta=0.05)
        self.assertAlmostEqual(Gas().relative_density, 0.507, delta=0.003)

    def test_liquid_full(self) -> None:
        gas = Gas()
        for celsius in (-10.0, 20.0, 45.0):
            self.assertAlmostEqual(gas.liquid_full_at(gas.density(celsius) * 3.0, 3.0), celsius, places=4)
        self.assertIsNone(gas.liquid_full_at(100.0, 3.0))
        with self.assertRaisesRegex(InputError, "check the unit"):
            gas.density(140.0)


class Filling(TestCase):
    def test_the_stated_formula(self) -> None:
        # 42 % for a relative density of 0.504 to 0.510, small and above ground: from memory of NFPA 58.
        self.assertEqual(filling_density(0.508, "small"), 0.42)
        self.assertEqual(filling_density(0.508, "large"), 0.45)
        gas = Gas()
        at = gas.density(4.0) / gas.density(SIXTY_F)
        self.assertAlmostEqual(permitted(gas, 4.0, "small").ratio, 0.42 / (gas.relative_density * at), places=12)
        # At 40 °F that is about the 80 % that most gauges are painted for: common practice.
        self.assertAlmostEqual(permitted(gas, 4.444, "small").ratio, 0.80, delta=0.012)

    def test_more_room_is_kept_when_it_is_cold(self) -> None:
        for place in places():
            ratios = [permitted(Gas(), celsius, place).ratio for celsius in (-20, 0, 20, 40)]
            self.assertEqual(ratios, sorted(ratios))

    def test_the_rows_follow_one_another(self) -> None:
        found = [filling_density(thousandth / 1000, "large") for thousandth in range(473, 601)]
        self.assertEqual(found, sorted(found))
        for wrong in (0.472, 0.61):
            with self.assertRaisesRegex(InputError, "outside the table"):
                filling_density(wrong, "small")


class Targets(TestCase):
    def test_fifteen_thousand_four_hundred_pounds(self) -> None:
        density = 4.21 * LB / GAL
        gas = Gas(0.0, density / Gas().density(SIXTY_F))
        found = targets(gas, SIXTY_F, 5000 * GAL, 0.8, 15_400 * LB)
        assert found.by_weight_m3 is not None and found.with_vapour_m3 is not None
        # 15 400 lb ÷ 4.21 lb/US gal, by hand.
        self.assertAlmostEqual(found.by_weight_m3 / GAL, 3658.0, delta=0.05)
        # The vapour above weighs too, so a little less liquid may be in it.
        self.assertLess(found.with_vapour_m3, found.by_weight_m3)
        self.assertAlmostEqual(found.mass_kg + found.vapour_kg, 15_400 * LB, places=6)
        self.assertEqual(found.rule, "weight")

    def test_weight_rules_on_some_vessels_and_volume_on_others(self) -> None:
        small = targets(Gas(), 15.0, 4000 * GAL, 0.8, 15_400 * LB)
        large = targets(Gas(), 15.0, 5000 * GAL, 0.8, 15_400 * LB)
        self.assertEqual((small.rule, large.rule), ("filling", "weight"))
        self.assertAlmostEqual(small.target_m3, 3200 * GAL)
        self.assertEqual(targets(Gas(), 15.0, 2.0, 0.8, None).rule, "filling")

    @given(
        st.floats(-20, 40),
        st.floats(0, 1),
        st.floats(0.5, 50),
        st.floats(0.3, 0.9),
        st.one_of(st.none(), st.floats(200, 3e4)),
    )
    def test_neither_limit_is_ever_passed(self, celsius, butane, capacity, filling, weight) -> None:
        gas = Gas(butane)
        try:
            found = targets(gas, celsius, capacity, filling, weight)
        except InputError:
            return
        self.assertLessEqual(found.target_m3, filling * capacity * (1 + 1e-12))
        if weight is not None:
            self.assertLessEqual(found.mass_kg + found.vapour_kg, weight * (1 + 1e-9))
        if found.full_at_c is not None and found.full_at_c > -45:
            self.assertGreater(found.full_at_c, celsius)

    def test_the_stop_point(self) -> None:
        # 200 L/min and ten seconds to stop: 33.3 L still come.
        on = progress(3.0, 2.0, 0.2 / 60, 10.0)
        self.assertAlmostEqual(on.stop_m3, 3.0 - 0.2 / 6)
        self.assertAlmostEqual(on.to_stop_s, (1.0 - 0.2 / 6) / (0.2 / 60))
        self.assertEqual(on.state, "load")
        self.assertEqual((on.volume_m3, on.left_m3), (2.0, 1.0))
        self.assertEqual(progress(3.0, 2.97, 0.2 / 60, 10.0).state, "stop")
        self.assertEqual(progress(3.0, 3.01, 0.2 / 60, 10.0).state, "over")
        self.assertIsNone(progress(3.0, 2.0, 0.0, 10.0).to_stop_s)

    def test_what_a_float_costs(self) -> None:
        # 5 to 10 % by a float, 1 % by a good sensor: common practice.
        low, high = short_by_float(10.0)
        self.assertAlmostEqual(low, 0.4)
        self.assertAlmostEqual(high, 0.9)


class Typed(TestCase):
    def read(self, live: tuple[float, float] | None = None, silent: str = "", **entries: str):
        typed = {key.replace("__", "."): text for key, text in entries.items()}
        return read_load(typed, 10.0, 0.8, Sensed(*(live or (None, 0.0)), silent), "metric")

    def codes(self, found) -> list[str]:
        return [one.code for one in found.judgements]

    def test_nothing_goes_above_the_usual_without_the_codes_figure_and_a_reason(self) -> None:
        self.assertLessEqual(self.read(temperature="40 °C", place="buried").filling, 0.8)
        without = self.read(code__filling="88 %")
        self.assertEqual(without.filling, self.read().filling)
        self.assertIn("say which code", without.form.problems[0].what)
        given = self.read(code__filling="88 %", code__reason="NFPA 58, table for this vessel, at 30 °C")
        self.assertEqual((given.filling, given.form.problems), (0.88, []))
        self.assertIn("above-usual-filling", self.codes(given))
        # Less than is usual needs none.
        self.assertAlmostEqual(self.read(code__filling="70 %").filling, 0.7)
        cold = self.read(temperature="-20 °C", place="small")
        self.assertLess(cold.filling, 0.8)

    def test_the_density_is_confirmed_at_each_load(self) -> None:
        self.assertIn("density-not-confirmed", self.codes(self.read()))
        # What is listed confirms nothing: it is the paper of this load that does.
        listed = self.read(confirmed="yes")
        self.assertIn("density-not-confirmed", self.codes(listed))
        self.assertFalse(listed.confirmed)
        self.assertTrue(self.read(confirmed="yes", density="507 kg/m3").confirmed)
        self.assertNotIn("density-not-confirmed", self.codes(self.read(confirmed="yes", density="507 kg/m3")))
        self.assertIn("density-apart", self.codes(self.read(confirmed="yes", density="560 kg/m3")))
        # Half a per cent is told: that much a wrong temperature of the paper makes.
        self.assertIn("density-apart", self.codes(self.read(confirmed="yes", density="511 kg/m3")))

    def test_a_density_of_the_paper_is_corrected_to_the_loads_temperature(self) -> None:
        """506.7 kg/m³ at 60 °F in a load at 6 °C: 2,000 kg weigh 2,000 kg, against pure propane's own densities."""
        listed = Gas().density(SIXTY_F)
        self.assertAlmostEqual(listed, 506.7, delta=1.5)
        entries = {"temperature": "6 °C", "weight": "2000 kg", "confirmed": "yes"}
        found = self.read(density=f"{listed} kg/m3", density__at="60f", **entries)
        assert found.targets is not None and found.gas is not None
        truly = Gas().density(6.0)
        self.assertAlmostEqual(found.gas.density(6.0), truly, places=6)
        self.assertGreater(truly / listed, 1.02)
        self.assertLessEqual(found.targets.target_m3 * truly, 2000.0)
        self.assertNotIn("density-apart", self.codes(found))
        # The same figure taken for the load's own is told.
        wrong = self.read(density=f"{listed} kg/m3", density__at="load", **entries)
        assert wrong.targets is not None
        self.assertIn("density-apart", self.codes(wrong))
        # As long as nobody says which, the denser is taken: no more is let in than either allows.
        unsaid = self.read(density=f"{listed} kg/m3", **entries)
        assert unsaid.targets is not None
        self.assertLessEqual(unsaid.targets.target_m3, min(wrong.targets.target_m3, found.targets.target_m3) + 1e-9)
        self.assertIn("density-at", self.codes(unsaid))
        # Proposed: what papers have, by the units.
        self.assertEqual(read_load({}, 10.0, 0.8, Sensed(), "us").form.fields["density.at"].usual, "60f")

    def test_a_density_that_the_table_has_no_row_for_is_told(self) -> None:
        odd = self.read(confirmed="yes", density="440 kg/m3")
        self.assertIn("no-table-row", self.codes(odd))
        self.assertLessEqual(odd.filling, 0.8)
        self.assertNotIn("no-table-row", self.codes(self.read()))

    def test_a_cargo_tank_goes_by_its_own_size(self) -> None:
        """49 CFR 173.315(b), from memory: to 1200 US gal as what stands above ground and is as small."""
        self.assertIn("cargo tank, to 1200", places()["small"])
        self.assertIn("cargo tank, over 1200", places()["large"])
        self.assertEqual([filling_density(0.478, place) for place in places()], [0.38, 0.41, 0.42])

    def test_with_a_sensor_a_meter_or_by_hand(self) -> None:
        metered = self.read(before="2000 L", meter="1500 L", rate="200 L")
        assert metered.progress is not None
        self.assertAlmostEqual(metered.progress.volume_m3, 3.5)
        self.assertAlmostEqual(metered.progress.overshoot_m3, 0.2 / 6)
        sensed = self.read(live=(4.0, 0.003), before="2000 L")
        assert sensed.progress is not None
        self.assertAlmostEqual(sensed.progress.volume_m3, 4.0)
        self.assertAlmostEqual(sensed.loaded_m3, 2.0)
        typed = self.read(live=(4.0, 0.003), now="4100 L")
        assert typed.progress is not None
        self.assertAlmostEqual(typed.progress.volume_m3, 4.1)
        over = self.read(now="8500 L")
        self.assertEqual(over.judgements[0].code, "over-target")
        self.assertEqual(over.judgements[0].weight, "stop")

    def test_a_sensor_that_is_not_live_says_nothing_of_what_is_in_it(self) -> None:
        found = self.read(silent="late: not live", before="2000 L")
        self.assertIsNone(found.progress)
        self.assertEqual((found.by, found.loaded_m3), ("", None))
        self.assertEqual((found.judgements[0].code, found.judgements[0].weight), ("sensor-silent", "stop"))
        self.assertIn("late: not live", Words("metric").say(found.judgements[0]))
        metered = self.read(silent="late: not live", before="2000 L", meter="1500 L")
        assert metered.progress is not None
        self.assertAlmostEqual(metered.progress.volume_m3, 3.5)
        self.assertEqual(metered.by, "meter")
        self.assertIn("sensor-silent", self.codes(metered))
        self.assertEqual(self.read(silent="frozen", now="3000 L").by, "typed")

    def test_where_sensor_and_meter_say_two_things_the_larger_is_gone_by(self) -> None:
        for meter, by, contents in (("1500 L", "sensor", 4.0), ("2500 L", "meter", 4.5)):
            found = self.read(live=(4.0, 0.003), before="2000 L", meter=meter)
            assert found.progress is not None
            self.assertEqual(found.by, by)
            self.assertAlmostEqual(found.progress.volume_m3, contents)
            self.assertAlmostEqual(found.loaded_m3, contents - 2)
            self.assertIn("contents-apart", self.codes(found))
        self.assertNotIn("contents-apart", self.codes(self.read(live=(4.0, 0.003), before="2 m3", meter="2010 L")))
        # What was typed a while ago holds nothing back that the sensor sees come.
        self.assertEqual(self.read(live=(5.0, 0.003), now="4100 L").by, "sensor")

    def test_what_was_in_it_before_is_no_word_of_what_has_come(self) -> None:
        found = self.read(before="2000 L")
        assert found.progress is not None
        self.assertAlmostEqual(found.progress.volume_m3, 2.0)
        self.assertEqual((found.by, found.loaded_m3), ("before", None))
        self.assertIn("only-before", self.codes(found))

    def test_a_vessel_without_a_tank_asks_for_its_capacity(self) -> None:
        bare = read_load({}, None, None, Sensed(), "us")
        self.assertIn("water measure", bare.form.problems[0].what)
        typed = read_load({"capacity": "3000 US gal", "weight": "9000 lb"}, None, None, Sensed(), "us")
        self.assertEqual(typed.form.problems, [])
        assert typed.targets is not None
        self.assertEqual(typed.targets.rule, "weight")
