"""Gauge models, the gauge of a tank and its wiring over HTTP: kept, refused, and never lost."""

from __future__ import annotations

import io
import json
from xml.etree import ElementTree

from pypdf import PdfReader

from rasante.core.gauges.model import technologies
from rasante.gauges.models import GaugeModel, GaugePlan
from rasante.gauges.services import library
from rasante.tanks.services import resurvey_tank
from rasante.wiring.models import Wiring

from .base import ApiTest

PROBE = "generic-capacitance-probe-joined-to-3-m"
RODS = "generic-four-conductance-rods-with-two-relays"


def words_of(content: bytes) -> str:
    return " ".join(page.extract_text() for page in PdfReader(io.BytesIO(content)).pages)


class GaugeTest(ApiTest):
    def at(self, path: str) -> str:
        return f"tanks/{self.tank.pk}/{path}"

    def keep(self, what: str, entries: dict[str, str], revision: int = 0, **more):
        return self.send("put", self.at(f"{what}/"), {"entries": entries, "revision": revision, **more})

    def check(self, what: str, entries: dict[str, str], **more):
        response = self.send("post", self.at(f"{what}/"), {"entries": entries, **more})
        self.assertEqual(response.status_code, 200, response.content[:300])
        return response.json()

    def station(self, key: str) -> tuple[str, str]:
        stations = self.send("get", self.at("stations/")).json()
        found = next(one for one in stations if one["key"] == key)
        return found["state"], found["words"]


