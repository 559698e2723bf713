"""Tanks over HTTP: survey, import, table, files; and what is refused without half of it being kept."""

from __future__ import annotations

import csv
import io
import json

from pypdf import PdfReader

from rasante.core.tanks.tank_file import check_document
from rasante.tanks.models import Tank
from tests.core.samples import EXAMPLE, example, text
from tests.core.test_survey import TYPED

from .base import ApiTest


def kept(**changes):
    return {"entries": TYPED, "system": "metric", "ports": [], "notes": "", **changes}


class Surveys(ApiTest):
    def test_a_new_tank(self) -> None:
        port = {"name": "Vent", "uses": ["vent"], "size": "2 in", "position": "400", "note": ""}
        made = self.send("post", "tanks/", kept(site=self.site.pk, ports=[port], notes="On saddles"))
        self.assertEqual(made.status_code, 201, made.content)
        tank = made.json()
        self.assertEqual(tank["entries"]["shape.diameter_mm"], "5' 3 1/4\"")
        self.assertEqual(tank["entries"]["reference_height_mm"], "1700 mm")
        self.assertEqual(tank["ports"][0]["position"], "400 mm")
        self.assertEqual(tank["port_positions_mm"], [400.0])
        self.assertAlmostEqual(tank["facts"]["inside_height_mm"], 1606.55)
        self.assertEqual(tank["changed_by"], "Tess Till")

    def test_nonsense_is_refused_at_its_field_and_nothing_is_kept(self) -> None:
        before = Tank.objects.count()
        for path, bad in (("shape.diameter_mm", "10 km"), ("shape.left_head.knuckle_radius_mm", "3 D"), ("name", "")):
            problems = self.refused(self.send("post", "tanks/", kept(site=self.site.pk, entries=TYPED | {path: bad})))
            self.assertIn(path, problems)
        self.assertEqual(Tank.objects.count(), before)

    def test_reading_a_survey_keeps_nothing(self) -> None:
        before = Tank.objects.count()
        reading = self.send("post", "tanks/survey/", kept(entries=TYPED | {"name": ""})).json()
        self.assertFalse(reading["complete"])
        self.assertGreater(reading["facts"]["capacity_l"], 6000)
        self.assertGreater(len(reading["facts"]["drawing"]["along_mm"]), 10)
        self.assertEqual(Tank.objects.count(), before)

    def test_a_resurvey_is_a_new_revision_and_a_stale_one_is_refused(self) -> None:
        path = f"tanks/{self.tank.pk}/"
        entries = self.send("get", path).json()["entries"] | {"shape.diameter_mm": "2410 mm"}
        changed = self.send("put", path, kept(entries=entries, revision=1)).json()
        self.assertEqual((changed["revision"], changed["facts"]["inside_height_mm"]), (2, 2410.0))
        self.assertEqual(changed["entries"]["uncertainty.diameter_mm"], "3 mm")
        stale = self.send("put", path, kept(entries=entries, revision=1))
        self.assertIn("began from 1", self.refused(stale, 409)[""])
        self.assertEqual([h.document["shape"]["diameter_mm"] for h in self.tank.history.all()], [2410.0, 2400])

    def test_two_tanks_of_one_name_at_one_site_are_refused(self) -> None:
        named = TYPED | {"name": "Net loft diesel"}
        self.assertIn("name", self.refused(self.send("post", "tanks/", kept(site=self.site.pk, entries=named))))

    def test_a_tank_past_the_orm_is_checked_too(self) -> None:
        self.tank.document["shape"]["diameter_mm"] = -1
        with self.assertRaisesRegex(ValueError, "more than 0"):
            self.tank.save()


class Imports(ApiTest):
    def take(self, content: str):
        return self.send("post", "tanks/import/", {"site": self.site.pk, "text": content})

    def test_a_file_comes_in_and_goes_out_without_loss(self) -> None:
        document = example(name="Second", reference_height_mm=2550.125)
        made = self.take(text(document))
        self.assertEqual(made.status_code, 201, made.content)
        out = self.client.get(f"/api/tanks/{made.json()['id']}/file/")
        self.assertEqual(json.loads(out.content), document)
        self.assertIn('filename="second.json"', out["Content-Disposition"])

    def test_bad_files_name_the_place_and_leave_nothing(self) -> None:
        before = Tank.objects.count()
        bad = {
            "{": "",
            text(example(format="other")): "format",
            text(example(colour=1)): "colour",
            text(EXAMPLE).replace('"shell_length_mm": 6000,', ""): "shape.shell_length_mm",
            text(EXAMPLE).replace("2550", '"2550"'): "reference_height_mm",
            text(EXAMPLE).replace("2550", "1e308"): "reference_height_mm",
            text(EXAMPLE).replace("2550", "NaN"): "",
            "x" * 5_000_000: "",
            '{"name": 1, "name": 2}': "name",
        }
        for content, where in bad.items():
            with self.subTest(where or content[:20]):
                self.assertIn(where, self.refused(self.take(content)))
        self.assertIn("far too large", self.refused(self.take("x" * 13_000_000), 413)[""])
        self.assertEqual(Tank.objects.count(), before)


