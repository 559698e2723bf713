"""Surveys as they are taken: courses, sumps, slopes, dips, points; tables handed on; what a lead may take away."""

from __future__ import annotations

import re
from math import pi

from .expecting import expect
from .harness import BrowserTest, go
from .screenshots import open_tank
from .test_main_job import choose_file, content, go_to, pdf_words, reading
from .test_tables import new_tank, pane


class Surveys(BrowserTest):
    def test_a_strapped_tank_with_all_that_is_below_its_floor(self) -> None:
        page = self.page
        new_tank(page, "Brine", "Upright, strapped by courses")
        page.get_by_label("Product", exact=True).fill("water")
        page.get_by_role("button", name="Add course").click()
        for number, row in enumerate((("15750", "6", "1500"), ("15740", "5", "1490")), start=1):
            for label, typed in zip(("outside circumference", "plate", "height"), row, strict=True):
                page.get_by_label(f"course {number}: {label}").fill(f"{typed} mm")
        areas = [pi * (around / 2 / pi - plate) ** 2 for around, plate in ((15.750, 0.006), (15.740, 0.005))]
        whole = (areas[0] * 1.5 + areas[1] * 1.49) * 1000
        holds = page.locator(".capacity").first
        expect(holds).to_contain_text(f"{whole:,.1f} L".replace(",", "\u202f"))

        # Heel and sump are there before the floor is wet; the suction leaves some of it.
        page.get_by_label("Floor heel").fill("60 L")
        page.get_by_label("Sump, depth (if any)", exact=True).fill("300")
        expect(page.get_by_text("type both")).to_be_visible()
        page.get_by_label("Sump, volume").fill("30 L")
        page.get_by_label("Suction (if any)", exact=True).fill("-100 mm")
        page.get_by_label("Safe fill").fill("95")
        expect(holds).to_contain_text("unpumpable 20.0 L")
        expect(holds).to_contain_text(f"Safe fill {(whole + 90) * 0.95:,.1f} L".replace(",", "\u202f"))

        # The overflow by rings; a course too many is taken out again.
        page.get_by_label("Overflow: how it was measured").click()
        page.get_by_label("Overflow: comes from").select_option("Rings × course height")
        page.get_by_label("Rings", exact=True).fill("1")
        page.get_by_label("One course").fill("1.5 m")
        page.get_by_label(re.compile("^And above")).fill("1,2 m")
        expect(page.get_by_text("to the overflow")).to_be_visible()
        page.get_by_role("button", name="Add course").click()
        page.get_by_label("course 3: plate").fill("9 m")
        expect(page.get_by_role("button", name="Keep this tank")).to_be_disabled()
        page.get_by_role("button", name="Remove course 3").click()
        page.get_by_label("Product cut").fill("1,1 m")
        page.get_by_label("Water cut").fill("2 m")
        expect(page.get_by_text("swap them?")).to_be_visible()
        page.get_by_label("Water cut").fill("")
        expect(page.get_by_text("Liquid to")).to_contain_text("1\u202f100.0 mm")
        page.get_by_role("button", name="Keep this tank").click()
        expect(page.get_by_role("heading", name="Brine")).to_be_visible()
        go_to(page, "Survey")
        expect(page.get_by_label("One course")).to_have_value("1.5 m")
        expect(page.get_by_label("Sump, volume")).to_have_value("30 L")

    def test_deadwood_rows_keep_their_order(self) -> None:
        page = self.page
        new_tank(page, "Coil tank", "Box")
        for label, typed in (("Inside length", "2 m"), ("Inside width", "1 m"), ("Inside height", "1 m")):
            page.get_by_label(label, exact=True).fill(typed)
        for number, volume in enumerate(("-10 L", "-20 L", "-30 L"), start=1):
            page.get_by_role("button", name="Add deadwood").click()
            page.get_by_label(f"deadwood {number}: from").fill("100 mm")
            page.get_by_label(f"deadwood {number}: to").fill("500 mm")
            page.get_by_label(f"deadwood {number}: volume").fill(volume)
        holds = page.locator(".capacity").first
        expect(holds).to_contain_text("1\u202f940.0 L")
        page.get_by_role("button", name="Remove deadwood 2").click()
        expect(page.get_by_label("deadwood 2: volume")).to_have_value("-30 L")
        expect(holds).to_contain_text("1\u202f960.0 L")
        page.get_by_label("deadwood 1: volume").fill("-3000 L")
        expect(page.get_by_text("the volume would fall as the level rises")).to_be_visible()

    def test_a_chart_that_is_typed(self) -> None:
        page = self.page
        new_tank(page, "Lorry pot", "Known by its table only")
        for number, (level, volume) in enumerate((("0", "0"), ("200 mm", "120"), ("400 mm", "100 L")), start=1):
            if number > 2:
                page.get_by_role("button", name="Add point").click()
            page.get_by_label(f"point {number}: level").fill(level)
            page.get_by_label(f"point {number}: volume").fill(volume)
        expect(page.get_by_text("a tank does not lose volume as it fills")).to_be_visible()
        page.get_by_label("point 3: volume").fill("300 L")
        page.get_by_label("What the table is for").select_option(
            "A device: straight lines between points, as it draws them"
        )
        page.get_by_role("button", name="Keep this tank").click()
        expect(page.get_by_role("heading", name="Lorry pot")).to_be_visible()
        page.locator('[data-reading="innage"] button').click()
        page.get_by_label("Innage: go to").fill("300 mm")
        page.keyboard.press("Enter")
        expect(page.locator('[data-reading="volume"] .mono')).to_have_text("210.0")


