"""What is not 4–20 mA, in the browser: proven by counts, wired as 2–10 V, cut as a rod; and an old database."""

from __future__ import annotations

import re

from tests.prepared import LATER

from .expecting import expect
from .harness import DESK, BrowserTest, Server, open_page, sign_in
from .screenshots import open_tank, pane

STATIONS = ("Survey", "Table", "Gauge", "Wiring", "Scale", "Prove")


class Signals(BrowserTest):
    def test_a_card_is_proven_by_its_counts(self) -> None:
        page = self.page
        open_tank(page, "Quay diesel north", "Prove")
        page.get_by_role("button", name="Begin a proof").click()
        page.get_by_label("Applied", exact=True).select_option("Counts of the input card")
        page.get_by_label("Read", exact=True).select_option("Register")
        # What is applied follows: the card's counts at the five signals, not milliamperes.
        expect(page.get_by_label("Point 3: applied")).to_have_value(re.compile(r"^\d+$"))
        page.get_by_label("Point 5: applied").fill("27000")
        page.get_by_label("Applied", exact=True).select_option("Signal injected at the input")
        expect(page.get_by_label("Point 1: applied")).to_have_value("4 mA")
        expect(page.get_by_label("Point 5: applied")).to_have_value("27000")
        page.get_by_label("Applied", exact=True).select_option("Counts of the input card")
        point = page.get_by_role("group", name="Point 3")
        # Half of a 2.4 m span, in the register's millimetres.
        expect(point.locator(".should-read")).to_have_text("1200")
        page.get_by_label("Point 3, as found, rising").fill("1200")
        expect(point.locator(".reading-error")).to_contain_text("●")
        # A word that stands at twice what it should is told by how much it is out.
        page.get_by_label("Point 3, as found, rising").fill("2400")
        expect(point.locator(".reading-error")).to_contain_text("out")
        expect(point.locator(".reading-error")).to_contain_text("▲")
        # What is no number is told at its field, and what was typed stays.
        page.get_by_label("Point 3, as found, rising").fill("many")
        expect(point.locator(".problem")).to_be_visible()
        expect(page.get_by_label("Point 3, as found, rising")).to_have_value("many")
        page.get_by_label("Point 3, as found, rising").fill("")
        page.get_by_label("Remarks").fill("counts by the card's own display")
        expect(page.get_by_text(re.compile(r"^saved \d"))).to_be_visible()

    def test_a_two_to_ten_volt_sensor_is_wired_read_and_scaled(self) -> None:
        page = self.page
        open_tank(page, "Boiler oil", "Wiring")
        page.get_by_label("Link", exact=True).select_option("three_wire")
        page.get_by_label("Output", exact=True).select_option("2-10")
        expect(page.get_by_text("2–10 V, 20 mA")).to_be_visible()
        page.get_by_label("Supply", exact=True).fill("24 V")
        page.get_by_role("button", name="Keep this wiring").click()
        expect(page.get_by_text("Kept, revision 1")).to_be_visible()
        page.get_by_role("tab", name="Meter").click()
        # 24 V less what 20 mA lose in fuse and cable stands over the sensor.
        expect(page.get_by_role("status", name="The meter shows")).to_contain_text(re.compile(r"23\.8\d* V"))
        pane(page, "Boiler oil", "Chain", "Scale")
        page.locator('[data-reading="innage"] button').click()
        page.get_by_label("Innage: go to").fill("0 mm")
        page.keyboard.press("Enter")
        # No gauge is planned: the chain starts from the circuit, whose sensor stands at 2 V when it is empty.
        expect(page.locator("tr.rung").filter(has=page.get_by_text("Transmitter", exact=True))).to_contain_text("2 V")

    def test_a_guided_radar_is_cut_in_one_piece_or_told_why_not(self) -> None:
        page = self.page
        open_tank(page, "Boiler oil", "Gauge")
        page.get_by_role("listitem").filter(has_text="Guided radar").first.get_by_role("button").first.click()
        page.get_by_role("button", name=re.compile("^Choose .*uided")).first.click()
        page.get_by_role("tab", name="Cut").click()
        expect(page.get_by_text(re.compile("is more than this probe can be joined to, 4000 mm"))).to_be_visible()
        page.get_by_label("Depth at the very spot").fill("2 m")
        expect(page.locator(".cut-big")).to_contain_text(re.compile(r"1\s?97[23]"))
        expect(page.locator(".steps")).not_to_contain_text("tube")
        page.get_by_role("button", name="Discard changes").click()


class OldDatabase(BrowserTest):
    def test_a_database_of_before_is_migrated_and_every_station_opens(self) -> None:
        old = Server("before_rooms")
        self.addCleanup(old.stop)
        old.start()
        page = open_page(self.browser, old.url, DESK)
        self.addCleanup(page.context.close)
        refused: list[str] = []
        page.on("response", lambda got: refused.append(f"{got.status} {got.url}") if got.status >= 400 else None)
        sign_in(page, *LATER)
        refused.clear()
        for tank in ("Quay diesel south", "Process water"):
            for station in STATIONS:
                open_tank(page, tank, station)
        # Two drafts stand there: the older one is of the code before.
        page.get_by_role("list", name="Proofs").get_by_role("button").nth(1).click()
        expect(page.get_by_label("Point 1, as found, rising")).to_have_value("2 mm")
        open_tank(page, "Quay diesel south", "Prove")
        expect(page.get_by_role("article", name="Signed proof")).to_be_visible()
        pane(page, "Quay diesel south", "Chain", "Scale")
        expect(page.locator("tr.rung").first).to_be_visible()
        self.assertEqual(refused, [])
