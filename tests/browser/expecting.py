"""What a test expects to see: patient, and sparing of the page."""

from __future__ import annotations

from typing import Any

from playwright.sync_api import Expect, Locator
from playwright.sync_api import TimeoutError as TooLong

#: How long anything on a screen may take before it counts as missing [ms]: a busy machine is slow, not wrong.
PATIENCE = 30_000


class _Patient(Expect):
    """Playwright's own, but for what is not to be seen yet.

    At each look in vain it writes down the whole page for its report, which takes most of what a look takes; what
    waits for an element does not. Where it never comes, Playwright says what is there instead.
    """

    def __call__(self, actual: Any, message: str | None = None) -> Any:
        made: Any = super().__call__(actual, message)
        if isinstance(actual, Locator):
            as_it_is = made.to_be_visible

            def to_be_visible() -> None:
                try:
                    actual.wait_for(timeout=PATIENCE)
                except TooLong:
                    as_it_is(timeout=1000)

            made.to_be_visible = to_be_visible
        return made


expect = _Patient()
expect.set_options(timeout=PATIENCE)
