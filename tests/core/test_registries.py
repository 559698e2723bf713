"""One row adds one thing: every signal, output, technology and product of the registries works throughout."""

from __future__ import annotations

import json
from importlib import resources
from pathlib import Path
from unittest import TestCase

import jsonschema
import numpy as np

from rasante.core.gauges.model import GaugeModel, check_model, generic_models, technologies, technology_schema
from rasante.core.gauges.placement import place_gauge, read_spot
from rasante.core.gauges.plan import read_gauge_plan
from rasante.core.products.registry import NOT_KNOWN, UNKNOWN, materials, product_names, product_of
from rasante.core.quantities.errors import InputError
from rasante.core.quantities.form import Form
from rasante.core.quantities.signals import OUTPUTS, SIGNALS, Output, link_of
from rasante.core.scaling.chain import Chain
from rasante.core.scaling.chain_form import Mounted, chain_start, read_chain
from rasante.core.scaling.sensing import SENSING
from rasante.core.tanks.check import KEYS
from rasante.core.tanks.kinds import FAMILIES, SHAPES
from rasante.core.tanks.measured import METHODS
from rasante.core.wiring.circuit_kinds import LINKS, read_wiring
from rasante.core.wiring.receiving import Arrived, receiving_check
from rasante.core.wiring.start import wiring_start

from .chain_cases import chain, file_of, ground
from .gauge_cases import judged, lying, meet, model, upright
from .said import said


def sender(output: Output) -> GaugeModel:
    """A model that sends by one output, whatever it senses."""
    document = next(one for one in generic_models() if one["technology"] == "hydrostatic")
    return check_model({**document, "output": [output.name]})


def wired(output: Output) -> Chain:
    """A chain of one output, with the circuit that its gauge begins with."""
    model, file = sender(output), upright()
    circuit = read_wiring({**wiring_start(model, output.name, False), "cable[0].length": "30 m"}, "metric").circuit
    found = read_chain({}, ground(file, chain_start(file, model, output.name, Mounted(0.0, None), "metric"), circuit),
                       "metric")  # fmt: skip
    assert found.chain is not None, found.form.problems
    return found.chain


class Signals(TestCase):
    def test_limits_lie_around_the_ends_in_order(self) -> None:
        for one in SIGNALS.values():
            with self.subTest(one.key):
                inner = [one.least, one.low, one.high, one.most]
                self.assertEqual(inner, sorted(inner))
                self.assertLess(one.fault_low, one.low)
                self.assertGreater(one.fault_high, one.most)

    def test_every_signal_goes_along_a_chain_and_back(self) -> None:
        for key, one in SIGNALS.items():
            for quantity in SENSING:
                with self.subTest(f"{key}, {quantity}"):
                    made = chain(signal__kind=key, sensor__quantity=quantity)
                    self.assertEqual(made.signal is None, one.digital)
                    station = "number" if one.digital else "sent"
                    levels = np.linspace(0.2, 0.8, 7) * file_of("upright").tank.inside_height
                    values = made.forward("level", station, levels)
                    self.assertGreater(np.abs(np.diff(values)).min(), 0)
                    np.testing.assert_allclose(made.backward(station, "level", values), levels, atol=2e-3)

    def test_a_signal_spans_its_own_ends(self) -> None:
        for key, one in SIGNALS.items():
            if one.digital or one.quantity == "bridge":
                continue
            made = chain(signal__kind=key, sensor__quantity="level", sensor__low="0 mm", sensor__high="1000 mm")
            np.testing.assert_allclose(made.forward("level", "sent", np.array([0.0, 1.0])), [one.low, one.high])

    def test_two_to_ten_volts(self) -> None:
        # 4–20 mA over 500 Ω (Ohm's law): the live zero is kept, and a broken wire is told from an empty tank.
        made = chain(signal__kind="v210", sensor__quantity="level", sensor__low="0 mm", sensor__high="1000 mm")
        current = chain(sensor__quantity="level", sensor__low="0 mm", sensor__high="1000 mm")
        levels = np.linspace(0, 1, 11)
        volts, amps = (one.forward("level", "sent", levels) for one in (made, current))
        np.testing.assert_allclose(volts, amps * 500, atol=1e-12)
        self.assertTrue(SIGNALS["v210"].live_zero)
        self.assertEqual(wired(OUTPUTS["2-10V three-wire"]).signal, SIGNALS["v210"])


