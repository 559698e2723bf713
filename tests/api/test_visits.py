"""Visits over HTTP: every kind of job walked to its record; gates; what is refused and nothing of it kept."""

from __future__ import annotations

import io
import json
from datetime import UTC, datetime, timedelta
from typing import Any
from uuid import uuid4

from pypdf import PdfReader

from rasante.gauges.services import gauge_of, keep_gauge, library
from rasante.register.models import Device
from rasante.register.services import keep_device, keep_tank_facts
from rasante.seals.services import broken_seals
from rasante.tanks.models import Tank
from rasante.tanks.services import import_tank
from rasante.visits.models import Entry, VisitRecord
from tests.core.samples import example, text
from tests.tags import slow

from .visit_walk import VisitTest, plain_facts

#: What people install, replace and look after, each with the facts of the trade that its steps turn on.
JOBS: list[tuple[str, str, str, dict[str, str]]] = [
    ("diesel", "install", "hydrostatic", {"port": "spare", "far_end": "yes"}),
    ("diesel", "install", "hydrostatic", {"port": "fill", "double_wall": "yes"}),
    ("water", "install", "hydrostatic", {"vessel": "tower", "splices": "yes", "pumps": "yes", "power": "mains"}),
    ("diesel", "install", "radar", {"port": "vent"}),
    ("diesel", "install", "ultrasonic", {}),
    ("water", "install", "laser", {}),
    ("diesel", "install", "guided", {"long": "yes"}),
    ("propane", "install", "sonar", {"link": "radio", "power": "battery", "far_end": "yes", "vessel": "storage"}),
    ("propane", "install", "sonar", {"link": "radio", "power": "battery", "seam": "yes", "vessel": "customer"}),
    ("propane", "replace", "sonar", {"link": "radio", "power": "battery", "vessel": "lorry"}),
    ("diesel", "install", "capacitance", {"vessel": "vehicle", "port": "new", "long": "yes"}),
    ("water", "replace", "rods", {"link": "relay", "power": "mains", "long": "yes", "pumps": "yes"}),
    ("water", "install", "hydrostatic", {"link": "voltage"}),
    ("water", "replace", "hydrostatic", {"other_range": "yes", "far_end": "yes", "pumps": "yes"}),
    ("diesel", "calibrate", "capacitance", {"vessel": "vehicle"}),
    ("diesel", "commission", "radar", {"far_end": "yes"}),
    ("propane", "check", "sonar", {"link": "radio", "power": "battery"}),
    ("diesel", "trouble", "hydrostatic", {"splices": "yes", "far_end": "yes", "pumps": "yes"}),
]  # fmt: skip


class Walked(VisitTest):
    @classmethod
    def setUpTestData(cls) -> None:
        super().setUpTestData()
        cls.tanks: dict[str, Tank] = {
            product: import_tank(cls.site, text(example(name=f"{product} tank", product=product)), cls.technician)
            for product in ("diesel", "water", "propane")
        }

    @slow
    def test_every_job_from_opening_to_its_record(self) -> None:
        for product, job, method, facts in JOBS:
            with self.subTest(f"{job} {method} {facts}"):
                visit = self.opened(self.tanks[product], **plain_facts(job, method, **facts))
                visit, overridden = self.walked(visit)
                self.assertTrue(
                    all(s["state"] in ("done", "override") for s in visit["steps"] if s["kind"] != "sign")
                )
                self.assertTrue(
                    all(gate["holds"] or gate["title"].startswith(("Power", "Control in")) for gate in visit["gates"])
                )
                signed = self.signs(visit)
                self.assertEqual(signed.status_code, 200, signed.content[:600])
                record = VisitRecord.objects.get(visit_id=visit["id"]).document
                self.assertEqual({s["key"] for s in record["steps"] if s["state"] == "override"}, set(overridden))
                pdf = PdfReader(io.BytesIO(self.client.get(f"/api/visits/{visit['id']}/sheet.pdf/").content))
                words = "\n".join(page.extract_text() for page in pdf.pages)
                self.assertIn("Record of a visit", words)
                self.assertIn("Signed", words)
        self.assertEqual(list(broken_seals()), [])