class Gauges(GaugeTest):
    def test_nothing_then_kept_then_changed(self) -> None:
        self.assertEqual(self.station("gauge"), ("not started", "no gauge chosen yet"))
        empty = self.send("get", self.at("gauge/")).json()
        self.assertEqual((empty["entries"], empty["revision"], empty["drawn"]), ({}, 0, None))
        kept = self.keep("gauge", {"choice.model": PROBE, "cut.depth": "2540"}).json()
        self.assertEqual(kept["entries"]["cut.depth"], "2540 mm")
        self.assertEqual((kept["revision"], kept["changed_by"], kept["stale"]), (1, "Tess Till", False))
        self.assertEqual(kept["drawn"]["mount"], "inside")
        self.assertEqual(self.station("gauge")[0], "done")
        # The same again is no new revision; another is.
        self.assertEqual(self.keep("gauge", kept["entries"], 1).json()["revision"], 1)
        self.assertEqual(self.keep("gauge", {**kept["entries"], "cut.gap": "12 mm"}, 1).json()["revision"], 2)
        self.assertEqual(GaugePlan.history.count(), 3)

    def test_two_at_once_do_not_overwrite_one_another(self) -> None:
        self.keep("gauge", {"choice.model": PROBE})
        self.assertIn("someone else", self.refused(self.keep("gauge", {}, 0), 409)[""])
        self.keep("wiring", {})
        self.assertIn("someone else", self.refused(self.keep("wiring", {}, 7), 409)[""])

    def test_what_is_wrong_is_refused_at_its_field_and_nothing_is_kept(self) -> None:
        wrong = {"choice.model": "own-99", "site.bore": "wide", "spot.x": "90 m"}
        problems = self.refused(self.keep("gauge", wrong))
        self.assertEqual(set(problems), set(wrong))
        self.assertFalse(GaugePlan.objects.exists())
        self.assertEqual(set(self.refused(self.keep("wiring", {"supply.nominal": "?"}))), {"supply.nominal"})
        self.refused(self.send("put", self.at("gauge/"), {"entries": {"x": "y" * 2000}, "revision": 0}))
        self.refused(self.send("post", self.at("gauge/"), {"entries": {str(n): "1" for n in range(500)}}))

    def test_against_the_advice_only_with_a_reason(self) -> None:
        problems = self.refused(self.keep("gauge", {"choice.model": RODS}))
        self.assertIn("say why", problems["choice.reason"])
        kept = self.keep("gauge", {"choice.model": RODS, "choice.reason": "the owner insists"})
        self.assertEqual(kept.status_code, 200)
        plan = GaugePlan.objects.get()
        self.assertEqual((plan.document["verdict"], plan.document["reason"]), ("no", "the owner insists"))
        self.assertGreater(len(plan.document["reasons"]), 0)
        self.assertIn("against the advice", self.station("gauge")[1])

    def test_a_survey_since_asks_for_a_person(self) -> None:
        self.keep("gauge", {"choice.model": PROBE})
        self.keep("wiring", {})
        entries = {**self.tank.entries, "shape.diameter_mm": "2300 mm"}
        facts = {"notes": "", "ports": []}
        resurvey_tank(self.tank, entries, "metric", self.technician, facts, self.tank.revision)
        for key in ("gauge", "wiring"):
            self.assertEqual(self.station(key)[0], "needs you")
            self.assertTrue(self.send("get", self.at(f"{key}/")).json()["stale"])

    def test_reading_says_what_was_understood(self) -> None:
        read = self.check("gauge", {"choice.model": PROBE, "site.riser": "2 in", "cut.school": "free"}, system="us")
        fields = {field["path"]: field for field in read["fields_read"]}
        self.assertEqual(fields["site.riser"]["says"], "50.8 mm · 2 in")
        self.assertEqual(len(read["verdicts"]), len(library()))
        self.assertEqual(read["chosen"]["name"], "Capacitance probe, joined, to 3 m")
        self.assertAlmostEqual(read["probe"]["cut_mm"], 2550 + 50.8 - 15, 6)
        self.assertIn(" in ", " ".join(reason["text"] for one in read["verdicts"] for reason in one["reasons"]))
        self.assertIsNone(read["rods"])

    def test_tilt_map(self) -> None:
        tilt = self.send(
            "post", self.at("gauge/tilt/"), {"entries": {"tilt.pitch": "4°", "tilt.fill": "50 %"}}
        ).json()
        self.assertEqual((len(tilt["x_mm"]), len(tilt["y_mm"]), len(tilt["worst_l"][0])), (41, 21, 41))
        self.assertEqual(tilt["fills_pct"], [50.0])
        several = self.send("post", self.at("gauge/tilt/"), {"entries": {"tilt.fill": "20 %; 35; 90 %"}}).json()
        self.assertEqual([round(fill, 6) for fill in several["fills_pct"]], [20, 35, 90])
        self.assertIsNone(tilt["worst_l"][0][0])
        self.assertGreater(tilt["along_l"], tilt["across_l"])
        wrong = self.send("post", self.at("gauge/tilt/"), {"entries": {"tilt.pitch": "steep"}}).json()
        self.assertEqual(wrong["fields_read"][0]["state"], "wrong")

    def test_cut_sheets(self) -> None:
        path = f"/api/{self.at('gauge/cut-sheet.pdf')}"
        self.assertIn("choose one at Gauge", self.refused(self.client.get(path))["choice.model"])
        self.keep("gauge", {"choice.model": PROBE, "cut.depth": "2540 mm", "cut.school": "sprung"})
        sheet = self.client.get(path)
        self.assertEqual(sheet["Content-Type"], "application/pdf")
        text = words_of(sheet.content)
        for word in ("2512.5 mm", "As cut (write here)", "Trim before calibrating", "hot work", "Cut by"):
            self.assertIn(word, text)
        self.keep("gauge", {"choice.model": RODS, "choice.reason": "trial"}, 1)
        text = words_of(self.client.get(f"{path}?system=us").content)
        for word in ("Low-water cut-out", "Sheath", "Chosen against the advice", " in"):
            self.assertIn(word, text)
        self.keep("gauge", {"choice.model": "generic-submersible-025-m-water-fep-cable"}, 2)
        self.assertIn("Measuring range, not the cable", words_of(self.client.get(path).content))
        self.keep("gauge", {"choice.model": "generic-radar-10-m-8-beam"}, 3)
        self.assertIn("Nothing of this gauge is cut", words_of(self.client.get(path).content))


