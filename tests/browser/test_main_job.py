"""The main job from sign-in to signed proof, as a technician does it, and what must survive on the way."""

from __future__ import annotations

import csv
import io
import json
import re
import urllib.request
from pathlib import Path
from urllib.parse import urljoin

from playwright.sync_api import Download, Page
from pypdf import PdfReader

from rasante.core.quantities.words import places_by
from rasante.core.tanks.tank_file import check_document
from tests.core.samples import EXAMPLE, text

from .expecting import expect
from .harness import BrowserTest, go
from .screenshots import open_tank

PASTE = re.compile("^Or paste the text")


def reading(page: Page, name: str) -> float:
    """What reads at the line."""
    shown = page.locator(f'[data-reading="{name}"] .mono').inner_text()
    return float(shown.replace("\u202f", "").replace("−", "-"))


def last_place(page: Page) -> float:
    """Half of the last place that the volume at the line is shown to, by the ± beneath it."""
    note = page.locator(".readout-volume .readout-note").inner_text()
    half = float(note.partition("±")[2].split()[0].replace("\u202f", ""))
    return 0.51 * 10.0 ** -places_by(half, 1)


def content(download: Download) -> bytes:
    return Path(download.path()).read_bytes()


def pdf_words(download: Download) -> str:
    return "\n".join(page.extract_text() for page in PdfReader(io.BytesIO(content(download))).pages)


def choose_file(page: Page, name: str) -> None:
    """Pick one of the table's files."""
    page.get_by_role("button", name="Files").click()
    page.get_by_role("link", name=name).click()


def go_to(page: Page, station: str) -> None:
    page.get_by_role("navigation", name="Stations").get_by_role("link", name=station).click()
    page.get_by_role("region", name=station, exact=True).wait_for()


