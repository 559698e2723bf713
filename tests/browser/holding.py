"""What a page asks or writes, held back until a test lets it go."""

from __future__ import annotations

import contextlib
import re
import time
from typing import Any

from playwright.sync_api import Error, Page, Route

from .expecting import PATIENCE


class Held:
    """Holds a page's next asking or writing at an address back, or all, until it is let go, answered or dropped."""

    def __init__(self, page: Page, address: re.Pattern[str], method: str = "PUT", most: int = 1) -> None:
        self.page, self.address, self.method, self.most = page, address, method, most
        self.waiting: list[Route] = []
        page.route(address, self._hold)

    def _hold(self, route: Route) -> None:
        if route.request.method == self.method and len(self.waiting) < self.most:
            self.waiting.append(route)
        else:
            route.fallback()

    def wait_for(self, count: int) -> None:
        """Wait until so many are held back."""
        deadline = time.monotonic() + PATIENCE / 1000
        while len(self.waiting) < count:
            assert time.monotonic() < deadline, f"{len(self.waiting)} of {count} came"
            self.page.wait_for_timeout(50)

    def let_go(self) -> None:
        self.wait_for(1)
        self.waiting[-1].continue_()

    def answer(self, content: Any) -> None:
        """Answer it; nobody may be waiting for it any more."""
        self.wait_for(1)
        with contextlib.suppress(Error):
            self.waiting[0].fulfill(json=content)
