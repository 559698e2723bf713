"""A run of pours as it is typed: every field read, every judgement with its number, nothing guessed."""

from __future__ import annotations

import itertools
from unittest import TestCase

import numpy as np

from rasante.core.pouring.meter import meter_factor
from rasante.core.pouring.pour_fields import Vessel
from rasante.core.pouring.pour_form import PourForm, read_run
from rasante.core.products.registry import product_of
from rasante.core.quantities.units import System
from rasante.core.quantities.words import Words
from rasante.core.tanks.tank_file import check_document

BOX = {
    "format": "rasante.tank/1", "name": "Box", "product": "diesel",
    "shape": {"kind": "box", "length_mm": 1000, "width_mm": 1000, "height_mm": 1000},
    "measured": {"all": "tape_inside"},
}  # fmt: skip
#: A straight wall: a litre is a millimetre.
STRAIGHT = tuple((level, level) for level in (0, 100, 200, 300, 400, 500, 600, 700, 800))


def vessel(product: str = "diesel", safe: float = 0.97, brim: float = 1.0) -> Vessel:
    return Vessel(check_document(BOX).document, safe, brim, product_of(product))


def run(rows: tuple[tuple[float, float], ...] = STRAIGHT, **more: str) -> dict[str, str]:
    """Entries of a run by levels [mm] and totals [L], and others beside them."""
    entries = {"start.reading": f"{rows[0][0]} mm", "start.volume": f"{rows[0][1]} L", "target": "20 L"}
    for at, ((_, before), (level, total)) in enumerate(itertools.pairwise(rows)):
        entries[f"pours[{at}].amount"] = f"{abs(total - before):g} L"
        entries[f"pours[{at}].does"] = "in" if total > before else "out"
        entries[f"pours[{at}].reading"] = f"{level:g} mm"
    return entries | more


def drawn(*litres: float) -> dict[str, str]:
    """Draws of 20 L by the meter, with what stood in the container."""
    found = {}
    for at, one in enumerate(litres):
        found |= {f"draws[{at}].metered": "20 L", f"draws[{at}].drawn": f"{one:g} L"}
    return found


class Read(TestCase):
    def read(self, entries: dict[str, str], system: System = "metric", **of: float) -> PourForm:
        return read_run(entries, vessel(**of), system)  # type: ignore[arg-type]

    def codes(self, found: PourForm) -> list[str]:
        return [one.code for one in found.judgements]

    def said(self, found: PourForm, code: str, system: System = "metric") -> str:
        return next(Words(system).say(one) for one in found.judgements if one.code == code)

    def fields(self, found: PourForm) -> dict[str, str]:
        return {one.where: one.what for one in found.form.problems}


class Beginning(Read):
    def test_what_stands_where_nothing_is_typed(self) -> None:
        found = self.read({})
        self.assertAlmostEqual(found.top, 0.95)
        self.assertAlmostEqual(found.target, 0.005 * 0.95)
        self.assertEqual((found.way, found.reads, found.pours, found.advice), ("fill", "level", [], None))
        self.assertEqual(self.codes(found), ["meter-unproven"])
        # A safe fill that is stated below that goes before.
        self.assertAlmostEqual(self.read({}, safe=0.8).top, 0.8)

    def test_pours_without_a_first_reading_tell_nothing_and_say_so(self) -> None:
        entries = run()
        del entries["start.reading"]
        found = self.read(entries)
        self.assertIsNone(found.poured)
        self.assertIn("start-reading", self.codes(found))
        self.assertEqual(self.fields(found), {})

    def test_a_level_above_the_safe_fill_is_asked_about_with_both_numbers(self) -> None:
        found = self.read({"top": "990 L"})
        self.assertIn("990 L is above the 970 L", self.said(found, "top-above-safe"))
        self.assertNotIn("top-above-safe", self.codes(self.read({"top": "970 L"})))

    def test_what_cannot_be_read_stays_at_its_field(self) -> None:
        found = self.read(run() | {"way": "wander", "pours[1].reading": "high", "meter.container": "40 %"})
        self.assertEqual(set(self.fields(found)), {"way", "pours[1].reading", "meter.container"})
        self.assertIsNone(found.advice)


