"""Visits over HTTP: every kind of job walked to its record; gates; what is refused and nothing of it kept."""

from __future__ import annotations

import base64
import io
import json
import re
from datetime import UTC, datetime, timedelta
from typing import Any
from uuid import uuid4

import segno
from django.core import mail
from django.db import DatabaseError, connection, transaction
from django.test import override_settings
from PIL import Image
from pypdf import PdfReader

from rasante.core.quantities.errors import InputError
from rasante.gauges.services import gauge_of, keep_gauge, library
from rasante.register.services import keep_device, keep_tank_facts
from rasante.seals.services import broken_seals
from rasante.tanks.models import Tank
from rasante.tanks.profiles import save_profile
from rasante.tanks.services import import_tank
from rasante.visits.models import CustomerLink, Entry, Photo, VisitRecord
from tests.core.samples import example, text
from tests.tags import slow

from .visit_walk import VisitTest, picture, plain_facts

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


class Photos(VisitTest):
    def test_small_upright_and_without_its_place(self) -> None:
        visit = self.opened(self.tank, **plain_facts("check", "radar"))
        exif = Image.Exif()
        exif[0x0112] = 6
        exif.get_ifd(0x8825).update({1: "N", 2: (57.0, 30.0, 0.0), 3: "W", 4: (4.0, 15.0, 0.0)})
        content = picture(3000, 1000, exif=exif)
        added = self.photographed(visit, "as_left", content).json()
        self.assertEqual((added["width"], added["height"], added["place"]), (533, 1600, None))
        kept = Image.open(io.BytesIO(self.client.get(f"/api/visit-photos/{added['id']}/").content))
        self.assertEqual((kept.size, dict(kept.getexif())), ((533, 1600), {}))
        on_purpose = self.photographed(visit, "as_left", content, keep_place=True).json()
        self.assertEqual(on_purpose["place"], [57.5, -4.25])

    def test_what_is_no_picture_is_refused(self) -> None:
        visit = self.opened(self.tank, **plain_facts("check", "radar"))
        self.assertIn("no picture", self.refused(self.photographed(visit, "as_left", b"GIF89a....."))["picture"])
        self.assertIn("no step", self.refused(self.photographed(visit, "nowhere"))["step"])
        self.assertEqual(Photo.objects.count(), 0)
        self.assertIn("take a photograph", self.refused(self.entered(visit, "as_left"))["photo"])


