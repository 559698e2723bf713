"""How pages behave under fingers, keys and ears; and what a first page costs on a slow network."""

from __future__ import annotations

import re
from time import monotonic

from playwright.sync_api import Locator, Page, Request, Route

from .expecting import PATIENCE, expect
from .harness import BrowserTest, go
from .screenshots import open_tank

#: Resolves once the page has done all that it has to do with what it was given, however slow the machine.
AT_REST = """async () => {
    for (let i = 0; i < 5; i += 1) await scheduler.postTask(() => undefined, { priority: "background", delay: 20 });
}"""


def rounds_until(page: Page, address: str, shown: Locator) -> list[list[str]]:
    """Open an address, answering no request before the page is at rest; all that wait are then answered together.

    Returns what was asked in each round, until something is shown: on a slow network a round is one wait. No clock
    is read, so a busy machine changes nothing.
    """
    waiting: list[Route] = []
    under_way: set[Request] = set()

    def keep(route: Route) -> None:
        if route.request.is_navigation_request():
            route.continue_()
        else:
            waiting.append(route)

    def end(request: Request) -> None:
        under_way.discard(request)

    page.route("**/*", keep)
    page.on("requestfinished", end)
    page.on("requestfailed", end)
    page.goto(address, wait_until="commit")
    rounds, given_up = [[address]], monotonic() + PATIENCE / 1000
    while not shown.is_visible() and monotonic() < given_up:
        page.wait_for_timeout(20)
        if under_way or not waiting:
            continue
        page.evaluate(AT_REST)
        now, waiting[:] = list(waiting), []
        rounds.append([route.request.url for route in now])
        under_way |= {route.request for route in now}
        for route in now:
            route.continue_()
    page.unroute_all(behavior="ignoreErrors")
    return rounds


def rest(page: Page) -> None:
    """Wait until the page has not scrolled for a quarter of a second."""
    at, still = -1.0, 0
    for _ in range(200):
        now = float(page.evaluate("window.scrollY"))
        at, still = now, still + 1 if now == at else 0
        if still >= 5:
            return
        page.wait_for_timeout(50)


def swipe(page: Page, x: float, y: float, by: float) -> None:
    """Put a finger on a page, move it up or down, and take it away."""
    touch = page.context.new_cdp_session(page)
    touch.send("Input.dispatchTouchEvent", {"type": "touchStart", "touchPoints": [{"x": x, "y": y}]})
    for step in range(1, 11):
        points = [{"x": x, "y": y + by * step / 10}]
        touch.send("Input.dispatchTouchEvent", {"type": "touchMove", "touchPoints": points})
    touch.send("Input.dispatchTouchEvent", {"type": "touchEnd", "touchPoints": []})


