"""Spots, lengths and rods: worked cases of the trade, what is too short, and what a wrong wire does."""

from __future__ import annotations

from itertools import permutations, product
from math import pi, radians, tan
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from rasante.core.gauges.cables import cut_cable, read_hang
from rasante.core.gauges.placement import pad_tilt, place_gauge, read_spot
from rasante.core.gauges.probes import SCHOOLS, cut_probe, proposed_school, read_tape
from rasante.core.gauges.rods import RODS, Relays, read_rods, run_levels, set_rods, truth_table
from rasante.core.quantities.form import Form
from rasante.core.quantities.typed import read_quantity

from .gauge_cases import VENT, lying, meet, model, upright
from .said import said

THERE = meet(lying(), {})


def probe(entries: dict[str, str], file=None):
    form = Form(entries, "metric")
    there = meet(file or lying(), entries)
    found = cut_probe(read_tape(form, there.depth_m), there, model("capacitance"))
    assert form.problems == []
    return found


def codes(found) -> dict[str, str]:
    return {judgement.code: judgement.weight for judgement in found.judgements}


class Probes(TestCase):
    def test_each_school(self) -> None:
        # Common practice, no published source: 10–20 mm free, 25–30 mm sprung, 10 mm hard up to 700 mm deep.
        for school, gap in (("free", 15.0), ("sprung", 27.5), ("hard", 10.0)):
            found = probe({"cut.depth": "650 mm", "cut.school": school})
            self.assertAlmostEqual(found.cut_m * 1000, 650 - gap, 9)
        self.assertEqual(codes(probe({"cut.depth": "701 mm", "cut.school": "hard"}))["school-depth"], "stop")
        self.assertNotIn("school-depth", codes(probe({"cut.depth": "700 mm", "cut.school": "hard"})))
        self.assertEqual(proposed_school(0.6, 0)[0], "hard")
        self.assertEqual(proposed_school(1.2, 0)[0], "sprung")
        self.assertEqual(proposed_school(1.2, 0.01)[0], "free")
        each = {school.key: cut for school, cut in probe({"cut.depth": "900 mm"}).by_school}
        self.assertEqual(set(each), set(SCHOOLS))
        self.assertIsNone(each["hard"])
        self.assertAlmostEqual(each["free"] * 1000, 885, 9)

    def test_a_bottomed_spring_cannot_be_latched(self) -> None:
        entries = {"cut.depth": "900 mm", "cut.school": "sprung"}
        self.assertIn("latched", said(next(iter(probe({**entries, "cut.gap": "10 mm"}).judgements))))
        long = probe({**entries, "cut.done": "890 mm"})
        self.assertIn("the spring bottoms", said(long.judgements[0]))
        self.assertEqual(long.judgements[0].weight, "stop")

    def test_too_short_is_what_it_now_reads(self) -> None:
        # Cut 100 mm short in an upright tank of π m²: it reads from 127.5 mm up, and 127.5 × π L lie below.
        short = probe({"cut.depth": "3200 mm", "cut.school": "sprung", "cut.done": "3072.5 mm"}, upright("diesel"))
        judged = next(j for j in short.judgements if j.code == "cut-short")
        self.assertAlmostEqual(judged.numbers["unread"], 0.1275)
        text = said(judged)
        self.assertIn("reads from 128 mm up", text)
        self.assertIn(f"{127.5 * pi:.1f} L", text)
        self.assertIn("Rescue", text)
        served = probe(
            {"cut.depth": "3200 mm", "cut.school": "sprung", "cut.done": "3072.5 mm", "site.lowest": "200 mm"},
            upright("diesel"),
        )
        self.assertEqual(codes(served)["cut-short"], "watch")
        self.assertIn("cut-right", codes(probe({"cut.depth": "900 mm", "cut.school": "free", "cut.done": "885 mm"})))
        self.assertIn("stands on the floor", said(probe({"cut.depth": "900 mm", "cut.done": "905 mm"}).judgements[0]))

    def test_pieces_joints_and_wet_ends(self) -> None:
        tape = read_tape(Form({"cut.depth": "2100 mm", "cut.school": "free"}, "metric"), THERE.depth_m)
        found = cut_probe(tape, THERE, model("capacitance", probe_section_mm=1000, probe_sections=3))
        self.assertAlmostEqual(sum(found.pieces_m), found.cut_m, 12)
        self.assertEqual(len(found.pieces_m), 3)
        self.assertGreater(min(found.pieces_m), 0.1 - 1e-12)
        # Annulus of 14 mm over 8 mm: π/4 (0.014² − 0.008²) × 2.085 m.
        self.assertAlmostEqual(found.wet_m3, pi / 4 * (0.014**2 - 0.008**2) * 2.085, 12)
        steps = " ".join(said(step) for step in found.steps)
        self.assertIn("3 pieces at 2 joints", steps)
        # The order of the trade: join, trim, calibrate, and the spacer after that.
        places = [steps.index(word) for word in ("Join", "Saw", "Trim before", "Wet ends", "spacer")]
        self.assertEqual(places, sorted(places))
        long = cut_probe(tape, THERE, model("capacitance", probe_section_mm=600, probe_sections=2))
        self.assertEqual(codes(long)["too-long-to-make"], "stop")

    @settings(max_examples=150, deadline=None)
    @given(st.floats(0.05, 12), st.floats(0.2, 3))
    def test_pieces_make_the_whole_and_none_is_a_stump(self, depth, piece) -> None:
        form = Form({"cut.depth": f"{depth} m", "cut.school": "free"}, "metric")
        one = model("capacitance", probe_section_mm=piece * 1000, probe_sections=10)
        found = cut_probe(read_tape(form, THERE.depth_m), THERE, one)
        self.assertAlmostEqual(sum(found.pieces_m), found.cut_m, 9)
        self.assertLessEqual(max(found.pieces_m), piece + 1e-9)
        if len(found.pieces_m) > 1:
            self.assertGreaterEqual(min(found.pieces_m), piece / 10 - 1e-9)

    def test_a_depth_that_differs_from_the_drawing_is_asked_about(self) -> None:
        self.assertIn("depth-differs", codes(probe({"cut.depth": "2100 mm"})))
        self.assertIn("depth-drawn", codes(probe({})))
        self.assertNotIn("depth-differs", codes(probe({"cut.depth": "2150 mm"})))


