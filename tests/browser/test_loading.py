"""A tanker at the tank: what fits, while it runs, and what came of it."""

from __future__ import annotations

import re

from .expecting import expect
from .harness import BrowserTest
from .screenshots import open_tank


class Loading(BrowserTest):
    def test_a_load_to_its_stop_point_and_its_record(self) -> None:
        page = self.page
        open_tank(page, "Village vessel, chapel", "Watch")
        page.get_by_role("tab", name="Load").click()
        going = page.get_by_role("region", name="How far it has come")
        # Eighty per cent of 2000 L, or less where the table has it so.
        expect(going).to_contain_text("by the filling limit")
        page.get_by_label("In it before").fill("400 L")
        page.get_by_label("Rate a minute, if no sensor says so").fill("120 L")
        page.get_by_label("By the meter since").fill("500 L")
        expect(going).to_contain_text("20 L still come")
        expect(going).to_contain_text("at this rate")
        page.get_by_label("The code's own figure").fill("95 %")
        expect(page.get_by_text("say which code gives more than is usual").first).to_be_visible()
        page.get_by_label("The code's own figure").fill("")
        # Ten seconds from the word to no flow: the word comes twenty litres early.
        target = float(re.sub(r"[^\d.]", "", going.locator(".going-value").nth(2).text_content() or ""))
        page.get_by_label("By the meter since").fill(f"{target - 410:.0f} L")
        expect(page.get_by_text("stop now: what still comes")).to_be_visible()
        page.get_by_label("By the meter since").fill(f"{target - 300:.0f} L")
        expect(page.get_by_text("more in it than may be: stop")).to_be_visible()
        page.get_by_label("By the meter since").fill(f"{target - 405:.0f} L")
        page.get_by_label("Density", exact=True).fill("507 kg/m3")
        unconfirmed = page.get_by_text(re.compile("is not confirmed"))
        expect(unconfirmed).not_to_have_count(0)
        page.get_by_label("Density confirmed for this load").check()
        # Judged anew: what is said above the button is shorter by a line, and the button stands still.
        expect(unconfirmed).to_have_count(0)
        page.get_by_role("button", name="Keep this load").click()
        expect(page.get_by_text(re.compile("Kept, revision 1"))).to_be_visible()
        page.get_by_role("button", name="Close this load").click()
        record = page.get_by_role("listitem").filter(has_text="Load 1")
        expect(record).to_contain_text("by filling limit")
        with page.expect_download() as download:
            record.get_by_role("link", name="PDF").click()
        self.assertTrue(download.value.suggested_filename.endswith(".pdf"))
        # The next one asks for its density anew.
        expect(page.get_by_label("Density confirmed for this load")).not_to_be_checked()
