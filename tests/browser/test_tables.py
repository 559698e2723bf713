"""Tables as they are made at the tank: traced, profiled, solved, issued, compared, imported, labelled, dragged."""

from __future__ import annotations

import csv
import io
import json
import re
import tempfile
from math import pi
from pathlib import Path

from playwright.sync_api import Page

from .expecting import expect
from .harness import BrowserTest, go
from .screenshots import open_tank
from .test_main_job import PASTE, choose_file, content, go_to, last_place, reading


def pane(page: Page, name: str) -> None:
    page.get_by_role("tab", name=name).click()
    expect(page.get_by_role("tab", name=name)).to_have_attribute("aria-selected", "true")


def new_tank(page: Page, name: str, kind: str) -> None:
    go(page, "/tanks/new")
    page.get_by_label("Name", exact=True).fill(name)
    page.get_by_label("Kind").select_option(kind)


class Tracer(BrowserTest):
    def test_a_section_by_widths_then_by_corners_that_cross(self) -> None:
        page = self.page
        new_tank(page, "Keel tank", "Lying tank of another section")
        page.get_by_label("Inside length", exact=True).fill("1 m")
        page.get_by_label("Section", exact=True).select_option("Traced outline")
        page.get_by_role("button", name="Widths at heights").click()
        for number, (at, width) in enumerate((("0", "200 mm"), ("300", "600"), ("700", "600")), start=1):
            page.get_by_role("button", name="Add width").click()
            page.get_by_label(f"width {number}: at height").fill(at)
            page.get_by_label(f"width {number}: inside width").fill(width)
        # Geometry: (0.2 + 0.6) / 2 × 0.3 + 0.6 × 0.4 = 0.36 m², a metre long.
        expect(page.locator(".capacity").first).to_contain_text("360.0 L")
        outline = page.get_by_role("img", name="The section as typed, to scale")
        expect(outline).to_contain_text("600.0 × 700.0 mm")
        page.get_by_label("Corner radius", exact=False).first.fill("900")
        expect(page.get_by_text(re.compile("does not fit at corner"))).to_be_visible()
        page.get_by_label("Corner radius", exact=False).first.fill("50 mm")
        expect(page.get_by_text(re.compile("does not fit at corner"))).to_have_count(0)

        page.get_by_role("button", name="Corner points").click()
        for number, (x, z) in enumerate((("0", "0"), ("1000", "0"), ("0", "500"), ("1000", "500")), start=1):
            page.get_by_role("button", name="Add corner").click()
            page.get_by_label(f"corner {number}: across").fill(x)
            page.get_by_label(f"corner {number}: up").fill(z)
        expect(page.get_by_text("at 500 mm across and 250 mm up")).to_be_visible()
        expect(outline.locator(".tracer-crossing")).to_be_visible()
        expect(page.get_by_role("button", name="Keep this tank")).to_be_disabled()
        page.get_by_label("corner 3: across").fill("1000")
        page.get_by_label("corner 4: across").fill("0")
        expect(page.get_by_text("at 500 mm across")).to_have_count(0)
        page.get_by_role("button", name="Keep this tank").click()
        expect(page.get_by_role("heading", name="Keel tank")).to_be_visible()
        # What was typed both ways is still there, with what it was measured as.
        go_to(page, "Survey")
        expect(page.get_by_label("corner 3: across")).to_have_value("1000 mm")


class DataPlate(BrowserTest):
    def test_the_length_that_nobody_could_measure(self) -> None:
        page = self.page
        new_tank(page, "Buried", "Horizontal cylinder")
        page.get_by_label("Inside diameter: how it was measured").click()
        page.get_by_label("Inside diameter: comes from").select_option("Outside measure less two walls")
        page.get_by_label("Outside", exact=True).fill("2012")
        page.get_by_label("One wall", exact=True).fill("6 mm")
        expect(page.get_by_label("Inside diameter", exact=True)).to_have_value("2\u202f000.0 mm")
        for head in ("Left head", "Right head"):
            page.get_by_label(head, exact=True).select_option("Flat")
        page.get_by_label("Shell length: how it was measured").click()
        page.get_by_label("Shell length: comes from").select_option("The capacity on the data plate")
        page.get_by_label("Nominal capacity").fill("10 m3")
        # By hand: 4 × 10 m³ / (π × 4 m²).
        expect(page.get_by_label("Shell length", exact=True)).to_have_value(
            f"{10_000 / pi:,.1f} mm".replace(",", "\u202f")
        )
        solved = page.locator(".solved")
        expect(solved).to_contain_text("Nominal capacity ± 100 L± 32 mm")
        page.get_by_label("Nominal capacity").fill("10 kg")
        expect(page.get_by_text("is not a unit of volume").first).to_be_visible()
        page.get_by_label("Nominal capacity").fill("10 m3")
        page.get_by_role("button", name="Keep this tank").click()
        expect(page.get_by_role("heading", name="Buried")).to_be_visible()
        go_to(page, "Survey")
        expect(page.get_by_label("Nominal capacity")).to_have_value("10 m3")
        expect(page.get_by_label("Outside", exact=True)).to_have_value("2012 mm")


