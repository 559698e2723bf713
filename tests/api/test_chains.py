"""Scaling chains over HTTP: read, judged, kept, parted, rescaled; marks, wet ends and device sheets beside them."""

from __future__ import annotations

import csv
import io
import json

from pypdf import PdfReader

from rasante.core.quantities.errors import InputError
from rasante.devices.models import DeviceSheet, Rescaling
from rasante.scaling.models import Marks, ScalingChain
from rasante.tanks.issued import issue_table
from rasante.tanks.services import TableOrder, read_step, resurvey_tank

from .base import ApiTest

CHAIN = {"scaled.unit": "cm", "scaled.decimals": "1", "shown.unit": "cm", "shown.decimals": "1"}
MARKS = {"marks.high": "90 %", "marks.reorder": "8000 L", "marks.empty": "100 mm", "fill_rate": "400 L"}


class ChainTest(ApiTest):
    def setUp(self) -> None:
        super().setUp()

    def at(self, path: str) -> str:
        return f"tanks/{self.tank.pk}/{path}"

    def keep(self, what: str, entries: dict[str, str], revision: int = 0):
        return self.send("put", self.at(f"{what}/"), {"entries": entries, "revision": revision})

    def check(self, what: str, entries: dict[str, str], **more):
        response = self.send("post", self.at(f"{what}/"), {"entries": entries, **more})
        self.assertEqual(response.status_code, 200, response.content[:300])
        return response.json()

    def station(self) -> tuple[str, str]:
        stations = self.send("get", self.at("stations/")).json()
        found = next(one for one in stations if one["key"] == "scale")
        return found["state"], found["words"]

    def issue(self, why: str = "first") -> None:
        self.tank.refresh_from_db()
        issue_table(self.tank, TableOrder(read_step("10", "mm")), why, self.technician, self.tank.revision)

    def less(self) -> None:
        """Survey 500 L of deadwood low in the tank."""
        odd = {"from_mm": "100 mm", "to_mm": "600 mm", "volume_l": "-500 L"}
        entries = self.tank.entries | {f"deadwood[0].{key}": text for key, text in odd.items()}
        facts = {"notes": "", "serial": "", "ports": []}
        resurvey_tank(self.tank, entries, "metric", self.technician, facts, self.tank.revision)


