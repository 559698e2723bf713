"""Which gauge: reasons with their numbers, what is expected of it, and advice that never breaks a rule."""

from __future__ import annotations

import json
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from rasante.core.gauges.model import (
    FORMAT,
    ZONES,
    check_model,
    file_schema,
    generic_models,
    read_models,
    technologies,
    write_models,
)
from rasante.core.gauges.situation import read_situation
from rasante.core.gauges.suit import judge_models, level_parts
from rasante.core.products.registry import materials
from rasante.core.quantities.errors import InputError
from rasante.core.quantities.form import Form
from rasante.core.tanks.uncertainty import volume_uncertainty
from tests.tags import slow

from .gauge_cases import demo_tanks, judged, lying, meet, model, reasons, upright
from .said import said

MODELS = [check_model(document) for document in generic_models()]


class Models(TestCase):
    def test_every_technology_has_a_generic_model_with_known_materials(self) -> None:
        self.assertEqual({one.technology for one in MODELS}, set(technologies()))
        for one in MODELS:
            self.assertTrue(set(one.wetted) <= set(materials()))
            self.assertGreater(one.install_min, 0)

    def test_blanking_and_ranges_of_the_trade(self) -> None:
        # Common practice, no published source: about 100 mm for short-range radar, 250 mm for small ultrasonics,
        # lasers for tanks under 4 m.
        self.assertEqual({one.blanking_m for one in MODELS if one.technology == "radar"}, {0.1})
        self.assertEqual(min(one.blanking_m for one in MODELS if one.technology == "ultrasonic"), 0.25)
        self.assertLessEqual(max(one.range_m for one in MODELS if one.technology == "laser"), 4.0)

    def test_a_range_of_fifteen_psi(self) -> None:
        # 1 psi is 2.31 ft of water (common practice): 15 psi is 34.65 ft, 10.56 m; at 4 °C by Pint 10.547 m.
        sensor = next(one for one in MODELS if "15 psi" in one.name)
        self.assertAlmostEqual(sensor.range_m / 0.3048, 34.65, 0)
        self.assertAlmostEqual(sensor.range_m * 9.80665 * 1000 / 6894.757, 15.0, 2)

    def test_files_out_and_in(self) -> None:
        text = write_models(generic_models())
        self.assertEqual(read_models(text), list(generic_models()))
        self.assertEqual(json.loads(text)["format"], FORMAT)
        self.assertEqual(file_schema()["properties"]["models"]["items"]["required"][0], "name")

    def test_what_is_wrong_is_said_at_its_key(self) -> None:
        good = dict(generic_models()[0])
        cases = (
            ({"range_max_mm": -5}, "models[0].range_max_mm"),
            ({"wetted": ["cheese"]}, "models[0].wetted[0]"),
            ({"colour": "red"}, "models[0].colour"),
            ({"technology": "dowsing"}, "models[0].technology"),
            ({"temperature_min_c": 90}, "models[0].temperature_min_c"),
        )
        for changes, where in cases:
            with self.subTest(where), self.assertRaises(InputError) as refused:
                read_models(json.dumps({"format": FORMAT, "models": [{**good, **changes}]}))
            self.assertEqual(refused.exception.problems[0].where, where)
        for text in ("{", '{"format": "x"}', '{"format": "rasante.gauges/1", "models": []}'):
            with self.assertRaises(InputError):
                read_models(text)
        with self.assertRaisesRegex(InputError, "NaN is no number"):
            read_models(write_models([good]).replace("2500", "NaN"))


