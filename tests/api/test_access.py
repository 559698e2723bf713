"""Who gets in, and what they may do."""

from __future__ import annotations

from django.db import connection
from django.test import Client
from django.urls import URLPattern, URLResolver, get_resolver

from rasante.tanks.models import Tank

from .base import ApiTest


def addresses(resolver: URLResolver, prefix: str = "") -> list[str]:
    found = []
    for pattern in resolver.url_patterns:
        path = prefix + str(pattern.pattern)
        if isinstance(pattern, URLPattern):
            found.append(path)
        else:
            found += addresses(pattern, path)
    return found


class SignedOut(ApiTest):
    def setUp(self) -> None:
        """Nobody is signed in."""

    def test_every_address_but_the_session_asks_to_sign_in(self) -> None:
        paths = {
            path.replace("<int:pk>", "1").replace("<slug:key>", "dip")
            .replace("(?P<pk>[^/.]+)", "1").replace("^", "").replace("$", "")
            .replace("\\.", ".").replace("\\Z", "").replace("(?P<format>", "").replace("/?", "/")
            for path in addresses(get_resolver())
            if path.startswith("api/") and "session" not in path and "(?P<path>" not in path
        }  # fmt: skip
        self.assertGreater(len(paths), 15)
        for path in paths:
            for method in ("get", "post", "put", "delete"):
                with self.subTest(f"{method} {path}"):
                    response = getattr(self.client, method)(f"/{path}", content_type="application/json")
                    self.assertIn(response.status_code, (401, 403), path)

    def test_pages_lead_to_the_door(self) -> None:
        for path in ("/", "/tanks", "/tanks/1/table"):
            response = self.client.get(path)
            self.assertRedirects(response, f"/sign-in?next={path}", fetch_redirect_response=False)

    def test_sign_in_and_out(self) -> None:
        wrong = self.send("post", "session/", {"username": "tess", "password": "nope"})
        self.assertIn("do not go together", self.refused(wrong)["password"])
        right = self.send("post", "session/", {"username": "tess", "password": "a-long-secret"})
        self.assertEqual(right.json()["person"], {"username": "tess", "name": "Tess Till", "role": "technician"})
        self.assertEqual(self.send("get", "tanks/").status_code, 200)
        self.assertEqual(self.send("delete", "session/").status_code, 204)
        self.assertEqual(self.send("get", "tanks/").status_code, 401)

    def test_guessing_is_slowed_down(self) -> None:
        for _ in range(5):
            self.send("post", "session/", {"username": "tess", "password": "guess"})
        locked = self.send("post", "session/", {"username": "tess", "password": "a-long-secret"})
        self.assertIn("wait 15 minutes", self.refused(locked, 429)["password"])

    def test_a_forged_request_is_refused(self) -> None:
        strict = Client(enforce_csrf_checks=True)
        body = {"username": "tess", "password": "a-long-secret"}
        self.assertEqual(strict.post("/api/session/", body, content_type="application/json").status_code, 403)
        strict.get("/api/session/")
        token = strict.cookies["csrftoken"].value
        signed = strict.post("/api/session/", body, content_type="application/json", HTTP_X_CSRFTOKEN=token)
        self.assertEqual(signed.status_code, 200)
        forged = strict.post("/api/sites/", {"name": "Forged"}, content_type="application/json")
        self.assertEqual(forged.status_code, 403)


class Roles(ApiTest):
    def test_only_a_lead_deletes(self) -> None:
        self.refused(self.send("delete", f"tanks/{self.tank.pk}/"), 403)
        self.assertTrue(Tank.objects.filter(pk=self.tank.pk).exists())
        self.client.force_login(self.lead)
        self.assertEqual(self.send("delete", f"tanks/{self.tank.pk}/").status_code, 204)
        self.assertFalse(Tank.objects.filter(pk=self.tank.pk).exists())
        self.assertEqual(Tank.history.first().history_type, "-")

    def test_a_site_with_tanks_and_a_tank_with_a_signed_proof_stay(self) -> None:
        self.client.force_login(self.lead)
        self.signed()
        for path in (f"sites/{self.site.pk}/", f"tanks/{self.tank.pk}/"):
            self.assertIn("cannot be deleted", self.refused(self.send("delete", path), 409)[""])


class Safety(ApiTest):
    def test_the_database_minds_its_references_and_waits_its_turn(self) -> None:
        with connection.cursor() as cursor:
            for pragma, value in (("foreign_keys", 1), ("busy_timeout", 10000)):
                cursor.execute(f"PRAGMA {pragma}")
                self.assertEqual(cursor.fetchone(), (value,))

    def test_headers(self) -> None:
        response = self.client.get("/api/words/")
        self.assertIn("default-src 'self'", response["Content-Security-Policy"])
        self.assertEqual(response["X-Content-Type-Options"], "nosniff")
        self.assertEqual(response["X-Frame-Options"], "DENY")

    def test_an_unknown_address_is_said_in_words(self) -> None:
        self.assertIn("no such address", self.refused(self.send("get", "nowhere/"), 404)[""])
        # One with a line's end in it is no address of anything either.
        self.assertIn("no such address", self.refused(self.send("get", "visits/1/steps/a%0Ab/"), 404)[""])
        self.refused(self.send("get", "tanks/999999/"), 404)


class AnotherOnThisDevice(ApiTest):
    def test_what_one_person_typed_is_not_kept_in_the_name_of_another(self) -> None:
        body = {"entries": {"supply.nominal": "24 V"}, "system": "metric", "revision": 0}
        address = f"/api/tanks/{self.tank.pk}/wiring/"
        headers = {"X-Rasante-Person": "lena"}
        answer = self.client.put(address, body, content_type="application/json", headers=headers)
        self.assertEqual(answer.status_code, 401)
        self.assertIn("tess is signed in here now, not lena", answer.json()["problems"][0]["what"])
        self.assertEqual(self.client.get(address, headers=headers).json()["revision"], 0)
        answer = self.client.put(address, body, content_type="application/json", headers={"X-Rasante-Person": "tess"})
        self.assertEqual(answer.json()["revision"], 1)