class Wirings(GaugeTest):
    def test_it_starts_from_the_gauge(self) -> None:
        self.keep("gauge", {"choice.model": PROBE, "choice.output": "4-20mA two-wire"})
        read = self.check("wiring", {})
        fields = self.fields_of(read)
        self.assertEqual((fields["sensor.lift_off"]["usual"], fields["sensor.lift_off"]["state"]), ("10 V", "empty"))
        self.assertEqual((fields["kind"]["usual"], fields["barrier"]["usual"]), ("two_wire", "yes"))
        self.assertEqual(read["kind"], "two_wire")
        self.assertIn("barrier", {part["kind"] for part in read["parts"]})
        self.assertEqual(len(read["received"]), 5)
        self.assertIn("Saw, file", read["kit"])
        # What is typed goes before it.
        self.assertEqual(self.check("wiring", {"kind": "digital"})["kind"], "digital")

    def fields_of(self, reading):
        return {field["path"]: field for field in reading["fields_read"]}

    def test_the_fields_that_apply_are_those_of_the_circuit_with_what_stands_in_them(self) -> None:
        asked = {
            "two_wire": {"kind": "two_wire"},
            "active": {"kind": "two_wire", "input.mode": "active"},
            "three_wire": {"kind": "three_wire", "barrier": "yes", "meter": "yes"},
            "contact": {"kind": "contact", "fuse": "no"},
        }
        found = {name: self.fields_of(self.check("wiring", entries)) for name, entries in asked.items()}
        there = {
            "supply.nominal": {"two_wire", "three_wire", "contact"},
            "fuse.rating": {"two_wire", "three_wire"},
            "input.mode": {"two_wire", "active"},
            "input.volt": {"active"},
            "barrier": {"two_wire", "active"},
            "meter": {"two_wire", "active"},
            "output": {"three_wire"},
            "sensor.draw": {"three_wire"},
            "sensor.closed_ohm": {"contact"},
            "sensor.lift_off": {"two_wire", "active", "three_wire"},
        }
        for path, kinds in there.items():
            self.assertEqual({name for name, fields in found.items() if path in fields}, kinds, path)
        usual = {path: field["usual"] for path, field in found["three_wire"].items()}
        self.assertEqual((usual["sensor.lift_off"], usual["input.ohm"], usual["output"]), ("12 V", "1 MΩ", "0-10"))
        usual = {path: field["usual"] for path, field in found["two_wire"].items()}
        self.assertEqual(
            (usual["supply.least"], usual["fuse.rating"], usual["hottest"]), ("21.6 V", "100 mA", "50 °C")
        )
        us = self.fields_of(self.check("wiring", {}, system="us"))
        self.assertEqual((us["cable[0].length"]["usual"], us["cable[0].size"]["usual"]), ("33 ft", "20 AWG"))

    def test_another_link_than_the_gauge_sends_is_told(self) -> None:
        self.keep("gauge", {"choice.model": PROBE, "choice.output": "4-20mA two-wire"})
        rules = {rule["code"]: rule["text"] for rule in self.check("wiring", {"kind": "four_wire"})["rules"]}
        self.assertIn("sends 4-20mA two-wire; this circuit is for 4–20 mA, four-wire active", rules["other-link"])
        self.assertNotIn("wired", rules)
        self.assertTrue(self.check("wiring", {})["sends"])
        self.keep("gauge", {"choice.model": "generic-float-gauge-with-dial"}, 1)
        self.assertFalse(self.check("wiring", {})["sends"])

    def test_kept_with_its_circuit_and_its_standing(self) -> None:
        kept = self.keep("wiring", {"cable[0].length": "100 m"}).json()
        self.assertEqual(kept["revision"], 1)
        self.assertIn("margin", self.station("wiring")[1])
        self.assertEqual(Wiring.objects.get().document["format"], "rasante.circuit/1")
        self.keep("wiring", {"burden.ohm": "900 Ω"}, 1)
        self.assertEqual(self.station("wiring")[0], "needs you")
        file = self.client.get(f"/api/{self.at('wiring/circuit.json')}")
        taken = self.send("post", "circuits/choices/", {"text": file.content.decode()})
        self.assertEqual(taken.status_code, 200, taken.content[:300])
        again, kept = (self.check("wiring", one) for one in (taken.json()["entries"], {"burden.ohm": "900 Ω",
                       "cable[0].length": "100 m"}))  # fmt: skip
        self.assertEqual([wire["to"] for wire in again["wires"]], [wire["to"] for wire in kept["wires"]])
        broken = self.refused(self.send("post", "circuits/choices/", {"text": "{"}))
        self.assertIn("no circuit's file", broken["text"])
        drawing = self.client.get(f"/api/{self.at('wiring/drawing.svg')}")
        self.assertEqual(drawing["Content-Type"], "image/svg+xml")
        shapes = ElementTree.fromstring(drawing.content.decode())
        named = {element.text for element in shapes.iter("{http://www.w3.org/2000/svg}text")}
        self.assertLessEqual({"Supply", "Burden", "900 Ω", "Transmitter"}, named)
        burden = next(part for part in json.loads(file.content)["parts"] if part["kind"] == "burden")
        self.assertEqual(burden["values"], {"ohm": 900.0})

    def test_the_three_wire_error_in_millimetres_and_litres(self) -> None:
        read = self.check("wiring", {"kind": "three_wire", "cable[0].length": "50 m"})
        at = read["voltage"]["at"][0]
        self.assertAlmostEqual(at["error_mm"], at["error_share"] * 2400, 6)
        self.assertGreater(at["error_l"], 0)
        self.assertIsNone(read["budget"])

    def test_the_meter(self) -> None:
        body = {"entries": {}, "setting": "V", "red": "sensor.+", "black": "sensor.−", "current_ma": 20}
        reading = self.send("post", self.at("wiring/meter/"), body).json()
        self.assertRegex(reading["shows"], r"^1\d\.\d{3} V$")
        for asked, meant in (
            ({"current_ma": None, "sent": "10.4 mA"}, 10.4),
            ({"current_ma": None, "sent": "−1.5 mA"}, 3.6),
            ({"current_ma": None, "sent": "", "share_pct": 25}, 8.0),
            ({"current_ma": None, "sent": "2.5 V", "share_pct": 100}, 20.0),
            ({"current_ma": 28, "sent": "10.4 mA"}, 22.5),
        ):
            found = self.send("post", self.at("wiring/meter/"), {**body, **asked}).json()
            self.assertAlmostEqual(found["current_ma"], meant, msg=str(asked))
            self.assertEqual((found["least_ma"], found["most_ma"]), (3.6, 22.5))
        off = self.send("post", self.at("wiring/meter/"), {**body, "setting": "Ω", "power": False}).json()
        self.assertIn("MΩ", off["shows"])
        wrong = self.send("post", self.at("wiring/meter/"), {**body, "red": "sensor.9"})
        self.assertIn("no terminal", self.refused(wrong)["red"])

    def test_ringing_out(self) -> None:
        body = {
            "pins": ["1", "2"],
            "conductors": ["a", "b"],
            "ohms": [["OL", "1"], ["0.9", "OL"]],
            "drawn": ["a", "b"],
        }
        found = self.send("post", "ring-out/", body).json()
        self.assertEqual([f["conductors"] for f in found["findings"]], [["b"], ["a"]])
        self.assertEqual(found["swapped"], [["1", "2"]])
        spoiled = self.send("post", "ring-out/", {**body, "ohms": [["x", ""], []]})
        self.assertIn("ohms[0][0]", self.refused(spoiled))

    def test_wiring_sheets(self) -> None:
        path = f"/api/{self.at('wiring/sheet.pdf')}"
        self.assertIn("not kept yet", words_of(self.client.get(path).content))
        self.keep("wiring", {"core[0]": "violet", "end.cable11b>sensor+.b": "sensor.−"})
        text = words_of(self.client.get(path).content)
        for word in ("Terminal by terminal", "violet", "Loop budget", "STOP", "proven dead", "Wired by"):
            self.assertIn(word, text)