class MainJob(BrowserTest):
    def test_from_a_tank_file_to_a_signed_proof(self) -> None:  # noqa: PLR0915
        page = self.page
        tank = check_document(EXAMPLE).tank

        # Import the example, pasted.
        go(page, "/")
        page.get_by_role("link", name="Tanks").click()
        page.get_by_role("button", name="Import a tank file").click()
        page.get_by_label(PASTE).fill(text(EXAMPLE).replace("6000", '"6 m"'))
        page.get_by_role("button", name="Import", exact=True).click()
        expect(page.get_by_role("alert")).to_contain_text("shape.shell_length_mm")
        page.get_by_label(PASTE).fill(text(EXAMPLE))
        page.get_by_role("button", name="Import", exact=True).click()
        expect(page.get_by_role("heading", name="Net loft diesel")).to_be_visible()

        # Drag the line; everything follows.
        line = page.get_by_role("slider")
        box = line.bounding_box()
        assert box is not None
        page.mouse.move(box["x"] + 100, box["y"] + box["height"] / 2)
        page.mouse.down()
        page.mouse.move(box["x"] + 100, box["y"] - 20, steps=8)
        page.mouse.up()
        innage = reading(page, "innage")
        self.assertGreater(innage, 1300)
        self.assertAlmostEqual(
            reading(page, "volume"), float(tank.volume(innage / 1000)) * 1000, delta=last_place(page)
        )
        self.assertAlmostEqual(reading(page, "ullage"), 2550 - innage, delta=0.06)
        row = page.locator('[role="row"][aria-selected="true"]')
        expect(row).to_be_visible()
        self.assertLessEqual(abs(float(row.locator("span").first.inner_text().replace("\u202f", "")) - innage), 5.01)

        # Type a volume, nudge by keys, switch units and back: the same line.
        page.locator('[data-reading="volume"] button').click()
        page.get_by_label("Volume: go to").fill("3500 L")
        page.keyboard.press("Enter")
        expect(page.locator('[data-reading="volume"] .mono')).to_have_text("3\u202f500.0")
        self.assertAlmostEqual(reading(page, "innage"), tank.level(3.5) * 1000, delta=0.06)
        page.keyboard.press("u")
        expect(page.locator('[data-reading="volume"] .readout-unit')).to_have_text("US gal")
        # NIST SP 811: one US gallon is 3.785 411 784 L.
        self.assertAlmostEqual(reading(page, "volume"), 3500 / 3.785411784, delta=last_place(page))
        page.keyboard.press("u")
        expect(page.locator('[data-reading="volume"] .mono')).to_have_text("3\u202f500.0")

        # The table: step, units, files.
        page.get_by_label("Step", exact=True).select_option("1 mm")
        expect(page.get_by_text("2\u202f401 rows in steps of 1 mm")).to_be_visible()
        page.get_by_label("Volume in").select_option("m³")
        with page.expect_download() as got:
            choose_file(page, "Table, CSV")
        rows = list(csv.DictReader(io.StringIO(content(got.value).decode())))
        self.assertEqual((len(rows), rows[-1]["innage_mm"]), (2401, "2400.0"))
        self.assertAlmostEqual(float(rows[1200]["volume_m3"]), float(tank.volume(1.2)), places=8)
        with page.expect_download() as got:
            choose_file(page, "Table, PDF sheet")
        self.assertIn("Net loft diesel", pdf_words(got.value))
        with page.expect_download() as got:
            choose_file(page, "Tank file")
        self.assertEqual(json.loads(content(got.value)), EXAMPLE)

        # Scale it: a range that is too short is judged, then put right.
        go_to(page, "Scale")
        page.get_by_label("Range, low end").fill("0")
        page.get_by_label("Range, high end").fill("2 m")
        expect(page.get_by_text("the top 400 mm all shows alike")).to_be_visible()
        page.get_by_label("Range, high end").fill("2400")
        expect(page.get_by_text("The range covers the tank")).to_be_visible()
        page.get_by_label("Serial or tag").fill("NL-7")
        page.get_by_role("button", name="Keep this chain").click()
        expect(page.get_by_text("Kept, revision 1")).to_be_visible()
        page.locator('[data-reading="arriving"] button').click()
        page.get_by_label("Arriving: go to").fill("12 mA")
        page.keyboard.press("Enter")
        expect(page.locator('[data-reading="innage"] .mono')).to_have_text("1\u202f200.0")

        # Prove it: five points, as found out of tolerance, as left good; one dip; sign.
        go_to(page, "Prove")
        page.get_by_role("button", name="Begin a proof").click()
        for number, (found, left) in enumerate(
            [("20", "1"), ("622", "601"), ("1224", "1201"), ("1826", "1800"), ("2428 mm", "2401 mm")], start=1
        ):
            page.get_by_label(f"Point {number}, as found, rising").fill(found)
            page.get_by_label(f"Point {number}, as left, rising").fill(left)
            page.get_by_label(f"Point {number}, as left, falling").fill(left)
        page.get_by_label("Dipped", exact=True).fill("1,2 m")
        page.get_by_label("Indicated").fill("1204 mm")
        page.get_by_label("Control is in manual").check()
        expect(page.get_by_text("the word that control is restored")).to_be_visible()
        page.get_by_label("Control is restored").check()
        expect(page.get_by_text(re.compile(r"Agrees: \+4\.0 mm"))).to_be_visible()
        expect(page.get_by_text(re.compile(r"As found.*does not pass.*Worst error \+28\.0 mm"))).to_be_visible()
        page.get_by_label("Your name").fill("Isla Brand")
        page.get_by_label("Your password").fill("skerrow-tech")
        page.get_by_role("button", name="Sign", exact=True).click()
        expect(page.get_by_text("Signed by Isla Brand")).to_be_visible()
        with page.expect_download() as got:
            page.get_by_role("link", name="PDF record").click()
        words = pdf_words(got.value)
        for expected in ("PASSES", "Net loft diesel", "NL-7", "Isla Brand", "1224", "Dip 1200 mm"):
            self.assertIn(expected, words)