class Cables(TestCase):
    def cut(self, **entries: str):
        typed = {key.replace("__", "."): value for key, value in entries.items()}
        form = Form(typed, "metric")
        there = meet(lying(), typed)
        return cut_cable(read_hang(form, there.depth_m), there, model("hydrostatic"))

    def test_the_next_stock_length(self) -> None:
        # 2150 − 50 + 2500 + 300 = 4900 mm: the 5 m cable of 2, 5, 10, 15 m (lengths that are common practice).
        found = self.cut(cable__run="2.5 m")
        self.assertAlmostEqual(found.need_m, 4.9, 9)
        self.assertEqual(found.stock_m, 5.0)
        self.assertEqual(self.cut(cable__run="2.7 m").stock_m, 10.0)
        self.assertEqual(codes(self.cut(cable__run="40 m"))["stock"], "stop")

    def test_range_and_cable_length_are_two_things(self) -> None:
        found = self.cut(cable__run="2.5 m", cable__have="2.5 m")
        self.assertEqual(codes(found)["range-or-cable"], "watch")
        text = next(said(j) for j in self.cut(cable__run="2.5 m").judgements if j.code == "range-or-cable")
        self.assertIn("Measures 2500 mm of water, order 5.0 m of cable", text)

    def test_too_short_hangs_higher(self) -> None:
        found = self.cut(cable__run="2.5 m", cable__have="4.7 m")
        text = next(said(j) for j in found.judgements if j.code == "cable-short")
        self.assertIn("200 mm too short", text)
        self.assertIn("reads from 250 mm up", text)
        self.assertIn("vented junction box", text)
        self.assertEqual(codes(self.cut(cable__run="2.5 m", cable__have="5 m"))["cable-enough"], "good")

    def test_above_the_sediment(self) -> None:
        self.assertAlmostEqual(self.cut(site__sediment="80 mm").off_floor_m, 0.13, 9)
        self.assertEqual(codes(self.cut(site__sediment="80 mm", cable__off_floor="20 mm"))["off-floor"], "watch")