class Record(VisitTest):
    def setUp(self) -> None:
        super().setUp()
        self.scaled()
        self.visit, _ = self.walked(self.opened(self.tank, **plain_facts("check", "hydrostatic")))

    def test_signed_by_ones_own_name_and_password_and_what_was_seen(self) -> None:
        self.assertIn("signature", self.refused(self.signs(self.visit, signature="Somebody")))
        self.assertIn("password", self.refused(self.signs(self.visit, password="guess")))
        self.refused(self.signs(self.visit, seen=self.visit["seen"] - 1), 409)
        fresh = self.opened(self.tank, **plain_facts("check", "radar"))
        self.assertIn("still open", self.refused(self.signs(fresh))[""])
        self.assertEqual(VisitRecord.objects.count(), 0)
        self.assertEqual(self.signs(self.visit).status_code, 200)
        self.refused(self.entered(self.visit, "arrived", "undo"), 409)
        self.refused(self.signs(self.visit), 409)

    def test_it_never_changes_and_prints_as_it_was(self) -> None:
        self.signs(self.visit)
        record = VisitRecord.objects.get()
        before = self.client.get(f"/api/visits/{self.visit['id']}/record.json/").content
        pages = PdfReader(io.BytesIO(self.client.get(f"/api/visits/{self.visit['id']}/sheet.pdf/").content)).pages
        words = "\n".join(page.extract_text() for page in pages)
        for table in ("visits_visitrecord", "visits_entry", "visits_photo"):
            for command in (f"DELETE FROM {table}", f"UPDATE {table} SET id = id + 100"):
                with self.assertRaises(DatabaseError), transaction.atomic(), connection.cursor() as cursor:
                    cursor.execute(command)
        for way in (record.save, record.delete, VisitRecord.objects.all().delete, Entry.objects.all().delete):
            with self.assertRaises(InputError):
                way()
        steps = self.client.get(f"/api/visits/{self.visit['id']}/record/").json()
        self.tank.document["name"] = "Another name"
        # With propane in it this visit could not be opened any more: as a record it is read as it was.
        self.tank.document["product"] = "propane"
        self.tank.save()
        self.assertEqual(self.client.get(f"/api/visits/{self.visit['id']}/").status_code, 200)
        self.assertEqual(self.client.get(f"/api/visits/{self.visit['id']}/record/").json(), steps)
        office = self.client.get(f"/api/visits/{self.visit['id']}/office/").json()["lines"]
        self.assertIn("diesel", "\n".join(office))
        self.technician.first_name = "Renamed"
        self.technician.save()
        self.assertEqual(self.client.get(f"/api/visits/{self.visit['id']}/record.json/").content, before)
        again = PdfReader(io.BytesIO(self.client.get(f"/api/visits/{self.visit['id']}/sheet.pdf/").content)).pages
        self.assertEqual("\n".join(page.extract_text() for page in again), words)
        self.assertEqual(list(broken_seals()), [])

    def test_each_figure_has_its_working(self) -> None:
        self.signs(self.visit)
        said = json.loads(self.client.get(f"/api/visits/{self.visit['id']}/record.json/").content)
        self.assertEqual(said["format"], "rasante.visit/1")
        dip = next(step for step in said["steps"] if step["key"] == "dip")
        volume = next(one for one in dip["figures"] if one["label"] == "Volume")
        self.assertEqual(volume["formula"], "volume at the dip")
        self.assertIn(["Dip", "1200 mm"], volume["inputs"])
        self.assertIn("mm", "\n".join(said["office"]))

    def test_what_it_took_feeds_the_next_plan(self) -> None:
        before = self.opened(self.tank, **plain_facts("check", "hydrostatic"))["minutes"]["likely"]
        self.signs(self.visit)
        after = self.opened(self.tank, **plain_facts("check", "hydrostatic"))["minutes"]["likely"]
        self.assertNotAlmostEqual(before, after)

    def test_a_customers_link_shows_one_record_and_nothing_else(self) -> None:
        self.signs(self.visit)
        made = self.send("post", f"visits/{self.visit['id']}/links/", {"days": 30, "live": False}).json()
        self.client.logout()
        page = self.client.get(made["path"])
        self.assertEqual(page.status_code, 200)
        self.assertIn(b"Yard / Net loft diesel", page.content)
        self.assertFalse(re.findall(rb"/api/|/tanks/|csrf|<script", page.content))
        self.assertEqual(page["Referrer-Policy"], "no-referrer")
        self.assertEqual(self.client.get(f"{made['path']}sheet.pdf")["Content-Type"], "application/pdf")
        for path in ("/api/visits/", f"/api/visits/{self.visit['id']}/", "/api/visit-photos/1/", "/api/tanks/"):
            self.assertIn(self.client.get(path).status_code, (401, 403), path)
        self.assertEqual(self.client.get("/r/guess/").status_code, 404)
        link = CustomerLink.objects.get()
        self.assertEqual(link.openings, 2)
        self.assertNotIn(made["path"].split("/")[2], link.token)
        self.client.force_login(self.technician)
        self.send("post", f"visit-links/{made['id']}/withdraw/")
        self.assertEqual(self.client.get(made["path"]).status_code, 404)
        late = self.send("post", f"visits/{self.visit['id']}/links/", {"days": 1}).json()
        CustomerLink.objects.filter(pk=late["id"]).update(expires_at=datetime.now(UTC) - timedelta(seconds=1))
        self.assertEqual(self.client.get(late["path"]).status_code, 404)

    @override_settings(EMAIL_BACKEND="django.core.mail.backends.locmem.EmailBackend")
    def test_by_e_mail(self) -> None:
        self.signs(self.visit)
        answer = self.send(
            "post", f"visits/{self.visit['id']}/mail/", {"to": "keeper@example.org", "note": "As agreed."}
        )
        self.assertEqual(answer.status_code, 204)
        (message,) = mail.outbox
        self.assertIn("As agreed.", message.body)
        self.assertEqual(message.attachments[0][2], "application/pdf")
        self.assertIn("to", self.refused(self.send("post", f"visits/{self.visit['id']}/mail/", {"to": "nobody"})))