class TheMeter(Read):
    def test_three_draws_tell_a_factor_and_its_plus_minus(self) -> None:
        found = self.read(drawn(20.1, 20.12, 20.11))
        assert found.factor is not None
        self.assertAlmostEqual(found.instruments.factor, 1.0055)
        self.assertEqual(found.instruments.factor_half, found.factor.half)
        self.assertIn("Meter factor 1.0055", self.said(found, "meter-factor"))

    def test_draws_that_differ_stop_with_both_numbers(self) -> None:
        found = self.read(drawn(20.0, 20.2, 20.1) | {"meter.kind": "turbine"})
        self.assertEqual(found.judgements[0].weight, "stop")
        self.assertIn("differ by 1.00%; a meter of this type repeats to 0.10%", self.said(found, "meter-repeats"))

    def test_one_draw_and_a_draw_under_way(self) -> None:
        entries = drawn(20.1) | {"draws[1].metered": "20 L"}
        found = self.read(entries)
        assert found.factor is not None
        self.assertEqual(found.factor.draws, 1)
        self.assertEqual(self.codes(found), ["draw-open", "meter-once"])

    def test_what_was_warmer_at_the_meter(self) -> None:
        """Gas oil of 840 kg/m³ grows by 0.083 % a kelvin (API MPMS 11.1, from memory)."""
        cold = self.read(drawn(20.0) | {"meter.at": "25 °C", "container.at": "15 °C"})
        assert cold.factor is not None
        self.assertAlmostEqual((cold.factor.factor - 1) / 10, 8.3e-4, delta=0.3e-4)
        # Of a product that nobody knows nothing is made up.
        other = read_run(drawn(20.0) | {"meter.at": "25 °C", "container.at": "15 °C"}, vessel("slop"), "metric")
        assert other.factor is not None
        self.assertEqual(other.factor.factor, 1.0)

    def test_pulses_count_and_are_set_anew(self) -> None:
        found = self.read(
            drawn(20.4, 20.4) | {"meter.pulses": "98", "start.reading": "0 mm", "pours[0].pulses": "9800",
                                 "pours[0].reading": "102 mm"}
        )  # fmt: skip
        self.assertAlmostEqual(found.pours[0].amount, 0.1)
        assert found.poured is not None and found.pulses is not None
        self.assertAlmostEqual(found.poured.volume, 0.102)
        # 98 pulses were 1.02 L: a litre is 96.08.
        self.assertAlmostEqual(found.pulses / 1000, 96.078, 2)
        self.assertIsNone(self.read({"meter.pulses": "98"}).pulses)

    def test_without_draws_its_stated_plus_minus_counts(self) -> None:
        self.assertAlmostEqual(self.read({"meter.half": "0.3 %"}).instruments.factor_half, 0.003)
        # Held against nothing it is as good as its type; cans hold what they hold.
        self.assertAlmostEqual(self.read({}).instruments.factor_half, 0.03)
        self.assertAlmostEqual(self.read({"meter.kind": "displacement"}).instruments.factor_half, 0.005)
        self.assertAlmostEqual(self.read({"cans[0].size": "20 L"}).instruments.factor_half, 0.005)

    def test_draws_that_happen_to_be_alike_make_no_meter_better_than_its_type(self) -> None:
        one = meter_factor([0.02], [0.0199], "pulse", 0.001)
        two = meter_factor([0.02, 0.02], [0.0199, 0.0199], "pulse", 0.001)
        self.assertGreaterEqual(two.half, one.half / np.sqrt(2))
        self.assertGreater(two.half, 0.0014)


