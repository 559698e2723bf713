"""What is typed while the server is still keeping what was typed before: it stays, and is kept after it."""

from __future__ import annotations

import contextlib
import re

from playwright.sync_api import APIResponse, Error, Page, Route, expect

from .harness import BrowserTest
from .screenshots import open_tank


class Held:
    """Holds a page's next writing to an address back until it is let go."""

    def __init__(self, page: Page, address: str) -> None:
        self.page, self.address = page, address
        self.waiting: list[Route] = []
        page.route(address, self._hold)

    def _hold(self, route: Route) -> None:
        if route.request.method == "PUT" and not self.waiting:
            self.waiting.append(route)
        else:
            route.continue_()

    def let_go(self) -> None:
        self.waiting[0].continue_()


class WhileItIsBeingKept(BrowserTest):
    def test_a_survey(self) -> None:
        page = self.page
        open_tank(page, "Village vessel, chapel", "Survey")
        page.get_by_label("Reference height").fill("1300 mm")
        held = Held(page, re.compile(r"/api/tanks/\d+/$"))
        page.get_by_role("button", name="Keep this survey").click()
        page.get_by_label("Floor heel").fill("3 L")
        held.let_go()
        # The first is kept; the second is there still, and follows it.
        expect(page.get_by_text("on this device only")).to_be_visible()
        expect(page.get_by_label("Floor heel")).to_have_value("3 L")
        expect(page.get_by_label("Reference height")).to_have_value("1300 mm")
        page.get_by_role("button", name="Keep this survey").click()
        expect(page.get_by_text(re.compile(r"Revision \d+, kept"))).to_be_visible()
        page.reload()
        expect(page.get_by_label("Floor heel")).to_have_value("3 L")

    def test_a_field_left_before_it_was_read(self) -> None:
        page = self.page
        open_tank(page, "Village vessel, manse", "Survey")
        heel = page.get_by_label("Floor heel")
        with page.expect_response(re.compile("/api/tanks/survey/")):
            heel.fill("3 L")
        page.route(re.compile("/api/tanks/survey/"), lambda route: None)
        heel.fill("4 L")
        # What stood there before was read; this is not, and leaving the field takes nothing back.
        page.get_by_label("Reference height").focus()
        expect(heel).to_have_value("4 L")
        page.get_by_role("button", name="Keep this survey").click()
        expect(heel).to_have_value("4 L")

    def test_a_plan(self) -> None:
        page = self.page
        open_tank(page, "Boiler oil", "Wiring")
        page.get_by_label("Supply", exact=True).fill("24 V")
        held = Held(page, re.compile(r"/api/tanks/\d+/wiring/$"))
        page.get_by_role("button", name="Keep this wiring").click()
        page.get_by_label("Input's resistance").fill("120 Ω")
        held.let_go()
        expect(page.get_by_text("on this device only")).to_be_visible()
        expect(page.get_by_label("Input's resistance")).to_have_value("120 Ω")
        page.get_by_role("button", name="Keep this wiring").click()
        expect(page.get_by_text("Kept, revision 2")).to_be_visible()

    def test_an_answer_from_before_does_not_come_back(self) -> None:
        page = self.page
        open_tank(page, "Process water", "Wiring")
        stations = page.get_by_role("navigation", name="Stations")
        stations.get_by_role("link", name="Survey").click()
        # A survey that is kept makes all that is known of the tank be asked for anew.
        page.get_by_label("Notes").fill("ladder at the east side")
        page.get_by_role("button", name="Keep this survey").click()
        expect(page.get_by_role("banner").get_by_role("button", name="all kept")).to_be_visible()
        late: list[tuple[Route, APIResponse]] = []

        def answered_late(route: Route) -> None:
            if route.request.method == "GET" and not late:
                late.append((route, route.fetch()))
            else:
                route.continue_()

        page.route(re.compile(r"/api/tanks/\d+/wiring/$"), answered_late)
        stations.get_by_role("link", name="Wiring").click()
        supply = page.get_by_label("Supply", exact=True)
        supply.fill("23 V")
        expect(page.get_by_role("button", name="Keep this wiring")).to_be_enabled()
        self.assertEqual(len(late), 1)
        page.get_by_role("button", name="Keep this wiring").click()
        expect(page.get_by_role("banner").get_by_role("button", name="all kept")).to_be_visible()
        route, answer = late[0]
        with contextlib.suppress(Error):
            # Nobody waits for it any more, where the page has dropped the question.
            route.fulfill(response=answer)
        page.wait_for_load_state("networkidle")
        expect(supply).to_have_value("23 V")
        supply.fill("22 V")
        expect(page.get_by_role("button", name="Keep this wiring")).to_be_enabled()

    def test_readings_of_a_proof_are_there_on_coming_back(self) -> None:
        page = self.page
        open_tank(page, "Quay diesel north", "Prove")
        page.get_by_role("button", name="Begin a proof").click()
        page.get_by_label("Remarks").fill("read at dusk")
        expect(page.get_by_text(re.compile(r"^saved \d"))).to_be_visible()
        stations = page.get_by_role("navigation", name="Stations")
        stations.get_by_role("link", name="Table").click()
        page.get_by_role("region", name="Table", exact=True).wait_for()
        # With the list not asked for again: what comes back is what the last keeping answered.
        page.route(re.compile(r"/api/tanks/\d+/proofs/$"), lambda route: None)
        stations.get_by_role("link", name="Prove").click()
        expect(page.get_by_label("Remarks")).to_have_value("read at dusk")
        expect(page.get_by_text("changed on another device")).to_have_count(0)
