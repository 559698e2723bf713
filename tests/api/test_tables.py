"""Tables over HTTP: issued, compared, in files, cut down, with the liquid; charts, labels and profiles."""

from __future__ import annotations

import base64
import csv
import io
import json

from django.db import DatabaseError, connection, transaction
from openpyxl import Workbook, load_workbook
from PIL import Image
from pypdf import PdfReader

from rasante.core.quantities.errors import InputError
from rasante.core.tanks.table import make_table
from rasante.tanks.models import Chart, IssuedTable, Profile, Tank
from rasante.tanks.services import import_tank
from tests.core.samples import example, text

from .base import ApiTest

CHART = "Dip (cm);Content (litre)\n0;0,0\n120;15.000,0\n240;30.000,0\n"
MAPPING = {
    "header": True,
    "level_column": 0,
    "volume_column": 1,
    "level_unit": "cm",
    "volume_unit": "l",
    "measured": "innage",
    "decimal": ",",
}


class TableTest(ApiTest):
    def at(self, path: str, **query):
        return self.client.get(f"/api/tanks/{self.tank.pk}/{path}/", query)

    def issue(self, why: str = "first table", step: str = "10") -> dict:
        self.tank.refresh_from_db()
        body = {"step": step, "step_unit": "mm", "why": why, "revision": self.tank.revision}
        answer = self.send("post", f"tanks/{self.tank.pk}/issued/", body)
        self.assertEqual(answer.status_code, 201, answer.content)
        return answer.json()

    def resurvey(self, **changes: str) -> None:
        self.tank.refresh_from_db()
        body = {
            "entries": self.tank.entries | changes,
            "system": "metric",
            "revision": self.tank.revision,
        }
        answer = self.send("put", f"tanks/{self.tank.pk}/", body)
        self.assertEqual(answer.status_code, 200, answer.content)
        self.tank = Tank.objects.get(pk=self.tank.pk)


class Issued(TableTest):
    def test_numbered_with_who_when_why_and_the_document_frozen_in(self) -> None:
        first = self.issue()
        self.assertEqual((first["number"], first["issued_by"], first["row_count"]), (1, "Tess Till", 241))
        before = self.at("table", step="10", step_unit="mm").json()
        self.resurvey(**{"shape.diameter_mm": "2450 mm"})
        self.assertEqual(self.issue("strapped again")["number"], 2)
        listed = self.at("issued").json()["results"]
        self.assertEqual([(one["number"], one["why"]) for one in listed], [(2, "strapped again"), (1, "first table")])
        frozen = self.at("table", issued="1").json()
        self.assertEqual(frozen["volume_l"], before["volume_l"])
        self.assertEqual(frozen["u95_l"], before["u95_l"])
        self.assertEqual(IssuedTable.objects.get(number=1).document["shape"]["diameter_mm"], 2400)
        self.assertNotEqual(self.at("table").json()["volume_l"][100], before["volume_l"][100])

    def test_nobody_changes_one(self) -> None:
        self.issue()
        issued = IssuedTable.objects.get()
        issued.why = "another"
        for act in (issued.save, issued.delete, IssuedTable.objects.all().delete):
            with self.assertRaises(InputError):
                act()
        with self.assertRaises(InputError):
            IssuedTable.objects.update(why="another")
        with connection.cursor() as cursor:
            for statement in ("UPDATE tanks_issuedtable SET why = 'x'", "DELETE FROM tanks_issuedtable"):
                with self.assertRaises(DatabaseError), transaction.atomic():
                    cursor.execute(statement)
        self.client.force_login(self.lead)
        self.refused(self.send("delete", f"tanks/{self.tank.pk}/"), 409)

    def test_without_a_reason_or_of_no_such_number(self) -> None:
        body = {"step": "10", "step_unit": "mm", "why": "  ", "revision": 1}
        self.assertIn("why", self.refused(self.send("post", f"tanks/{self.tank.pk}/issued/", body)))
        for number in ("7", "x", "99999999999999"):
            self.assertIn("issued", self.refused(self.at("table", issued=number)))

    def test_a_survey_after_it_calls_for_a_person(self) -> None:
        def table_station() -> dict:
            stations = self.at("stations").json()
            return next(one for one in stations if one["key"] == "table")

        self.assertIn("not issued", table_station()["words"])
        self.issue()
        self.assertEqual(table_station()["state"], "done")
        self.resurvey(**{"shape.shell_length_mm": "6050 mm"})
        self.assertEqual(table_station()["state"], "needs you")