class Spots(TestCase):
    def place(self, technology: str, file=None, ports=None, **entries: str):
        typed = {key.replace("__", "."): value for key, value in entries.items()}
        form = Form(typed, "metric")
        file = file or lying()
        ports = VENT if ports is None else ports
        return place_gauge(read_spot(form, ports), meet(file, typed), model(technology), ports)

    def test_clear_of_what_stands_there(self) -> None:
        float_arm = {"obstacles[0].kind": "float", "obstacles[0].x": "2700 mm", "obstacles[0].radius": "300 mm"}
        near = self.place("capacitance", **float_arm, spot__x="2500 mm")
        self.assertEqual(codes(near)["near-float"], "stop")
        self.assertEqual(codes(self.place("capacitance", **float_arm, spot__x="2380 mm"))["near-float"], "watch")
        self.assertEqual(codes(self.place("capacitance", **float_arm, spot__x="2000 mm")), {"clear": "good"})
        # A beam is wider the deeper it goes: 8° over 2.15 m is 150 mm to either side.
        beam = self.place("radar", **{"obstacles[0].kind": "inlet", "obstacles[0].x": "2650 mm"}, spot__x="2500 mm")
        self.assertAlmostEqual(beam.judgements[0].numbers["limit"], 2.15 * tan(radians(4)), 4)
        self.assertIn("half as wide as 150 mm", said(beam.judgements[0]))

    def test_the_vent_stays_open(self) -> None:
        self.assertEqual(codes(self.place("radar", spot__port="Vent"))["blocks-vent"], "stop")
        two = [*VENT, {**VENT[0], "name": "Second vent"}]
        self.assertEqual(codes(self.place("radar", ports=two, spot__port="Vent"))["shares-vent"], "watch")
        fill = [*VENT, {"name": "Fill", "uses": ["fill"], "size": "", "position": "", "note": ""}]
        self.assertEqual(codes(self.place("radar", ports=fill, spot__port="Fill"))["shares-fill"], "watch")

    def test_the_table_is_made_for_its_own_place(self) -> None:
        sloped = lying(slope_mm_per_m=20, gauge_position_mm=1000)
        off = self.place("radar", file=sloped, spot__x="3500 mm")
        text = next(said(j) for j in off.judgements if j.code == "table-spot")
        # 2.5 m × 20 mm/m.
        self.assertIn("50 mm of level", text)
        self.assertNotIn("table-spot", codes(self.place("radar", file=sloped, spot__x="1000 mm")))
        self.assertNotIn("table-spot", codes(self.place("radar", spot__x="3500 mm")))

    def test_a_pad_off_the_bottom_s_middle_is_off_level(self) -> None:
        # 100 mm off the middle of a 1 m radius the shell stands asin 0.1 = 5.74° off level; its echo's path is
        # 1/cos 5.74° − 1 = 0.504 % long.
        there = meet(lying(), {"spot.y": "100 mm"})
        self.assertAlmostEqual(pad_tilt(there, 0.0), 5.74, 1)
        self.assertAlmostEqual(pad_tilt(meet(lying(), {}), 2.0), 2.0, 6)
        self.assertEqual(codes(self.place("sonar", spot__y="100 mm"))["pad-tilt"], "watch")
        self.assertEqual(codes(self.place("sonar", spot__y="200 mm"))["pad-tilt"], "stop")
        self.assertEqual(codes(self.place("sonar"))["pad-path"], "good")
        seam = {"obstacles[0].kind": "seam", "obstacles[0].x": "2530 mm"}
        self.assertIn("wedge", next(said(j) for j in self.place("sonar", **seam).judgements if j.code == "seam"))
        self.assertNotIn("seam", codes(self.place("radar", **seam)))

    def test_beside_the_middle_the_floor_rises(self) -> None:
        # 600 mm off the middle of R = 1 m: 200 mm up.
        text = next(
            said(j) for j in self.place("capacitance", spot__y="600 mm").judgements if j.code == "floor-rises"
        )
        self.assertIn("200 mm above the lowest", text)

        # R − √(R² − y²): 9 mm up at 134 mm off the middle, 11 mm at 148 mm; from a centimetre on it counts.
        self.assertNotIn("floor-rises", codes(self.place("capacitance", spot__y="134 mm")))
        self.assertEqual(codes(self.place("capacitance", spot__y="148 mm"))["floor-rises"], "watch")


TIPS = {"common": 0.05, "cutout": 0.5, "start": 1.0, "stop": 1.8}