class Pouring(Read):
    def test_in_out_and_by_the_clock(self) -> None:
        out = self.read(run(((800, 800), (500, 500)), way="draw"))
        self.assertAlmostEqual(out.pours[0].amount, -0.3)
        bare = {"way": "draw", "start.reading": "800 mm", "start.volume": "800 L", "pours[0].amount": "300 L",
                "pours[0].reading": "500 mm"}  # fmt: skip
        self.assertAlmostEqual(self.read(bare).pours[0].amount, -0.3)
        rate = {"way": "rate", "rate": "25 L", "start.reading": "0 mm", "pours[0].minutes": "4 min",
                "pours[0].reading": "100 mm"}  # fmt: skip
        self.assertAlmostEqual(self.read(rate).pours[0].amount, 0.1)

    def test_a_pour_under_way_and_all_after_it_wait(self) -> None:
        entries = run() | {"pours[3].amount": ""}
        found = self.read(entries)
        self.assertEqual(len(found.pours), 3)
        self.assertIn("Pour 4 waits for its amount", self.said(found, "pour-open"))
        # The last one, with nothing typed yet, is no reproach.
        fresh = self.read(run() | {"pours[8].does": "in"})
        self.assertNotIn("pour-open", self.codes(fresh))

    def test_two_readings_that_differ_still_moved(self) -> None:
        found = self.read(run() | {"pours[7].later": "806 mm"})
        self.assertIn("Pour 8 still moved, 800 mm to 806 mm", self.said(found, "still-moving"))
        assert found.pours[7].reading is not None
        self.assertAlmostEqual(found.pours[7].reading, 0.806)
        self.assertNotIn("still-moving", self.codes(self.read(run() | {"pours[7].later": "800.8 mm"})))

    def test_going_on_where_nothing_is_known_is_refused_at_its_field(self) -> None:
        known = self.read(
            run() | {"pours[8].amount": "50 L", "pours[8].reading": "450 mm", "pours[8].resumed": "400 mm"}
        )
        assert known.poured is not None
        self.assertAlmostEqual(known.poured.volume, 0.45, 4)
        above = self.read(
            run() | {"pours[8].amount": "50 L", "pours[8].reading": "950 mm", "pours[8].resumed": "900 mm"}
        )
        self.assertIn("nothing is known of this reading", self.fields(above)["pours[8].resumed"])

    def test_what_reads_lower_with_more_in_it_is_refused_at_its_reading(self) -> None:
        found = self.read(run() | {"pours[4].reading": "350 mm"})
        self.assertIn("more reads lower", self.fields(found)["pours[4].reading"])
        self.assertIsNone(found.poured)

    def test_a_spill_is_told_by_its_neighbours_or_said_to_be_unknown(self) -> None:
        found = self.read(run() | {"pours[4].amount": "115 L", "pours[4].spilled": "yes"})
        self.assertIn("Of pour 5 100 L came", self.said(found, "spilled"))
        assert found.poured is not None
        self.assertAlmostEqual(found.poured.volume, 0.8, 2)
        early = self.read(run(STRAIGHT[:3]) | {"pours[1].spilled": "yes"})
        self.assertIn("pour 2", self.said(early, "spilled-unknown"))

    def test_the_signal_and_a_bare_number_are_read_in_their_own_units(self) -> None:
        signal = {"reads": "sent", "start.reading": "4 mA", "pours[0].amount": "100 L", "pours[0].reading": "5,6 mA"}
        found = self.read(signal)
        assert found.poured is not None
        np.testing.assert_allclose(found.poured.readings, [0.004, 0.0056])
        self.assertIsNone(found.against)
        counts = {"reads": "number", "start.reading": "6553", "pours[0].amount": "100 L", "pours[0].reading": "9175",
                  "reading_half": "2"}  # fmt: skip
        number = self.read(counts)
        assert number.poured is not None
        self.assertEqual((number.poured.readings.tolist(), number.instruments.reading_half), ([6553, 9175], 2.0))

    def test_us_units_mean_the_same(self) -> None:
        entries = {"start.reading": "0", "top": "200", "pours[0].amount": "26.417", "pours[0].reading": "3.937"}
        found = self.read(entries, "us")
        assert found.poured is not None
        self.assertAlmostEqual(found.poured.volume, 0.1, 4)
        self.assertAlmostEqual(found.poured.readings[1], 0.1, 4)
        self.assertAlmostEqual(found.top, 0.757, 3)