class Compared(TableTest):
    def test_two_revisions_and_a_chart(self) -> None:
        self.issue()
        same = self.at("compare", first="table-1", second="current").json()
        self.assertAlmostEqual(same["worst_l"], 0.0, places=6)
        self.resurvey(**{"shape.shell_length_mm": "6060 mm"})
        # By hand: 60 mm more of a full circle of 2.4 m.
        longer = self.at("compare", first="table-1", second="current").json()
        self.assertAlmostEqual(longer["worst_l"], 3.14159265 * 1.44 * 60, places=3)
        self.assertAlmostEqual(longer["worst_level_mm"], 2400)
        kept = self.send("post", f"tanks/{self.tank.pk}/charts/", {"name": "wall", "text": CHART, "mapping": MAPPING})
        self.assertEqual((kept.status_code, kept.json()["point_count"]), (201, 3))
        against = self.at("compare", first=f"chart-{kept.json()['id']}", second="current").json()
        self.assertEqual(against["first"], "wall")
        self.assertEqual(len(against["innage_mm"]), len(against["difference_l"]))
        listed = self.at("charts").json()["results"]
        self.assertEqual(listed[0]["made_by"], "Tess Till")
        self.refused(self.send("delete", f"charts/{listed[0]['id']}/"), 403)
        self.client.force_login(self.lead)
        self.assertEqual(self.send("delete", f"charts/{listed[0]['id']}/").status_code, 204)
        self.assertEqual(self.at("charts").json()["count"], 0)

    def test_what_is_not_there(self) -> None:
        for key in ("table-1", "chart-1", "chart-x", "other"):
            self.assertIn("first", self.refused(self.at("compare", first=key)))


class Files(TableTest):
    def test_every_file_holds_the_same_table(self) -> None:
        query = {"step": "100", "step_unit": "mm"}
        shown = self.at("table", **query).json()
        rows = list(csv.DictReader(io.StringIO(self.at("table.csv", **query).content.decode())))
        self.assertEqual([float(row["volume_l"]) for row in rows], shown["volume_l"])
        book = load_workbook(io.BytesIO(self.at("table.xlsx", **query).content))
        sheet = list(book["Table"].iter_rows(values_only=True))
        self.assertEqual(sheet[0][:3], ("innage_mm", "volume_l", "u95_l"))
        self.assertEqual([row[1] for row in sheet[1:]], shown["volume_l"])
        self.assertEqual(book["About"]["B1"].value, "Net loft diesel")
        told = json.loads(self.at("table.json", **query).content)
        self.assertEqual(told["columns"]["volume_l"], shown["volume_l"])
        self.assertEqual(told["tank_file"], self.tank.document)
        self.assertIn(
            "not issued", PdfReader(io.BytesIO(self.at("table.pdf", **query).content)).pages[0].extract_text()
        )

    def test_an_issued_table_says_so_in_its_files(self) -> None:
        self.issue("first of all", "2")
        sheet = self.at("table.pdf", issued="1")
        words = PdfReader(io.BytesIO(sheet.content)).pages[0].extract_text()
        self.assertIn("first of all", words)
        self.assertIn("table 1", words)
        self.assertIn("by Tess Till", words)
        self.assertLessEqual(len(PdfReader(io.BytesIO(sheet.content)).pages), 2)
        self.assertIn("table-1.csv", self.at("table.csv", issued="1")["Content-Disposition"])

    def test_names_that_look_like_formulas_stay_text(self) -> None:
        document = example(name="=1+1 tank")
        self.tank = import_tank(self.site, text(document), self.technician)
        book = load_workbook(io.BytesIO(self.at("table.xlsx").content))
        self.assertEqual(book["About"]["B1"].value, "'=1+1 tank")

    def test_range_and_ullage(self) -> None:
        part = self.at("table", step="100", step_unit="mm", start="500 mm", end="0.9 m").json()
        self.assertEqual(part["innage_mm"], [500, 600, 700, 800, 900])
        down = self.at("table", step="10", step_unit="cm", by="ullage").json()
        self.assertEqual(down["ullage_mm"][:3], [150, 200, 300])
        self.assertEqual(down["innage_mm"], sorted(down["innage_mm"], reverse=True))
        for query, where in (({"start": "3 m"}, "from"), ({"by": "feel"}, "by"), ({"end": "up"}, "end")):
            self.assertIn(where, self.refused(self.at("table", **query)))

    def test_the_float_gauge_is_told_with_its_worst_place(self) -> None:
        shown = self.at("table", step="1", step_unit="mm").json()
        gaps = [f - v for f, v in zip(shown["linear_pct"], shown["volume_pct"], strict=True)]
        worst = max(gaps, key=abs)
        self.assertAlmostEqual(shown["worst_gauge"]["difference_pct"], worst, places=6)
        self.assertAlmostEqual(gaps[shown["innage_mm"].index(shown["worst_gauge"]["innage_mm"])], worst, places=6)