class ChainsOfGauges(GaugeTest):
    def judged(self) -> dict[str, str]:
        self.scaled()
        entries = self.send("get", self.at("chain/")).json()["entries"]
        found = self.check("chain", entries)["judgements"]
        return {judgement["code"]: judgement["text"] for judgement in found}

    def test_a_chain_that_takes_a_distance_for_a_level_is_told(self) -> None:
        self.assertNotIn("level-or-distance", self.judged())
        self.keep("gauge", {"choice.model": "generic-radar-10-m-8-beam"})
        self.assertIn("senses distance and is scaled as level", self.judged()["level-or-distance"])
        self.keep("gauge", {"choice.model": PROBE}, 1)
        self.assertNotIn("level-or-distance", self.judged())
        self.keep("gauge", {"choice.model": RODS, "choice.reason": "trial"}, 2)
        self.assertIn("no-scale", self.judged())


class Library(GaugeTest):
    def document(self, **changes):
        first = next(iter(library().values()))
        return {**first, "name": "Depot's own", **changes}

    def test_add_change_choose_delete(self) -> None:
        made = self.send("post", "gauge-models/", {"document": self.document()})
        self.assertEqual(made.status_code, 201)
        pk = made.json()["id"]
        again = self.send("post", "gauge-models/", {"document": self.document()})
        self.assertIn("already", self.refused(again)["name"])
        self.keep("gauge", {"choice.model": f"own-{pk}"})
        changed = self.send(
            "put", f"gauge-models/{pk}/", {"document": self.document(range_max_mm=3000), "revision": 1}
        )
        self.assertEqual(changed.json()["revision"], 2)
        stale = self.send("put", f"gauge-models/{pk}/", {"document": self.document(), "revision": 1})
        self.assertIn("someone else", self.refused(stale, 409)[""])
        # The gauge keeps its model as it was when it was planned.
        self.assertEqual(GaugePlan.objects.get().document["model"]["range_max_mm"], 2500)
        self.refused(self.send("delete", f"gauge-models/{pk}/"), 403)
        self.client.force_login(self.lead)
        self.assertEqual(self.send("delete", f"gauge-models/{pk}/").status_code, 204)
        self.assertEqual(self.check("gauge", {"choice.model": f"own-{pk}"})["chosen"]["name"], "Depot's own")
        self.assertEqual(self.client.get(f"/api/{self.at('gauge/cut-sheet.pdf')}").status_code, 200)

    def test_what_is_wrong_is_said_at_its_key(self) -> None:
        spoiled = self.document(range_max_mm="far", zone="9")
        self.assertEqual(
            set(self.refused(self.send("post", "gauge-models/", {"document": spoiled}))), {"range_max_mm", "zone"}
        )

    def test_figures_are_taken_as_they_are_typed(self) -> None:
        bare = {key: value for key, value in self.document().items() if key != "range_max_mm"}
        figures = {"range_max_mm": "1 600,5", "beam_deg": "9,5", "cable_stock_mm": "2000; 5 000", "bore_mm": ""}
        made = self.send("post", "gauge-models/", {"document": bare, "figures": figures}).json()["document"]
        self.assertEqual((made["range_max_mm"], made["beam_deg"]), (1600.5, 9.5))
        self.assertEqual(made["cable_stock_mm"], [2000, 5000])
        self.assertNotIn("bore_mm", made)
        wrong = {"range_max_mm": "1,600", "beam_deg": "1.2.3", "wetted": "3", "colour": "4"}
        problems = self.refused(self.send("post", "gauge-models/", {"document": bare, "figures": wrong}))
        self.assertIn("1600, or 1.600", problems["range_max_mm"])
        self.assertIn("is not a number", problems["beam_deg"])
        self.assertEqual((problems["wetted"], problems["colour"]), ("is no figure of a model",) * 2)

    def test_files_out_and_in(self) -> None:
        self.send("post", "gauge-models/", {"document": self.document()})
        text = self.client.get("/api/gauge-models/file/").content.decode()
        self.assertEqual(len(json.loads(text)["models"]), len(library()))
        GaugeModel.objects.all().delete()
        taken = self.send("post", "gauge-models/import/", {"text": text}).json()
        self.assertEqual(taken, {"added": 1, "changed": 0})
        newer = text.replace('"name": "Depot\'s own"', '"name": "Depot\'s own", "blanking_mm": 77')
        self.assertEqual(
            self.send("post", "gauge-models/import/", {"text": newer}).json(), {"added": 0, "changed": 1}
        )
        self.assertEqual(GaugeModel.objects.get().document["blanking_mm"], 77)
        posing = text.replace('"range_max_mm": 10000', '"range_max_mm": 12000')
        problems = self.refused(self.send("post", "gauge-models/import/", {"text": posing}))
        self.assertIn("generic model", next(iter(problems.values())))
        self.assertEqual(self.client.get("/api/gauge-models/schema/").json()["title"], "Gauge models")

    def test_words(self) -> None:
        words = self.send("get", "gauge-words/").json()
        self.assertEqual([one["key"] for one in words["technologies"]], list(technologies()))
        self.assertTrue(all(technology["caution"] for technology in words["technologies"]))
        links = self.send("get", "wiring-words/").json()["links"]
        self.assertEqual(set(links), {"two_wire", "three_wire", "four_wire", "contact", "digital"})
