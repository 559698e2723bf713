"""Where truth and reading part: 500 chains at random with one wrong setting, none wrong, and some of it unread."""

from __future__ import annotations

import random
from unittest import TestCase

from rasante.core.quantities.units import UNITS
from rasante.core.scaling.hypotheses import hypotheses
from rasante.core.scaling.parting import find_parting
from rasante.core.scaling.parting_form import guess_text, read_parting
from tests.tags import slow

from .chain_cases import chain, get, mistaken, put, random_chain, readings

CHAINS = 500
WELL = {
    "sensor__quantity": "pressure", "sensor__high": "15 psi", "scaled__unit": "ft", "scaled__decimals": "1",
    "shown__unit": "ft", "shown__decimals": "1",
}  # fmt: skip


@slow
class FiveHundredChains(TestCase):
    def test_the_wrong_hop_and_setting_are_named(self) -> None:
        rng, hops, settings = random.Random(500), 0, 0
        for _ in range(CHAINS):
            c = random_chain(rng)
            mistake = mistaken(c, rng)
            found = find_parting(c, readings(c, mistake.wrong, rng), mistake.former)
            hops += found.hops == (mistake.hop,)
            settings += any(
                set(suspect.settings) == set(mistake.names)
                for explanation in found.explanations[:2]
                for suspect in explanation.hypotheses
            )
        self.assertGreaterEqual(hops / CHAINS, 0.97)
        self.assertGreaterEqual(settings / CHAINS, 0.90)

    def test_nobody_is_accused_where_nothing_is_wrong(self) -> None:
        rng, clear = random.Random(501), 0
        for _ in range(CHAINS):
            c = random_chain(rng)
            clear += find_parting(c, readings(c, c, rng)).hops == ()
        self.assertGreaterEqual(clear / CHAINS, 0.98)

    def test_unread_hops_narrow_it_to_a_span_that_holds_the_wrong_one(self) -> None:
        rng, held, narrower = random.Random(502), 0, 0
        for _ in range(CHAINS):
            c = random_chain(rng)
            mistake = mistaken(c, rng)
            read = tuple(s for s in c.stations if s in ("level", "shown") or rng.random() < 0.5)
            found = find_parting(c, readings(c, mistake.wrong, rng, read), mistake.former)
            held += mistake.hop in found.hops
            narrower += len(found.hops) < len(c.stations) - 1
        self.assertGreaterEqual(held / CHAINS, 0.97)
        # It does not hold it by naming them all.
        self.assertGreaterEqual(narrower / CHAINS, 0.9)