class Profiles(BrowserTest):
    def test_saved_applied_changed_and_never_silently(self) -> None:
        page = self.page
        open_tank(page, "Slip petrol", "Survey")
        page.get_by_role("button", name="Save as a profile").click()
        page.get_by_label("Nominal capacity").fill("4.6 m3")
        page.get_by_label("Overall diameter").fill("1590 mm")
        page.get_by_role("button", name="Save the profile").click()
        name = "4.6 m3, Ø 1590 mm"
        expect(page.get_by_role("link", name=name)).to_be_visible()

        go(page, "/tanks/new")
        page.get_by_label("Profile", exact=True).select_option(name)
        expect(page.get_by_label("Shell length", exact=True)).to_have_value("2600 mm")
        page.get_by_label("Name", exact=True).fill("Spare at the slip")
        page.get_by_role("button", name="Keep this tank").click()
        expect(page.get_by_role("heading", name="Spare at the slip")).to_be_visible()

        open_tank(page, "Slip petrol", "Survey")
        page.get_by_label("Shell length", exact=True).fill("2650 mm")
        page.get_by_role("button", name="Keep this survey").click()
        expect(page.get_by_text("dimensions of its own")).to_be_visible()
        page.get_by_role("button", name="Bring the profile up to date").click()
        expect(page.get_by_text("the same dimensions")).to_be_visible()

        go(page, "/profiles")
        row = page.get_by_role("row", name=re.compile(re.escape(name)))
        expect(row).to_contain_text("Spare at the slip: the profile is newer than the revision 1 it took")
        row.get_by_role("link", name="Spare at the slip").click()
        expect(page.get_by_label("Shell length", exact=True)).to_have_value("2600 mm")
        page.get_by_role("button", name="Take the profile's dimensions").click()
        expect(page.get_by_label("Shell length", exact=True)).to_have_value("2650 mm")
        page.get_by_role("button", name="Keep this survey").click()
        expect(page.get_by_text("the same dimensions")).to_be_visible()


class IssueAndCompare(BrowserTest):
    def test_two_revisions_and_where_they_differ_most(self) -> None:
        page = self.page
        open_tank(page, "Header tank", "Table")
        pane(page, "Issue and compare")
        page.get_by_label("Why table 1 is issued").fill("first table")
        page.get_by_role("button", name="Issue table 1").click()
        expect(page.get_by_role("button", name="Issue table 2")).to_be_visible()
        expect(page.get_by_text("The two agree at every level.")).to_be_visible()
        go_to(page, "Survey")
        page.get_by_label("Inside length", exact=True).fill("2500 mm")
        page.get_by_role("button", name="Keep this survey").click()
        expect(page.get_by_text("Revision 2, kept")).to_be_visible()
        station = page.get_by_role("navigation", name="Stations").get_by_role("link", name="Table")
        expect(station).to_contain_text("needs you")
        station.click()
        pane(page, "Issue and compare")
        # By hand: 100 mm more of 1.2 × 1.5 m, less the four corners' (4 − π) × 80² mm².
        gained = 0.1 * (1.2 * 1.5 - (4 - pi) * 0.08**2) * 1000
        expect(page.locator(".compare-words")).to_contain_text(f"{gained:.1f} L more")
        expect(page.get_by_role("img", name=re.compile("over innage"))).to_be_visible()
        # The issued one can be looked at, and stays what it was.
        page.get_by_role("button", name="Show", exact=True).click()
        pane(page, "Rows")
        expect(page.get_by_text("as issued under number 1")).to_be_visible()


