"""Opens visits and walks them in Chromium, as a thumb would."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

from playwright.sync_api import Locator, Page

from .expecting import expect
from .harness import BrowserTest, go

PICTURE = Path(__file__).parents[2] / "docs" / "screenshots" / "board.png"
#: What is typed where nothing live is taken.
TYPED = {
    "visit:dip": "400 mm", "visit:supply": "24.1 V", "visit:lel": "0", "visit:tilt": "1.2", "visit:quality": "86",
    "visit:quality_after": "84", "visit:air_ma": "4.02 mA", "visit:float_pct": "52", "visit:sensor_pct": "52",
    "gauge:cut.depth": "640 mm", "gauge:cut.done": "612 mm", "gauge:site.sediment": "10 mm",
    "visit:serial": "SK-2001", "wet_ends:full[0].counts": "52100", "wet_ends:empty[0].counts": "11200",
    "visit:shown": "1200 mm",
}  # fmt: skip


class Visiting(BrowserTest):
    """Opens visits and walks them as a thumb would."""

    def begin(self, page: Page, tank: str, **facts: str) -> int:
        """Open a visit from the tank's own page."""
        go(page, f"/tanks?search={tank}")
        page.get_by_role("link", name=re.compile(f"^{tank}")).first.click()
        page.get_by_role("link", name="Visit it").click()
        for title, option in facts.items():
            page.get_by_label(title.replace("_", " "), exact=True).select_option(label=option)
        expect(page.get_by_role("status").filter(has_text="steps, about")).to_be_visible()
        page.get_by_role("button", name="Open the visit").click()
        expect(page.get_by_role("alert")).to_have_count(0)
        page.wait_for_url(re.compile(r"/visits/\d+$"))
        return int(page.url.rsplit("/", 1)[1])

    def visit(self, page: Page, number: int) -> dict[str, Any]:
        """A visit as the server has it."""
        found: dict[str, Any] = page.request.get(f"/api/visits/{number}/").json()
        return found

    def field(self, card: Locator | Page, label: str) -> Locator:
        """A field by its name: what a bare number is in, and that it may stay empty, stand behind it."""
        return card.get_by_label(re.compile(f"^{re.escape(label)}(,|$)"))

    def do_one(self, page: Page, step: dict[str, Any]) -> None:
        """Do the step that is shown."""
        card = page.get_by_role("article")
        expect(card.get_by_role("heading", level=2)).to_have_text(step["title"])
        for field in step["fields"]:
            if field["optional"]:
                continue
            box = self.field(card, field["label"])
            box.fill(TYPED.get(field["to"], {"text": "Marit", "count": "6"}.get(field["quantity"], "1200 mm")))
        if step["kind"] == "choose":
            card.get_by_role("button", name=step["options"][0]["label"]).click()
        if step["kind"] == "photo":
            card.get_by_label("Take a photograph").set_input_files(PICTURE)
            expect(card.get_by_role("list", name="Photographs").get_by_role("img")).not_to_have_count(0)
        name = "Start the timer" if step["kind"] == "wait" and step["state"] == "open" else "Done"
        if step["state"] == "running":
            name = "It is over"
        card.get_by_role("button", name=name, exact=True).click()

    def walk(self, page: Page, number: int, most: int = 200) -> list[str]:
        """Do what the runner offers next, until only the signature is left; the steps that a lead had to override."""
        overridden, done = [], 0
        steps = {step["title"]: step for step in self.visit(page, number)["steps"]}
        while done < most:
            heading = page.get_by_role("article").get_by_role("heading", level=2)
            title = heading.inner_text()
            step = steps[title]
            if step["kind"] == "sign":
                running = page.get_by_role("group", name="Waits that run").get_by_role("button")
                if running.count() == 0:
                    break
                running.first.click()
                expect(heading).not_to_have_text(title)
                waiting = steps[heading.inner_text()]
                self.do_one(page, {**waiting, "state": "running"})
                expect(heading).not_to_have_text(waiting["title"])
                continue
            self.do_one(page, step)
            done += 1
            page.get_by_text(re.compile("to be sent: kept here")).wait_for(state="detached")
            refused = page.get_by_role("alert").filter(has_text="not entered")
            if refused.count():
                self.assertIn("override", refused.inner_text())
                refused.get_by_role("button", name="Go back to it").click()
                card = page.get_by_role("article")
                card.get_by_role("button", name="Override…").click()
                card.get_by_label("Why is it overridden?").fill("Agreed by telephone")
                card.get_by_role("button", name="Override", exact=True).click()
                overridden.append(step["key"])
                page.get_by_text(re.compile("to be sent: kept here")).wait_for(state="detached")
            expect(heading).not_to_have_text(title)
        return overridden

    def sign(self, page: Page, number: int, name: str, password: str) -> None:
        go(page, f"/visits/{number}/record")
        expect(page.get_by_text("Still open")).to_have_count(0)
        page.get_by_label("Your name").fill(name)
        page.get_by_label("Your password").fill(password)
        page.get_by_role("button", name="Sign the record").click()
        expect(page.get_by_role("link", name="Sheet (PDF)")).to_be_visible()
