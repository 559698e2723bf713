"""The Gauge station in the browser: choose, drag, tilt, cut, print; rods that switch; models of one's own."""

from __future__ import annotations

import json
import re

from playwright.sync_api import Page

from .expecting import expect
from .harness import BrowserTest, go
from .screenshots import open_tank, pane
from .test_main_job import content, go_to, pdf_words


def gauge(page: Page, tank: str, name: str = "") -> None:
    if name:
        pane(page, tank, name, "Gauge")
    else:
        open_tank(page, tank, "Gauge")


def keep(page: Page, what: str = "gauge") -> None:
    page.get_by_role("button", name=f"Keep this {what}").click()
    expect(page.get_by_text(re.compile(r"Kept, revision \d+"))).to_be_visible()


class Choosing(BrowserTest):
    def test_against_the_advice_and_with_it(self) -> None:
        page = self.page
        gauge(page, "Slip petrol")
        methods = page.get_by_role("listitem").filter(has=page.locator(".method-head"))
        first = methods.first
        expect(first).to_contain_text("Fits")
        expect(first).to_contain_text("±")
        rods = page.get_by_role("listitem").filter(has_text="Conductance rods").first
        expect(rods).to_contain_text("Does not fit")
        page.get_by_role("button", name="Choose Four conductance rods with two relays", exact=True).click()
        expect(page.get_by_role("button", name="Keep this gauge")).to_be_disabled()
        page.get_by_label("Against the advice, because").fill("Only an alarm contact is wanted here")
        keep(page)
        expect(page.get_by_role("navigation", name="Stations").get_by_title("against the advice")).to_be_visible()

        # What it meets changes the advice: with the zone typed another way the radar fits.
        page.get_by_role("tab", name="What it meets").click()
        page.get_by_label("Face above the reference").fill("150")
        page.get_by_label("Bore of the opening").fill("2 in")
        expect(page.get_by_text("50.8 mm · 2 in")).to_be_visible()
        page.get_by_role("tab", name="Method").click()
        radar = page.get_by_role("listitem").filter(has_text="Radar, short range").first
        expect(radar).to_contain_text("Fits")
        radar.get_by_role("button", name="Radar, short range").click()
        expect(radar.get_by_text("Sits in zone 0 and has no approval.")).to_be_visible()
        page.get_by_role("button", name="Choose Radar, 10 m, 8° beam", exact=True).click()
        page.get_by_label("Output").select_option("digital RS-485")
        keep(page)
        page.reload()
        expect(page.get_by_label("Output")).to_have_value("digital RS-485")
        page.get_by_role("tab", name="What it meets").click()
        expect(page.get_by_label("Face above the reference")).to_have_value("150 mm")

    def test_nothing_typed_is_lost_and_nothing_wrong_is_kept(self) -> None:
        page = self.page
        gauge(page, "Boiler oil", "What it meets")
        page.get_by_label("Sediment").fill("three fingers")
        expect(page.locator(".form-says", has_text="cannot be read")).to_be_visible()
        expect(page.get_by_role("button", name="Keep this gauge")).to_be_disabled()
        page.reload()
        expect(page.get_by_label("Sediment")).to_have_value("three fingers")
        page.get_by_role("button", name="Discard changes").click()
        expect(page.get_by_label("Sediment")).to_have_value("")
        page.get_by_role("button", name="Undo").click()
        expect(page.get_by_label("Sediment")).to_have_value("three fingers")
        page.get_by_label("Sediment").fill("1,5 in")
        expect(page.get_by_text("38.1 mm · 1.5 in")).to_be_visible()
        page.get_by_role("button", name="Discard changes").click()


