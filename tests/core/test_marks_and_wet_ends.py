"""Marks against table, gauge and filling; and the wet calibration of a capacitance probe."""

from __future__ import annotations

from unittest import TestCase

from rasante.core.gauges.wet_ends import read_wet_ends
from rasante.core.quantities.errors import InputError
from rasante.core.scaling.marks import Surroundings, mark_at, read_marks, rederive, sniff

from .chain_cases import chain, file_of, run
from .gauge_cases import lying
from .said import said

GOOD = {"overfill": "1.9 m", "high": "94 %", "reorder": "3000 L", "low": "1200 l", "empty": "150 mm"}


class Marking(TestCase):
    def marks(self, typed: dict[str, str], c=None, around: Surroundings | None = None, **more: str):
        entries = {f"marks.{key}": text for key, text in typed.items()} | more
        return read_marks(entries, file_of("lying").tank, c, around or Surroundings(), "metric")

    def codes(self, typed: dict[str, str], c=None, around: Surroundings | None = None, **more: str) -> set[str]:
        return {judgement.code for judgement in self.marks(typed, c, around, **more).judgements}

    def test_a_mark_is_known_by_its_unit(self) -> None:
        self.assertEqual(sniff("3.5 m3", "metric"), ("volume", 3.5))
        self.assertAlmostEqual(sniff("3500 L", "metric")[1], 3.5, 9)
        self.assertEqual(sniff("90 %", "metric"), ("volume_pct", 0.9))
        self.assertEqual(sniff("1.6m", "metric"), ("level", 1.6))
        self.assertEqual(sniff("63", "us")[0], "level")
        self.assertEqual(sniff("18,5 mA", "metric")[0], "current")
        for text in ("much", "3 bar", "", "12 gal"):
            with self.assertRaises(InputError):
                sniff(text, "metric")

    def test_they_stand_where_the_table_has_them(self) -> None:
        tank, c = file_of("lying").tank, chain("lying")
        found = self.marks({**GOOD, "safe": "18 mA"}, c)
        self.assertEqual(found.form.problems, [])
        by_key = {mark.key: mark for mark in found.marks}
        self.assertAlmostEqual(by_key["high"].volume_m3, 0.94 * tank.capacity, 6)
        self.assertAlmostEqual(float(tank.volume(by_key["reorder"].level_m)), 3.0, 9)
        self.assertAlmostEqual(run(c, by_key["safe"].level_m)["sent"], 0.018, 9)
        self.assertEqual(found.marks[0].key, "overfill")
        self.assertEqual(by_key["reorder"].shown, f"{by_key['reorder'].level_m * 1000:.0f} mm")
        problems = self.marks({"high": "40000 L", "low": "12 mA"}).form.problems
        self.assertEqual({problem.where for problem in problems}, {"marks.high", "marks.low"})

    def test_order_limits_and_pump(self) -> None:
        self.assertEqual(self.codes(GOOD), {"marks"})
        self.assertIn("order-reorder", self.codes({**GOOD, "reorder": "1000 L"}))
        self.assertIn("brim", self.codes({**GOOD, "overfill": "2 m"}))
        self.assertIn("safe-high", self.codes({**GOOD, "high": "97 %"}))
        self.assertIn("pump", self.codes({"pump_start": "1.5 m", "pump_stop": "1 m"}, pump="fills"))
        self.assertNotIn("pump", self.codes({"pump_start": "1.5 m", "pump_stop": "1 m"}, pump="empties"))
        self.assertIn("pump", self.codes({"pump_start": "1 m", "pump_stop": "1.5 m"}, pump="empties"))
        drawn = read_marks({"marks.low": "60 mm"}, lying(outlet_height_mm=80).tank, None, Surroundings(), "metric")
        self.assertIn("outlet-low", {judgement.code for judgement in drawn.judgements})

    def test_the_gauge_must_see_them(self) -> None:
        # Common practice, no published source: small ultrasonics are blind for about 250 mm below the face.
        c = chain("lying", sensor__quantity="distance")
        around = Surroundings(blanking_m=0.25)
        self.assertIn("near-blanking", self.codes({"overfill": "1.8 m"}, c, around))
        self.assertIn("blanking", self.codes({"overfill": "1.95 m"}, c, around))
        self.assertFalse({"blanking", "near-blanking"} & self.codes({"overfill": "1.6 m"}, c, around))
        short = chain("lying", sensor__low="200 mm", sensor__high="1.5 m")
        self.assertLessEqual({"above-range", "below-range"}, self.codes({"high": "1.6 m", "empty": "100 mm"}, short))
        rods = Surroundings(rods={"start": 1.0, "stop": 1.6, "cutout": 0.4})
        self.assertEqual(
            self.codes({"pump_start": "1.1 m", "pump_stop": "1.6 m"}, None, rods), {"rod-start", "marks"}
        )

    def test_there_must_be_time_to_stop_a_filling(self) -> None:
        tank = file_of("lying").tank
        found = self.marks({"high": "90 %"}, fill_rate="800 L", response="1")
        assert found.to_brim_s is not None
        # Rate × time, by hand: a tenth of the tank at 800 L/min.
        self.assertAlmostEqual(found.to_brim_s, 0.1 * tank.capacity / 0.8 * 60, 6)
        self.assertIn("response", {j.code for j in found.judgements if j.weight == "good"})
        late = self.marks({"high": "90 %"}, fill_rate="800 L", response="5")
        self.assertIn("response", {j.code for j in late.judgements if j.weight == "stop"})
        slow = chain("lying", filter__time="60")
        text = next(
            said(j) for j in self.marks({"high": "90 %"}, slow, fill_rate="800 L").judgements if j.code == "response"
        )
        self.assertIn("180 s of them the filter's", text)

    def test_a_revised_table_moves_what_follows_from_it(self) -> None:
        old, new = file_of("lying").tank, lying(deadwood=[{"from_mm": 200, "to_mm": 900, "volume_l": -150}]).tank
        kept = [mark_at(old, None, *one, "metric") for one in (("reorder", "volume", 3.0), ("high", "level", 1.8))]
        derived = rederive(kept, new, None, "metric")
        moved, stayed = derived[0][1], derived[1][1]
        assert moved is not None and stayed is not None
        self.assertAlmostEqual(float(new.volume(moved.level_m)), 3.0, 9)
        self.assertGreater(moved.level_m, kept[0].level_m)
        self.assertEqual(stayed.level_m, 1.8)
        self.assertAlmostEqual(stayed.volume_m3, kept[1].volume_m3 - 0.15, 6)
        small = lying(deadwood=[{"from_mm": 200, "to_mm": 900, "volume_l": -1500}]).tank
        full = mark_at(old, None, "overfill", "volume", old.capacity * 0.97, "metric")
        self.assertIsNone(rederive([full], small, None, "metric")[0][1])


