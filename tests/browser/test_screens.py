"""Every screen at desk and phone size: nothing for axe to find, no sideways scroll, both themes, keys."""

from __future__ import annotations

from playwright.sync_api import Page

from .expecting import expect
from .harness import DESK, PHONE, ROOT, BrowserTest, Traffic, go, sign_in
from .screenshots import LEADS_VIEWS, VIEWS, open_tank
from .test_main_job import reading

AXE = (ROOT / "web" / "node_modules" / "axe-core" / "axe.min.js").read_text("utf-8")

IN_THEME = """([theme, colours]) => {
    localStorage.setItem("rasante:theme", theme);
    document.documentElement.dataset.bsTheme = colours;
}"""
FRAMES = "new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)))"


def axe(page: Page) -> list[str]:
    """What axe finds, each with the elements it is about."""
    if not page.evaluate("() => 'axe' in window"):
        page.evaluate(AXE)
    result = page.evaluate("() => axe.run(document, { resultTypes: ['violations'] })")
    return [
        f"{found['id']}: {found['help']}: {'; '.join(node['html'][:120] for node in found['nodes'][:4])}"
        for found in result["violations"]
    ]


class EachScreen(BrowserTest):
    """Opened at the desk, then made as narrow as a phone, with a finger; each size has a theme of its own."""

    person, views = ("tech", "skerrow-tech"), VIEWS

    def test_at_both_sizes(self) -> None:
        found: dict[str, list[str]] = {}
        page = self.window(None, reduced_motion="reduce", bypass_csp=True)
        go(page, "/sign-in")
        self.assertEqual(axe(page), [], "sign-in")
        traffic, finger = Traffic(page), page.context.new_cdp_session(page)
        sign_in(page, *self.person)
        for name, show in self.views.items():
            for size, theme, colours in ((DESK, "paper", "light"), (PHONE, "dusk", "dark")):
                page.set_viewport_size(size)
                finger.send("Emulation.setTouchEmulationEnabled", {"enabled": size is PHONE})
                self.assertIs(page.evaluate("matchMedia('(pointer: coarse)').matches"), size is PHONE)
                page.evaluate(IN_THEME, [theme, colours])
                if size is DESK:
                    show(page)
                traffic.rest()
                page.evaluate(FRAMES)
                wrong = axe(page)
                if (wide := page.evaluate("document.documentElement.scrollWidth - window.innerWidth")) > 0:
                    wrong.append(f"{wide} px wider than the window")
                if wrong:
                    found[f"{name}, {theme}"] = wrong
        self.assertEqual(found, {})


class ForALead(EachScreen):
    person, views = ("lead", "skerrow-lead"), LEADS_VIEWS


class Screens(BrowserTest):
    def test_dialogs(self) -> None:
        page = self.window(size=PHONE, reduced_motion="reduce", bypass_csp=True)
        go(page, "/")
        page.get_by_role("heading", name="Needs a person").wait_for()
        for key, title in (("/", "Find"), ("?", "Keys")):
            page.keyboard.press(key)
            expect(page.get_by_role("dialog", name=title)).to_be_visible()
            self.assertEqual(axe(page), [])
            page.keyboard.press("Escape")
            expect(page.get_by_role("dialog")).to_have_count(0)
        go(page, "/tanks")
        page.get_by_role("button", name="Import a tank file").click()
        page.get_by_role("dialog").wait_for()
        self.assertEqual(axe(page), [])

    def test_targets_are_large_enough_on_touch(self) -> None:
        page = self.phone()
        open_tank(page, "Process water", "Prove")
        small = page.evaluate(
            """() => [...document.querySelectorAll("button, input:not([type=checkbox]), select, .btn, label.tick")]
                .filter((element) => element.checkVisibility())
                .filter((element) => element.getBoundingClientRect().height < 43.5)
                .map((element) => element.outerHTML.slice(0, 90))"""
        )
        self.assertEqual(small, [])


class Keys(BrowserTest):
    def test_stations_line_and_find(self) -> None:
        page = self.page
        go(page, "/")
        page.get_by_role("heading", name="Needs a person").wait_for()
        page.keyboard.press("/")
        page.keyboard.type("south table")
        expect(page.get_by_role("button", name="Quay diesel south: Table")).to_be_visible()
        page.keyboard.press("Enter")
        expect(page.get_by_role("region", name="Table", exact=True)).to_be_visible()
        for key, name in (
            ("5", "Scale"),
            ("6", "Prove"),
            ("3", "Gauge"),
            ("4", "Wiring"),
            ("1", "Survey"),
            ("2", "Table"),
        ):
            page.keyboard.press(key)
            expect(page.get_by_role("region", name=name, exact=True)).to_be_visible()
        before = reading(page, "innage")
        # The arrow keys are the drawing's while it has the focus, and the page's otherwise.
        page.get_by_role("slider", name="The line").focus()
        for key, moved in (("ArrowUp", 1), ("Shift+ArrowUp", 11), ("ArrowDown", 10)):
            page.keyboard.press(key)
            self.assertAlmostEqual(reading(page, "innage"), before + moved, places=6)
        slider = page.get_by_role("slider")
        slider.focus()
        page.keyboard.press("ArrowUp")
        self.assertAlmostEqual(float(slider.get_attribute("aria-valuenow") or 0), before + 11, delta=0.02)

    def test_a_drag_is_followed_within_a_frame(self) -> None:
        page = self.page
        open_tank(page, "Quay diesel north", "Table")
        box = page.get_by_role("slider").bounding_box()
        assert box is not None
        page.evaluate(
            """() => {
                const shown = document.querySelector('[data-reading="volume"] .mono');
                window.followed = [];
                addEventListener("pointermove", () => {
                    const before = shown.textContent;
                    requestAnimationFrame(() => {
                        const row = document.querySelector('[role=row][aria-selected=true]')?.textContent;
                        window.followed.push([before, shown.textContent, row]);
                    });
                }, true);
            }"""
        )
        # A phone in the sun is some times slower than the machine that this runs on.
        page.context.new_cdp_session(page).send("Emulation.setCPUThrottlingRate", {"rate": 4})
        x, y = box["x"] + 100, box["y"] + box["height"] / 2
        page.mouse.move(x, y)
        page.mouse.down()
        for step in range(1, 61):
            page.mouse.move(x, y - step)
            page.evaluate(
                """step => new Promise((done) => {
                    const look = () => window.followed.length > step ? done() : requestAnimationFrame(look);
                    look();
                })""",
                step,
            )
        page.mouse.up()
        followed = page.evaluate("window.followed.slice(1)")
        # Each move is another pixel, another level: the next frame shows it, and the table has gone to its row.
        self.assertEqual([before for before, after, _ in followed if before == after], [])
        self.assertEqual(len({after for _, after, _ in followed}), 60)
        self.assertGreater(len({row for _, _, row in followed if row}), 10)