class Liquids(TableTest):
    QUERY = {"density": "838 kg/m3", "density_at": "12", "temperature": "7,5 °C", "water": "25 mm"}

    def test_at_the_line_and_in_the_rows(self) -> None:
        told = self.at("contents", innage_mm="1200", **self.QUERY).json()
        self.assertAlmostEqual(told["standard_l"], told["gross_l"] * told["liquid"]["correction"], places=6)
        self.assertAlmostEqual(
            told["gross_l"] + told["water_l"], float(self.tank.file.tank.volume(1.2)) * 1000, places=6
        )
        table = self.at("table", step="100", step_unit="mm", **self.QUERY).json()
        self.assertAlmostEqual(table["standard_l"][12], told["standard_l"], places=5)
        self.assertAlmostEqual(table["mass_kg"][12], told["mass_kg"], places=4)
        self.assertIsNone(self.at("table").json()["standard_l"])
        rows = self.at("table.csv", step="100", step_unit="mm", **self.QUERY).content.decode().splitlines()
        self.assertTrue(rows[0].endswith("standard_l,mass_kg"))

    def test_an_issued_table_keeps_the_water_of_its_own_tank(self) -> None:
        self.issue(step="100")
        query = {"step": "100", "step_unit": "mm", "issued": "1", **self.QUERY, "water": "300 mm"}
        before = self.at("table", **query).json()
        self.resurvey(**{"shape.shell_length_mm": "9 m"})
        after = self.at("table", **query).json()
        self.assertEqual(after["standard_l"], before["standard_l"])
        self.assertEqual(after["mass_kg"], before["mass_kg"])
        self.assertGreater(self.at("table", **query | {"issued": ""}).json()["mass_kg"][12], after["mass_kg"][12])

    def test_bad_liquids_are_refused_at_their_field(self) -> None:
        for query, where in (
            ({"density": "1 kg/m3"}, "density"),
            ({"temperature": "hot"}, "temperature"),
            ({"standard": "0C"}, "standard"),
            ({"water": "-3 mm"}, "water"),
        ):
            self.assertIn(where, self.refused(self.at("contents", **query)))


class Devices(TableTest):
    def test_three_ways_and_their_files(self) -> None:
        query = {"count": "12", "level_resolution": "5 mm", "volume_resolution": "10 L"}
        told = self.at("points", **query).json()
        self.assertGreater(told["even"]["error_l"], told["on_curve"]["error_l"])
        self.assertGreater(told["on_curve"]["error_l"], told["free"]["error_l"])
        rows = list(csv.DictReader(io.StringIO(self.at("points.csv", which="free", **query).content.decode())))
        self.assertEqual([float(row["level_mm"]) for row in rows], told["free"]["level_mm"])
        told_json = json.loads(self.at("points.json", which="even", **query).content)
        self.assertEqual(told_json["worst_error_l"], told["even"]["error_l"])
        self.assertEqual(told_json["points"][3]["volume_l"], told["even"]["volume_l"][3])

    def test_bad_questions(self) -> None:
        for query, where in (
            ({"count": "1"}, "points"),
            ({"count": "many"}, "count"),
            ({"level_resolution": "9 m"}, "level_resolution"),
        ):
            self.assertIn(where, self.refused(self.at("points", **query)))
        self.assertIn("which", self.refused(self.at("points.csv", which="best")))