class OnAPhone(BrowserTest):
    def test_a_slope_in_inches_to_the_foot(self) -> None:
        page = self.phone()
        go(page, "/tanks/new")
        page.get_by_role("button", name="US", exact=True).click()
        new_tank(page, "Saddle tank", "Box")
        for label, typed in (("Inside length", "10 ft"), ("Inside width", "4 ft"), ("Inside height", "4 ft")):
            page.get_by_label(label, exact=True).fill(typed)
        slope = page.get_by_label("Slope (if any)")
        slope.fill("1/4 in/ft")
        expect(page.get_by_text("20.83 mm/m, 0.25 in/ft (1.19°)")).to_be_visible()
        page.get_by_label("Gauge position (if any)", exact=True).fill("0")
        page.get_by_role("button", name="Keep this tank").click()
        expect(page.get_by_role("heading", name="Saddle tank")).to_be_visible()
        page.locator('[data-reading="innage"] button').click()
        page.get_by_label("Innage: go to").fill("2 ft")
        page.keyboard.press("Enter")
        expect(page.locator('[data-reading="innage"] .mono')).to_have_text("24.00")
        # By hand: the mean depth along the floor is 24 in ÷ cos θ at the gauge, less half the rise of 2½ in.
        depth = 24 * (1 + (0.25 / 12) ** 2) ** 0.5 - 1.25
        gallons = 120 * 48 * depth / 231
        self.assertAlmostEqual(reading(page, "volume"), gallons, delta=0.06)


class Handed(BrowserTest):
    def test_tables_by_ullage_in_a_range_and_as_issued(self) -> None:
        page = self.page
        open_tank(page, "Quay diesel north", "Table")
        page.get_by_role("button", name="Ullage", exact=True).click()
        first = page.locator(".rows-head span").first
        expect(first).to_have_text("Ullage mm")
        page.get_by_role("button", name="Range").click()
        page.get_by_label("From innage").fill("2 m")
        expect(
            page.get_by_text("41 rows in steps of 10 mm").or_(page.get_by_text("42 rows in steps of 10 mm"))
        ).to_be_visible()
        page.get_by_label("To innage").fill("1 m")
        expect(page.get_by_role("alert")).to_contain_text("is empty")
        page.get_by_label("To innage").fill("")
        page.get_by_role("combobox", name="Table").select_option("issued 1")
        expect(page.get_by_text("as issued under number 1")).to_be_visible()
        with page.expect_download() as got:
            choose_file(page, "Table, PDF sheet")
        words = pdf_words(got.value)
        self.assertIn("first table, from the data plate", words)
        self.assertIn("2390 mm", words)
        with page.expect_download() as got:
            choose_file(page, "Table, XLSX workbook")
        self.assertEqual(content(got.value)[:2], b"PK")
        page.get_by_role("button", name="QR label").click()
        with page.expect_download() as got:
            page.get_by_role("link", name="Label sheet, PDF").click()
        self.assertIn("Quay diesel north", pdf_words(got.value))

    def test_what_only_a_lead_takes_away(self) -> None:
        page = self.page
        open_tank(page, "Quay diesel north", "Table")
        pane(page, "Issue and compare")
        expect(page.locator(".charts-kept")).to_contain_text("25 points")
        expect(page.locator(".charts-kept").get_by_role("button", name="Delete")).to_have_count(0)
        lead = self.window("lead")
        open_tank(lead, "Quay diesel north", "Table")
        pane(lead, "Issue and compare")
        lead.locator(".charts-kept").get_by_role("button", name="Delete").click()
        lead.get_by_role("dialog").get_by_role("button", name=re.compile("^Delete Maker")).click()
        expect(lead.locator(".charts-kept")).to_have_count(0)
        go(lead, "/profiles")
        lead.get_by_role("button", name="Delete", exact=True).click()
        lead.get_by_role("dialog").get_by_role("button", name=re.compile("^Delete 500 US gal")).click()
        expect(lead.get_by_text("There is no profile yet")).to_be_visible()
        # The tanks that used it keep their dimensions.
        open_tank(lead, "Village vessel, manse", "Survey")
        expect(lead.get_by_label("Shell length", exact=True)).to_have_value("8' 2\"")