class Manners(BrowserTest):
    def test_a_finger_scrolls_and_only_the_handle_moves_the_line(self) -> None:
        page = self.phone()
        open_tank(page, "Quay diesel north", "Survey")
        line = page.get_by_role("slider", name="The line")
        before = line.get_attribute("aria-valuenow")
        section = page.get_by_role("group", name=re.compile("^Section of the tank"))
        # What stands above may come a moment later, and moves it on.
        page.locator("#keep-state").wait_for()
        rest(page)
        box, grip = section.bounding_box(), page.locator(".grip-area").bounding_box()
        assert box and grip
        # A layout in fractions of a pixel may come a hundredth short.
        self.assertGreaterEqual(round(min(grip["width"], grip["height"]), 1), 44)
        # On the tank, and on the paper beside it.
        for x, y in ((box["width"] / 2, box["height"] / 2), (4, 4)):
            swipe(page, box["x"] + x, box["y"] + y, -120)
            page.wait_for_function("() => window.scrollY > 40")
            self.assertEqual(line.get_attribute("aria-valuenow"), before)
            # A swipe runs on after the finger is gone: what is scrolled meanwhile is scrolled away again.
            rest(page)
            page.evaluate("window.scrollTo(0, 0)")
            rest(page)
            self.assertEqual(page.evaluate("window.scrollY"), 0)
        swipe(page, grip["x"] + 22, grip["y"] + 22, -30)
        expect(line).not_to_have_attribute("aria-valuenow", before or "")
        self.assertEqual(page.evaluate("window.scrollY"), 0)

    def test_a_finger_scrolls_over_the_plan_and_only_the_handle_moves_the_spot(self) -> None:
        page = self.phone()
        open_tank(page, "Quay diesel north", "Gauge")
        page.get_by_role("tab", name="Spot").click()
        spot, plan = (
            page.get_by_role("slider", name=re.compile("^The gauge's spot")),
            page.locator("svg.plan.draggable"),
        )
        plan.evaluate("e => e.scrollIntoView({block: 'center'})")
        rest(page)
        before, at = spot.get_attribute("aria-valuetext"), float(page.evaluate("window.scrollY"))
        box = plan.bounding_box()
        assert box is not None
        for x, y in ((box["width"] / 2, box["height"] / 4), (4, 4)):
            swipe(page, box["x"] + x, box["y"] + y, -120)
            page.wait_for_function("at => window.scrollY > at + 40", arg=at)
            rest(page)
            self.assertEqual(spot.get_attribute("aria-valuetext"), before)
            page.evaluate("at => window.scrollTo(0, at)", at)
            rest(page)
        grip = page.locator(".plan.draggable .grip-area").bounding_box()
        assert grip is not None
        self.assertGreaterEqual(round(min(grip["width"], grip["height"]), 1), 44)
        swipe(page, grip["x"] + 22, grip["y"] + 22, -30)
        expect(spot).not_to_have_attribute("aria-valuetext", before or "")
        self.assertEqual(page.evaluate("window.scrollY"), at)

    def test_a_finger_scrolls_over_the_chart_of_readings_and_leaves_the_line(self) -> None:
        page = self.phone()
        open_tank(page, "Quay diesel north", "Watch")
        page.get_by_role("button", name="Level", exact=True).click()
        chart = page.locator(".watch-chart .u-over")
        chart.evaluate("e => e.scrollIntoView({block: 'center'})")
        rest(page)
        at, box = page.evaluate("window.scrollY"), chart.bounding_box()
        assert box is not None
        # Where the line was moved to is kept on the device.
        moved = f"sessionStorage.getItem('rasante:line:{page.url.split('/')[-2]}')"
        swipe(page, box["x"] + box["width"] / 2, box["y"] + box["height"] * 0.75, -120)
        page.wait_for_function("at => window.scrollY > at + 40", arg=at)
        rest(page)
        self.assertIsNone(page.evaluate(moved))
        page.evaluate("at => window.scrollTo(0, at)", at)
        rest(page)
        # A tap moves it there.
        page.touchscreen.tap(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        page.wait_for_function(f"() => {moved} !== null")

    def test_targets_under_a_finger(self) -> None:
        page = self.phone()
        go(page, "/")
        page.locator("#keep-state").wait_for()
        small = page.evaluate(
            "[...document.querySelectorAll('.top button, .top .places a')].map(e => [e.innerText,"
            " e.getBoundingClientRect().width, e.getBoundingClientRect().height])"
            ".filter(([, w, h]) => w < 43.5 || h < 43.5)"
        )
        self.assertEqual(small, [])

    def test_arrow_keys_are_the_drawing_s_and_the_tabs_own(self) -> None:
        page = self.page
        open_tank(page, "Quay diesel north", "Wiring")
        line = page.get_by_role("slider", name="The line")
        before = line.get_attribute("aria-valuenow")
        page.locator("body").press("ArrowUp")
        self.assertEqual(line.get_attribute("aria-valuenow"), before)
        tabs = page.get_by_role("tablist", name="What of the wiring")
        tabs.get_by_role("tab", name="Circuit").press("ArrowRight")
        expect(tabs.get_by_role("tab", name="Will it carry")).to_be_focused()
        expect(tabs.get_by_role("tab", name="Will it carry")).to_have_attribute("aria-selected", "true")
        page.keyboard.press("End")
        expect(tabs.get_by_role("tab", name="Arrived, kit")).to_be_focused()
        page.keyboard.press("ArrowRight")
        expect(tabs.get_by_role("tab", name="Circuit")).to_be_focused()
        line.focus()
        page.keyboard.press("ArrowUp")
        expect(line).not_to_have_attribute("aria-valuenow", before or "")

    def test_title_and_focus_follow_the_station(self) -> None:
        page = self.page
        open_tank(page, "Quay diesel north", "Survey")
        expect(page).to_have_title("Quay diesel north: Survey · Rasante")
        page.keyboard.press("4")
        expect(page).to_have_title("Quay diesel north: Wiring · Rasante")
        expect(page.locator(".tank-right")).to_be_focused()
        # Switched off, single keys do nothing; the list of them is where that is said.
        page.locator("#person").click()
        page.get_by_role("button", name="Keys").click()
        page.get_by_label("Single keys act").uncheck()
        page.get_by_role("button", name="Close").click()
        expect(page.get_by_role("dialog")).to_have_count(0)
        page.keyboard.press("2")
        expect(page).to_have_title("Quay diesel north: Wiring · Rasante")
        page.evaluate("localStorage.removeItem('rasante:keys')")

    def test_charts_take_the_colours_of_another_theme(self) -> None:
        page = self.page
        open_tank(page, "Quay diesel north", "Table")

        def wait_for_ink() -> str:
            """Wait until the chart is written in the colour of the page's text, and return that colour."""
            return page.wait_for_function(
                """() => {
                    const chart = document.querySelector(".chart canvas");
                    if (!chart) return null;
                    const ink = getComputedStyle(document.body).color.match(/\\d+/g).slice(0, 3);
                    const { data } = chart.getContext("2d").getImageData(0, 0, chart.width, chart.height);
                    let inked = 0;
                    for (let i = 0; i < data.length; i += 4)
                        if (data[i + 3] === 255 && ink.every((part, k) => Number(part) === data[i + k])) inked += 1;
                    return inked > 100 && ink.join();
                }"""
            ).json_value()

        paper = wait_for_ink()
        page.locator("#person").click()
        page.get_by_role("button", name="Dusk theme").click()
        expect(page.locator("html")).to_have_attribute("data-bs-theme", "dark")
        self.assertNotEqual(wait_for_ink(), paper)
        page.evaluate("localStorage.removeItem('rasante:theme')")

    def test_the_first_page_asks_for_little_and_at_once(self) -> None:
        page = self.page
        open_tank(page, "Quay diesel north", "Survey")
        address = page.url
        state = page.context.storage_state()
        context = self.browser.new_context(base_url=self.server.url, storage_state=state, service_workers="block")
        self.addCleanup(context.close)
        fresh = context.new_page()
        line = fresh.get_by_role("slider", name="The line")
        rounds = rounds_until(fresh, address, line)
        expect(line).to_be_visible()
        # The page, its scripts, all that is asked of the server: what draws the line stands in no longer a row.
        self.assertLessEqual(len(rounds), 5, rounds)
        fonts = [url for asked in rounds for url in asked if ".woff" in url]
        self.assertFalse([url for url in fonts if "latin-ext" in url], fonts)