class Placing(BrowserTest):
    def test_the_spot_is_dragged_nudged_and_taken_from_an_opening(self) -> None:
        page = self.page
        gauge(page, "Quay diesel north", "Spot")
        plan = page.get_by_role("group", name="The tank from above")
        spot = plan.get_by_role("slider")
        along = page.get_by_label("Along, from the left")
        expect(page.get_by_text("Sensor is free for it; the vent stays open.")).to_be_visible()
        box = spot.bounding_box()
        whole = plan.bounding_box()
        assert box is not None and whole is not None
        page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        page.mouse.down()
        for step in range(1, 11):
            page.mouse.move(box["x"] + box["width"] / 2 + step * 11, box["y"] + box["height"] / 2)
        page.mouse.up()
        # 110 pixels towards the float, in the beam's way.
        self.assertGreater(float(along.input_value().removesuffix(" mm")), 2400)
        expect(page.get_by_text(re.compile(r"Float arm's reach: .* in the beam"))).to_be_visible()
        before = float(along.input_value().removesuffix(" mm"))
        spot.focus()
        page.keyboard.press("ArrowRight")
        page.keyboard.press("Shift+ArrowLeft")
        self.assertAlmostEqual(float(along.input_value().removesuffix(" mm")), before - 90, delta=0.1)
        page.get_by_label("Opening", exact=True).select_option("Vent")
        expect(page.get_by_text("Vent is the only vent: never block it.")).to_be_visible()
        page.get_by_label("Opening", exact=True).select_option("Sensor")
        expect(along).to_have_value("1500 mm")
        # Judged anew: what is said above the button is as long again as it was, and the button stands still.
        expect(page.get_by_text("Sensor is free for it; the vent stays open.")).to_be_visible()

        # A pipe that nobody had noted, and away with it.
        page.get_by_role("button", name="Add a float").click()
        page.get_by_label("Thing 3", exact=True).select_option("Stub or ladder")
        page.get_by_label("Along", exact=True).nth(2).fill("1520 mm")
        expect(page.get_by_text(re.compile("Stub or ladder: .* in the beam"))).to_be_visible()
        page.get_by_role("button", name="Remove thing 3").click()
        expect(page.get_by_text(re.compile("Stub or ladder: "))).to_have_count(0)
        # All is as it was kept again, and says so.
        expect(page.get_by_text(re.compile("Kept, revision 1"))).to_be_visible()

    def test_the_tilt_map_finds_the_middle(self) -> None:
        page = self.page
        gauge(page, "Workboat fuel", "Tilt")
        drawing = page.get_by_role("group", name="Map of the error")
        expect(drawing).to_contain_text("best ±")
        words = page.locator(".tilt-words")
        expect(words).to_contain_text("A quarter of the length off it, 370 mm")
        before = words.inner_text()
        page.get_by_label("Rolls either way").fill("2")
        expect(words).to_contain_text("Fore and aft counts")
        self.assertNotEqual(words.inner_text(), before)
        box = drawing.bounding_box()
        assert box is not None
        page.mouse.click(box["x"] + box["width"] * 0.3, box["y"] + box["height"] * 0.5)
        here = page.locator(".tilt-here")
        expect(here).not_to_contain_text("740 mm along")
        page.get_by_role("button", name="Put it at the best spot").click()
        expect(here).to_contain_text("740 mm along and 0 mm across")
        page.get_by_label("Rolls either way").fill("95°")
        expect(page.get_by_text("must be at most 30°")).to_be_visible()
        page.get_by_role("button", name="Discard changes").click()


class Cutting(BrowserTest):
    def test_a_probe_is_cut_and_its_sheet_printed(self) -> None:
        page = self.page
        gauge(page, "Workboat fuel", "Cut")
        answer = page.locator(".cut-big")
        expect(answer).to_have_text("955 mm")
        page.get_by_label("Bottom gap").select_option("Free gap")
        expect(answer).to_have_text("967 mm")
        page.get_by_label("As cut").fill("920 mm")
        expect(page.get_by_text("47 mm too short: it reads from 62 mm up")).to_be_visible()
        page.get_by_label("As cut").fill("967 mm")
        expect(page.get_by_text("Cut right")).to_be_visible()
        keep(page)
        with page.expect_download() as got:
            page.get_by_role("link", name="Cut sheet to print").click()
        words = pdf_words(got.value)
        for word in ("967 mm", "As cut (write here)", "Capacitance probe", "hot work"):
            self.assertIn(word, words)

    def test_a_cable_is_not_a_range(self) -> None:
        page = self.page
        gauge(page, "Quay diesel south", "Cut")
        expect(page.locator(".cut-answer")).to_contain_text("Measuring range 2\u202f500 mm of water")
        page.get_by_label("Cable that arrived").fill("2.5 m")
        expect(page.get_by_text("two different lengths")).to_be_visible()
        expect(page.get_by_text(re.compile("too short: hung where it reaches"))).to_be_visible()
        page.get_by_role("button", name="Discard changes").click()

    def test_rods_switch_at_their_levels_and_hold_between(self) -> None:
        page = self.page
        gauge(page, "Header tank", "Rods")
        level = page.get_by_label("Level, to watch the relays act")
        pump = page.locator(".lamp", has_text="Well pump")
        booster = page.locator(".lamp", has_text="Booster")
        # Falls below the start rod: runs, and goes on running until the stop rod is wet.
        for innage, runs in (
            ("1400", "stands"),
            ("1000", "stands"),
            ("850", "runs"),
            ("1000", "runs"),
            ("1360", "stands"),
        ):
            level.fill(innage)
            expect(pump).to_contain_text(runs)
        level.fill("250")
        expect(booster).to_contain_text("locked out")
        current = page.locator("tr[aria-current=true]")
        expect(current).to_contain_text("50 mm – 300 mm")
        # Swapped contacts, and rods in the wrong order, show what they do.
        page.get_by_label("Booster on the").select_option("normally open")
        expect(page.get_by_text("The booster runs dry").first).to_be_visible()
        expect(booster).to_contain_text("may run")
        page.get_by_label("Booster on the").select_option("normally closed")
        page.get_by_label("Fill start, tip at").fill("200 mm")
        expect(page.get_by_text("longest to shortest")).to_be_visible()
        page.get_by_role("button", name="Discard changes").click()