class OneChain(TestCase):
    def part(self, c, *rows: dict[str, str], former=()):
        typed = {f"rows[{i}].{station}": text for i, row in enumerate(rows) for station, text in row.items()}
        return read_parting(typed, c, "metric", former)

    def test_the_old_range_left_in_is_found_by_its_name(self) -> None:
        c, old = chain(**WELL), chain(**{**WELL, "sensor__high": "10 psi"})
        left = put(c, scaled_high=get(old, "scaled_high"))
        rows = readings(c, left, random.Random(3))
        found = find_parting(c, rows, [old])
        self.assertEqual(found.hops, ("number",))
        best = found.explanations[0].hypotheses[0]
        self.assertEqual((best.settings, best.why), ({"scaled.high": 23.1}, "the old setting left in"))
        # Without a record of the old chain the range itself is worked out.
        again = find_parting(c, rows)
        self.assertAlmostEqual(get(again.explanations[0].chains[0], "scaled_high"), 23.1, delta=0.1)

    def test_another_unit_is_told_as_one(self) -> None:
        # A foot is 0.3048 m (exact since 1959), a psi 6.894 757 kPa.
        c = chain(**WELL)
        whys = {
            (round(float(one.settings[name]) / size, 6), one.why)
            for one in hypotheses(c, ("sent", "number"))
            for name, size in (("scaled.high", get(c, "scaled_high")), ("sensor.high", get(c, "sensor_high")))
            if name in one.settings
        }
        for ratio in (0.3048, 304.8, 12.0):
            self.assertIn((ratio, "scaled in other units"), whys)
        for ratio in (6.894757, 1 / 6.894757, 0.068948):
            self.assertIn((round(ratio, 6), "its range in other units"), whys)

    def test_a_far_end_may_take_its_number_in_units_of_its_own_kind_alone(self) -> None:
        c = chain(**WELL)
        taken = {one.settings["shown.from"] for one in hypotheses(c, ("shown",)) if "shown.from" in one.settings}
        self.assertGreater(len(taken), 2)
        self.assertEqual({UNITS[str(unit)].quantity for unit in taken}, {"length"})
        self.assertNotIn("ft", taken)

    def test_a_former_tolerance_explains_nothing(self) -> None:
        c = chain(**WELL)
        vague = put(c, liquid_tolerance=0.2, sensor_mounting=1.0, sensor_accuracy=0.5, counts_accuracy=0.5)
        wrong = put(c, sensor_zero=0.4)
        found = find_parting(c, readings(c, wrong, random.Random(8)), [vague])
        self.assertEqual(found.hops, ("sensed",))
        self.assertAlmostEqual(get(found.explanations[0].chains[0], "sensor_zero"), 0.4, delta=0.02)
        named = {name for e in found.explanations for suspect in e.hypotheses for name in suspect.settings}
        self.assertFalse(named & {"liquid.tolerance", "sensor.mounting", "sensor.accuracy"})

    def test_two_thirds_of_the_truth_by_a_dip_alone(self) -> None:
        c = chain(**WELL)
        found = self.part(c, {"level": "6 ft", "shown": "4"}, {"level": "3 ft", "shown": "2,0"})
        self.assertEqual(len(found.parting.hops), 8)
        ratios = {
            round(get(e.chains[0], "scaled_high") / get(c, "scaled_high"), 2) for e in found.parting.explanations
        }
        self.assertIn(0.67, ratios)
        self.assertIn("should be 6 ft and is 4 ft", found.says)
        self.assertIn("To tell the first explanation from number", found.says)
        telling = found.parting.telling
        assert telling is not None
        self.assertNotAlmostEqual(telling.first, telling.second)

    def test_swapped_words_are_read_as_they_are_typed(self) -> None:
        c = chain(register__type="float32")
        row = {"level": "1.2 m", "number": "1200", "shown": "0 mm"}
        found = self.part(c, {**row, "words": "0x4496 0x0000", "read": "2.46e-41"})
        self.assertEqual(found.parting.hops, ("read",))
        self.assertEqual(found.parting.explanations[0].hypotheses[0].settings, {"read.order": "CDAB"})
        found = self.part(c, {**row, "words": "0 17558", "read": "2.46e-41"})
        self.assertEqual(found.parting.hops, ("words",))
        self.assertEqual(found.parting.explanations[0].hypotheses[0].settings, {"register.order": "CDAB"})
        self.assertIn(
            "low word first instead of high word first", guess_text(c, found.parting.explanations[0], 0, "us")
        )

    def test_settings_that_no_reading_tells_apart_are_one_answer(self) -> None:
        c = chain(**{**WELL, "scaled__decimals": "3", "shown__decimals": "3"})
        wrong = put(c, counts_high=29111.0)
        found = find_parting(c, readings(c, wrong, random.Random(5)))
        self.assertEqual(found.hops, ("counts",))
        names = {name for suspect in found.explanations[0].hypotheses for name in suspect.settings}
        self.assertLessEqual({"counts.high", "counts.at_high"}, names)
        typed = {"arriving": "8 mA", "counts": "12193"}, {"arriving": "16 mA", "counts": "23472"}
        self.assertIn("No reading can tell the settings of the first explanation apart", self.part(c, *typed).says)

    def test_other_rows_clear_what_they_have_read(self) -> None:
        c = chain(**WELL)
        first = {"level": "6 ft", "shown": "4"}
        second = {"level": "6 ft", "arriving": f"{4 + 16 * 6 * 0.3048 * 9806.65 / (15 * UNITS['psi'].si):.3f} mA"}
        found = self.part(c, first, second)
        self.assertEqual(found.parting.hops, ("counts", "number", "words", "read", "shown"))
        self.assertEqual(found.parting.judged["sent"], "agrees")

    def test_what_fits_nothing_is_said_to(self) -> None:
        found = self.part(chain(), {"arriving": "8 mA", "counts": "30000"}, {"arriving": "12 mA", "counts": "9000"},
                          {"arriving": "16 mA", "counts": "21000"})  # fmt: skip
        self.assertEqual((found.parting.hops, found.parting.explanations), (("counts",), ()))
        self.assertIn("No single setting explains it", found.says)
        self.assertIn("Type what was read", self.part(chain(), {"counts": "9000"}).says)
        agreed = self.part(chain(), {"arriving": "12 mA", "counts": "19660"})
        self.assertIn("Nothing parts", agreed.says)
        self.assertIn("Not judged: sensing, transmitter, circuit, scaling, register, link or screen", agreed.says)

    def test_what_cannot_be_read_stays_at_its_field(self) -> None:
        found = self.part(chain(), {"level": "deep", "arriving": "3 V", "words": "0x123456", "shown": "3 L"})
        self.assertEqual(len(found.form.problems), 4)
        found = self.part(chain(), {"words": "70000", "counts": "many"})
        self.assertEqual({p.where for p in found.form.problems}, {"rows[0].words", "rows[0].counts"})