class TheDay(Read):
    def test_another_temperature_is_counted_in(self) -> None:
        entries = {"temperature.first": "10 °C", "temperature.last": "20 °C"}
        found = self.read(entries)
        self.assertAlmostEqual(found.instruments.extra, 8.3e-3, delta=0.4e-3)
        self.assertIn("from 10.0 °C to 20.0 °C: that alone is 0.8", self.said(found, "temperature"))
        self.assertIn("from 50.0 °F to 68.0 °F", self.said(found, "temperature", "us"))
        still = self.read(run())
        warm = self.read(run() | entries)
        assert still.poured is not None and warm.poured is not None
        self.assertGreater(warm.poured.curve.worst, still.poured.curve.worst)
        self.assertEqual(self.read({"temperature.first": "10 °C"}).instruments.extra, 0.0)

    def test_a_tank_off_level_adds_what_its_sensor_is_off(self) -> None:
        found = self.read({"tilt": "2°", "offset": "500 mm"})
        self.assertAlmostEqual(found.instruments.reading_half, float(np.hypot(1e-3, 0.5 * np.tan(np.radians(2)))))
        self.assertIn("2.0° off level: 17 mm at the sensor", self.said(found, "tilt"))
        self.assertAlmostEqual(self.read({"tilt": "2°"}).instruments.reading_half, 1e-3)

    def test_foam_is_said(self) -> None:
        self.assertIn("wait until it is gone", self.said(self.read({"foam": "yes"}), "foam"))