class Outputs(TestCase):
    def test_every_output_is_carried_and_arrives_as_sent(self) -> None:
        for one in OUTPUTS.values():
            with self.subTest(one.name):
                self.assertIn(one.link, LINKS)
                self.assertEqual(link_of(one.name), one.link)
                if not one.signal or SIGNALS[one.signal].digital:
                    continue
                made = wired(one)
                assert made.signal is not None
                self.assertEqual(made.signal.key, one.signal)
                levels = np.linspace(0.05, 0.95, 9) * upright().tank.inside_height
                sent, got = made.forward("level", "sent", levels), made.forward("level", "arriving", levels)
                # What a sound circuit takes away, a common wire's lift included, is a hundredth of the span at most.
                np.testing.assert_allclose(got, sent, atol=1e-2 * made.signal.span)

    def test_what_arrives_is_held_against_the_very_output(self) -> None:
        for one in OUTPUTS.values():
            for other in OUTPUTS.values():
                checks = {c.key: c for c in receiving_check(sender(one), one.name, None, Arrived(output=other.name))}
                self.assertEqual(checks["output"].agrees, one.name == other.name, (one.name, other.name))

    def test_what_is_not_listed_becomes_nothing_else(self) -> None:
        self.assertEqual(link_of("4-20mA by carrier pigeon"), "")
        document = next(iter(generic_models()))
        with self.assertRaises(InputError) as refused:
            check_model({**document, "output": ["4-20mA by carrier pigeon"]})
        self.assertIn("output", refused.exception.problems[0].where)


class Technologies(TestCase):
    def test_every_row_is_whole(self) -> None:
        data = json.loads(resources.files("rasante.core.gauges").joinpath("technologies.json").read_text("utf-8"))
        jsonschema.validate(data, technology_schema())
        lacking = {"odd": {key: value for key, value in data["radar"].items() if key != "foam"}}
        with self.assertRaises(jsonschema.ValidationError):
            jsonschema.validate(lacking, technology_schema())

    def test_each_is_judged_and_placed_in_every_tank(self) -> None:
        for document in generic_models():
            one = check_model(document)
            for file in (lying(), upright()):
                there = meet(file)
                with self.subTest(f"{one.name}, {file.tank.shape.kind}"):
                    verdict = judged(there, one)
                    self.assertTrue(all(said(reason) for reason in verdict.reasons))
                    placed = place_gauge(read_spot(Form({}, "metric"), []), there, one, [])
                    self.assertTrue(all(said(judgement) for judgement in placed.judgements))

    def test_a_rule_is_there_for_all_that_a_gauge_meets(self) -> None:
        # Vapour, foam and waves: heavy ones are spoken of by whatever looks down through them, and by nothing else.
        for key, kind in technologies().items():
            if kind.beams:
                self.assertEqual(set(kind.foam), {"some", "heavy"}, key)
                self.assertIn("heavy", kind.waves, key)
            elif kind.mount != "top":
                self.assertEqual((kind.vapour, kind.foam, kind.waves), ({}, {}, {}), key)

    def test_top_mounted_but_immersed(self) -> None:
        # It looks down without a beam: no wall meets it, its rod is cut, and it has no wet ends.
        one, there = model("guided"), meet(lying(), {"site.foam": "heavy", "cut.school": "free"})
        self.assertFalse(one.kind.beams)
        told = {reason.code for reason in judged(there, one).reasons}
        self.assertIn("foam", told)
        self.assertFalse({"beam", "nozzle", "bore"} & told)
        typed = {"choice.model": "guided", "cut.depth": "2150 mm", "cut.school": "free"}
        plan = read_gauge_plan(typed, lying(), [], {"guided": one}, "metric")
        assert plan.probe is not None
        self.assertIsNone(plan.probe.wet_m3)
        # It has no tubes to align, to cap or to blow out, and is told its new length.
        steps = " ".join(said(step) for step in plan.probe.steps)
        self.assertNotRegex(steps, "tube|cap|sealant|calibrat|Wet ends")
        self.assertIn("2135 mm", steps)
        self.assertIn("length into the sensor", steps)
        # Common practice: a free rod hangs 15 mm off the floor.
        self.assertAlmostEqual(plan.probe.cut_m, 2.135, 9)
        start = chain_start(upright(), one, "4-20mA two-wire", Mounted(0.015, 3.25), "metric")
        self.assertEqual((start["sensor.quantity"], start["sensor.zero"]), ("distance", "50 mm"))