class Reasons(TestCase):
    def test_pressure(self) -> None:
        # Propane at 40 °C: 13.69 bar absolute (REFPROP/NIST webbook value, from memory), 12.7 bar above the air.
        there = meet(lying("propane"), ports=[])
        self.assertAlmostEqual(there.pressure_bar, 13.69 - 1.013, 1)
        self.assertIn("12.7 bar", reasons(there, model("radar"))["pressure"])
        self.assertIn("pressurised", reasons(there, model("hydrostatic")))
        self.assertNotIn("pressure", reasons(there, model("sonar")))

    def test_conducting_or_not(self) -> None:
        self.assertIn("not-conductive", reasons(meet(lying()), model("rods")))
        self.assertIn("conductive", reasons(meet(upright()), model("capacitance", range_max_mm=4000)))
        self.assertNotIn("not-conductive", reasons(meet(upright()), model("rods")))

    def test_a_column_weighs_by_its_density(self) -> None:
        # Common practice: diesel weighs 0.82 to 0.86 of water, so its column asks for that much less of a range.
        needs = {}
        for product in ("water", "diesel"):
            found = judged(meet(upright(product), {"site.zone": "none"}), model("hydrostatic"))
            needs[product] = next(one.value for one in found.reasons if one.code == "range") or 0.0
        self.assertAlmostEqual(needs["water"], 3.0, delta=0.15)
        self.assertGreater(needs["diesel"] / needs["water"], 0.80)
        self.assertLess(needs["diesel"] / needs["water"], 0.88)

    def test_blanking(self) -> None:
        # The face 200 mm above the top, 250 mm of blanking: 50 mm too low for a brim-full tank, and 50 mm of room.
        there = meet(upright(), {"site.zone": "none"})
        found = judged(there, model("ultrasonic", range_max_mm=5000, wetted=["PVDF"]))
        self.assertEqual(found.verdict, "fits_if")
        self.assertIn("reaches 50 mm below the highest level: fits if it is raised by 100 mm", said(found.reasons[0]))
        raised = meet(upright(), {"site.zone": "none", "site.riser": "100 mm"})
        self.assertEqual(reasons(raised, model("ultrasonic", range_max_mm=5000, wetted=["PVDF"])), {})

    def test_the_ultrasonic_rule_of_thumb(self) -> None:
        # Common practice: with 250 mm of blanking, mount about 300 mm above the highest level.
        there = meet(upright(), {"site.zone": "none", "site.riser": "100 mm"})
        self.assertAlmostEqual(there.face_m - there.highest_m, 0.3, 9)
        self.assertNotIn("blanking-near", reasons(there, model("ultrasonic", range_max_mm=5000)))

    def test_beam_and_nozzle(self) -> None:
        # 0.2 m from the wall of a 2 m circle: a 10° half angle reaches it 0.2 / tan 10° = 1.134 m below the face.
        there = meet(upright(), {"spot.x": "200 mm"})
        self.assertIn("meets the wall 11", reasons(there, model("radar", beam_deg=20))["beam"])
        # A 200 mm nozzle of 52 mm bore: a 20° beam is 70 mm wide at its end.
        narrow = meet(upright(), {"site.bore": "52 mm"})
        self.assertIn("too narrow", reasons(narrow, model("radar", beam_deg=20))["nozzle"])
        self.assertIn(
            "Needs an opening of 40 mm", reasons(meet(upright(), {"site.bore": "1 in"}), model("radar"))["bore"]
        )

    def test_vapour_foam_waves_sediment(self) -> None:
        petrol = meet(lying("petrol"))
        self.assertIn("vapour", reasons(petrol, model("ultrasonic")))
        self.assertIn("vapour", reasons(petrol, model("laser")))
        rough = meet(upright(), {"site.foam": "heavy", "site.waves": "heavy", "site.sediment": "40 mm"})
        self.assertIn("swallows", reasons(rough, model("ultrasonic"))["foam"])
        self.assertIn("waves", reasons(rough, model("radar")))
        self.assertIn("40 mm of sediment", reasons(rough, model("sonar"))["sediment"])
        self.assertIn("hang it clear", reasons(rough, model("hydrostatic"))["sediment"])

    def test_walls(self) -> None:
        for entries, code in (
            ({"site.double_wall": "yes"}, "double-wall"),
            ({"site.lined": "yes"}, "lining"),
            ({"site.wall": "plastic"}, "wall"),
            ({"site.bottom": "no"}, "bottom"),
        ):
            self.assertIn(code, reasons(meet(lying(), entries), model("sonar")))

    def test_materials_zone_supply_temperature(self) -> None:
        self.assertIn("EPDM", reasons(meet(lying()), model("hydrostatic", wetted=["316L", "EPDM"]))["materials"])
        self.assertIn("for ever", reasons(meet(lying()), model("hydrostatic", wetted=["PUR"]))["materials"])
        self.assertIn("zone 0", reasons(meet(lying("petrol")), model("radar", zone="2"))["zone"])
        weak = meet(lying(), {"site.supply": "10 V"})
        self.assertIn("it needs 12 V", reasons(weak, model("radar"))["supply"])
        self.assertIn("it bears 36 V", reasons(meet(lying(), {"site.supply": "48 V"}), model("radar"))["supply"])
        hot = meet(lying(), {"site.temperature_low": "0 °C", "site.temperature_high": "95 °C"})
        self.assertIn("95 °C", reasons(hot, model("radar"))["temperature"])

    def test_turndown_range_and_vent(self) -> None:
        # Diesel 2 m deep weighs like 1.68 m of water: a sixth of a 10.547 m sensor's range, and too much for 1.5 m.
        there = meet(lying())
        self.assertIn("uses 1", reasons(there, model("hydrostatic", range_max_mm=10547))["turndown"])
        self.assertIn("range", reasons(there, model("hydrostatic", range_max_mm=1500)))
        self.assertIn("no-vent", reasons(meet(lying(), ports=[]), model("hydrostatic")))
        self.assertIn("tall", reasons(meet(upright(height=4500)), model("laser", range_max_mm=9000)))

    def test_crude_references(self) -> None:
        self.assertIn("points", reasons(meet(upright()), model("rods")))
        self.assertIn("5–10 % out", reasons(meet(lying()), model("float"))["crude"])


