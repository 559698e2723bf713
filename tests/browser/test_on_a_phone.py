"""The job on a phone, in US units, as it is done on a ladder."""

from __future__ import annotations

import re

from .expecting import expect
from .harness import BrowserTest, go
from .test_main_job import go_to, reading

GALLON_IN3 = 231  # NIST Handbook 44, appendix C: cubic inches in a US gallon.


class OnAPhone(BrowserTest):
    def test_survey_scale_and_prove_in_us_units(self) -> None:
        page = self.phone()
        go(page, "/tanks/new")
        page.get_by_role("button", name="US", exact=True).click()

        # Survey: a box of 60 × 40 × 30 in, the units left out as one does.
        page.get_by_label("Name", exact=True).fill("Pump house")
        page.get_by_label("Product", exact=True).fill("process water")
        page.get_by_label("Kind").select_option("Box")
        for label, typed in (("Inside length", "60"), ("Inside width", "3' 4\""), ("Inside height", "30 in")):
            page.get_by_label(label, exact=True).fill(typed)
        page.get_by_label(re.compile("^Reference height")).fill("2 ft 9 1/2")
        capacity = 60 * 40 * 30 / GALLON_IN3
        expect(page.get_by_text(f"{capacity:.1f} US gal").first).to_be_visible()
        page.get_by_role("button", name="Keep this tank").click()
        expect(page.get_by_role("heading", name="Pump house")).to_be_visible()
        expect(page.get_by_text("241 rows in steps of 1/8 in")).to_be_visible()
        self.assertAlmostEqual(reading(page, "volume"), capacity / 2, delta=0.06)
        self.assertAlmostEqual(reading(page, "ullage"), 18.5, delta=0.006)

        # What was typed bare was read in inches, and stays so in the other system.
        go_to(page, "Survey")
        expect(page.get_by_label("Inside length", exact=True)).to_have_value("60 in")
        page.get_by_role("button", name="Metric").click()
        expect(page.get_by_label("Inside length", exact=True)).to_have_value("60 in")
        expect(page.get_by_text("1\u202f524.0 mm · 60.00 in")).to_be_visible()
        page.get_by_role("button", name="US", exact=True).click()

        # Drag the line with a finger's worth of moves.
        go_to(page, "Scale")
        page.get_by_label("Range, low end").fill("0")
        page.get_by_label("Range, high end").fill("30")
        page.get_by_role("button", name="Keep this chain").click()
        expect(page.get_by_text("Kept, revision 1")).to_be_visible()
        page.get_by_text("Section and line").tap()
        page.get_by_role("slider").scroll_into_view_if_needed()
        box = page.get_by_role("slider").bounding_box()
        assert box is not None
        page.mouse.move(box["x"] + 60, box["y"] + box["height"] / 2)
        page.mouse.down()
        page.mouse.move(box["x"] + 60, box["y"] + box["height"] / 2 + 30, steps=6)
        page.mouse.up()
        level = reading(page, "innage")
        self.assertLess(level, 15)
        self.assertAlmostEqual(reading(page, "arriving"), 4 + 16 * level / 30, delta=0.01)

        # Prove: bare numbers are inches here.
        go_to(page, "Prove")
        page.get_by_role("button", name="Begin a proof").click()
        for number, read in enumerate(("0", "7.5", "15", "22 1/2", "30"), start=1):
            page.get_by_label(f"Point {number}, as found, rising").fill(read)
        for control in ("in manual", "restored"):
            page.get_by_label(f"Control is {control}").check()
        expect(page.get_by_text("Passes").first).to_be_visible()
        page.get_by_label("Your name").fill("Isla Brand")
        page.get_by_label("Your password").fill("skerrow-tech")
        page.get_by_role("button", name="Sign", exact=True).click()
        expect(page.get_by_text("Signed by Isla Brand")).to_be_visible()
        wide = page.evaluate("document.documentElement.scrollWidth - window.innerWidth")
        self.assertLessEqual(wide, 0)
