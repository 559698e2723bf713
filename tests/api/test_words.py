"""What the screens are built from, sites, history, and the demo scenario through the same services."""

from __future__ import annotations

from django.contrib.auth.models import User
from django.core.management import call_command
from django.test import TestCase

from rasante.demo.scenario import load, read_scenario
from rasante.proving.models import Proof
from rasante.tanks.models import Site, Tank

from .base import SENSOR, ApiTest


class Words(ApiTest):
    def test_they_name_every_kind_with_its_fields(self) -> None:
        words = self.send("get", "words/").json()
        shapes = {shape["kind"]: shape for shape in words["shapes"]}
        kinds = {"horizontal_cylinder", "vertical_cylinder", "box", "prism", "sphere", "courses", "points"}
        self.assertEqual(set(shapes), kinds)
        self.assertEqual(
            [part["key"] for part in shapes["horizontal_cylinder"]["parts"]], ["left_head", "right_head"]
        )
        self.assertIn("conical_inward", shapes["vertical_cylinder"]["parts"][0]["kinds"])
        self.assertNotIn("conical_inward", shapes["horizontal_cylinder"]["parts"][0]["kinds"])
        self.assertEqual([c["key"] for c in shapes["points"]["rows"][0]["columns"]], ["level_mm", "volume_l"])
        self.assertTrue(shapes["box"]["dimensions"][3]["optional"])
        heads = {head["kind"] for head in words["heads"]}
        named = {"flat", "ellipsoidal", "hemispherical", "torispherical", "conical", "conical_inward"}
        self.assertEqual(heads, named)
        self.assertEqual({section["kind"] for section in words["sections"]}, {"ellipse", "obround", "polygon"})
        self.assertIn("circumference", {helper["key"] for helper in words["helpers"]})

    def test_units_carry_their_factors(self) -> None:
        units = {unit["key"]: unit for unit in self.send("get", "words/").json()["units"]}
        self.assertEqual((units["in"]["si"], units["in"]["quantity"]), (0.0254, "length"))


class Sites(ApiTest):
    def test_make_rename_and_list(self) -> None:
        made = self.send("post", "sites/", {"name": "Quarry", "notes": "Gate code at the office"})
        self.assertEqual(made.status_code, 201)
        path = f"sites/{made.json()['id']}/"
        self.assertEqual(self.send("patch", path, {"name": "Old quarry", "revision": 1}).json()["name"], "Old quarry")
        # Two people change it from one revision: the second is told, and nothing of the first is lost.
        late = self.send("patch", path, {"notes": "None", "revision": 1})
        self.assertIn("changed meanwhile", self.refused(late, 409)[""])
        self.assertEqual(self.send("get", path).json()["notes"], "Gate code at the office")
        listed = self.send("get", "sites/").json()["results"]
        self.assertEqual({site["name"]: site["tank_count"] for site in listed}, {"Old quarry": 0, "Yard": 1})

    def test_bad_names(self) -> None:
        self.assertIn("name", self.refused(self.send("post", "sites/", {"name": "Yard"})))
        self.assertIn("name", self.refused(self.send("post", "sites/", {"name": ""})))
        self.assertIn("name", self.refused(self.send("post", "sites/", {"name": "x" * 200})))

    def test_bodies_that_are_no_json(self) -> None:
        for body in ("{", "NaN", '{"name": NaN}', "[1]", "\x00"):
            with self.subTest(body):
                answer = self.client.post("/api/sites/", body, content_type="application/json")
                self.refused(answer)
        answer = self.client.post("/api/sites/", "name=x", content_type="text/plain")
        self.refused(answer, 415)


class History(ApiTest):
    def test_who_changed_what_and_why(self) -> None:
        path = f"tanks/{self.tank.pk}/"
        tank = self.send("get", path).json()
        body = {"entries": tank["entries"], "system": "metric", "ports": [], "notes": "New note", "revision": 1}
        self.assertEqual(self.send("put", path, body).json()["revision"], 2)
        newest, oldest = self.tank.history.all()
        self.assertEqual((newest.history_change_reason, oldest.history_change_reason), ("surveyed again", "imported"))
        self.assertEqual((newest.history_user, newest.notes, oldest.notes), (self.technician, "New note", ""))

    def test_keeping_the_same_is_no_new_revision(self) -> None:
        path = f"tanks/{self.tank.pk}/"
        tank = self.send("get", path).json()
        body = {"entries": tank["entries"], "system": "metric", "ports": [], "notes": "", "revision": 1}
        self.assertEqual(self.send("put", path, body).json()["revision"], 1)
        chain = {"entries": SENSOR, "system": "metric", "revision": 0}
        self.assertEqual(self.send("put", f"{path}chain/", chain).json()["revision"], 1)
        self.assertEqual(self.send("put", f"{path}chain/", chain | {"revision": 1}).json()["revision"], 1)
        moved = chain | {"revision": 1, "entries": SENSOR | {"sensor.zero": "1 in"}}
        self.assertEqual(self.send("put", f"{path}chain/", moved).json()["revision"], 2)


class Stations(ApiTest):
    def states(self) -> dict[str, str]:
        stations = self.send("get", f"tanks/{self.tank.pk}/stations/").json()
        return {station["key"]: station["state"] for station in stations}

    def test_they_follow_the_work(self) -> None:
        begun = {"survey": "in hand", "table": "done"}
        self.assertEqual(
            self.states(), begun | dict.fromkeys(("gauge", "wiring", "scale", "prove", "watch"), "not started")
        )
        proof = self.signed()
        self.assertEqual(self.states()["prove"], "done")
        self.send("post", f"tanks/{self.tank.pk}/proofs/", {"system": "metric"})
        self.assertEqual(self.states()["prove"], "in hand")
        self.assertEqual(proof.state, "signed")

    def test_a_failed_proof_needs_a_person(self) -> None:
        self.scaled()
        proof = self.send("post", f"tanks/{self.tank.pk}/proofs/", {"system": "metric"}).json()
        entries = self.whole_entries()
        entries["points"][2]["found_up"] = "1300 mm"
        kept = self.send("put", f"proofs/{proof['id']}/", {"entries": entries, "kept": proof["kept"]}).json()
        self.assertEqual(kept["result"]["verdict"], "fail")
        signed = self.send("post", f"proofs/{proof['id']}/sign/", self.signing(kept))
        self.assertEqual(signed.status_code, 200)
        self.assertEqual(self.states()["prove"], "needs you")


class Demo(TestCase):
    def test_it_loads_into_an_empty_database_and_only_there(self) -> None:
        self.assertTrue(load())
        scenario = read_scenario()
        self.assertEqual(Tank.objects.count(), len(scenario["tanks"]))
        self.assertEqual(Site.objects.count(), len(scenario["sites"]))
        self.assertEqual(Proof.objects.filter(state="signed").count(), 2)
        self.assertEqual({user.username for user in User.objects.all()}, {"tech", "tech2", "lead"})
        self.assertFalse(load())
        self.assertEqual(Tank.objects.count(), len(scenario["tanks"]))

    def test_no_demo_person_gets_into_a_database_with_people(self) -> None:
        User.objects.create_user("ann", password="a-long-secret")
        call_command("load_demo", verbosity=0, stdout=open("/dev/null", "w"))  # noqa: SIM115, PTH123
        self.assertFalse(User.objects.filter(username="tech").exists())