class Tables(ApiTest):
    def get(self, path: str, **query):
        return self.client.get(f"/api/tanks/{self.tank.pk}/{path}", query)

    def test_columns(self) -> None:
        table = self.get("table/", step="1", step_unit="mm").json()
        tank = check_document(EXAMPLE).tank
        self.assertEqual(len(table["innage_mm"]), 2401)
        self.assertEqual(table["innage_mm"][7], 7.0)
        self.assertAlmostEqual(table["volume_l"][1200], float(tank.volume(1.2)) * 1000, places=6)
        self.assertEqual(table["step"], "1 mm")

    def test_csv_in_each_unit(self) -> None:
        for unit, volume, columns in (
            ("in", "usgal", "innage_in,volume_usgal,u95_usgal,ullage_in,volume_pct,linear_pct"),
            ("cm", "m3", "innage_cm,volume_m3,u95_m3,ullage_cm,volume_pct,linear_pct"),
            ("ft", "impgal", "innage_ft,volume_impgal,u95_impgal,ullage_ft,volume_pct,linear_pct"),
        ):
            response = self.get("table.csv/", step="1/8", step_unit=unit, volume_unit=volume)
            lines = response.content.decode().splitlines()
            self.assertEqual(lines[0], columns)
            self.assertEqual(float(lines[2].split(",")[0]), 0.125)
        rows = list(csv.DictReader(io.StringIO(response.content.decode())))
        capacity = check_document(EXAMPLE).tank.capacity
        # NIST SP 811: one imperial gallon is 4.54609 L.
        self.assertAlmostEqual(float(rows[-1]["volume_impgal"]), capacity / 4.54609e-3, places=6)

    def test_the_sheet_has_two_pages_at_most_and_the_numbers(self) -> None:
        for step, unit in (("1", "mm"), ("10", "mm"), ("1/8", "in")):
            pdf = PdfReader(io.BytesIO(self.get("table.pdf/", step=step, step_unit=unit).content))
            self.assertLessEqual(len(pdf.pages), 2)
            words = "\n".join(page.extract_text() for page in pdf.pages)
            for expected in ("Net loft diesel", "Volume table", "Yard", "revision 1", "Torispherical", "brim"):
                self.assertIn(expected, words)
        capacity = check_document(EXAMPLE).tank.capacity * 1000
        words = "\n".join(
            page.extract_text()
            for page in PdfReader(io.BytesIO(self.get("table.pdf/", step="10", step_unit="mm").content)).pages
        )
        self.assertIn(f"{capacity:,.1f}".replace(",", " "), words)

    def test_bad_steps_and_units(self) -> None:
        for query, where in (
            ({"step": "0"}, "step"), ({"step": "-1"}, "step"), ({"step": "ten"}, "step"), ({"step": "1/0"}, "step"),
            ({"step": "0.00001"}, "step"), ({"step": "NaN"}, "step"),
            ({"step": "10", "step_unit": "mile"}, "step_unit"),
        ):  # fmt: skip
            with self.subTest(query):
                self.assertIn(where, self.refused(self.get("table/", **query)))
        self.assertIn("volume_unit", self.refused(self.get("table.csv/", volume_unit="bucket")))


class Lists(ApiTest):
    def test_pages_search_and_order(self) -> None:
        for number in range(60):
            self.tank.pk = None
            self.tank._state.adding = True
            self.tank.document = example(name=f"Copy {number:02}", product="petrol")
            self.tank.save()
        first = self.send("get", "tanks/?order=-name").json()
        self.assertEqual((first["count"], len(first["results"])), (61, 50))
        self.assertEqual(first["results"][0]["facts"]["name"], "Net loft diesel")
        found = self.send("get", "tanks/?search=copy 07").json()
        self.assertEqual([tank["facts"]["name"] for tank in found["results"]], ["Copy 07"])
        self.assertEqual(self.send("get", "tanks/?search=diesel").json()["count"], 1)
