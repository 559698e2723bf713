"""The line without a tank, at a stranger's tank: from the board in three taps and one value, and on to a tank."""

from __future__ import annotations

import re

from playwright.sync_api import Page

from .expecting import expect
from .harness import PHONE, BrowserTest, go


def value(page: Page, name: str):
    return page.get_by_label(name, exact=True)


class LineWithoutATank(BrowserTest):
    def test_on_a_phone_in_three_taps_and_one_value(self) -> None:
        page = self.phone()
        go(page, "/")
        page.get_by_role("group", name="Units").get_by_role("button", name="US").tap()
        # The board is open. One: the line. Two: the field. Then one value.
        page.get_by_role("link", name="Line").tap()
        value(page, "Sent").tap()
        page.keyboard.type("10.4")
        says = page.locator(".line-says")
        expect(says).to_contain_text("At 10.4 mA a 0–15 psi sensor stands under 13.9 ft of water.")
        expect(says).to_contain_text("If it is 0–5 psi, 4.6 ft; if it is 0–10 psi, 9.2 ft")
        expect(value(page, "Level")).to_have_value("13.9 ft")
        expect(value(page, "Counts")).to_have_value("17039")
        box = value(page, "Level").bounding_box()
        assert box is not None
        self.assertGreaterEqual(box["height"], 44)
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), PHONE["width"])
        # It stays on the device, in its own units, until it is cleared.
        page.get_by_role("group", name="Units").get_by_role("button", name="Metric").tap()
        expect(page.get_by_text("typed here is in US units")).to_be_visible()
        page.reload()
        expect(value(page, "Level")).to_have_value("13.9 ft")
        page.get_by_role("button", name="Clear it all").tap()
        expect(page.locator(".line-says")).to_have_count(0)
        expect(value(page, "Level")).to_have_value("")

    def test_two_values_part_and_it_becomes_a_tank(self) -> None:
        page = self.page
        go(page, "/")
        page.get_by_role("heading", name="Needs a person").click()
        page.keyboard.press("l")
        page.get_by_role("heading", name="Line", exact=True).wait_for()
        page.get_by_label("Range, high end").fill("0.25 bar")
        value(page, "Sent").fill("12 mA")
        # 0.125 bar of water.
        expect(value(page, "Level")).to_have_value("1.28 m")
        value(page, "Shown").fill("2.04 m")
        expect(page.locator(".line-parting")).to_contain_text("Truth and reading part at the")
        expect(page.locator(".line-parting li").first).to_be_visible()
        value(page, "Sent").fill("twelve")
        expect(page.locator(".line-stop .problem").first).to_be_visible()
        expect(value(page, "Shown")).to_have_value("2.04 m")
        value(page, "Sent").fill("12 mA")
        # What is below moves up when the refusal goes: a press before that may miss.
        expect(page.locator(".line-parting li").first).to_be_visible()
        expect(page.locator(".line-stop .problem")).to_have_count(0)
        page.get_by_role("button", name="As a tank").click()
        page.get_by_label("Name of the tank").fill("Stranger at the mill")
        page.get_by_role("button", name="Make the tank").click()
        expect(page.get_by_role("alert")).to_be_visible()
        page.get_by_label("Height", exact=True).fill("2.5 m")
        page.get_by_label("Diameter", exact=True).fill("2 m")
        expect(value(page, "Volume")).to_have_value(re.compile(r"^40\d\d(\.\d)? L$"))
        page.get_by_role("button", name="Make the tank").click()
        expect(page.get_by_role("heading", name="Stranger at the mill")).to_be_visible()
        expect(page.get_by_label("Range, high end")).to_have_value("0.25 bar")
        page.get_by_role("link", name="Line").click()
        expect(value(page, "Sent")).to_have_value("")

    def test_it_becomes_a_finding(self) -> None:
        page = self.page
        go(page, "/")
        page.get_by_role("link", name="Line").click()
        value(page, "Level").fill("1.1 m")
        page.get_by_role("button", name="As a finding on a tank").click()
        page.get_by_label("Find the tank").fill("Header")
        expect(page.get_by_label("Tank", exact=True)).to_contain_text("Header tank")
        page.get_by_role("button", name="Keep it there").click()
        expect(page.get_by_text("Kept with its readings.")).to_be_visible()
        page.get_by_role("link", name="Where it parts").click()
        expect(page.get_by_label(re.compile(r"^Level, readings \d+$")).first).to_be_visible()
        go(page, "/line")
        page.get_by_role("button", name="Clear it all").click()
