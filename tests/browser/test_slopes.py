"""The slope from readings, in the browser: typed, judged, chosen, kept, and put into the chain."""

from __future__ import annotations

import re

from .expecting import expect
from .harness import BrowserTest
from .screenshots import pane


class Slopes(BrowserTest):
    def test_an_offset_is_found_and_goes_into_the_chain(self) -> None:
        page = self.page
        pane(page, "Slip petrol", "Slope", "Scale")
        expect(page.get_by_text("No readings yet")).to_be_visible()
        # 156.25 mm a milliampere, hung 100 mm off the floor.
        for number, (signal, level) in enumerate((("5,6", "350 mm"), ("8.8", "850"), ("12 mA", "1.35 m")), start=1):
            page.get_by_role("button", name="Add a reading").click()
            page.get_by_label(f"Reading {number}, signal").fill(signal)
            page.get_by_label("Level, measured").nth(number - 1).fill(level)
        expect(page.get_by_text(re.compile("There is an offset of 100 mm"))).to_be_visible()
        rows = page.get_by_role("region", name="Slopes by school").locator("tbody tr")
        expect(rows).to_have_count(5)
        expect(rows.filter(has_text="Least squares").first).to_contain_text("156.250 mm")
        page.get_by_role("radio", name="Least squares").check()
        expect(page.get_by_role("img", name="Residuals of least squares")).to_be_visible()
        page.get_by_role("button", name="Keep these readings").click()
        expect(page.get_by_text("Kept, revision 1")).to_be_visible()
        page.reload()
        expect(page.get_by_label("Reading 2, signal")).to_have_value("8.8 mA")
        expect(page.get_by_role("radio", name="Least squares")).to_be_checked()
        # A fourth that slipped is told, and taken out again.
        page.get_by_role("button", name="Add a reading").click()
        page.get_by_label("Reading 4, signal").fill("10 mA")
        page.get_by_label("Level, measured").nth(3).fill("1.4 m")
        expect(page.get_by_text("Reading 4 does not fit the others")).to_be_visible()
        page.get_by_role("button", name="Remove reading 4").click()
        expect(page.get_by_text("Reading 4 does not fit the others")).to_have_count(0)
        page.get_by_role("button", name="Put least squares into the chain").click()
        expect(page.get_by_label("Range, low end")).to_have_value("100 mm")
        expect(page.get_by_label("Range, high end")).to_have_value("2600 mm")
        page.get_by_role("button", name="Discard changes").click()