class Judged(Read):
    def test_good_enough_and_what_cannot_be_told_yet(self) -> None:
        few = self.read(run(((0, 0), (400, 400), (900, 900)), top="900 L", target="60 L") | drawn(20, 20, 20))
        assert few.advice is not None
        self.assertTrue(few.advice.enough)
        self.assertIn("With 3 readings a can left out cannot be told", self.said(few, "unchecked"))
        many = self.read(run(top="800 L", target="60 L") | drawn(20, 20, 20))
        self.assertIn("enough", self.codes(many))
        self.assertNotIn("unchecked", self.codes(many))

    def test_a_reading_that_stands_while_more_goes_in_is_said_and_its_plus_minus_holds_the_truth(self) -> None:
        stuck = ((0, 0), (200, 200), (380, 380), (380, 475), (380, 570), (380, 665), (800, 800))
        found = self.read(run(stuck) | drawn(20, 20, 20))
        assert found.poured is not None
        self.assertIn("The reading stood at 380 mm while 285 L went in", self.said(found, "plateau"))
        curve = found.poured.curve
        half = float(np.hypot(curve.half(0.38), 0.0))
        self.assertGreaterEqual(half, abs(float(curve.at(0.38)) - 0.380))
        self.assertNotIn("plateau", self.codes(self.read(run() | drawn(20, 20, 20))))

    def test_with_a_meter_that_was_held_against_nothing_no_table_is_good_enough(self) -> None:
        found = self.read(run(top="800 L", target="60 L"))
        assert found.advice is not None
        self.assertFalse(found.advice.enough)
        self.assertNotIn("enough", self.codes(found))
        self.assertIn("held against nothing", self.said(found, "enough-unproven"))
        # Three per cent off, as a small pulse meter may be: its ± holds that.
        assert found.poured is not None
        self.assertGreaterEqual(float(found.poured.curve.common.max()), 0.0299 * 0.8)

    def test_readings_that_fall_as_it_fills_are_a_setting(self) -> None:
        falls = tuple((1000 - level, total) for level, total in STRAIGHT)
        found = self.read(run(falls) | drawn(20, 20, 20))
        self.assertEqual([one.where for one in found.form.problems], ["reads"])
        self.assertIn("every reading falls as it fills", found.form.problems[0].what)

    def test_what_does_not_fit_is_said_in_the_amounts_that_were_typed(self) -> None:
        rows = [list(one) for one in STRAIGHT]
        entries = run(tuple((level, total) for level, total in rows)) | {
            "draws[0].metered": "20 L", "draws[0].drawn": "21 L", "draws[1].metered": "20 L", 
            "draws[1].drawn": "21 L",
        }  # fmt: skip
        entries["pours[3].amount"] = "200 L"
        said = self.said(self.read(entries), "misfit")
        self.assertIn("Pour 4 does not fit the others: 200 L is entered, 100 L would fit", said)

    def test_more_than_meter_and_reading_can_give_is_said_to_be_so(self) -> None:
        found = self.read(run(target="1 L"))
        self.assertIn("and you ask for 1 L: no number of pours mends that", self.said(found, "target-below-meter"))

    def test_above_the_most_that_may_be_it_stops(self) -> None:
        found = self.read(run(top="500 L"))
        self.assertEqual((found.judgements[0].code, found.judgements[0].weight), ("over-top", "stop"))
        self.assertIsNone(found.advice)

    def test_the_other_tank_may_be_too_small(self) -> None:
        entries = run(STRAIGHT[:3], back="no", other="100 L", top="900 L", target="5 L")
        found = self.read(entries)
        self.assertIn("The other tank has 100 L; 700 L are missing", self.said(found, "other-tank"))
        assert found.advice is not None
        self.assertLessEqual(found.advice.amount, 0.1)
        self.assertNotIn("other-tank", self.codes(self.read(entries | {"back": "yes"})))

    def test_whole_cans_and_minutes(self) -> None:
        entries = {"start.reading": "0 mm", "top": "800 L", "target": "8 L", "cans[0].size": "20 L", "rate": "40 L"}
        found = self.read(entries | {"wait": "3 min"})
        assert found.advice is not None and found.minutes_to_go is not None
        self.assertEqual((found.advice.amount, found.advice.cans), (0.4, 20))
        each = 0.4 / 0.04 + 3 + 1
        self.assertAlmostEqual(found.minutes_to_go, found.advice.to_go * each)

    def test_a_can_left_out_is_said_first_with_both_numbers(self) -> None:
        entries = run(((0, 0), *((level, level) for level in range(80, 961, 80)))) | {"pours[5].amount": "60 L",
                                                                                  "cans[0].size": "20 L"}  # fmt: skip
        found = self.read(entries)
        assert found.misfit is not None
        self.assertEqual((found.misfit.row, found.misfit.looks), (5, "left out"))
        self.assertEqual(
            self.said(found, "misfit"),
            "Pour 6 does not fit the others: 60 L is entered, 80 L would fit; it looks like one can left out.",
        )
        # No shape is offered while one of them is wrong.
        self.assertIsNone(found.joined)
        twice = self.read(entries | {"pours[5].amount": "100 L"})
        assert twice.misfit is not None
        self.assertEqual(twice.misfit.looks, "twice")
        self.assertIsNone(self.read(entries | {"pours[5].sure": "yes"}).misfit)

    def test_beside_the_survey(self) -> None:
        agrees = self.read(run())
        self.assertIn("agrees", self.codes(agrees))
        assert agrees.joined is not None
        self.assertLessEqual(agrees.joined.worst, 1.0)
        higher = tuple((level + 25, level) for level, _ in STRAIGHT)
        zero = self.read(run(higher) | drawn(20, 20, 20))
        self.assertIn("Zero of the readings, -25", self.said(zero, "pattern"))
        ratio = self.read(run(tuple((level, 1.05 * level) for level, _ in STRAIGHT)) | drawn(20, 20, 20))
        assert ratio.against is not None
        self.assertAlmostEqual(next(one.value for one in ratio.against.patterns if one.key == "ratio"), 5.0, 1)