class Expected(TestCase):
    def test_by_hand(self) -> None:
        # A radar of ± 3 mm and 1 mm steps over a box-like upright tank of π m²: √(3² + 0.5²) mm × 3.1416 L/mm.
        found = judged(meet(upright()), model("radar")).expected
        self.assertAlmostEqual(found.u95_level_m * 1000, np.sqrt(3**2 + 0.5**2), 9)
        self.assertAlmostEqual(found.u95_m3, np.pi * np.sqrt(3**2 + 0.5**2) / 1000, 9)

    def test_density_moves_a_pressure_sensor(self) -> None:
        # 822 to 858 kg/m³ is ± 2.1 % of the height: by hand 18/840 × 1.9 m.
        there = meet(lying(), {"site.density_low": "822 kg/m3", "site.density_high": "858 kg/m3"})
        part = level_parts(model("hydrostatic"), there, np.array([1.9]))["density"]
        self.assertAlmostEqual(float(part[0]), 36 / 1680 * 1.9, 9)

    def test_the_table_counts_in(self) -> None:
        measured = lying(measured={"all": "data_plate"})
        there = meet(measured)
        found = judged(there, model("radar")).expected
        table = float(volume_uncertainty(measured, np.array([found.at_m]), every=False)[0])
        surface = float(measured.tank.surface(found.at_m))
        self.assertAlmostEqual(found.u95_m3, np.hypot(surface * found.u95_level_m, table), 9)

    def test_ranked_by_verdict_then_uncertainty(self) -> None:
        for file, ports in demo_tanks():
            verdicts = judge_models(meet(file, ports=ports), MODELS)
            order = {"fits": 0, "fits_if": 1, "no": 2}
            keys = [
                (order[v.verdict], v.expected.u95_m3 if v.expected else np.inf, v.model.install_min) for v in verdicts
            ]
            self.assertEqual(keys, sorted(keys))


@slow
class Advice(TestCase):
    def test_every_technology_and_tank_of_the_demo_has_a_reason(self) -> None:
        tanks = demo_tanks()
        self.assertGreaterEqual(len(tanks), 10)
        for file, ports in tanks:
            verdicts = judge_models(meet(file, ports=ports), MODELS)
            self.assertEqual(len(verdicts), len(MODELS))
            for verdict in verdicts:
                self.assertGreater(len(verdict.reasons), 0, (file.name, verdict.model.name))
                if verdict.verdict != "fits":
                    self.assertNotEqual(verdict.reasons[0].weight, "good")

    @settings(max_examples=250, deadline=None)
    @given(st.data())
    def test_no_advice_breaks_blanking_pressure_or_materials(self, data) -> None:
        product = data.draw(st.sampled_from(["diesel", "petrol", "propane", "butane", "water", "brine", ""]))
        file = data.draw(st.sampled_from([lying(product), upright(product)]))
        top = file.tank.inside_height * 1000
        draw = {
            "site.highest": st.floats(top / 2, top).map("{:.1f} mm".format),
            "site.riser": st.floats(-300, 600).map("{:.1f} mm".format),
            "site.pressure": st.floats(0, 30).map("{:.2f} bar".format),
            "site.vapour": st.sampled_from(["none", "some", "heavy"]),
            "site.zone": st.sampled_from(ZONES),
        }
        entries = {key: data.draw(value) for key, value in draw.items() if data.draw(st.booleans())}
        form = Form(entries, "metric")
        there = read_situation(form, file, [])
        for verdict in judge_models(there, MODELS):
            one = verdict.model
            if verdict.verdict == "no":
                continue
            self.assertLessEqual(there.pressure_bar, one.pressure_bar)
            self.assertFalse(one.technology == "hydrostatic" and there.pressure_bar > 0.05)
            if there.product.group:
                for key in one.wetted:
                    known = materials()[key]
                    self.assertIn(there.product.group, known["good"] + known.get("fair", []))
            self.assertGreaterEqual(ZONES.index(one.zone), ZONES.index(there.zone) - (one.kind.mount == "below"))
            if one.kind.mount == "top":
                room = there.face_m - one.blanking_m - there.highest_m
                if verdict.verdict == "fits":
                    self.assertGreaterEqual(room, 0)
                elif room < 0:
                    # Where it reaches below the highest level the advice says by how much to raise it.
                    self.assertTrue(any("raised by" in said(reason) for reason in verdict.reasons))