class Charts(BrowserTest):
    def test_a_csv_with_its_columns_mapped(self) -> None:
        page = self.page
        go(page, "/tanks")
        page.get_by_role("button", name="From a chart").click()
        rows = "Nr;Inhoud;Stand\n1;0;0\n2;1.180,5;100\n3;2.050,75;x\n"
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "wall chart.csv"
            file.write_text(rows)
            page.get_by_label(re.compile("^The file")).set_input_files(file)
            dialog = page.get_by_role("dialog")
            dialog.get_by_label("Level in column").select_option("3: Stand")
            dialog.get_by_label("Volume in column").select_option("2: Inhoud")
            dialog.get_by_label("Decimal mark").select_option("comma 1,5")
            # No heading names a unit: they are asked for, and nothing is read by a guess.
            expect(
                dialog.get_by_text(re.compile("^the file does not say in which unit its (levels|volumes) are"))
            ).to_have_count(2)
            dialog.get_by_label("Unit of level").select_option("mm")
            dialog.get_by_label("Unit of volume").select_option("l")
            expect(dialog.get_by_text("row 4: the level “x” is not a number")).to_be_visible()
            expect(dialog.get_by_role("button", name="Make the tank")).to_be_disabled()
            mended = Path(folder) / "mended.csv"
            mended.write_text(rows.replace(";x", ";200"))
            page.get_by_label(re.compile("^The file")).set_input_files(mended)
            dialog.get_by_label("Level in column").select_option("3: Stand")
            dialog.get_by_label("Volume in column").select_option("2: Inhoud")
            dialog.get_by_label("Decimal mark").select_option("comma 1,5")
            dialog.get_by_label("Unit of level").select_option("mm")
            dialog.get_by_label("Unit of volume").select_option("l")
            expect(dialog.get_by_text("3 points of 4 rows")).to_be_visible()
        expect(dialog.get_by_text("2\u202f050.8 L")).to_be_visible()
        expect(dialog.get_by_label("Name of the tank")).to_have_value("wall chart")
        dialog.get_by_role("button", name="Make the tank").click()
        expect(page.get_by_role("heading", name="wall chart")).to_be_visible()
        page.locator('[data-reading="innage"] button').click()
        page.get_by_label("Innage: go to").fill("100 mm")
        page.keyboard.press("Enter")
        expect(page.locator('[data-reading="volume"] .mono')).to_have_text("1\u202f180.5")

    def test_a_chart_beside_a_tank(self) -> None:
        page = self.page
        open_tank(page, "Process water", "Table")
        pane(page, "Issue and compare")
        page.get_by_role("button", name="Bring in a chart").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_label("Or paste its rows").fill("level m,volume m3\n0,0\n2.6,26\n5.2,52\n")
        dialog.get_by_label("Name of the chart").fill("Painted on the tank")
        dialog.get_by_role("button", name="Keep this chart").click()
        # By hand: π / 4 × 3.6² × 5.2 m³ against 52 m³.
        more = pi / 4 * 3.6**2 * 5.2 * 1000 - 52_000
        expect(page.locator(".compare-words")).to_contain_text(f"{more:.1f} L more")

    def test_what_is_typed_while_a_file_is_read_stays(self) -> None:
        page = self.page
        go(page, "/tanks")
        page.get_by_role("button", name="From a chart").click()
        dialog = page.get_by_role("dialog")
        rows = dialog.get_by_label("Or paste its rows")
        rows.fill("ullage mm,volume m3\n2600,0\n0,26\n")
        reference = dialog.get_by_label("Reference height, mm")
        expect(reference).to_be_visible()
        # A stick that is slow to read: its text comes when the test says so.
        text = "ullage mm,volume m3\\n2600,0\\n0,27"
        page.evaluate(
            f"void (File.prototype.text = () => new Promise((read) => (window.isRead = () => read('{text}'))))"
        )
        slow = {"name": "slow.csv", "mimeType": "text/csv", "buffer": b"-"}
        dialog.get_by_label(re.compile("^The file")).set_input_files(slow)
        reference.fill("2710")
        page.evaluate("window.isRead()")
        expect(rows).to_have_value(re.compile("0,27$"))
        expect(reference).to_have_value("2710")


class Label(BrowserTest):
    def test_from_the_screen_to_a_picture_and_back(self) -> None:
        page = self.page
        open_tank(page, "Workboat fuel", "Table")
        with page.expect_download() as got:
            choose_file(page, "Tank file")
        document = json.loads(content(got.value))
        page.get_by_role("button", name="QR label").click()
        code = page.get_by_role("img", name="QR code")
        expect(code).to_be_visible()
        text = page.get_by_role("group", name="Text of the label").inner_text()
        with tempfile.TemporaryDirectory() as folder:
            picture = Path(folder) / "label.png"
            code.screenshot(path=picture)
            page.get_by_role("button", name="Close").click()
            go(page, "/tanks")
            page.get_by_role("button", name="Import a tank file").click()
            page.get_by_label(re.compile("^Drop a tank file")).set_input_files(picture)
            expect(page.get_by_label(PASTE)).to_have_value(re.compile("rasante.tank/1"))
        self.assertEqual(json.loads(page.get_by_label(PASTE).input_value()), document)
        # By paste: to another site, where the name is free.
        page.get_by_label("Site", exact=True).select_option("Skerrow quay")
        page.get_by_label(PASTE).fill(text)
        page.get_by_role("button", name="Import", exact=True).click()
        expect(page.get_by_role("heading", name="Workboat fuel, port side")).to_be_visible()
        expect(page.get_by_role("link", name="Skerrow quay")).to_be_visible()

    def test_a_picture_of_something_else(self) -> None:
        page = self.page
        go(page, "/tanks")
        with tempfile.TemporaryDirectory() as folder:
            picture = Path(folder) / "page.png"
            page.screenshot(path=picture)
            page.get_by_role("button", name="Import a tank file").click()
            page.get_by_label(re.compile("^Drop a tank file")).set_input_files(picture)
            expect(page.get_by_role("alert")).to_contain_text("no code can be made out")