class Registered(VisitTest):
    def test_customers(self) -> None:
        made = self.send(
            "post", "customers/", {"name": "Harbour trust", "branch": "North", "email": "x@example.org"}
        ).json()
        self.assertIn(
            "name", self.refused(self.send("post", "customers/", {"name": "harbour TRUST", "branch": "north"}))
        )
        self.assertIn("email", self.refused(self.send("post", "customers/", {"name": "B", "email": "nobody"})))
        body = {**{key: made[key] for key in ("name", "branch")}, "contact": "Ann", "revision": made["revision"]}
        self.assertEqual(self.send("put", f"customers/{made['id']}/", body).json()["revision"], 2)
        self.refused(self.send("put", f"customers/{made['id']}/", body), 409)
        own = {"owner": "customer", "customer": None, "painted": "", "revision": 0, "latitude": None,
               "longitude": None, "contact": "", "telephone": "", "site_revision": 0}  # fmt: skip
        path = f"tanks/{self.tank.pk}/register/"
        self.assertIn("customer", self.refused(self.send("put", path, own)))
        self.assertIn(
            "latitude", self.refused(self.send("put", path, {**own, "customer": made["id"], "latitude": 57.5}))
        )
        self.assertEqual(self.client.get(f"/api/{path}").json()["owner"], "")
        kept = self.send("put", path, {**own, "customer": made["id"], "latitude": 57.5, "longitude": -4.25}).json()
        self.assertEqual((kept["customer_name"], kept["latitude"]), ("Harbour trust, North", 57.5))
        self.client.force_login(self.lead)
        self.assertEqual(self.client.delete(f"/api/customers/{made['id']}/").status_code, 409)

    def test_two_tanks_of_a_site_are_told_apart_by_what_is_painted(self) -> None:
        other = import_tank(self.site, text(example(name="Twin")), self.technician)
        keep_tank_facts(self.tank, {"owner": "own", "customer": None, "painted": "7"}, self.technician, 0)
        with self.assertRaises(InputError) as refused:
            keep_tank_facts(other, {"owner": "own", "customer": None, "painted": " 7 "}, self.technician, 0)
        self.assertEqual(refused.exception.problems[0].where, "painted")

    def test_a_device_takes_its_history_along(self) -> None:
        other = import_tank(self.site, text(example(name="Twin")), self.technician)
        device = self.send("post", "devices/", {"part": "PT-4", "serial": "SK-9"}).json()
        self.assertIn("serial", self.refused(self.send("post", "devices/", {"part": "pt-4", "serial": "sk-9"})))
        for tank in (self.tank, other):
            body = {"state": "fitted", "tank": tank.pk, "revision": device["revision"], "why": "moved"}
            device = self.send("post", f"devices/{device['id']}/move/", body).json()
        self.assertEqual(
            [(one["tank"], one["until"] is None) for one in device["fittings"]],
            [(other.pk, True), (self.tank.pk, False)],
        )
        self.assertIn(
            "tank",
            self.refused(self.send("post", f"devices/{device['id']}/move/", {"state": "fitted", "revision": 3})),
        )
        self.refused(self.send("post", f"devices/{device['id']}/move/", {"state": "shelf", "revision": 1}), 409)
        self.assertEqual(self.client.get(f"/api/devices/?tank={other.pk}").json()["count"], 1)
        self.assertEqual(self.client.get("/api/devices/?search=sk-9").json()["results"][0]["tank_name"], "Yard: Twin")

    def test_a_label_is_read_by_its_picture(self) -> None:
        out = io.BytesIO()
        segno.make("PN:PT-4;SN:SK-1042;ADDR:17").save(out, kind="png", scale=6)
        (found,) = self.send("post", "scan/", {"picture": base64.b64encode(out.getvalue()).decode()}).json()
        self.assertEqual((found["part"], found["serial"], found["address"]), ("PT-4", "SK-1042", "17"))
        blank = base64.b64encode(picture()).decode()
        self.assertIn("no code", self.refused(self.send("post", "scan/", {"picture": blank}))["picture"])

    def test_a_customers_tanks_from_a_file_all_or_none(self) -> None:
        customer = self.send("post", "customers/", {"name": "Farm"}).json()
        name = save_profile(self.tank, "30000 L", "2500 mm", "", "metric", self.technician).name
        wrong = "site;tank;product;profile\nFarm yard;Red;diesel;Nowhere\n"
        found = self.refused(self.send("post", f"customers/{customer['id']}/tanks/", {"text": wrong}))
        self.assertIn("row 2, profile", found)
        self.assertEqual(Tank.objects.filter(site__name="Farm yard").count(), 0)
        self.assertIn(
            "row 1", self.refused(self.send("post", f"customers/{customer['id']}/tanks/", {"text": "a,b\n1,2\n"}))
        )
        right = (
            "site;tank;product;profile;painted\n"
            f"Farm yard;Red;diesel;{name.upper()};1\nFarm yard;White;petrol;{name};2\n"
        )
        half = f"{right}Farm yard;White;petrol;{name};3\n"
        path = f"customers/{customer['id']}/tanks/"
        self.assertIn("row 4, name", self.refused(self.send("post", path, {"text": half})))
        self.assertEqual(Tank.objects.filter(site__name="Farm yard").count(), 0)
        made = self.send("post", path, {"text": right})
        self.assertEqual(made.json()["made"], ["Farm yard: Red", "Farm yard: White"])
        self.assertEqual(self.client.get("/api/customers/").json()["results"][0]["tanks"], 2)