class Budgets(TableTest):
    def test_where_the_uncertainty_comes_from(self) -> None:
        told = self.at("budget", innage_mm="1200").json()
        table = make_table(self.tank.file, 0.1)
        self.assertAlmostEqual(told["u95_l"], float(table.u95_m3[12]) * 1000, places=6)
        self.assertAlmostEqual(sum(share["share_pct"] for share in told["shares"]), 100.0, places=6)
        self.assertIn("Slope", told["unstated"])
        self.assertIn("innage_mm", self.refused(self.at("budget", innage_mm="deep")))


class Charts(TableTest):
    def preview(self, **body):
        return self.send("post", "charts/preview/", body)

    def workbook(self) -> str:
        book = Workbook()
        for row in (("Level mm", "Volume L"), (0, 0), (100.5, 40), (200, 110.25)):
            book.active.append(row)
        out = io.BytesIO()
        book.save(out)
        return base64.b64encode(out.getvalue()).decode()

    def test_a_preview_keeps_nothing(self) -> None:
        told = self.preview(text=CHART).json()
        self.assertEqual(told["mapping"], MAPPING)
        self.assertEqual(told["points"], [[0, 0], [1200, 15000], [2400, 30000]])
        self.assertEqual(told["head"][0], ["Dip (cm)", "Content (litre)"])
        wrong = self.preview(text=CHART, mapping=MAPPING | {"level_column": 1, "volume_column": 0}).json()
        self.assertEqual(wrong["points"][-1], [300000, 240])
        broken = self.preview(text=CHART.replace("120;15.000,0", "120;")).json()
        self.assertIsNone(broken["points"])
        self.assertEqual(broken["problems"][0]["where"], "row 3")
        self.assertEqual((Chart.objects.count(), Tank.objects.count()), (0, 1))

    def test_a_workbook(self) -> None:
        told = self.preview(workbook=self.workbook()).json()
        self.assertEqual(told["points"], [[0, 0], [100.5, 40], [200, 110.25]])
        for bad in ("not base64", base64.b64encode(b"PK no workbook").decode()):
            self.assertIn("workbook", self.refused(self.preview(workbook=bad)))

    def test_a_tank_of_a_chart(self) -> None:
        body = {"site": self.site.pk, "name": "From the wall", "product": "diesel", "text": CHART, "mapping": MAPPING}
        made = self.send("post", "charts/tank/", body)
        self.assertEqual(made.status_code, 201, made.content)
        self.assertAlmostEqual(made.json()["facts"]["capacity_l"], 30000)
        tank = Tank.objects.get(pk=made.json()["id"])
        self.assertEqual(tank.document["shape"]["kind"], "points")
        self.assertEqual(self.send("get", f"tanks/{tank.pk}/table/").status_code, 200)
        self.assertIn("name", self.refused(self.send("post", "charts/tank/", body)))
        self.assertIn("name", self.refused(self.send("post", "charts/tank/", body | {"name": ""})))