class AtTheLine(BrowserTest):
    def test_a_drag_of_sixty_moves_on_a_sloped_tank(self) -> None:
        page = self.page
        # Counted where they are asked and given up: what the browser tells of them comes when it has time.
        page.add_init_script(
            """window.asked = { now: 0, most: 0, all: 0 };
            const ask = window.fetch;
            window.fetch = (request, ...more) => {
                if (!request.url.includes("/line/")) return ask(request, ...more);
                let open = true;
                const ended = () => { if (open) window.asked.now -= 1; open = false; };
                window.asked.all += 1;
                window.asked.now += 1;
                window.asked.most = Math.max(window.asked.most, window.asked.now);
                request.signal.addEventListener("abort", ended);
                const answer = ask(request, ...more);
                answer.then(ended, ended);
                return answer;
            };"""
        )
        open_tank(page, "Quay diesel south", "Table")
        box = page.get_by_role("slider").bounding_box()
        assert box is not None
        x, y = box["x"] + 90, box["y"] + box["height"] / 2
        page.mouse.move(x, y)
        page.mouse.down()
        seen = []
        for move in range(60):
            page.mouse.move(x, y - 30 + move)
            seen.append((reading(page, "innage"), page.locator(".readout-note").first.inner_text()))
        page.mouse.up()
        # Every move was answered, with U: no two readings the same, each lower than the one before.
        levels = [level for level, _ in seen]
        self.assertEqual(len(set(levels)), 60)
        self.assertEqual(levels, sorted(levels, reverse=True))
        self.assertTrue(all("k = 2" in note for _, note in seen))
        # While it moves, U comes from the curve's nodes: to its two digits it is the server's own.
        here = re.search(r"/tanks/(\d+)", page.url)
        assert here is not None
        for level, note in seen[::10]:
            asked = page.request.get(f"/api/tanks/{here[1]}/line/?by=innage&text={level} mm&system=metric")
            self.assertAlmostEqual(float(note.split()[1]), asked.json()["u95_l"], delta=0.51)
        # At most one request at a time, while it moves or after.
        page.wait_for_timeout(500)
        asked = page.evaluate("window.asked")
        self.assertEqual(asked["most"], 1)
        self.assertLessEqual(asked["all"], 60)

    def test_liquid_uncertainty_and_few_points(self) -> None:
        page = self.page
        open_tank(page, "Quay diesel north", "Table")
        pane(page, "Liquid")
        # To the same place as at the line: the table's ± carries no tenth of a litre here, nor does a tape.
        volume = page.locator('[data-reading="volume"] .mono').inner_text()
        self.assertGreater(last_place(page), 0.1)
        gross = page.locator(".contents div").filter(has_text="Product, gross").locator("dd")
        expect(gross).to_have_text(f"{volume} L")
        # A little water on the floor is not hidden by what the whole may be off by.
        page.get_by_label("Water up to").fill("1 mm")
        water = page.locator(".contents div").filter(has_text="Water under it").locator("dd")
        expect(water).to_have_text(re.compile(r"^(0\.[1-9]|[1-9]\d*\.\d) L$"))
        page.get_by_label("Water up to").fill("")
        page.get_by_label("Liquid at").fill("warm")
        expect(page.get_by_text("“warm” is no temperature")).to_be_visible()
        page.get_by_label("Liquid at").fill("5 °C")
        page.get_by_label("Observed density").fill("0,838 kg/l")
        expect(page.locator(".contents")).to_contain_text("Product at 15 °C")
        page.get_by_label("Put standard volume").check()
        pane(page, "Rows")
        expect(page.get_by_text("Standard L")).to_be_visible()
        pane(page, "± where from")
        expect(page.get_by_text("Shell length contributes most")).to_be_visible()
        expect(page.get_by_text(re.compile("Measured again by tape, inside"))).to_be_visible()
        pane(page, "Few points")
        page.get_by_label("Points, 2–128").fill("200")
        expect(page.get_by_role("alert")).to_contain_text("2 to 128")
        page.get_by_label("Points, 2–128").fill("16")
        page.get_by_label("Best points, volumes free").check()
        expect(page.get_by_role("row", name=re.compile("^Best points, volumes free"))).to_contain_text("16")
        with page.expect_download() as got:
            page.get_by_role("link", name="Points, CSV").click()
        rows = list(csv.DictReader(io.StringIO(content(got.value).decode())))
        self.assertEqual((len(rows), rows[0]["level_mm"], rows[-1]["level_mm"]), (16, "0.0", "2400.0"))
