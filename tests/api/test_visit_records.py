"""A visit's photographs and its record: small pictures, a signature over what was seen, a record that stays."""

from __future__ import annotations

import io
import json
import re
from datetime import UTC, datetime, timedelta

from django.core import mail
from django.db import DatabaseError, connection, transaction
from django.test import override_settings
from PIL import Image
from pypdf import PdfReader

from rasante.core.quantities.errors import InputError
from rasante.scaling.chains import keep_chain
from rasante.seals.services import broken_seals
from rasante.visits.models import CustomerLink, Entry, Photo, VisitRecord

from .visit_walk import VisitTest, picture, plain_facts


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
        seen = self.client.get(f"/api/visits/{self.visit['id']}/record/").json()["seen"]
        self.photographed(self.visit, "as_left")
        self.assertIn("look at it anew", self.refused(self.signs(self.visit, seen=seen), 409)[""])
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
        shown = self.client.get(f"/api/visits/{self.visit['id']}/record/").json()
        self.tank.document["name"] = "Another name"
        # With propane in it this visit could not be opened any more: as a record it is read as it was.
        self.tank.document["product"] = "propane"
        self.tank.save()
        self.assertEqual(self.client.get(f"/api/visits/{self.visit['id']}/").status_code, 200)
        self.assertEqual(self.client.get(f"/api/visits/{self.visit['id']}/record/").json(), shown)
        self.assertIn("diesel", "\n".join(shown["office"]))
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

    def test_what_the_stations_said_then_is_what_is_signed(self) -> None:
        """A chain that is changed after a step was done does not reach back into its figures."""
        path = f"/api/visits/{self.visit['id']}/record/"

        def sent() -> str:
            steps = self.client.get(path).json()["steps"]
            figures = next(one for one in steps if one["key"] == "dip")["figures"]
            return next(one["text"] for one in figures if one["label"] == "Should be Sent")

        before = sent()
        self.assertEqual(before, "12 mA")
        seen = self.client.get(path).json()["seen"]
        keep_chain(self.tank, {"sensor.low": "0 mm", "sensor.high": "4800 mm"}, "metric", self.technician, 1)
        self.assertEqual(sent(), before)
        # The chain's own revision is in the record: whoever looked before it was changed looks again.
        self.refused(self.signs(self.visit, seen=seen), 409)
        self.assertEqual(self.signs(self.visit).status_code, 200)
        self.assertEqual(sent(), before)

    def test_taken_back_it_is_open_again_and_both_stand_in_the_record(self) -> None:
        self.entered(self.visit, "dip", "undo")
        self.assertIn("Dip the tank", self.refused(self.signs(self.visit))[""])
        self.entered(self.visit, "dip", values={"visit:dip": "1210 mm"})
        self.assertEqual(self.signs(self.visit).status_code, 200)
        said = json.loads(self.client.get(f"/api/visits/{self.visit['id']}/record.json/").content)
        dips = [one for one in said["entries"] if one["step"] == "dip"]
        self.assertEqual([one["did"] for one in dips], ["done", "taken back", "done"])
        self.assertEqual(next(one for one in said["steps"] if one["key"] == "dip")["values"][0]["text"], "1210 mm")
