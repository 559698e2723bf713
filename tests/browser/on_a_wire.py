"""A page that reaches the server through a wire, and what the frame says of keeping."""

from __future__ import annotations

import re
from typing import Any

from playwright.sync_api import BrowserContext, Page

from .between import Wire
from .expecting import expect
from .harness import BrowserTest
from .screenshots import open_tank

CHAPEL, BOILER = "Village vessel, chapel", "Boiler oil"


def keeping(page: Page, words: str) -> None:
    """Wait until the frame says how keeping stands."""
    expect(page.get_by_role("banner").get_by_role("button", name=words)).to_be_visible()


def tank_number(page: Page) -> int:
    found = re.search(r"/tanks/(\d+)/", page.url)
    assert found
    return int(found[1])


def ask(context: BrowserContext, url: str, method: str = "GET", body: Any = None) -> Any:
    """What the API answers to the person of a browser, asked beside its pages."""
    token = next((one["value"] for one in context.cookies() if one["name"] == "csrftoken"), "")
    answer = context.request.fetch(url, method=method, data=body, headers={"X-CSRFToken": token})
    assert answer.ok, answer.text()
    return answer.json()


class OnAWire(BrowserTest):
    """A page that reaches the server through a wire."""

    unread = True

    @property
    def url(self) -> str:
        return self.wire.url

    def setUp(self) -> None:
        self.wire = Wire(self.server.port)
        self.addCleanup(self.wire.close)
        super().setUp()

    def left_waiting(self, tank: str, supply: str) -> int:
        """Ask for the wiring of a tank to be kept while the server is away; returns the tank's number."""
        open_tank(self.page, tank, "Wiring")
        self.page.get_by_label("Supply", exact=True).fill(supply)
        self.wire.cut()
        self.page.get_by_role("button", name="Keep this wiring").click()
        keeping(self.page, "1 waiting, no connection")
        return tank_number(self.page)

    def kept(self, tank: int, what: str = "") -> Any:
        return ask(self.page.context, f"{self.server.url}/api/tanks/{tank}/{what}")
