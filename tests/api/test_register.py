"""The register over HTTP: customers, places, owners, devices with where they were, labels, lists of tanks."""

from __future__ import annotations

import base64
import io

import segno
import zxingcpp
from PIL import Image

from rasante.core.quantities.errors import InputError
from rasante.register.scan import facts_in
from rasante.register.services import keep_tank_facts
from rasante.tanks.models import Tank
from rasante.tanks.profiles import save_profile
from rasante.tanks.services import import_tank
from tests.core.samples import example, text

from .visit_walk import VisitTest, picture


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
        own = {"owner": "customer", "customer": None, "painted": "", "revision": 0, "latitude": "",
               "longitude": "", "contact": "", "telephone": ""}  # fmt: skip
        path = f"tanks/{self.tank.pk}/register/"
        self.assertIn("customer", self.refused(self.send("put", path, own)))
        self.assertIn(
            "longitude", self.refused(self.send("put", path, {**own, "customer": made["id"], "latitude": "57.5"}))
        )
        self.assertEqual(self.client.get(f"/api/{path}").json()["owner"], "")
        for typed, why in (("north", "write degrees"), ("91", "90"), ("57.5.2", "write degrees")):
            answer = self.send("put", path, {**own, "customer": made["id"], "latitude": typed, "longitude": "1"})
            self.assertIn(why, self.refused(answer)["latitude"])
        # As people write a place: comma or point, a letter of the compass or a sign.
        place = {"latitude": "57,5° N", "longitude": "4.25 W"}
        kept = self.send("put", path, {**own, "customer": made["id"], **place}).json()
        self.assertEqual(
            (kept["customer_name"], kept["latitude"], kept["longitude"]), ("Harbour trust, North", 57.5, -4.25)
        )
        self.client.force_login(self.lead)
        self.assertEqual(self.client.delete(f"/api/customers/{made['id']}/").status_code, 409)

    def test_whose_a_tank_is_is_not_written_over_from_an_older_page(self) -> None:
        path = f"tanks/{self.tank.pk}/register/"
        mine = {"owner": "own", "customer": None, "painted": "7", "revision": 0, "latitude": "", "longitude": "",
                "contact": "", "telephone": ""}  # fmt: skip
        self.assertEqual(self.send("put", path, {**mine, "painted": "8"}).status_code, 200)
        self.assertIn("changed meanwhile", self.refused(self.send("put", path, mine), 409)[""])
        # The tank's part was newer: nothing of the site's was kept either.
        self.refused(self.send("put", path, {**mine, "contact": "Ann"}), 409)
        now = self.client.get(f"/api/{path}").json()
        self.assertEqual((now["painted"], now["contact"], now["revision"]), ("8", "", 1))
        # What is kept as it stands is nobody's change: a colleague at another tank of the site is not held up by it.
        self.assertEqual(self.send("put", path, {**mine, "painted": "8", "revision": 1}).json()["revision"], 1)
        put = {**mine, "painted": "8", "contact": "Ann", "revision": 1}
        self.assertEqual(self.send("put", path, put).json()["revision"], 2)
        self.refused(self.send("put", path, {**mine, "painted": "9", "revision": 1}), 409)

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

    def test_what_stands_on_a_label(self) -> None:
        # GS1 element strings: (240) additional product identification, (21) serial; from memory of the GS1 General
        # Specifications. The others are written so on labels: common practice, no published source.
        for said, part, serial, address in (
            ("(240)PT-4(21)SK-1", "PT-4", "SK-1", ""),
            ("P/N: PT-4, S/N: SK-2", "PT-4", "SK-2", ""),
            ("sn=SK-3;addr=17", "", "SK-3", "17"),
            ("SK-4", "", "SK-4", ""),
        ):
            self.assertEqual(facts_in(said), {"part": part, "serial": serial, "address": address}, said)

    def test_labels_of_each_kind_are_read(self) -> None:
        for kind in (zxingcpp.BarcodeFormat.DataMatrix, zxingcpp.BarcodeFormat.Code128):
            drawn = Image.fromarray(zxingcpp.write_barcode(kind, "SK-1042", 400, 200))
            out = io.BytesIO()
            drawn.convert("RGB").save(out, "PNG")
            found = self.send("post", "scan/", {"picture": base64.b64encode(out.getvalue()).decode()})
            self.assertEqual(found.status_code, 200, (kind, found.content))
            self.assertEqual(found.json()[0]["serial"], "SK-1042", kind)