class Chains(ChainTest):
    def test_it_begins_with_what_the_tank_knows(self) -> None:
        found = self.check("chain", {})
        usual = {setting["path"]: setting["usual"] for setting in found["settings"]}
        self.assertEqual(
            (usual["sensor.high"], usual["signal.kind"], usual["scaled.high"]), ("2400 mm", "ma4", "2400")
        )
        self.assertEqual({judgement["weight"] for judgement in found["judgements"]}, {"watch", "good"})
        line = self.check("chain/line", {}, innage_mm=1200)["line"]
        texts = {stop["station"]: stop["text"] for stop in line["stops"]}
        self.assertEqual((texts["sent"], texts["counts"], texts["shown"]), ("12 mA", "19660", "1200 mm"))
        self.assertEqual((line["meter"]["low"], line["meter"]["high"]), ("0", "2400"))
        self.assertEqual(len(line["trap"]), 3)

    def test_any_value_along_it_finds_its_level(self) -> None:
        for station, text in (("arriving", "12 mA"), ("counts", "19660"), ("shown", "1200 mm")):
            found = self.check("chain/find", {}, station=station, text=text)
            self.assertAlmostEqual(found["innage_mm"], 1200, delta=0.1)
        path = self.at("chain/find/")
        refused = self.send("post", path, {"entries": {}, "station": "shown", "text": "9 m"})
        self.assertIn("this tank has 0 to 2400 mm", self.refused(refused)["text"])
        refused = self.send("post", path, {"entries": {"counts.bits": "x"}, "station": "shown", "text": "1 m"})
        self.assertIn("counts.bits", self.refused(refused))

    def test_it_is_kept_with_its_history_and_refused_at_its_fields(self) -> None:
        kept = self.keep("chain", CHAIN).json()
        # With what it is a chain of, so that another gauge planned later does not turn it about.
        pinned = {"sensor.quantity": "level", "signal.kind": "ma4"}
        self.assertEqual((kept["revision"], kept["entries"]), (1, {**pinned, **CHAIN}))
        self.assertEqual(self.keep("chain", CHAIN, 0).status_code, 409)
        self.assertEqual(set(self.refused(self.keep("chain", {"sensor.high": "0 mm"}, 1))), {"sensor.high"})
        self.assertEqual(set(self.refused(self.keep("chain", {"counts.bits": "x"}, 1))), {"counts.bits"})
        self.assertIsNone(self.check("chain/line", {"counts.bits": "x"}, innage_mm=0)["line"])
        document = ScalingChain.objects.get().document["settings"]
        self.assertEqual((document["scaled.high"], document["register.multiplier"]), ("240", "10"))
        self.keep("chain", {**CHAIN, "scaled.high": "300"}, 1)
        self.assertEqual(ScalingChain.history.count(), 2)
        state, words = self.station()
        self.assertEqual(state, "needs you")
        self.assertIn("scaled.high", words)

    def test_volumes_come_from_the_newest_table(self) -> None:
        entries = {"shown.as": "volume"}
        before = self.check("chain/line", entries, innage_mm=1200)["line"]["stops"][-1]["text"]
        self.issue()
        self.less()
        self.assertEqual(self.check("chain/line", entries, innage_mm=1200)["line"]["stops"][-1]["text"], before)
        self.issue("less")
        after = self.check("chain/line", entries, innage_mm=1200)["line"]["stops"][-1]["text"]
        # It takes the place of the 12.5 L that the example has there.
        self.assertAlmostEqual(float(before.split()[0]) - float(after.split()[0]), 500 - 12.5, delta=1)


class Parting(ChainTest):
    def test_the_old_setting_is_found_from_the_history(self) -> None:
        self.keep("chain", {**CHAIN, "scaled.high": "300"})
        self.keep("chain", CHAIN, 1)
        rows = {"rows[0].level": "600", "rows[0].shown": "75", "rows[1].level": "1800 mm", "rows[1].shown": "225"}
        found = self.check("parting", rows)
        self.assertIn("Truth and reading part", found["says"])
        self.assertIn("the old setting left in", found["explanations"][0]["texts"][0])
        self.assertIsNotNone(found["telling"])
        kept = self.keep("parting", rows).json()
        self.assertEqual(kept["entries"]["rows[0].level"], "600 mm")
        self.assertEqual(self.station()[0], "needs you")
        agreed = {"rows[0].level": "1200 mm", "rows[0].arriving": "12 mA", "rows[0].counts": "19660"}
        found = self.check("parting", agreed)
        self.assertEqual([hop["state"] for hop in found["hops"][:5]], [*["agrees"] * 4, "unread"])
        self.assertEqual(set(self.refused(self.keep("parting", {"rows[0].counts": "?"}, 1))), {"rows[0].counts"})


