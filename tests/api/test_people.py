"""People: added, renamed, shut out, given other passwords; their own passwords and devices; the door's patience."""

from __future__ import annotations

import os
import stat
import tempfile
from pathlib import Path
from typing import Any

from axes.models import AccessAttempt
from django.conf import settings
from django.contrib.auth.models import User
from django.test import Client

from rasante.accounts.models import role_of
from tests.prepared import copy_of
from tests.warm import call

from .base import ApiTest


class AtTheDoor(ApiTest):
    def enter(self, client: Client, username: str, password: str, address: str = "192.0.2.1") -> Any:
        body = {"username": username, "password": password}
        return client.post("/api/session/", body, content_type="application/json", REMOTE_ADDR=address)


class ByALead(AtTheDoor):
    def setUp(self) -> None:
        self.client.force_login(self.lead)

    def row(self, username: str) -> dict[str, Any]:
        rows = self.send("get", "people/").json()["results"]
        return next(row for row in rows if row["username"] == username)

    def change(self, row: dict[str, Any], **wanted: Any) -> Any:
        was = {key: row[key] for key in ("name", "role", "active")}
        return self.send("put", f"people/{row['id']}/", {"wanted": was | wanted, "was": was})

    def test_adding(self) -> None:
        made = self.send("post", "people/", {"username": "ann", "name": "Ann Ash", "password": "quite-a-long-one"})
        self.assertEqual((made.status_code, made.json()["role"]), (201, "technician"))
        self.assertEqual(self.enter(Client(), "ann", "quite-a-long-one").status_code, 200)
        for bad, where in (
            ({"username": "ANN"}, "username"),
            ({"username": "a b"}, "username"),
            ({"name": " "}, "name"),
            # Two people of one name could sign for one another.
            ({"name": "tess  till"}, "name"),
            ({"password": "short"}, "password"),
            ({"password": "password123"}, "password"),
            ({"password": "bertram.birch"}, "password"),
            ({"role": "owner"}, "role"),
        ):
            with self.subTest(bad):
                body = {"username": "bertram.birch", "name": "Bertram Birch", "password": "quite-a-long-one"} | bad
                self.assertIn(where, self.refused(self.send("post", "people/", body)))
        self.assertFalse(User.objects.filter(username="bertram.birch").exists())

    def test_renaming_and_roles(self) -> None:
        row = self.row("tess")
        changed = self.change(row, name="Tess Tiller", role="lead").json()
        self.assertEqual((changed["name"], changed["role"]), ("Tess Tiller", "lead"))
        self.assertEqual(role_of(User.objects.get(username="tess")), "lead")
        # Who looked at it before that is told, and changes nothing.
        self.assertEqual(self.change(row, name="Tess Tailor").status_code, 409)
        self.assertEqual(self.row("tess")["name"], "Tess Tiller")
        reasons = list(User.objects.get(username="tess").history.values_list("history_change_reason", flat=True))
        self.assertIn("technician → lead, by lena", reasons)

    def test_the_last_lead_stays(self) -> None:
        for wanted in ({"role": "technician"}, {"active": False}):
            refused = self.refused(self.change(self.row("lena"), **wanted))
            self.assertIn("the last lead", refused["role"])
        self.change(self.row("tess"), role="lead")
        self.assertEqual(self.change(self.row("lena"), role="technician").status_code, 200)

    def test_whoever_is_shut_out_is_out_at_once(self) -> None:
        theirs = Client()
        self.enter(theirs, "tess", "a-long-secret")
        self.assertEqual(theirs.get("/api/tanks/").status_code, 200)
        self.assertFalse(self.change(self.row("tess"), active=False).json()["active"])
        self.assertEqual(theirs.get("/api/tanks/").status_code, 401)
        self.assertEqual(self.enter(Client(), "tess", "a-long-secret").status_code, 400)
        self.change(self.row("tess"), active=True)
        self.assertEqual(self.enter(Client(), "tess", "a-long-secret").status_code, 200)

    def test_a_reset_password_ends_what_was_begun_with_the_old(self) -> None:
        theirs = Client()
        self.enter(theirs, "tess", "a-long-secret")
        path = f"people/{self.technician.pk}/password/"
        self.assertIn("password", self.refused(self.send("post", path, {"password": "12345"})))
        self.assertEqual(self.send("post", path, {"password": "another-long-one"}).status_code, 204)
        self.assertEqual(theirs.get("/api/tanks/").status_code, 401)
        self.assertEqual(self.enter(Client(), "tess", "another-long-one").status_code, 200)

    def test_nobody_but_a_lead(self) -> None:
        self.client.force_login(self.technician)
        self.assertEqual(self.send("get", "people/").status_code, 403)
        self.assertEqual(self.send("post", "people/", {"username": "x"}).status_code, 403)
        path = f"people/{self.lead.pk}/password/"
        self.assertEqual(self.send("post", path, {"password": "another-long-one"}).status_code, 403)


