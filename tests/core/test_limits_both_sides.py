"""Judgements on both sides of their limits: what is just too much is told, and what is not is not."""

from __future__ import annotations

from typing import Any
from unittest import TestCase

import numpy as np

from rasante.core.gauges.probes import cut_probe, read_tape
from rasante.core.gauges.rods import read_rods, set_rods
from rasante.core.proving.proof import judge_proof
from rasante.core.proving.proof_entries import blank_proof, check_entries
from rasante.core.quantities.form import Form
from rasante.core.quantities.judgement import Judgement
from rasante.core.scaling.chain_judge import judge_chain
from rasante.core.tanks.survey import judge_reference
from rasante.core.tanks.tank_file import check_document
from rasante.core.wiring.circuit_kinds import read_wiring
from rasante.core.wiring.voltage_link import voltage_link

from .chain_cases import chain
from .gauge_cases import lying, meet, model, reasons, upright
from .samples import example
from .test_proof import FILE, LEVEL


def by_code(found: Any) -> dict[str, Judgement]:
    return {one.code: one for one in found}


class Rods(TestCase):
    BASE = {"common": "50 mm", "cutout": "500 mm", "start": "1 m", "stop": "1.8 m"}

    def judged(self, sediment: str = "0 mm", **changes: str) -> dict[str, Judgement]:
        typed = {f"rods.{key}": text for key, text in {**self.BASE, **changes}.items()}
        there = meet(upright(height=2000), {"site.highest": "1.9 m", "site.sediment": sediment})
        return by_code(set_rods(read_rods(Form(typed, "metric"), there.tank.inside_height), there).judgements)

    def test_a_fill_stop_above_the_highest_level_overflows(self) -> None:
        self.assertNotIn("stop-high", self.judged(stop="1.9 m"))
        told = self.judged(stop="1.902 m")["stop-high"]
        self.assertEqual(told.weight, "stop")
        self.assertAlmostEqual((told.value or 0) - (told.limit or 0), 0.002, 6)

    def test_a_filling_brings_what_lies_between_its_rods(self) -> None:
        # By hand: π/4 × 2² m² over 0.8 m.
        self.assertAlmostEqual(self.judged()["stroke"].value or 0, np.pi * 0.8, 9)
        self.assertNotIn("stroke", self.judged(start="1.8 m", stop="1 m"))

    def test_a_common_rod_in_the_sediment(self) -> None:
        self.assertIn("common-floor", self.judged("51 mm"))
        self.assertNotIn("common-floor", self.judged("49 mm"))

    def test_lost_power_and_closed_contacts(self) -> None:
        lost = self.judged(pump_on="nc", booster_on="nc")
        self.assertEqual((lost["pump-power-loss"].weight, lost["booster-power-loss"].weight), ("stop", "watch"))
        kept = self.judged(pump_on="no", booster_on="no")
        self.assertFalse({"pump-power-loss", "booster-power-loss"} & set(kept))


class Cuts(TestCase):
    def judged(self, **typed: str) -> dict[str, Judgement]:
        entries = {f"cut.{key}": text for key, text in typed.items()}
        there = meet(lying(), {})
        form = Form(entries, "metric")
        return by_code(cut_probe(read_tape(form, there.depth_m), there, model("capacitance")).judgements)

    def test_a_gap_outside_its_school(self) -> None:
        # Common practice, no published source: a free probe hangs 10 to 20 mm off the floor.
        for gap, told in (("10 mm", False), ("20 mm", False), ("9 mm", True), ("21 mm", True)):
            self.assertEqual("gap" in self.judged(depth="650 mm", school="free", gap=gap), told, gap)

    def test_a_spring_that_has_bottomed(self) -> None:
        sprung = self.judged(depth="900 mm", school="sprung", gap="5 mm")
        self.assertEqual(sprung["spring"].weight, "stop")
        self.assertNotIn("spring", self.judged(depth="900 mm", school="sprung"))

    def test_cut_too_long_by_how_much(self) -> None:
        for done, weight in (("640 mm", "watch"), ("650 mm", "stop"), ("700 mm", "stop")):
            told = self.judged(depth="650 mm", school="free", done=done)["cut-long"]
            self.assertEqual(told.weight, weight)
            self.assertAlmostEqual(told.value or 0, float(done.split()[0]) / 1000, 12)
        self.assertNotIn("cut-long", self.judged(depth="650 mm", school="free", done="635 mm"))


class Suits(TestCase):
    def test_a_product_colder_than_the_gauge_bears(self) -> None:
        one = model("hydrostatic", temperature_min_c=-20)
        for coldest, told in (("-20 °C", False), ("-21 °C", True)):
            there = meet(lying(), {"site.temperature_low": coldest, "site.temperature_high": "30 °C"})
            self.assertEqual("temperature" in reasons(there, one), told, coldest)

    def test_pressure_is_for_the_licensed(self) -> None:
        self.assertIn("pressure-fitting", reasons(meet(lying("propane")), model("float")))
        self.assertNotIn("pressure-fitting", reasons(meet(lying("diesel")), model("float")))