class WetEnding(TestCase):
    def wet(self, full: list[float], empty: list[float], **more: str):
        entries = {f"full[{i}].counts": str(n) for i, n in enumerate(full)}
        entries |= {f"empty[{i}].counts": str(n) for i, n in enumerate(empty)}
        return read_wet_ends(entries | more, "metric", "diesel")

    def codes(self, *args, **more: str) -> set[str]:
        return {judgement.code for judgement in self.wet(*args, **more).judgements}

    def test_an_end_is_taken_once_it_stands_still(self) -> None:
        found = self.wet([40100, 40020, 40004, 40001, 40001], [20300, 20100, 20006, 20004, 20002], fuel="Diesel",
                         temperature="18 °C")  # fmt: skip
        self.assertTrue(found.ready)
        self.assertEqual((found.ends["full"].counts, found.ends["empty"].counts), (40002, 20004))
        self.assertEqual({j.weight for j in found.judgements}, {"good"})
        moving = self.wet([40300, 40200, 40100], [20000, 20000, 20000])
        told = {judgement.code: judgement for judgement in moving.judgements}
        self.assertEqual((told["full-moves"].weight, told["full-moves"].value), ("watch", 200))
        self.assertLess(told["full-moves"].limit or 0, 200)
        self.assertIsNone(moving.ends["full"].counts)
        self.assertFalse(moving.ready)
        self.assertEqual(moving.limit, 40.2)
        self.assertIn("empty-few", self.codes([40000] * 3, [20000]))

    def test_what_cannot_be_right_is_told(self) -> None:
        self.assertIn("swapped", self.codes([20000] * 3, [40000] * 3))
        self.assertIn("ratio", self.codes([90000] * 3, [20000] * 3))
        self.assertIn("other-fuel", self.codes([40000] * 3, [20000] * 3, fuel="petrol", temperature="10 °C"))
        self.assertIn("fuel", self.codes([40000] * 3, [20000] * 3))
        self.assertEqual([p.where for p in self.wet([], [], temperature="hot").form.problems], ["temperature"])