class Rescales(ChainTest):
    CHANGE = {"sensor.high": "3600 mm"}

    def begin(self, why: str = "Longer sensor", revision: int = 1):
        body = {"entries": self.CHANGE, "innage_mm": 1200, "why": why, "revision": revision}
        return self.send("post", self.at("rescalings/"), body)

    def test_a_list_is_ticked_and_closed_into_the_chain(self) -> None:
        self.keep("chain", CHAIN)
        found = self.check("rescale", self.CHANGE, innage_mm=1200)
        changes = {change["path"]: change for change in found["rescale"]["changes"]}
        self.assertEqual((changes["scaled.high"]["old"], changes["scaled.high"]["new"]), ("240", "360"))
        self.assertAlmostEqual(found["rescale"]["ratio"], 2 / 3, 6)
        self.assertIn("range", [link["key"] for link in found["links"]])
        self.assertEqual(set(self.refused(self.begin(" "))), {"why"})
        self.assertEqual(self.begin(revision=0).status_code, 409)
        begun = self.begin().json()
        self.assertEqual(
            self.refused(self.begin()), {"": "a rescaling of this tank is open already: finish or drop it first"}
        )
        self.assertEqual(self.station(), ("in hand", "a rescaling is open, 2 to tick"))
        self.refused(self.send("post", f"rescalings/{begun['id']}/close/", {"kept": begun["kept"]}))
        for index in range(2):
            begun = self.send(
                "post", f"rescalings/{begun['id']}/tick/", {"index": index, "done": True, "kept": begun["kept"]}
            ).json()
        stale = self.send("post", f"rescalings/{begun['id']}/tick/", {"index": 0, "done": False, "kept": 1})
        self.assertEqual(stale.status_code, 409)
        self.refused(self.send("post", f"rescalings/{begun['id']}/tick/", {"index": 7, "done": True, "kept": 3}))
        closed = self.send("post", f"rescalings/{begun['id']}/close/", {"kept": begun["kept"]}).json()
        self.assertEqual(closed["closed_by"], "Tess Till")
        self.assertLessEqual({**CHAIN, **self.CHANGE}.items(), ScalingChain.objects.get().entries.items())
        self.assertEqual(self.send("post", f"rescalings/{begun['id']}/drop/", {"kept": 99}).status_code, 409)
        rescaling = Rescaling.objects.get()
        with self.assertRaises(InputError):
            rescaling.save()

    def test_the_cards_own_ends_stay_until_the_card_is_another(self) -> None:
        card = {"counts.at_low": "0 mA", "counts.low": "0"}
        self.keep("chain", {**CHAIN, **card})
        paths = {one["path"] for one in self.check("rescale", self.CHANGE, innage_mm=1200)["rescale"]["changes"]}
        self.assertEqual(paths, {"sensor.high", "scaled.low", "scaled.high"})
        other = {"counts.bits": "12", "counts.low": "819"}
        changes = {one["path"]: one for one in self.check("rescale", other, innage_mm=1200)["rescale"]["changes"]}
        self.assertEqual(changes["counts.at_low"]["new"], "4 mA")

    def test_a_survey_since_is_a_change_too(self) -> None:
        self.keep("chain", {**CHAIN, "shown.takes": "percent", "scaled.unit": "pct"})
        higher = {**self.tank.entries, "shape.diameter_mm": "2500 mm"}
        facts = {"notes": "", "ports": []}
        resurvey_tank(self.tank, higher, "metric", self.technician, facts, self.tank.revision)
        changes = {one["path"]: one for one in self.check("rescale", {}, innage_mm=1200)["rescale"]["changes"]}
        self.assertEqual(
            (changes["tank.inside_height"]["old"], changes["tank.inside_height"]["new"]), ("2400 mm", "2500 mm")
        )
        self.assertFalse(changes["shown.height"]["chosen"])

    def test_one_that_is_open_can_be_dropped(self) -> None:
        self.keep("chain", CHAIN)
        begun = self.begin().json()
        ticked = self.send(
            "post", f"rescalings/{begun['id']}/tick/", {"index": 0, "done": True, "kept": begun["kept"]}
        ).json()
        stale = self.send("post", f"rescalings/{begun['id']}/drop/", {"kept": begun["kept"]})
        self.assertEqual(stale.status_code, 409)
        dropped = self.send("post", f"rescalings/{begun['id']}/drop/", {"kept": ticked["kept"]}).json()
        self.assertEqual((dropped["dropped_by"], dropped["closed_at"]), ("Tess Till", None))
        late = self.send("post", f"rescalings/{begun['id']}/close/", {"kept": dropped["kept"]})
        self.assertIn("take it up again", late.json()["problems"][0]["what"])
        # Taken up again with its ticks; with another one open it waits.
        self.assertEqual(self.begin().status_code, 201)
        again = {"kept": dropped["kept"]}
        self.assertIn(
            "open already", self.refused(self.send("post", f"rescalings/{begun['id']}/take-up/", again))[""]
        )
        other = next(
            one for one in self.send("get", self.at("rescalings/")).json()["results"] if one["id"] != begun["id"]
        )
        self.send("post", f"rescalings/{other['id']}/drop/", {"kept": other["kept"]})
        taken = self.send("post", f"rescalings/{begun['id']}/take-up/", again).json()
        self.assertEqual((taken["dropped_at"], taken["tasks"][0]["done"]), (None, True))
        self.send("post", f"rescalings/{begun['id']}/drop/", {"kept": taken["kept"]})
        nothing = {"entries": {}, "innage_mm": 0, "why": "x", "revision": 1}
        self.assertIn("nothing changes", self.refused(self.send("post", self.at("rescalings/"), nothing))[""])
        wrong = self.check("rescale", {"sensor.high": "0 mm"}, innage_mm=0)
        self.assertIsNone(wrong["rescale"])