class Chains(TestCase):
    def test_a_register_too_small_at_the_empty_end(self) -> None:
        below = {"sensor__quantity": "level", "shown__takes": "level", "scaled__low": "-100", "scaled__high": "3000",
                 "sensor__low": "-100 mm", "sensor__high": "3000 mm", "scaled__unit": "mm"}  # fmt: skip
        told = by_code(judge_chain(chain(**below, sensor__zero="200 mm", register__type="uint16"), "metric"))
        self.assertEqual(told["register"].weight, "stop")
        self.assertLess(told["register"].value or 0, 0)
        fits = by_code(judge_chain(chain(**below, sensor__zero="200 mm", register__type="int16"), "metric"))
        self.assertNotIn("register", fits)

    def test_a_broken_wire_that_looks_like_an_empty_tank(self) -> None:
        dead = chain(signal__kind="v10", signal__fault="high")
        self.assertIn("broken-looks-like-a-level", by_code(judge_chain(dead, "metric")))
        live = chain(signal__kind="v15", signal__fault="high")
        self.assertNotIn("broken-looks-like-a-level", by_code(judge_chain(live, "metric")))


class Voltages(TestCase):
    def judged(self, length: str) -> dict[str, Judgement]:
        entries = {"kind": "three_wire", "cable[0].length": length, "cable[0].size": "0.5 mm²"}
        found = voltage_link(read_wiring(entries, "metric").circuit, None)
        assert found is not None
        return by_code(found.judgements)

    def test_the_shared_minus_lifts_its_ground(self) -> None:
        short, long, far = (self.judged(length) for length in ("2 m", "60 m", "2000 m"))
        self.assertNotIn("voltage-error", short)
        self.assertEqual(long["voltage-error"].weight, "watch")
        # By hand: 0.0345 Ω a metre of 0.5 mm² at 20 °C, times what the sensor draws, of 10 V.
        self.assertGreater(long["voltage-error"].value or 0, 0)
        self.assertEqual(far["voltage-error"].weight, "stop")

    def test_a_quarter_of_a_hundredth_is_where_it_begins_to_matter(self) -> None:
        shares = {}
        for metres in range(2, 40):
            told = self.judged(f"{metres} m").get("voltage-error")
            shares[metres] = None if told is None else abs(told.value or 0)
        first = min(metres for metres, share in shares.items() if share is not None)
        self.assertTrue(all(share is not None for metres, share in shares.items() if metres >= first))
        # It grows in proportion to the length: one metre less would have been below a four-hundredth of span.
        self.assertGreater(shares[first] or 0, 0.0025)
        self.assertLess((shares[first] or 0) * (first - 1) / first, 0.0025)


class Proofs(TestCase):
    def proof(self, tolerance: str, **cells: tuple[float, ...]) -> Any:
        entries = blank_proof(LEVEL) | {"control_in_manual": True, "control_restored": True, "tolerance": tolerance}
        for cell, texts in cells.items():
            for point, text in zip(entries["points"], texts, strict=False):
                point[cell] = str(text)
        return judge_proof(check_entries(entries), LEVEL, FILE.tank, "metric")

    def test_a_tolerance_of_the_whole_span_proves_nothing(self) -> None:
        far = (0.0, 900.0, 1500.0, 2100.0, 2400.0)
        for tolerance in ("100 %", "51 %", "0 %", "3 m"):
            found = self.proof(tolerance, found_up=far)
            self.assertEqual([problem.where for problem in found.problems], ["tolerance"], tolerance)
            self.assertEqual(found.verdict, "incomplete")
        self.assertEqual(self.proof("50 %", found_up=far).problems, ())

    def test_a_falling_run_half_taken_is_not_complete(self) -> None:
        true = (0.0, 600.0, 1200.0, 1800.0, 2400.0)
        self.assertEqual(self.proof("0.5 %", found_up=true, found_down=true[:3]).verdict, "incomplete")
        self.assertIn(
            "as found, falling: point 4, 5", self.proof("0.5 %", found_up=true, found_down=true[:3]).missing
        )
        self.assertEqual(self.proof("0.5 %", found_up=true, found_down=true).verdict, "pass")


class References(TestCase):
    def test_a_reference_point_below_the_top_by_how_much(self) -> None:
        for height, told in ((2400, False), (2399, True)):
            tank = check_document(example(reference_height_mm=height)).tank
            found = by_code(judge_reference(tank))
            self.assertEqual("reference-low" in found, told)
            if told:
                self.assertAlmostEqual(found["reference-low"].value or 0, 0.001, 9)
