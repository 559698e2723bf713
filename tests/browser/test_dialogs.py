"""What lies over a page: there at once, gone at once, and of what is typed rather than of a letter before it."""

from __future__ import annotations

import re

from playwright.sync_api import Locator

from .expecting import expect
from .harness import BrowserTest
from .holding import Held
from .screenshots import open_tank


class Dialogs(BrowserTest):
    def setUp(self) -> None:
        super().setUp()
        page = self.page
        open_tank(page, "Quay diesel north", "Table")
        # The scripts of the dialog come with its first showing.
        page.keyboard.press("/")
        page.get_by_role("dialog", name="Find").get_by_role("listitem").first.wait_for()
        page.keyboard.press("Escape")
        expect(page.get_by_role("dialog")).to_have_count(0)

    def test_a_dialog_that_is_left_at_once_is_gone_at_once(self) -> None:
        """Nothing of it lies over the page, or takes the next key: not even where no frame was drawn meanwhile."""
        page = self.page
        left = page.evaluate(
            """async () => {
                const press = (where, key) =>
                    where.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true, cancelable: true }));
                const shown = new Promise((done) => {
                    const watch = new MutationObserver(() => {
                        if (!document.querySelector('[role="dialog"] input:focus')) return;
                        watch.disconnect();
                        done();
                    });
                    watch.observe(document.body, { childList: true, subtree: true, attributes: true });
                });
                press(document.body, "/");
                await shown;
                press(document.querySelector('[role="dialog"] input'), "Enter");
                await new Promise((done) => setTimeout(done));
                return document.querySelectorAll('[role="dialog"], .modal-backdrop').length;
            }"""
        )
        self.assertEqual(left, 0)
        page.keyboard.press("5")
        expect(page.get_by_role("region", name="Scale", exact=True)).to_be_visible()

    def entered_early(self, words: str) -> tuple[Locator, Held]:
        """Words that are entered in Find while their answer is held back."""
        held = Held(self.page, re.compile(r"/api/tanks/\?.*search=south"), "GET")
        self.page.keyboard.press("/")
        find = self.page.get_by_role("dialog", name="Find")
        find.get_by_role("textbox").fill(words)
        self.page.keyboard.press("Enter")
        held.wait_for(1)
        return find, held

    def test_what_is_entered_before_its_answer_is_there_is_waited_for(self) -> None:
        page = self.page
        find, held = self.entered_early("south table")
        expect(find).to_contain_text("Looking for it")
        expect(page.locator("h1")).to_contain_text("Quay diesel north")
        held.let_go()
        expect(page.locator("h1")).to_contain_text("Quay diesel south")
        expect(find).to_have_count(0)

    def test_what_is_left_while_it_is_looked_for_is_not_gone_to(self) -> None:
        page = self.page
        find, held = self.entered_early("south")
        page.keyboard.press("Escape")
        held.let_go()
        page.keyboard.press("/")
        expect(find.get_by_role("button", name="Quay diesel south")).to_be_visible()
        expect(page.locator("h1")).to_contain_text("Quay diesel north")

    def test_what_is_refused_is_told(self) -> None:
        page = self.page
        page.route(
            re.compile(r"/api/tanks/\?.*search=south"),
            lambda route: route.fulfill(status=503, json={"detail": "The server is being renewed."}),
        )
        page.keyboard.press("/")
        find = page.get_by_role("dialog", name="Find")
        find.get_by_role("textbox").fill("south")
        expect(find.get_by_role("alert")).to_be_visible()
        expect(find).to_contain_text("Found before, by other letters")
        expect(find.locator("[aria-current=true]")).to_have_count(0)
        find.get_by_role("textbox").fill("north")
        expect(find.get_by_role("button", name="Quay diesel north")).to_be_visible()
        expect(find.get_by_role("alert")).to_have_count(0)


class Menus(BrowserTest):
    def test_a_menu_lies_over_what_follows_it(self) -> None:
        page = self.page
        open_tank(page, "Quay diesel north", "Table")
        # The chart and the rows that the longest menu reaches over.
        page.locator(".row-line").first.wait_for()
        for toggle in ("Files", "all kept", "Isla Brand"):
            with self.subTest(toggle):
                page.get_by_role("button", name=toggle).click()
                menu = page.locator(".dropdown-menu.show")
                menu.wait_for()
                under = menu.evaluate(
                    """(menu) => [...menu.querySelectorAll(".dropdown-item, .dropdown-item-text")]
                        .map((item) => [item, item.getBoundingClientRect()])
                        .filter(([, box]) => {
                            const on = document.elementFromPoint(box.x + box.width / 2, box.y + box.height / 2);
                            return !menu.contains(on);
                        })
                        .map(([item]) => item.textContent)"""
                )
                self.assertEqual(under, [])
                self.assertGreater(menu.locator(".dropdown-item, .dropdown-item-text").count(), 0)
                page.keyboard.press("Escape")
                menu.wait_for(state="detached")