class Marking(ChainTest):
    def test_marks_are_kept_against_a_table_and_derived_anew(self) -> None:
        self.issue()
        kept = self.keep("marks", MARKS).json()
        self.assertEqual((kept["table_number"], len(kept["marks"])), (1, 3))
        self.assertEqual(kept["entries"]["marks.reorder"], "8000 L")
        self.assertEqual(self.check("marks", MARKS)["moved"], [])
        self.less()
        self.issue("less")
        moved = {one["key"]: one for one in self.check("marks", MARKS)["moved"]}
        self.assertGreater(moved["reorder"]["level_mm"], 1)
        self.assertAlmostEqual(moved["empty"]["level_mm"], 0, 9)
        self.assertEqual(
            self.station(), ("needs you", "the table was revised since the marks were set: keep them anew")
        )
        self.keep("chain", CHAIN)
        refused = self.refused(self.send("post", self.at("device-sheets/"), {}))
        self.assertIn("marks", refused)
        self.keep("marks", MARKS, 1)
        self.assertEqual(Marks.objects.get().table_number, 2)
        self.assertEqual(self.check("marks", MARKS)["moved"], [])
        self.assertEqual(set(self.refused(self.keep("marks", {"marks.high": "9 bar"}, 2))), {"marks.high"})

    def test_sets_are_saved_and_applied_elsewhere(self) -> None:
        saved = self.send("post", "mark-sets/", {"name": "Quay 30 m³", "entries": {**MARKS, "other": "x"}}).json()
        self.assertEqual(saved["entries"], MARKS)
        over = {"name": "Quay 30 m³", "entries": {"marks.low": "5 %"}}
        # One of the name is not saved over unless that is meant; what was saved over can be had back.
        refused = self.send("post", "mark-sets/", over)
        self.assertEqual(refused.status_code, 409)
        self.assertIn("was saved by Tess Till", refused.json()["problems"][0]["what"])
        again = self.send("post", "mark-sets/", {**over, "revision": saved["revision"]}).json()
        self.assertEqual((again["id"], again["revision"]), (saved["id"], 2))
        back = self.send("post", f"mark-sets/{saved['id']}/undo/", {"revision": 2}).json()
        self.assertEqual((back["entries"], back["revision"]), (MARKS, 3))
        stale = self.send("post", f"mark-sets/{saved['id']}/undo/", {"revision": 2})
        self.assertEqual(stale.status_code, 409)
        self.assertEqual(len(self.send("get", "mark-sets/").json()), 1)
        self.assertIn("name", self.refused(self.send("post", "mark-sets/", {"name": " ", "entries": MARKS})))
        self.assertIn("entries", self.refused(self.send("post", "mark-sets/", {"name": "x", "entries": {}})))
        self.assertEqual(self.send("delete", f"mark-sets/{saved['id']}/").status_code, 403)
        self.client.force_login(self.lead)
        self.assertEqual(self.send("delete", f"mark-sets/{saved['id']}/").status_code, 204)