class Models(BrowserTest):
    def test_a_model_of_ones_own_is_copied_judged_handed_on_and_taken_in(self) -> None:
        page = self.page
        go(page, "/gauge-models")
        page.get_by_role("button", name="Copy Radar, 10 m, 8° beam").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_label("Name").fill("Depot radar")
        dialog.get_by_label("Blanking, mm").fill("wide")
        dialog.get_by_role("button", name="Keep this model").click()
        expect(dialog.get_by_role("alert")).to_contain_text("blanking_mm")
        dialog.get_by_label("Blanking, mm").fill("45,5")
        dialog.get_by_role("button", name="Keep this model").click()
        expect(page.get_by_role("cell", name="Depot radar", exact=True)).to_be_visible()
        with page.expect_download() as got:
            page.get_by_role("link", name="All as a file").click()
        models = json.loads(content(got.value))
        mine = next(one for one in models["models"] if one["name"] == "Depot radar")
        self.assertEqual(mine["blanking_mm"], 45.5)
        mine["accuracy_mm"] = 2
        page.get_by_label("File of gauge models").set_input_files(
            {"name": "m.json", "mimeType": "application/json", "buffer": json.dumps(models).encode()}
        )
        expect(page.get_by_role("status")).to_contain_text("0 added, 1 changed")
        page.get_by_label("File of gauge models").set_input_files(
            {"name": "m.json", "mimeType": "application/json", "buffer": b'{"format": "else"}'}
        )
        expect(page.get_by_role("alert")).to_contain_text("no file of gauge models")
        gauge(page, "Workboat fuel")
        page.get_by_role("button", name="Radar, short range").click()
        page.get_by_role("button", name="Choose Depot radar, this model").click()
        expect(page.locator(".chosen")).to_contain_text("Depot radar")
        page.get_by_role("button", name="Discard changes").click()

    def test_on_a_phone_at_the_tank(self) -> None:
        page = self.phone()
        gauge(page, "Workboat fuel", "Cut")
        answer = page.locator(".cut-big")
        answer.scroll_into_view_if_needed()
        expect(answer).to_be_visible()
        page.get_by_label("Depth at the very spot").fill("38 1/2 in")
        expect(page.get_by_text("977.9 mm · 38.5 in")).to_be_visible()
        go_to(page, "Wiring")
        expect(page.get_by_role("group", name="Wiring drawing")).to_be_visible()


class Again(BrowserTest):
    def test_a_new_survey_asks_for_the_gauge_again(self) -> None:
        page = self.page
        gauge(page, "Village vessel, manse")
        page.get_by_role("button", name="Choose Sonar pad, 4 m of liquid", exact=True).click()
        keep(page)
        state = page.get_by_role("navigation", name="Stations").get_by_role("link", name="Gauge")
        expect(state).to_contain_text("done")
        go_to(page, "Survey")
        page.get_by_label("Shell length", exact=True).fill("8' 3\"")
        page.get_by_role("button", name="Keep this survey").click()
        expect(state).to_contain_text("needs you")
        go_to(page, "Gauge")
        expect(page.get_by_text("The tank was surveyed again since")).to_be_visible()
        page.get_by_role("button", name="Keep this gauge").click()
        expect(state).to_contain_text("done")

    def test_in_inches_and_gallons(self) -> None:
        page = self.page
        gauge(page, "Smokehouse bullet")
        page.get_by_role("group", name="Units").get_by_role("button", name="US").click()
        sonar = page.get_by_role("listitem").filter(has_text="Sonar from below").first
        expect(sonar).to_contain_text("US gal")
        page.get_by_role("tab", name="What it meets").click()
        page.get_by_label("Sediment").fill("1/2")
        page.get_by_label("Hottest").fill("120")
        expect(page.get_by_text("12.7 mm · 0.5 in")).to_be_visible()
        # Left with its unit, so that switching back does not change what it means.
        page.get_by_label("Hottest").blur()
        expect(page.get_by_label("Sediment")).to_have_value("1/2 in")
        expect(page.get_by_label("Hottest")).to_have_value("120 °F")
        page.get_by_role("group", name="Units").get_by_role("button", name="Metric").click()
        expect(page.get_by_text("12.7 mm · 0.5 in")).to_be_visible()
        page.get_by_role("button", name="Discard changes").click()