class Rods(TestCase):
    def set(self, **entries: str):
        typed = {"rods." + key: value for key, value in entries.items()}
        form = Form(typed, "metric")
        there = meet(upright(height=2000))
        found = set_rods(read_rods(form, there.tank.inside_height), there)
        assert form.problems == [], form.problems
        return found

    def test_lengths_sheaths_and_couplings(self) -> None:
        found = self.set(common="50 mm", cutout="500 mm", start="1 m", stop="1.8 m")
        lengths = [round(rod.length_m, 6) for rod in found.rods]
        # The head is 2.2 m up: each rod is as long as from there to its level, longest first.
        self.assertEqual(lengths, [2.15, 1.7, 1.2, 0.4])
        self.assertEqual([rod.couplings for rod in found.rods], [2, 1, 1, 0])
        for rod in found.rods:
            self.assertAlmostEqual(sum(rod.pieces_m), rod.length_m, 9)
            # Bare: the tip (1½–2 in) and the top inch; common practice.
            bare = rod.length_m - rod.sheath_m
            self.assertTrue(read_quantity("2.5 in", "length") <= bare <= read_quantity("3 in", "length"))

    def test_order_and_distance(self) -> None:
        self.assertEqual(codes(self.set(start="0.3 m", cutout="0.5 m"))["order-start"], "stop")
        self.assertEqual(codes(self.set(cutout="0.97 m", start="1 m"))["close-start"], "watch")
        self.assertEqual(codes(self.set(common="600 mm", cutout="500 mm"))["order-cutout"], "stop")

    def test_hysteresis_between_start_and_stop(self) -> None:
        levels = [1.9, 1.4, 1.05, 0.95, 1.05, 1.4, 1.79, 1.81, 1.4]
        states = run_levels(levels, TIPS, Relays())
        self.assertEqual([s.pump for s in states], [False, False, False, True, True, True, True, False, False])
        # A wave at the start rod does not make the pump chatter.
        ripple = run_levels([1.2, 0.99, 1.01, 0.99, 1.01], TIPS, Relays())
        self.assertEqual([s.pump for s in ripple], [False, True, True, True, True])

    def test_the_booster_is_locked_out_below_the_cut_out(self) -> None:
        for level, runs in ((0.51, True), (0.49, False), (0.02, False)):
            self.assertEqual(run_levels([level], TIPS, Relays())[0].booster, runs)

    def test_truth_table_covers_every_level(self) -> None:
        bands = truth_table(TIPS, Relays(), 2.0)
        self.assertEqual(
            [(b.from_m, b.to_m) for b in bands], [(0, 0.05), (0.05, 0.5), (0.5, 1.0), (1.0, 1.8), (1.8, 2.0)]
        )
        self.assertEqual([b.rising.pump for b in bands], [True, True, True, True, False])
        self.assertEqual([b.falling.pump for b in bands], [True, True, True, False, False])
        self.assertEqual([b.rising.booster for b in bands], [False, False, True, True, True])

    def test_wrong_orders_and_contacts_show_what_they_do(self) -> None:
        right = codes(self.set(common="50 mm", cutout="500 mm", start="1 m", stop="1.8 m"))
        self.assertEqual(right["wired-right"], "good")
        base = {"common": "50 mm", "cutout": "500 mm", "start": "1 m", "stop": "1.8 m"}
        self.assertEqual(codes(self.set(**base, booster_on="no"))["dry-run"], "stop")
        self.assertEqual(codes(self.set(**base, pump_on="nc"))["overflow"], "stop")
        swapped = {"terminal[2]": "stop", "terminal[3]": "start"}
        self.assertNotIn("wired-right", codes(self.set(**base, **swapped)))
        twice = codes(self.set(**base, **{"terminal[1]": "stop"}))
        self.assertEqual(twice["rod-twice"], "stop")

    def test_every_permutation_that_acts_otherwise_is_told(self) -> None:
        # The relays themselves are followed: whatever differs in what runs anywhere has a judgement.
        good = truth_table(TIPS, Relays(), 2.0)
        for order, (pump, booster) in product(permutations(RODS), product(("no", "nc"), repeat=2)):
            relays = Relays(pump, booster, tuple(order))
            mine = truth_table(TIPS, relays, 2.0)
            dry = any(have.rising.booster and not want.rising.booster for want, have in zip(good, mine, strict=True))
            over = mine[-1].rising.pump
            typed = {f"terminal[{i}]": key for i, key in enumerate(order)} | {"pump_on": pump, "booster_on": booster}
            found = codes(self.set(common="50 mm", cutout="500 mm", start="1 m", stop="1.8 m", **typed))
            self.assertEqual("dry-run" in found, dry, (order, pump, booster))
            if over:
                self.assertIn("overflow", found, (order, pump, booster))