class WetEnds(ChainTest):
    def test_both_ends_with_fuel_and_temperature(self) -> None:
        entries = {f"{end}[{i}].counts": str(counts + i) for end, counts in (("full", 40000), ("empty", 21000))
                   for i in range(3)} | {"fuel": "diesel", "temperature": "12 °C"}  # fmt: skip
        found = self.check("wet-ends", entries)
        self.assertTrue(found["ready"])
        self.assertEqual([end["counts"] for end in found["ends"]], [40001, 21001])
        self.assertEqual(self.keep("wet-ends", entries).json()["revision"], 1)
        self.assertEqual(set(self.refused(self.keep("wet-ends", {"full[0].counts": "?"}, 1))), {"full[0].counts"})


class Sheets(ChainTest):
    def write(self, **body):
        return self.send("post", self.at("device-sheets/"), {"system": "metric", **body})

    def test_it_is_written_handed_out_and_read_back(self) -> None:
        self.keep("chain", CHAIN)
        self.keep("marks", MARKS)
        sheet = self.write(note="Commissioning").json()
        self.assertEqual((sheet["number"], sheet["made_by"]), (1, "Tess Till"))
        base = f"/api/device-sheets/{sheet['id']}/"
        document = json.loads(self.client.get(f"{base}sheet.json/").content)
        self.assertEqual(document["format"], "rasante.device-sheet/1")
        table = self.client.get(f"{base}sheet.csv/").content.decode()
        rows = list(csv.DictReader(io.StringIO(table)))
        self.assertEqual([row["key"] for row in rows], [item["key"] for item in document["items"]])
        pages = PdfReader(io.BytesIO(self.client.get(f"{base}sheet.pdf/").content)).pages
        words = " ".join(page.extract_text() for page in pages)
        for wanted in (
            "Device sheet",
            "High stands for\n240",
            "Reorder, level",
            "overfill protection",
            "Commissioning",
        ):
            self.assertIn(wanted, words)
        table = table.replace("High stands for,240,", "High stands for,300,")
        kept = self.client.post(f"{base}found/", {"text": table}, content_type="application/json").json()
        odd = [row for row in kept["rows"] if row["state"] != "same"]
        self.assertEqual([(row["key"], row["wanted"], row["found"]) for row in odd], [("scaled.high", "240", "300")])
        self.assertEqual(len(self.client.get(f"{base}found/").json()["results"]), 1)
        refused = self.client.post(f"{base}found/", {"text": "nothing"}, content_type="application/json")
        self.assertIn("text", self.refused(refused))

    def test_the_sensors_serial_stands_on_it_and_is_read_back(self) -> None:
        self.keep("chain", {**CHAIN, "sensor.serial": "  SK-7 "})
        items = {item["key"]: item for item in self.write().json()["items"]}
        self.assertEqual((items["sensor.serial"]["section"], items["sensor.serial"]["value"]), ("As mounted", "SK-7"))
        sheet = DeviceSheet.objects.get()
        text = self.client.get(f"/api/device-sheets/{sheet.pk}/sheet.csv/").content.decode().replace("SK-7", "SK-8")
        found = self.client.post(
            f"/api/device-sheets/{sheet.pk}/found/", {"text": text}, content_type="application/json"
        )
        self.assertEqual([row["key"] for row in found.json()["rows"] if row["state"] != "same"], ["sensor.serial"])

    def test_one_that_is_written_stays(self) -> None:
        self.assertIn("no chain is kept yet", self.refused(self.write())["chain"])
        self.keep("chain", CHAIN)
        self.write()
        self.keep("chain", {**CHAIN, "scaled.decimals": "0"}, 1)
        second = self.write().json()
        self.assertEqual(second["number"], 2)
        sheets = self.send("get", self.at("device-sheets/")).json()["results"]
        values = [next(item["value"] for item in s["items"] if item["key"] == "scaled.decimals") for s in sheets]
        self.assertEqual(values, ["0", "1"])
        with self.assertRaises(InputError):
            DeviceSheet.objects.get(number=1).save()