class NothingIsLost(BrowserTest):
    unread = True

    def test_half_a_proof_survives_a_killed_server(self) -> None:
        page = self.page
        open_tank(page, "Header tank", "Prove")
        page.get_by_role("button", name="Begin a proof").click()
        page.get_by_label("Control is in manual").check()
        for number, read in ((1, "0 mm"), (2, "2500 mm")):
            page.get_by_label(f"Point {number}, as found, rising").fill(read)
        expect(page.locator(".save-state", has_text=re.compile(r"^saved \d\d:\d\d$"))).to_be_visible()

        self.server.kill()
        page.get_by_label("Point 3, as found, rising").fill("5001 mm")
        expect(page.get_by_text("not saved yet, retrying")).to_be_visible()
        self.server.start()
        expect(page.locator(".save-state", has_text=re.compile(r"^saved \d\d:\d\d$"))).to_be_visible()

        # Killed again, typed into, and the page closed before the server is back.
        self.server.kill()
        page.get_by_label("Point 4, as found, rising").fill("7502 mm")
        expect(page.get_by_text("not saved yet, retrying")).to_be_visible()
        self.server.start()
        page.reload()
        for number, read in enumerate(("0 mm", "2500 mm", "5001 mm", "7502 mm"), start=1):
            expect(page.get_by_label(f"Point {number}, as found, rising")).to_have_value(read)
        page.get_by_label("Point 5, as found, rising").fill("10000 mm")
        page.get_by_label("Control is restored").check()
        page.get_by_label("Your name").fill("Isla Brand")
        page.get_by_label("Your password").fill("skerrow-tech")
        page.get_by_role("button", name="Sign", exact=True).click()
        expect(page.get_by_text("Signed by Isla Brand")).to_be_visible()
        expect(page.get_by_text("Passes", exact=False).first).to_be_visible()

    def test_two_devices_on_one_draft(self) -> None:
        open_tank(self.page, "Process water", "Prove")
        other = self.phone("tech2")
        go(other, self.page.url)
        with other.expect_response(lambda answer: answer.request.method == "PUT"):
            other.get_by_label("Remarks").fill("from the phone")
        self.page.get_by_label("Remarks").fill("from the laptop")
        expect(self.page.get_by_text("another device")).to_be_visible()
        shown = self.page.get_by_role("alert", name="Changed by somebody else since you began")
        expect(shown.get_by_role("row", name=re.compile("^remarks"))).to_contain_text("from the laptop")
        shown.get_by_role("button", name="All as kept now").click()
        shown.get_by_role("button", name="Go on with these").click()
        expect(self.page.get_by_label("Remarks")).to_have_value("from the phone")

    def test_a_survey_survives_leaving_the_page(self) -> None:
        page = self.page
        go(page, "/tanks/new")
        page.get_by_label("Name", exact=True).fill("Half typed")
        page.get_by_label("Shell length", exact=True).fill("3000")
        page.get_by_label("Inside diameter", exact=True).fill("5' 3 1/4\"")
        # A bare number is given the unit it was read in as soon as its field is left.
        expect(page.get_by_label("Shell length", exact=True)).to_have_value("3000 mm")
        expect(page.get_by_text("1\u202f606.5 mm", exact=False)).to_be_visible()
        go(page, "/")
        page.get_by_role("heading", name="Needs a person").wait_for()
        page.goto("/tanks/new")
        expect(page.get_by_label("Inside diameter", exact=True)).to_have_value("5' 3 1/4\"")
        page.get_by_role("button", name="Start over").click()
        expect(page.get_by_label("Name", exact=True)).to_have_value("")
        page.get_by_role("button", name="Undo").click()
        expect(page.get_by_label("Name", exact=True)).to_have_value("Half typed")


