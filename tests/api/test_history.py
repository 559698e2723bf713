"""The history of a tank: who changed what and when, from what to what; and going back as a new revision."""

from __future__ import annotations

from typing import Any

from rasante.tanks.models import Tank

from .base import ApiTest


class History(ApiTest):
    def here(self) -> str:
        return f"tanks/{self.tank.pk}/history/"

    def survey(self, **entries: str) -> None:
        tank = self.send("get", f"tanks/{self.tank.pk}/").json()
        body = {key: tank[key] for key in ("ports", "notes", "revision")}
        answer = self.send(
            "put",
            f"tanks/{self.tank.pk}/",
            {**body, "entries": {**tank["entries"], **entries}, "system": "metric"},
        )
        self.assertEqual(answer.status_code, 200, answer.content)

    def wire(self, entries: dict[str, str], revision: int) -> None:
        body = {"entries": entries, "system": "metric", "revision": revision}
        self.assertEqual(self.send("put", f"tanks/{self.tank.pk}/wiring/", body).status_code, 200)

    def back(self, one: dict[str, Any], revision: int) -> Any:
        return self.send("post", self.here(), {"kind": one["kind"], "id": one["id"], "revision": revision})

    def test_who_changed_what_from_what_to_what(self) -> None:
        self.survey(product="heating oil")
        self.client.force_login(self.lead)
        self.wire({"supply.nominal": "24 V"}, 0)
        self.wire({"supply.nominal": "12 V", "input.ohms": "120 Ω"}, 1)
        found = self.send("get", self.here()).json()
        self.assertEqual(found["count"], 4)
        newest, _, surveyed, first = found["results"]
        self.assertEqual((newest["label"], newest["by"], newest["current"]), ("Wiring", "Lena Lind", True))
        changes = {one["path"]: (one["old"], one["new"]) for one in newest["changes"]}
        self.assertEqual(changes["supply.nominal"], ("24 V", "12 V"))
        self.assertEqual(
            (surveyed["by"], surveyed["changes"]),
            ("Tess Till", [{"path": "product", "old": "diesel", "new": "heating oil"}]),
        )
        self.assertEqual((first["revision"], first["why"], first["current"]), (1, "imported", False))
        self.assertEqual(found["revisions"], {"survey": 2, "wiring": 2})

    def test_going_back_is_a_new_revision(self) -> None:
        self.survey(product="heating oil")
        first = self.send("get", self.here()).json()["results"][-1]
        self.assertEqual(self.back(first, 1).status_code, 409)
        self.assertEqual(self.back(first, 2).status_code, 204)
        tank = Tank.objects.get(pk=self.tank.pk)
        self.assertEqual((tank.revision, tank.product), (3, "diesel"))
        self.assertEqual(tank.document, self.tank.document)
        self.assertEqual(self.send("get", self.here()).json()["count"], 3)

    def test_going_back_on_a_plan(self) -> None:
        self.wire({"supply.nominal": "24 V"}, 0)
        self.wire({"supply.nominal": "12 V"}, 1)
        older = self.send("get", self.here()).json()["results"][1]
        self.assertEqual(self.back(older, 2).status_code, 204)
        kept = self.send("get", f"tanks/{self.tank.pk}/wiring/").json()
        self.assertEqual((kept["entries"]["supply.nominal"], kept["revision"]), ("24 V", 3))

    def test_what_is_none_of_this_tank(self) -> None:
        self.refused(self.send("post", self.here(), {"kind": "survey", "id": 999, "revision": 1}))
        self.refused(self.send("post", self.here(), {"kind": "proof", "id": 1, "revision": 1}))
        self.refused(self.send("get", self.here() + "?page=x"))
        self.assertEqual(self.send("get", self.here() + "?page=9").json()["results"], [])

    def test_every_kind_of_keeping_is_told(self) -> None:
        """Whatever is planned for a tank with a history has its place here."""
        from django.apps import apps

        from rasante.history.services import KINDS
        from rasante.planned.models import Planned

        planned = {model for model in apps.get_models() if issubclass(model, Planned)}
        self.assertEqual({kind.model for kind in KINDS.values()}, planned | {Tank})
