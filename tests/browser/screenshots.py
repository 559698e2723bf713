"""``make screenshots``: one current picture of each main view, from the demo data, into docs/screenshots/."""

from __future__ import annotations

import sys
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from .harness import DESK, PHONE, ROOT, Server, launch, open_page, sign_in

OUT = ROOT / "docs" / "screenshots"


def open_tank(page: Page, name: str, station: str) -> None:
    page.goto("/tanks")
    page.get_by_role("link", name=name).click()
    page.get_by_role("navigation", name="Stations").get_by_role("link", name=station).click()
    page.get_by_role("region", name=station).wait_for()
    page.wait_for_load_state("networkidle")
    page.wait_for_timeout(500)


VIEWS = {
    "board": lambda page: page.goto("/"),
    "tanks": lambda page: page.goto("/tanks"),
    "new-tank": lambda page: page.goto("/tanks/new"),
    "survey": lambda page: open_tank(page, "Quay diesel south", "Survey"),
    "table": lambda page: open_tank(page, "Quay diesel north", "Table"),
    "scale": lambda page: open_tank(page, "Header tank", "Scale"),
    "prove-draft": lambda page: open_tank(page, "Process water", "Prove"),
    "prove-signed": lambda page: open_tank(page, "Quay diesel south", "Prove"),
}
PHONE_VIEWS = ("board", "survey", "table", "prove-draft")


def main(wanted: list[str], out: Path = OUT) -> None:
    out.mkdir(parents=True, exist_ok=True)
    server = Server()
    server.start()
    try:
        with sync_playwright() as playwright:
            browser = launch(playwright)
            for size, suffix, names in ((DESK, "", VIEWS), (PHONE, "-phone", PHONE_VIEWS)):
                page = open_page(browser, server.url, size)
                sign_in(page)
                for name in names:
                    if wanted and name + suffix not in wanted:
                        continue
                    VIEWS[name](page)
                    page.wait_for_load_state("networkidle")
                    page.wait_for_timeout(300)
                    page.screenshot(path=out / f"{name}{suffix}.png", full_page=bool(suffix))
                page.context.close()
            browser.close()
    finally:
        server.stop()


if __name__ == "__main__":
    main(sys.argv[1:])