class Surveying(BrowserTest):
    def test_a_new_site_and_tank_drawn_as_it_is_typed(self) -> None:
        page = self.page
        go(page, "/tanks/new")
        page.get_by_role("button", name="New site").click()
        page.get_by_label("Site").fill("Skerrow hatchery")
        page.get_by_role("button", name="Make site").click()
        expect(page.get_by_label("Site")).to_contain_text("Skerrow hatchery")
        page.get_by_label("Kind").select_option("Box")
        for label, typed in (("Inside length", "2 m"), ("Inside width", "1,5 m"), ("Inside height", "-1 m")):
            page.get_by_label(label, exact=True).fill(typed)
        expect(page.get_by_text("it must be more than 0")).to_be_visible()
        page.get_by_label("Inside height", exact=True).fill("10 km")
        expect(page.get_by_text("dimensions up to 100 m are taken")).to_be_visible()
        page.get_by_label("Inside height", exact=True).fill("1200")
        # Drawn before it is named.
        section = page.get_by_role("group", name="Section of the tank")
        expect(section).to_be_visible()
        expect(page.get_by_role("button", name="Keep this tank")).to_be_disabled()
        shape = section.locator("path.shell").get_attribute("d")
        page.get_by_label("Inside length", exact=True).fill("4 m")
        page.wait_for_function(
            "shape => document.querySelector('path.shell')?.getAttribute('d') !== shape", arg=shape
        )
        page.get_by_label("Name", exact=True).fill("Smolt tank")
        page.get_by_role("button", name="Add an opening").click()
        page.get_by_role("checkbox", name="Vent").check()
        expect(page.get_by_text("The vent has an opening of its own.")).to_be_visible()
        page.get_by_role("button", name="Keep this tank").click()
        expect(page.get_by_role("heading", name="Smolt tank")).to_be_visible()
        expect(page.get_by_role("region", name="Table", exact=True)).to_be_visible()
        # What was typed is kept, with the unit it was read in; a changed field draws at once and is kept on asking.
        go_to(page, "Survey")
        expect(page.get_by_label("Inside height", exact=True)).to_have_value("1200 mm")
        page.get_by_label("Inside height", exact=True).fill("1300")
        expect(page.get_by_text("on this device only")).to_be_visible()
        expect(page.get_by_text("Capacity +600.0 L")).to_be_visible()
        page.get_by_role("button", name="Keep this survey").click()
        expect(page.get_by_text("Revision 2, kept")).to_be_visible()

    def test_a_file_that_is_dropped_or_picked(self) -> None:
        page = self.page
        go(page, "/tanks")
        page.get_by_role("button", name="Import a tank file").click()
        picker = page.get_by_label(re.compile("^Drop a tank file"))
        picker.set_input_files({"name": "junk.json", "mimeType": "application/json", "buffer": b"x" * 5_000_000})
        expect(page.get_by_role("alert")).to_contain_text("at most 1 MB")
        named = json.dumps(EXAMPLE | {"name": "Dropped in"}).encode()
        page.evaluate(
            """(text) => {
                const files = new DataTransfer();
                files.items.add(new File([text], "tank.json", { type: "application/json" }));
                document.querySelector(".drop").dispatchEvent(
                    new DragEvent("drop", { dataTransfer: files, bubbles: true, cancelable: true }));
            }""",
            named.decode(),
        )
        page.get_by_role("button", name="Import", exact=True).click()
        expect(page.get_by_role("heading", name="Dropped in")).to_be_visible()

    def test_readings_from_csv_and_back(self) -> None:
        page = self.page
        open_tank(page, "Process water", "Prove")
        expect(page.get_by_label("Point 1, as found, rising")).to_have_value("2 mm")
        page.get_by_role("button", name="Begin a proof").click()
        expect(page.get_by_label("Point 1, as found, rising")).to_have_value("")
        picker = page.get_by_label("Readings from a CSV file")
        rows = ["run;direction;applied_ma;read_mm", *(f"found;up;{4 + 4 * i};{1300 * i},5" for i in range(5))]
        bad = "\n".join(rows).replace("2600,5", "high")
        picker.set_input_files({"name": "bad.csv", "mimeType": "text/csv", "buffer": bad.encode()})
        expect(page.get_by_role("alert")).to_contain_text("row 4, column read_mm")
        good = ("\ufeff" + "\n".join(rows)).encode()
        picker.set_input_files({"name": "good.csv", "mimeType": "text/csv", "buffer": good})
        expect(page.get_by_label("Point 3, as found, rising")).to_have_value("2600.5 mm")
        page.get_by_role("button", name="Undo").click()
        expect(page.get_by_label("Point 3, as found, rising")).to_have_value("")

    def test_a_lead_deletes_after_being_asked(self) -> None:
        page = self.window("lead")
        open_tank(page, "Village vessel, chapel", "Survey")
        page.get_by_role("button", name="Delete this tank").click()
        dialog = page.get_by_role("dialog")
        expect(dialog).to_contain_text("Delete Village vessel, chapel?")
        dialog.get_by_role("button", name="Delete Village vessel, chapel").click()
        expect(page.get_by_role("heading", name="Tanks")).to_be_visible()
        expect(page.get_by_role("link", name="Village vessel, chapel")).to_have_count(0)

    def test_a_lead_deletes_a_draft(self) -> None:
        page = self.window("lead")
        open_tank(page, "Quay diesel north", "Prove")
        page.get_by_role("button", name="Begin a proof").click()
        page.get_by_label("Remarks").fill("begun by mistake")
        page.get_by_role("button", name="Delete this draft").click()
        page.get_by_role("dialog").get_by_role("button", name=re.compile("^Delete the draft")).click()
        expect(page.get_by_text("Signed by Isla Brand")).to_be_visible()
        expect(page.get_by_text("begun by mistake")).to_have_count(0)

    def test_the_shell_is_small(self) -> None:
        # The first scripts and styles, as they are sent: at most 150 kB compressed, and few: each is a wait.
        with urllib.request.urlopen(urljoin(self.server.url, "/sign-in")) as answer:
            page = answer.read().decode()
        script = re.search(r'<script type="module"[^>]* src="([^"]+)"', page)
        assert script is not None
        total = 0
        linked = re.findall(r'<link rel="(?:modulepreload|stylesheet)"[^>]* href="([^"]+)"', page)
        self.assertLessEqual(len(linked), 6)
        for path in {script[1], *linked}:
            request = urllib.request.Request(urljoin(self.server.url, path), headers={"Accept-Encoding": "gzip"})
            with urllib.request.urlopen(request) as answer:
                content = answer.read()
                # What is so small that packing would make it larger goes as it is.
                self.assertTrue(answer.headers["Content-Encoding"] == "gzip" or len(content) < 1000, path)
                total += len(content)
        self.assertLess(total, 150_000)