class Labels(TableTest):
    def picture(self, rotate: float = 0.0) -> str:
        from rasante.tanks.labels import code_of

        out = io.BytesIO()
        code_of(self.tank).save(out, kind="png", scale=6)
        image = Image.open(out).convert("RGB").rotate(rotate, expand=True, fillcolor="white")
        again = io.BytesIO()
        image.save(again, "JPEG", quality=70)
        return base64.b64encode(again.getvalue()).decode()

    def test_from_the_tank_to_a_picture_and_back_to_a_tank(self) -> None:
        for turned in (0.0, 90.0, 7.0):
            read = self.send("post", "tanks/read-picture/", {"picture": self.picture(turned)})
            self.assertEqual(json.loads(read.json()["text"]), self.tank.document)
        label = self.at("label").json()["text"]
        self.tank.delete()
        made = self.send("post", "tanks/import/", {"site": self.site.pk, "text": label})
        self.assertEqual(made.status_code, 201, made.content)
        self.assertEqual(Tank.objects.get(pk=made.json()["id"]).document, example())

    def test_the_sheet_and_the_screen(self) -> None:
        self.assertIn(b"<svg", self.at("label.svg").content)
        words = PdfReader(io.BytesIO(self.at("label.pdf").content)).pages[0].extract_text()
        self.assertIn("Net loft diesel", words)
        self.assertIn("30060.1 L", words)

    def test_pictures_that_hold_no_label(self) -> None:
        out = io.BytesIO()
        Image.new("RGB", (200, 200), "white").save(out, "PNG")
        blank = base64.b64encode(out.getvalue()).decode()
        for picture, words in (
            (blank, "no code can be made out"),
            (base64.b64encode(b"not a picture").decode(), "no picture"),
            ("%%%", "did not arrive whole"),
        ):
            problems = self.refused(self.send("post", "tanks/read-picture/", {"picture": picture}))
            self.assertIn(words, problems["picture"])


class Profiles(TableTest):
    def save(self, **changes: str):
        body = {"tank": self.tank.pk, "capacity": "30 m3", "overall_diameter": "2416 mm", "system": "metric"}
        return self.send("post", "profiles/", body | changes)

    def standing(self, tank: Tank) -> str | None:
        profile = self.send("get", f"tanks/{tank.pk}/").json()["profile"]
        return profile and profile["standing"]

    def test_named_by_capacity_and_overall_diameter(self) -> None:
        made = self.save()
        self.assertEqual((made.status_code, made.json()["name"]), (201, "30 m3, Ø 2416 mm"))
        self.assertEqual([tank["name"] for tank in made.json()["used_by"]], ["Net loft diesel"])
        # The same sizes in other units are the same profile.
        self.assertIn("overall_diameter", self.refused(self.save(capacity="30000 L", overall_diameter="2.416 m")))
        self.assertIn("capacity", self.refused(self.save(capacity="")))
        self.assertEqual(self.save(overall_diameter="2300 mm").status_code, 201)

    def test_a_change_of_a_profile_changes_no_tank(self) -> None:
        profile = self.save().json()
        blank = {"name": "Second", "product": "petrol", "shape.kind": "sphere", "shape.diameter_mm": "3 m"}
        applied = self.send("post", f"profiles/{profile['id']}/apply/", {"entries": blank}).json()["entries"]
        self.assertEqual((applied["name"], applied["shape.kind"]), ("Second", "horizontal_cylinder"))
        body = {"site": self.site.pk, "entries": applied, "system": "metric", "profile": profile["id"]}
        second = Tank.objects.get(pk=self.send("post", "tanks/", body).json()["id"])
        self.assertEqual(self.standing(second), "same")
        self.assertEqual(second.document["shape"], self.tank.document["shape"])
        self.resurvey(**{"shape.shell_length_mm": "6080 mm"})
        self.assertEqual(self.standing(self.tank), "own")
        change = {"tank": self.tank.pk, "revision": 1}
        self.assertEqual(self.send("put", f"profiles/{profile['id']}/", change).json()["revision"], 2)
        self.assertEqual((self.standing(self.tank), self.standing(second)), ("same", "newer"))
        second.refresh_from_db()
        self.assertEqual(second.document["shape"]["shell_length_mm"], 6000)
        self.assertEqual(self.send("put", f"profiles/{profile['id']}/", change).status_code, 409)
        self.client.force_login(self.lead)
        self.assertEqual(self.send("delete", f"profiles/{profile['id']}/").status_code, 204)
        self.assertIsNone(self.standing(second))
        self.assertEqual(Profile.objects.count(), 0)