class OnesOwn(AtTheDoor):
    def setUp(self) -> None:
        self.enter(self.client, "tess", "a-long-secret")
        self.other = Client()
        self.enter(self.other, "tess", "a-long-secret", "192.0.2.9")

    def test_ones_own_password(self) -> None:
        path = "session/password/"
        new = "another-long-one"
        wrong = self.send("post", path, {"password": "not-mine", "new": new})
        self.assertIn("not your password", self.refused(wrong)["password"])
        weak = self.send("post", path, {"password": "a-long-secret", "new": "tesstill"})
        self.assertIn("new", self.refused(weak))
        self.assertEqual(self.send("post", path, {"password": "a-long-secret", "new": new}).status_code, 204)
        # Here it goes on; elsewhere the door is shut.
        self.assertEqual(self.send("get", "tanks/").status_code, 200)
        self.assertEqual(self.other.get("/api/tanks/").status_code, 401)
        self.assertEqual([one["here"] for one in self.send("get", "session/devices/").json()], [True])

    def test_ones_own_devices(self) -> None:
        devices = self.send("get", "session/devices/").json()
        self.assertEqual(
            [(one["here"], one["address"]) for one in devices], [(True, "192.0.2.1"), (False, "192.0.2.9")]
        )
        there = f"session/devices/{devices[1]['id']}/"
        self.assertEqual(self.send("delete", there).status_code, 204)
        self.assertEqual(self.other.get("/api/tanks/").status_code, 401)
        self.assertIn("signed out already", self.refused(self.send("delete", there))[""])
        # Nobody ends another's.
        lead = Client()
        self.enter(lead, "lena", "another-secret")
        own = lead.get("/api/session/devices/").json()[0]["id"]
        self.refused(self.send("delete", f"session/devices/{own}/"))
        self.assertEqual(lead.get("/api/tanks/").status_code, 200)


class TheDoor(ApiTest):
    def setUp(self) -> None:
        AccessAttempt.objects.all().delete()

    def enter(self, username: str, password: str, address: str) -> int:
        body = {"username": username, "password": password}
        answer = Client().post("/api/session/", body, content_type="application/json", REMOTE_ADDR=address)
        return answer.status_code

    def test_nobody_is_locked_out_from_elsewhere(self) -> None:
        for _ in range(7):
            last = self.enter("tess", "wrong", "192.0.2.66")
        self.assertEqual(last, 429)
        self.assertEqual(self.enter("tess", "a-long-secret", "192.0.2.66"), 429)
        self.assertEqual(self.enter("tess", "a-long-secret", "192.0.2.7"), 200)

    def test_one_address_trying_names_is_stopped_and_others_are_not(self) -> None:
        statuses = [
            self.enter(f"name{number}", "wrong", "192.0.2.66")
            for number in range(settings.MOST_FAILURES_OF_AN_ADDRESS + 3)
        ]
        self.assertEqual((statuses[0], statuses[-1]), (400, 429))
        self.assertEqual(self.enter("lena", "another-secret", "192.0.2.66"), 429)
        self.assertEqual(self.enter("lena", "another-secret", "192.0.2.7"), 200)


class Files(ApiTest):
    def test_what_lies_in_the_data_folder_is_for_its_user_alone(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            data = Path(folder) / "data"
            copy_of("migrated", data)
            # As a version that did not mind it left it.
            (data / "rasante.sqlite3").chmod(0o644)
            environment = {**os.environ, "RASANTE_DATA": str(data)}
            environment.pop("DJANGO_SETTINGS_MODULE", None)
            call(["person", "ann", "--name", "Ann Ash"], environment, "a-long-enough-one\n").check_returncode()
            for file in data.iterdir():
                self.assertEqual(stat.S_IMODE(file.stat().st_mode), 0o600, file.name)
            self.assertTrue((data / "secret_key").exists())
