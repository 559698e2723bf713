"""Sources over HTTP: made, changed, tried, taken away; and a logger's file."""

from __future__ import annotations

import time

from rasante.readings.models import Newest, SourceState
from rasante.readings.services import keep_source
from rasante.supervise import free_port

from .base import ApiTest


class Sources(ApiTest):
    def test_a_source_is_tried_and_says_what_is_wrong(self) -> None:
        self.scaled()
        entries = {"kind": "modbus", "name": "c", "host": "127.0.0.1", "port": str(free_port()), "timeout": "0.3"}
        channel = {"name": "level", "kind": "words", "tank": str(self.tank.pk), "register": "100"}
        entries |= {f"channels[0].{key}": text for key, text in channel.items()}
        source = keep_source(None, entries, "metric", self.technician, 0)
        tried = self.send("post", f"sources/{source.pk}/try/").json()
        self.assertIn("cannot be reached", tried["problem"])
        self.assertEqual((tried["values"], Newest.objects.count()), ([], 0))
        self.assertEqual(SourceState.objects.get(source=source).failures, 0)

    def test_a_source_is_kept_changed_and_told_apart(self) -> None:
        self.scaled()
        entries = {"kind": "push", "name": "unit", "channels[0].name": "level", "channels[0].kind": "level"}
        entries["channels[0].tank"] = str(self.tank.pk)
        made = self.send("post", "sources/", {"entries": entries, "revision": 0})
        self.assertEqual(made.status_code, 201)
        source = made.json()
        self.assertIn(
            "already", self.refused(self.send("post", "sources/", {"entries": entries, "revision": 0}))["name"]
        )
        path = f"sources/{source['id']}/"
        other = entries | {"kind": "mqtt", "host": "x", "channels[0].topic": "a"}
        self.assertIn("kind", self.refused(self.send("put", path, {"entries": other, "revision": 1})))
        self.refused(self.send("put", path, {"entries": entries, "revision": 7}), 409)
        self.refused(self.send("put", path, {"entries": {"kind": "push"}, "revision": 1}))
        renamed = {**entries, "name": "unit 2"}
        self.assertEqual(self.send("put", path, {"entries": renamed, "revision": 1}).json()["revision"], 2)
        read = self.send("post", "sources/check/", {"entries": {"kind": "push"}}).json()
        self.assertIn("wrong", {field["state"] for field in read["fields_read"]})
        # Only a lead deletes, and only what never brought anything.
        self.assertEqual(self.send("delete", path).status_code, 403)
        self.client.force_login(self.lead)
        self.assertEqual(self.send("delete", path).status_code, 204)

    def test_a_loggers_file_is_looked_at_and_kept_once(self) -> None:
        self.scaled()
        entries = {"kind": "csv", "name": "logger", "channels[0].name": "level", "channels[0].kind": "level"}
        entries["channels[0].tank"] = str(self.tank.pk)
        source = keep_source(None, entries, "metric", self.technician, 0)
        day = time.strftime("%Y-%m-%d", time.gmtime(time.time() - 86400))
        text = f"time,level\n{day} 10:00,1000\n{day} 10:05,1001.5\n"
        path = f"sources/{source.pk}/file/"
        seen = self.send("post", path + "look/", {"text": text}).json()
        self.assertEqual((seen["count"], seen["problems"]), (2, []))
        self.refused(self.send("post", path, {"text": text}))
        body = {"text": text, "mapping": seen["mapping"]}
        self.assertEqual(self.send("post", path, body).json(), {"new": 2, "again": 0, "refused": []})
        self.assertEqual(self.send("post", path, body).json(), {"new": 0, "again": 2, "refused": []})
        old = body | {"text": "time,level\n1999-01-01 10:00,1000\n"}
        self.assertIn("behind this clock", self.refused(self.send("post", path, old))["time_column"])