class Steps(VisitTest):
    def setUp(self) -> None:
        super().setUp()
        self.facts = plain_facts("install", "capacitance", vessel="vehicle")
        self.visit = self.opened(self.tank, **self.facts)

    def step(self, key: str) -> dict[str, Any]:
        visit = self.client.get(f"/api/visits/{self.visit['id']}/").json()
        return next(step for step in visit["steps"] if step["key"] == key)

    def planned(self) -> None:
        key = next(key for key, row in library().items() if row["technology"] == "capacitance")
        entries = {"choice.model": key, "choice.reason": "as ordered"}
        keep_gauge(self.tank, entries, "metric", self.technician, 0)

    def test_facts_that_do_not_go_together_open_nothing(self) -> None:
        answer = self.send("post", "visits/", {"tank": self.tank.pk, "facts": {**self.facts, "port": "none"}})
        self.assertIn("facts.port", self.refused(answer))
        self.assertEqual(self.client.get("/api/visits/").json()["count"], 1)

    def test_a_gate_holds_a_step_up_until_it_is_given(self) -> None:
        values = {"gauge:cut.depth": "2350 mm"}
        self.assertIn(
            "Gas-free must hold first", self.refused(self.entered(self.visit, "depth", values=values))["step"]
        )
        self.assertEqual(Entry.objects.count(), 0)
        self.assertIsNone(gauge_of(self.tank))
        self.assertEqual(self.entered(self.visit, "gas_test", values={"visit:lel": "0 %"}).status_code, 200)
        self.assertEqual(self.entered(self.visit, "depth", values=values).status_code, 200)

    def test_too_much_gas_is_no_gate_and_only_a_lead_overrides_with_a_reason(self) -> None:
        found = self.refused(self.entered(self.visit, "gas_test", values={"visit:lel": "35"}))
        self.assertIn("at most 10 % of the lower explosive limit", found["visit:lel"])
        found = self.refused(self.entered(self.visit, "gas_test", "override", values={"visit:lel": "35"}, reason="x"))
        self.assertIn("only a lead overrides", found["step"])
        self.client.force_login(self.lead)
        self.assertIn("say why", self.refused(self.entered(self.visit, "gas_test", "override"))["reason"])
        answer = self.entered(
            self.visit, "gas_test", "override", values={"visit:lel": "35"}, reason="Inerted, permit 7"
        )
        self.assertEqual(answer.status_code, 200)
        gate = next(gate for gate in answer.json()["gates"] if gate["title"] == "Gas-free")
        self.assertEqual((gate["holds"], gate["by"], gate["reason"]), (True, "Lena Lind", "Inerted, permit 7"))

    def test_a_gate_is_not_left_out(self) -> None:
        self.assertIn("gate", self.refused(self.entered(self.visit, "gas_test", "skip", reason="no meter"))["step"])
        self.assertEqual(self.entered(self.visit, "plate", "skip", reason="no plate").status_code, 200)

    def test_a_typed_depth_yields_the_cut_length_at_once_and_is_written_to_the_gauge(self) -> None:
        self.planned()
        typed = {"values": {"gauge:cut.depth": "640 mm"}}
        shown = self.send("post", f"visits/{self.visit['id']}/steps/depth/", typed).json()
        lines = {line["label"]: line for line in shown["lines"]}
        # Depth minus the sprung foot's gap of 25–30 mm: common practice.
        cut = float(lines["Cut to"]["text"].split()[0])
        self.assertTrue(610 <= cut <= 630, lines)
        self.assertEqual(lines["Cut to"]["formula"], "depth − gap")
        self.assertEqual(Entry.objects.count(), 0)
        self.entered(self.visit, "gas_test", values={"visit:lel": "0"})
        self.assertEqual(self.entered(self.visit, "depth", values={"gauge:cut.depth": "640"}).status_code, 200)
        gauge = gauge_of(self.tank)
        self.assertEqual(gauge.entries["cut.depth"], "640 mm")
        self.assertIn("visit 1: Measure the depth", gauge.history.first().history_change_reason)

    def test_a_number_that_cannot_be_read_is_refused_at_its_field_and_nothing_is_kept(self) -> None:
        self.planned()
        self.entered(self.visit, "gas_test", values={"visit:lel": "0"})
        for text_, where in (("abc", "gauge:cut.depth"), ("", "gauge:cut.depth"), ("90 m", "gauge:cut.depth")):
            self.assertIn(where, self.refused(self.entered(self.visit, "depth", values={"gauge:cut.depth": text_})))
        self.assertIn("visit:lel", self.refused(self.entered(self.visit, "depth", values={"visit:lel": "0"})))
        self.assertEqual(self.step("depth")["state"], "open")
        self.assertNotIn("cut.depth", gauge_of(self.tank).entries)

    def test_sent_twice_it_is_entered_once(self) -> None:
        body = {"uid": str(uuid4()), "step": "arrived", "did": "done", "at": datetime.now(UTC).isoformat()}
        for _ in range(3):
            answer = self.send("post", f"visits/{self.visit['id']}/entries/", body)
            self.assertEqual(answer.status_code, 200)
        self.assertEqual(Entry.objects.count(), 1)

    def test_a_colleagues_step_is_a_conflict_and_can_be_taken_back(self) -> None:
        self.assertEqual(self.entered(self.visit, "arrived").status_code, 200)
        self.client.force_login(self.lead)
        self.assertIn("Tess Till has done it", self.refused(self.entered(self.visit, "arrived"), 409)[""])
        self.assertEqual(self.entered(self.visit, "arrived", "undo").status_code, 200)
        self.assertEqual(self.step("arrived")["state"], "open")
        self.assertEqual(self.entered(self.visit, "arrived").status_code, 200)
        self.assertEqual(Entry.objects.count(), 3)

    def test_a_clock_that_runs_ahead_is_told(self) -> None:
        later = (datetime.now(UTC) + timedelta(hours=3)).isoformat()
        self.assertIn("set the clock", self.refused(self.entered(self.visit, "arrived", at=later))["at"])

    def test_waits_run_and_are_filled(self) -> None:
        visit = self.opened(self.tank, **plain_facts("commission", "radar", far_end="yes"))
        self.assertLess(visit["minutes"]["likely"], visit["minutes"]["in_a_row"])
        self.assertIn("Only a wait", self.refused(self.entered(visit, "asset", "begin"))["did"].capitalize())
        began = self.entered(visit, "far_delay", "begin").json()
        wait = next(step for step in began["steps"] if step["key"] == "far_delay")
        self.assertEqual(wait["state"], "running")
        self.assertGreater(wait["ends"], wait["began"])

    def test_facts_may_change_and_what_was_done_stays(self) -> None:
        self.entered(self.visit, "arrived")
        path = f"visits/{self.visit['id']}/"
        changed = self.send("put", path, {"facts": {**self.facts, "far_end": "yes"}, "revision": 1}).json()
        steps = {step["key"]: step["state"] for step in changed["steps"]}
        self.assertEqual((steps["arrived"], steps["far_end"]), ("done", "open"))
        self.refused(self.send("put", path, {"facts": self.facts, "revision": 1}), 409)

    def test_nothing_is_entered_once_it_is_dropped(self) -> None:
        dropped = self.send("post", f"visits/{self.visit['id']}/drop/", {"revision": 1})
        self.assertEqual(dropped.json()["state"], "dropped")
        self.refused(self.entered(self.visit, "arrived"), 409)
        self.refused(self.photographed(self.visit, "plate"), 409)

    def test_what_the_screen_should_say_is_told_from_the_dip(self) -> None:
        self.scaled()
        visit = self.opened(self.tank, **plain_facts("check", "hydrostatic"))
        self.entered(visit, "dip", values={"visit:dip": "1200 mm"})
        path = f"visits/{visit['id']}/steps/compare_dip/"
        shown = self.send("post", path, {"values": {"visit:shown": "1204 mm"}}).json()
        lines = {line["label"]: line["text"] for line in shown["lines"]}
        self.assertEqual(lines["Should be Sent"], "12 mA")
        self.assertEqual([one["weight"] for one in shown["judgements"]], ["good"])
        shown = self.send("post", path, {"values": {"visit:shown": "800 mm"}}).json()
        self.assertEqual(shown["judgements"][0]["weight"], "stop")
        self.assertIn("−400 mm", shown["judgements"][0]["text"].replace("-", "−"))
        self.assertIn(
            "override", self.refused(self.entered(visit, "compare_dip", values={"visit:shown": "800 mm"}))["step"]
        )

    def test_the_dial_is_held_against_the_linear_reading(self) -> None:
        tank = import_tank(self.site, text(example(name="Bullet", product="propane")), self.technician)
        visit = self.opened(tank, **plain_facts("check", "sonar", link="radio", power="battery"))
        self.entered(visit, "float_before", values={"visit:float_pct": "30"})
        shown = self.send(
            "post", f"visits/{visit['id']}/steps/compare_float/", {"values": {"visit:sensor_pct": "25.5"}}
        ).json()
        lines = {line["label"]: line["text"] for line in shown["lines"]}
        # A lying cylinder a third full by height holds about a quarter of its volume.
        self.assertAlmostEqual(float(lines["Of its volume"].rstrip("%")), 25.2, delta=1.5)
        self.assertEqual(shown["judgements"][0]["weight"], "good")

    def test_a_dip_stands_among_the_readings_and_a_height_in_the_survey(self) -> None:
        self.entered(self.visit, "gas_test", values={"visit:lel": "0"})
        self.assertIn("visit:dip", self.refused(self.entered(self.visit, "dip", values={"visit:dip": "9 m"})))
        self.assertEqual(self.entered(self.visit, "dip", values={"visit:dip": "1200 mm"}).status_code, 200)
        now = self.client.get(f"/api/tanks/{self.tank.pk}/now/").json()["now"]
        self.assertAlmostEqual(now["level_mm"], 1200, places=3)
        to = "survey:reference_height_mm"
        self.assertIn(to, self.refused(self.entered(self.visit, "reference", values={to: "-5 cm"})))
        self.assertEqual(self.entered(self.visit, "reference", values={to: "2560 mm"}).status_code, 200)
        self.tank.refresh_from_db()
        self.assertEqual((self.tank.document["reference_height_mm"], self.tank.revision), (2560, 2))

    def test_another_range_than_ordered_is_no_gate(self) -> None:
        self.planned()
        found = self.send(
            "post", f"visits/{self.visit['id']}/steps/received/", {"values": {"visit:got_range": "9 m"}}
        )
        self.assertEqual(found.json()["judgements"][0]["weight"], "stop")
        answer = self.entered(self.visit, "received", values={"visit:got_range": "9 m"})
        self.assertIn("override", self.refused(answer)["step"])

    def test_a_missing_fact_is_told_and_added_on_the_spot(self) -> None:
        found = self.send("post", f"visits/{self.visit['id']}/steps/asset/", {}).json()["judgements"]
        self.assertTrue(any("own stock" in one["text"] for one in found))
        keep_tank_facts(self.tank, {"owner": "own", "customer": None, "painted": "7"}, self.technician, 0)
        found = self.send("post", f"visits/{self.visit['id']}/steps/asset/", {}).json()["judgements"]
        self.assertFalse(any("own stock" in one["text"] for one in found))
        self.assertEqual(self.entered(self.visit, "asset").status_code, 200)

    def test_a_bare_number_means_what_it_meant_where_it_was_typed(self) -> None:
        self.planned()
        self.entered(self.visit, "gas_test", values={"visit:lel": "0"})
        path = f"visits/{self.visit['id']}/steps/depth/"
        shown = self.send("post", path, {"values": {"gauge:cut.depth": "25"}, "system": "us"}).json()
        self.assertEqual(shown["fields"][0]["says"], "25 in")
        self.assertIn(" in", next(one["text"] for one in shown["lines"] if one["label"] == "Cut to"))
        self.assertEqual(
            self.entered(self.visit, "depth", values={"gauge:cut.depth": "25"}, system="us").status_code, 200
        )
        self.assertEqual(gauge_of(self.tank).entries["cut.depth"], "25 in")

    def test_a_tilt_to_the_other_side_is_as_bad(self) -> None:
        tank = import_tank(self.site, text(example(name="Bullet", product="propane")), self.technician)
        visit = self.opened(tank, **plain_facts("install", "sonar", link="radio", power="battery"))
        for tilt, fits in (("2.9", True), ("-2.9", True), ("3.2", False), ("-8 °", False)):
            values = {"visit:tilt": tilt, "visit:quality": "80"}
            fields = self.send("post", f"visits/{visit['id']}/steps/soft_install/", {"values": values}).json()[
                "fields"
            ]
            self.assertEqual(fields[0]["state"], "read" if fits else "wrong", tilt)
        for quality in ("101", "-1"):
            found = self.refused(
                self.entered(visit, "soft_install", values={"visit:tilt": "1", "visit:quality": quality})
            )
            self.assertIn("0 to 100", found["visit:quality"])

    def test_the_facts_of_the_last_visit_are_proposed_again(self) -> None:
        tank = import_tank(self.site, text(example(name="Tower")), self.technician)
        path = f"/api/tanks/{tank.pk}/visit/"
        self.assertEqual(self.client.get(path).json()["proposed"]["vessel"], "storage")
        self.opened(tank, **plain_facts("install", "hydrostatic", vessel="tower", splices="yes"))
        again = self.client.get(path).json()["proposed"]
        self.assertEqual((again["vessel"], again["splices"], again["job"]), ("tower", "yes", "check"))

    def test_a_serial_that_is_new_comes_into_the_register(self) -> None:
        path = f"visits/{self.visit['id']}/steps/identity/"
        typed = {"visit:serial": "SK-78", "visit:part": "PR-2"}
        self.assertIn("New here", self.send("post", path, {"values": typed}).json()["judgements"][0]["text"])
        self.assertEqual(self.entered(self.visit, "identity", values=typed).status_code, 200)
        device = Device.objects.get(serial="SK-78")
        self.assertEqual((device.part, device.tank_id), ("PR-2", self.tank.pk))
        other = import_tank(self.site, text(example(name="Twin")), self.technician)
        visit = self.opened(other, **self.facts)
        moved = self.send(
            "post", f"visits/{visit['id']}/steps/identity/", {"values": {"visit:serial": "sk-78"}}
        ).json()
        self.assertIn("It is on Yard: Net loft diesel", moved["judgements"][0]["text"])
        keep_device({"part": "PR-3", "serial": "SK-78"}, self.technician)
        twice = self.entered(visit, "identity", values={"visit:serial": "SK-78"})
        self.assertIn("2 devices bear this serial", self.refused(twice)["step"])
        typed = {"visit:serial": "SK-78", "visit:part": "pr-3"}
        self.assertEqual(self.entered(visit, "identity", values=typed).status_code, 200)
        self.assertEqual(Device.objects.get(part="PR-3").tank_id, other.pk)

    def test_a_serial_that_is_known_fits_its_device_on_the_tank(self) -> None:
        device = keep_device({"part": "PR-2", "serial": "SK-77"}, self.technician)
        self.assertEqual(
            self.entered(self.visit, "identity", values={"visit:serial": "sk-77", "visit:address": ""}).status_code,
            200,
        )
        device.refresh_from_db()
        self.assertEqual((device.state, device.tank_id), ("fitted", self.tank.pk))
        self.assertEqual(device.fittings.get().why, "visit 1")

    def test_a_shops_own_step(self) -> None:
        step = {"key": "yard_key", "phase": "arrive", "title": "Fetch the yard's key", "instruction": "Office.",
                "why": "It is locked.", "kind": "confirm", "minutes": [1, 2, 5]}  # fmt: skip
        body = {"text": json.dumps({"format": "rasante.procedures/1", "steps": [step]}), "revision": 0}
        self.refused(self.send("put", "own-steps/", body), 403)
        self.client.force_login(self.lead)
        self.assertEqual(self.send("put", "own-steps/", body).status_code, 200)
        self.refused(self.send("put", "own-steps/", body), 409)
        bad = {
            "text": json.dumps({"format": "rasante.procedures/1", "steps": [{**step, "kind": "guess"}]}),
            "revision": 1,
        }
        self.assertIn("steps[0].kind", self.refused(self.send("put", "own-steps/", bad)))
        keys = [one["key"] for one in self.opened(self.tank, **self.facts)["steps"]]
        self.assertIn("yard_key", keys)
        self.assertNotIn(
            "yard_key", [one["key"] for one in self.client.get(f"/api/visits/{self.visit['id']}/").json()["steps"]]
        )
