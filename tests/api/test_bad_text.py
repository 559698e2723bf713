"""Bodies with half characters, control signs or bottomless nesting: refused everywhere, nothing of them kept."""

from __future__ import annotations

import json
from typing import Any

from django.contrib.auth.models import User
from django.db import OperationalError

from rasante.check import BadRow, bad_rows, mend
from rasante.tanks.models import Site, Tank
from tests.core.samples import example

from .base import ApiTest

BAD = ("\ud800", "name \udfff", "a\x00b", "\x1b[31m", "\x7f")


class BadText(ApiTest):
    def put(self, method: str, path: str, body: Any) -> Any:
        """Send a body as its JSON text has it: lone surrogates escaped."""
        return getattr(self.client, method)(f"/api/{path}", data=json.dumps(body), content_type="application/json")

    def test_no_import_stops_the_app(self) -> None:
        before = Tank.objects.count()
        for bad in BAD:
            text = json.dumps({**example(), "name": f"Quay {bad}"})
            answer = self.put("post", "tanks/import/", {"site": self.site.pk, "text": text})
            self.assertEqual(answer.status_code, 400, (bad, answer.content[:200]))
            # The file's own text is JSON in JSON: what is bad in it comes out when it is read.
            self.assertTrue(answer.json()["problems"][0]["what"])
        self.assertEqual(Tank.objects.count(), before)
        for path in ("board/", "tanks/", f"tanks/{self.tank.pk}/"):
            self.assertEqual(self.client.get(f"/api/{path}").status_code, 200, path)

    def test_no_number_without_bounds_is_kept(self) -> None:
        for number in ("1" + "0" * 30, "9007199254740992", "1e999", "-1e400", "NaN", "Infinity"):
            body = f'{{"name": {number}, "notes": ""}}'
            answer = self.client.post("/api/sites/", data=body, content_type="application/json")
            self.assertEqual(answer.status_code, 400, number)
        self.assertEqual(self.client.get("/api/board/").status_code, 200)

    def test_wherever_text_is_taken(self) -> None:
        tank = self.tank.pk
        for method, path, body, where in (
            ("post", "sites/", {"name": "{}", "notes": ""}, "name"),
            ("put", f"tanks/{tank}/gauge/", {"entries": {"spot.port": "{}"}, "system": "metric", "revision": 0},
             "entries.spot.port"),
            ("put", f"tanks/{tank}/chain/", {"entries": {"{}": "1"}, "system": "metric", "revision": 0}, "entries."),
            ("post", "line/", {"entries": {"tank.product": "{}"}, "system": "us"}, "entries.tank.product"),
            ("post", "charts/preview/", {"text": "{}"}, "text"),
            ("post", "session/", {"username": "{}", "password": "x"}, "username"),
            ("post", "session/", {"username": "tess", "password": "{}"}, "password"),
        ):  # fmt: skip
            for bad in BAD:
                filled = json.loads(json.dumps(body).replace("{}", json.dumps(bad)[1:-1]))
                answer = self.put(method, path, filled)
                with self.subTest(path, bad=ascii(bad)):
                    problems = self.refused(answer)
                    self.assertTrue(next(iter(problems)).startswith(where), problems)
                    self.assertIn("cannot be kept", next(iter(problems.values())))
        self.assertFalse(Site.objects.exclude(pk=self.site.pk).exists())

    def test_files_within_bodies(self) -> None:
        bad = "\ud800"
        for path, text in (
            ("gauge-models/import/", json.dumps({"format": "rasante.gauges/1", "models": [{"name": bad}]})),
            ("circuits/choices/", json.dumps({"format": "rasante.circuit/1", "parts": [], "wires": [], "kind": bad})),
            ("charts/preview/", json.dumps([{"level_mm": bad, "volume_l": 1}, {"level_mm": 1, "volume_l": 2}])),
        ):
            answer = self.put("post", path, {"text": text})
            with self.subTest(path):
                self.assertEqual(answer.status_code, 400, answer.content[:200])

    def test_a_database_that_is_bad_already_is_found_and_mended(self) -> None:
        document = {**self.tank.document, "name": "Quay \ud800"}
        Tank.objects.filter(pk=self.tank.pk).update(document=document)
        with self.assertRaises((TypeError, OperationalError)):
            self.client.get("/api/board/")
        found = list(bad_rows())
        self.assertEqual([(row.model, row.pk, row.field, row.place) for row in found],
                         [(Tank, self.tank.pk, "document", ".name")])  # fmt: skip
        self.assertTrue(mend(found[0]))
        self.assertEqual(list(bad_rows()), [])
        self.assertEqual(Tank.objects.get(pk=self.tank.pk).document["name"], "Quay \ufffd")
        self.assertEqual(self.client.get("/api/board/").status_code, 200)

    def test_a_signed_record_is_told_and_left(self) -> None:
        proof = self.signed()
        # The database itself refuses to change it, mended or not.
        self.assertFalse(mend(BadRow(type(proof), proof.pk, "entries", "")))
        self.assertEqual(type(proof).objects.get(pk=proof.pk).entries, proof.entries)

    def test_what_people_write_is_taken(self) -> None:
        for good in ("Ærø ½ 😀", "two\nlines\tand a tab", "\u202fthin"):
            answer = self.put("post", "sites/", {"name": good.replace("\n", " "), "notes": good})
            self.assertEqual(answer.status_code, 201, answer.content[:200])

    def test_bottomless_nesting_and_other_bytes(self) -> None:
        for body in (
            b"[" * 5000,
            b"[" * 200 + b"]" * 200,
            b'{"a":' * 120 + b"1" + b"}" * 120,
            b"\xff\xfe{}",
            b'"\xed\xa0\x80"',
        ):
            for path in ("sites/", "session/", "line/"):
                answer = self.client.post(f"/api/{path}", data=body, content_type="application/json")
                self.assertEqual(answer.status_code, 400, (body[:20], answer.content[:200]))
        # Brackets in a text are no nesting.
        self.assertEqual(self.put("post", "sites/", {"name": "[" * 110, "notes": "{" * 300}).status_code, 201)

    def test_addresses(self) -> None:
        for query in ("search=%00", "search=%ED%A0%80", "page=%00", "page_size=%00", "ordering=%00"):
            for path in ("tanks/", "sites/", "profiles/"):
                answer = self.client.get(f"/api/{path}?{query}")
                self.assertLess(answer.status_code, 500, (path, query))
        self.assertLess(self.client.get("/api/tanks/%00/").status_code, 500)
        # A control sign never gets as far as a sheet.
        for ending in ("xlsx", "csv", "pdf", "json"):
            answer = self.client.get(f"/api/tanks/{self.tank.pk}/table.{ending}/?step=10%1F")
            self.assertIn("cannot be read", self.refused(answer)["step"])
        self.tank.document = {**self.tank.document, "name": "Quay \x1b"}
        self.tank.save()
        self.assertEqual(self.client.get(f"/api/tanks/{self.tank.pk}/table.xlsx/").status_code, 200)
        self.assertEqual(User.objects.count(), 2)