class Products(TestCase):
    def test_every_name_finds_its_own(self) -> None:
        for name in product_names():
            found = product_of(name)
            self.assertTrue(found.known, name)
            self.assertEqual(product_of(f"  {name.upper()} "), found)
            self.assertTrue(found.density_kg_m3 or found.fluid or found.key == "refrigerant", name)
            if found.pressurised:
                self.assertTrue(found.filling_limit, name)
                self.assertLessEqual(found.filling_limit or 1, 0.8, name)

    def test_what_people_write_on_bulk_tanks_is_found(self) -> None:
        """Usual names of the trade, with and without accents; common practice."""
        for text, key in (
            ("HVO", "HVO"), ("gasóleo", "diesel"), ("Heizöl", "diesel"), ("fioul domestique", "diesel"),
            ("gasolina 95", "petrol"), ("Benzin", "petrol"), ("Bunker C", "heavy fuel oil"), ("E10", "petrol E10"),
            ("waste oil", "used oil"), ("Avgas 100LL", "aviation petrol"), ("Jet A-1", "kerosene"),
            ("JP-8", "kerosene"),
            ("agua potable", "drinking water"), ("eau potable", "drinking water"), ("Trinkwasser", "drinking water"),
            ("coolant", "glycol"), ("Salmuera", "brine"), ("Abwasser", "waste water"),
            ("eau de Javel", "hypochlorite"),
            ("AUS 32", "diesel exhaust fluid"), ("Ammoniak", "ammonia"), ("methanol", "methanol"),
        ):  # fmt: skip
            self.assertEqual(product_of(text).key, key, text)

    def test_the_longest_name_of_whole_words_wins(self) -> None:
        # "Fuel oil" is not "oil", and a "water heater" of propane is no water.
        for text, key in (
            ("Red diesel", "diesel"), ("Commercial propane HD-5", "propane"), ("waterproof", ""),
            ("dieselish", ""), ("propane and water", ""), ("", ""),
        ):  # fmt: skip
            self.assertEqual(product_of(text).key, key, text)

    def test_hazards_are_never_lost_and_nothing_is_guessed(self) -> None:
        mixed = product_of("propane and something")
        self.assertTrue(mixed.pressurised and mixed.flammable)
        self.assertIsNone(mixed.density_kg_m3)
        self.assertEqual(product_of("sludge of the third kind"), UNKNOWN)
        self.assertIn("must be given", NOT_KNOWN)


class Documented(TestCase):
    """What the formats' pages list is what the registries hold: a row that is added is told there too."""

    def page(self, name: str) -> str:
        return (Path(__file__).resolve().parents[2] / "docs" / "formats" / name).read_text("utf-8")

    def test_every_technology_output_and_material(self) -> None:
        page = self.page("gauges.md")
        for word in (*technologies(), *OUTPUTS, *materials()):
            with self.subTest(word):
                self.assertIn(f"`{word}`", page)

    def test_every_key_and_kind_of_a_tank_file(self) -> None:
        page = self.page("tank-file.md")
        kinds = [one for family in (SHAPES, *FAMILIES.values()) for one in family]
        for word in (*KEYS, *kinds, *METHODS):
            with self.subTest(word):
                self.assertIn(f"`{word}`", page)
