"""The scaling chain in the browser: read at the line, parted, rescaled, marked, and handed out as a sheet."""

from __future__ import annotations

import re
from pathlib import Path

from playwright.sync_api import Page

from .expecting import expect
from .harness import BrowserTest
from .screenshots import open_tank, pane, parting


def rung(page: Page, name: str):
    """One row of the chain, by its hop."""
    return page.locator("tr.rung").filter(has=page.get_by_text(name, exact=True))


class Chain(BrowserTest):
    def test_every_hop_reads_at_the_line_and_is_set(self) -> None:
        page = self.page
        pane(page, "Slip petrol", "Chain", "Scale")
        expect(page.get_by_text("Not kept yet")).to_be_visible()
        page.get_by_label("Range, high end").fill("0.16 bar")
        page.get_by_role("button", name="Scaling").click()
        page.get_by_label("Places it keeps").fill("1")
        page.locator('[data-reading="innage"] button').click()
        page.get_by_label("Innage: go to").fill("500 mm")
        page.keyboard.press("Enter")
        expect(rung(page, "The liquid")).to_contain_text("500 mm")
        # It hangs 50 mm off the floor: 745 kg/m³ × 9.80665 m/s² × 0.45 m of 0.16 bar, on 16 mA above 4.
        expect(rung(page, "Transmitter")).to_contain_text("7.288 mA")
        expect(rung(page, "Scaling")).to_contain_text(re.compile(r"450(\.\d)? mm"))
        expect(rung(page, "Screen")).to_contain_text(re.compile(r"± \d+\.\d mm"))
        # The line takes the chain along.
        page.get_by_role("slider", name="The line").press("Shift+ArrowUp")
        expect(rung(page, "The liquid")).to_contain_text("510 mm")
        expect(rung(page, "Transmitter")).to_contain_text("7.361 mA")
        # And the other way round: what is typed at a hop moves the line.
        page.get_by_role("button", name=re.compile("Counts .* type another")).click()
        page.get_by_label("Counts: go to").fill("19660")
        page.keyboard.press("Enter")
        expect(rung(page, "The liquid")).to_contain_text("1145 mm")
        page.get_by_role("button", name=re.compile("Shown .* type another")).click()
        page.get_by_label("Shown: go to").fill("9 m")
        page.keyboard.press("Enter")
        expect(page.get_by_text("this tank has 0 to 1500 mm")).to_be_visible()
        page.keyboard.press("Escape")
        # A setting that does not follow is told, with what it should be.
        page.get_by_label("High stands for").fill("1500")
        expect(
            page.get_by_text(re.compile("high stands for .scaled.high. is 1500, the rest asks for"))
        ).to_be_visible()
        page.get_by_label("High stands for").fill("")
        expect(page.get_by_text("Every hop agrees with the next")).to_be_visible()
        expect(page.get_by_text(re.compile("most of it from the"))).to_be_visible()
        page.get_by_label("It shows").select_option("ft")
        expect(page.locator(".meter-ends")).to_contain_text("At 4 mA 0.164, at 20 mA 7.349")
        page.get_by_role("button", name="Keep this chain").click()
        expect(page.get_by_text("Kept, revision 1")).to_be_visible()
        page.reload()
        expect(page.get_by_label("Range, high end")).to_have_value("0.16 bar")
        page.get_by_label("Range, high end").fill("0.16 m")
        expect(page.get_by_text("“m” is not a unit of pressure").first).to_be_visible()
        expect(page.get_by_role("button", name="Keep this chain")).to_be_disabled()
        page.get_by_role("button", name="Discard changes").click()

    def test_where_it_parts_narrows_as_more_is_read(self) -> None:
        page = self.page
        parting(page)
        says = page.locator(".parting-says")
        expect(says).to_contain_text("Truth and reading part at the scaling, register, link or screen")
        first = page.locator(".explanations > li").first
        expect(first).to_contain_text("the old setting left in: high stands for (scaled.high) 1199 instead of 1800")
        page.get_by_label("Scaled number, readings 1").fill("627")
        expect(says).to_contain_text("Truth and reading part at the scaling. From counts 20252")
        expect(page.locator("tr.accused")).to_have_count(1)
        page.get_by_label("Read from it, readings 1").fill("many")
        expect(page.get_by_text("“many” cannot be read").first).to_be_visible()
        page.get_by_label("Read from it, readings 1").fill("")
        page.get_by_role("button", name="Keep these readings").click()
        expect(page.get_by_text("Kept, revision 2")).to_be_visible()
        # What was kept are findings of the case as well, and nobody types them twice.
        page.get_by_role("tab", name="This case").click()
        along = page.get_by_role("region", name="Read along the chain")
        expect(along).to_contain_text("level 400 mm, arriving 7.02 mA, shown")
        along.get_by_role("button", name="Take them as findings").click()
        expect(along).to_have_count(0)
        trail = page.get_by_role("region", name="Findings").get_by_role("listitem")
        expect(trail).to_have_count(3)
        expect(trail.filter(has_text="7.02 mA")).to_have_count(1)
        page.get_by_role("button", name="Discard changes").click()
        expect(along).to_be_visible()
        page.get_by_role("tab", name="Where it parts").click()
        # The screen put right: nothing parts any more.
        page.get_by_label("Scaled number, readings 1").fill("940")
        page.get_by_label("Shown, readings 1").fill("1000")
        page.get_by_label("Shown, readings 2").fill("400 mm")
        expect(says).to_contain_text("Nothing parts beyond what the instruments allow")
        expect(page.locator(".explanations")).to_have_count(0)

    def test_a_rescaling_is_ticked_off_and_kept(self) -> None:
        page = self.page
        pane(page, "Header tank", "Change a part", "Scale")
        page.locator('[data-reading="innage"] button').click()
        page.get_by_label("Innage: go to").fill("600 mm")
        page.keyboard.press("Enter")
        page.get_by_label("Range, high end").fill("5 m")
        changes = page.get_by_role("region", name="What must change")
        expect(changes.locator("tbody tr").filter(has_text="High stands for")).to_contain_text("5000")
        expect(page.locator(".rescale-says")).to_contain_text(
            "of liquid shows as 1200 mm instead of 600 mm: 2.000 of the truth"
        )
        page.get_by_role("button", name="Begin this rescaling").click()
        expect(page.get_by_text("say what was changed")).to_be_visible()
        page.get_by_label("Why, for the record").fill("Deeper sensor")
        page.get_by_role("button", name="Begin this rescaling").click()
        expect(page.get_by_role("heading", name=re.compile("Deeper sensor: . of . to do"))).to_be_visible()
        close = page.get_by_role("button", name="Close it, and keep the chain so")
        expect(close).to_be_disabled()
        for box in page.locator(".rescale-list input").all():
            box.check()
        close.click()
        expect(page.get_by_text(re.compile("Isla Brand: Deeper sensor"))).to_be_visible()
        page.get_by_role("tab", name="Chain").click()
        page.get_by_role("button", name="Scaling").click()
        expect(page.get_by_label("High stands for")).to_have_attribute("placeholder", "5000")

    def test_marks_stand_in_the_section_and_go_to_another_tank(self) -> None:
        page = self.page
        pane(page, "Quay diesel north", "Marks", "Scale")
        expect(page.locator(".mark-flags")).to_contain_text("reorder")
        page.get_by_label("Reorder", exact=True).fill("4000 L")
        expect(page.get_by_text(re.compile("Reorder at .* is not above low"))).to_be_visible()
        page.get_by_label("Reorder", exact=True).fill("30 %")
        expect(page.get_by_role("region", name="Marks by level").locator("tbody tr")).to_have_count(5)
        page.get_by_label("Minutes until it is stopped").fill("5")
        expect(page.get_by_text("set high lower, or fill slower")).to_be_visible()
        page.get_by_label("Save these marks as").fill("Bunkers, slow hands")
        page.get_by_role("button", name="Save as a set").click()
        expect(page.get_by_role("button", name="Apply Bunkers, slow hands")).to_be_visible()
        page.get_by_role("button", name="Discard changes").click()
        pane(page, "Quay diesel south", "Marks", "Scale")
        page.get_by_role("button", name="Apply Bunkers, slow hands").click()
        expect(page.get_by_label("Reorder", exact=True)).to_have_value("30 %")
        expect(page.get_by_text(re.compile("Overfill is .* above the end of the range"))).to_be_visible()
        page.get_by_label("Overfill", exact=True).fill("much")
        expect(page.get_by_text("is no mark: 3500 L, 90 %").first).to_be_visible()
        page.get_by_role("button", name="Discard changes").click()

    def test_marks_move_with_a_revised_table(self) -> None:
        page = self.page
        pane(page, "Boiler oil", "Marks", "Scale")
        page.get_by_label("Reorder", exact=True).fill("20 m3")
        page.get_by_label("Low", exact=True).fill("400 mm")
        page.get_by_role("button", name="Keep these marks").click()
        expect(page.get_by_text("Kept, revision 1")).to_be_visible()
        open_tank(page, "Boiler oil", "Survey")
        page.get_by_role("button", name="Add deadwood").click()
        page.get_by_label("deadwood 1: from").fill("100 mm")
        page.get_by_label("deadwood 1: to").fill("500 mm")
        page.get_by_label("deadwood 1: volume").fill("-100 L")
        page.get_by_role("button", name="Keep this survey").click()
        expect(page.get_by_text("Revision 2, kept")).to_be_visible()
        pane(page, "Boiler oil", "Issue and compare")
        page.get_by_label("Why table 2 is issued").fill("A heating coil")
        page.get_by_role("button", name="Issue table 2").click()
        expect(page.get_by_role("button", name="Issue table 3")).to_be_visible()
        pane(page, "Boiler oil", "Marks", "Scale")
        moved = page.get_by_role("region", name="Marks moved by the new table").locator("tbody tr")
        expect(moved).to_have_count(2)
        # 100 L less, at 40.6 L a millimetre.
        expect(moved.filter(has_text="Reorder")).to_contain_text("+2.5 mm, 0.0 L")
        expect(moved.filter(has_text="Low")).to_contain_text("0.0 mm, −75.0 L")
        page.get_by_role("button", name="Keep these marks").click()
        expect(moved).to_have_count(0)
        expect(page.get_by_text("Kept, revision 2")).to_be_visible()

    def test_a_device_sheet_is_written_and_read_back(self) -> None:
        page = self.page
        pane(page, "Quay diesel north", "Devices", "Scale")
        expect(page.get_by_role("region", name="As found against the sheet").locator("tbody tr")).to_have_count(2)
        page.get_by_label("Note").fill("After the filter was set")
        page.get_by_role("button", name="Write sheet 2").click()
        expect(page.get_by_text("After the filter was set")).to_be_visible()
        with page.expect_download() as download:
            page.get_by_role("link", name="CSV").click()
        table = Path(download.value.path()).read_text("utf-8")
        self.assertIn("Screen,filter.time", table)
        with page.expect_download() as download:
            page.get_by_role("link", name="PDF").click()
        self.assertEqual(Path(download.value.path()).read_bytes()[:5], b"%PDF-")
        page.get_by_text("Read the devices back").click()
        spoiled = table.replace('Screen,filter.time,"Filter, time constant, s",10', 'Screen,filter.time,"Filter",3')
        self.assertNotEqual(spoiled, table)
        files = [{"name": "found.csv", "mimeType": "text/csv", "buffer": spoiled.encode()}]
        page.get_by_label("The file, CSV or JSON").set_input_files(files)
        page.get_by_role("button", name="Compare and keep as found").click()
        expect(page.locator(".parting-says")).to_contain_text("1 differs")
        expect(page.get_by_role("region", name="As found against the sheet")).to_contain_text("Filter, time constant")
        page.get_by_label("Or paste its rows").fill("a;b")
        page.get_by_role("button", name="Compare and keep as found").click()
        expect(page.get_by_role("alert")).to_contain_text("needs the columns")
        page.get_by_role("button", name="Sheet 1", exact=True).click()
        expect(page.get_by_text("by Isla Brand: Commissioning")).to_be_visible()

    def test_wet_ends_stand_still_and_go_into_the_chain(self) -> None:
        page = self.page
        pane(page, "Workboat fuel", "Cut", "Gauge")
        expect(page.get_by_text("Drain it longer: fuel clings.")).to_be_visible()
        for number, counts in ((5, "21151"), (6, "21149"), (7, "21150")):
            page.get_by_label(f"Empty, reading {number}").type(counts)
        expect(page.get_by_text("Empty: stands still at 21150 counts.")).to_be_visible()
        page.get_by_role("button", name="Keep these ends").click()
        expect(page.get_by_text("Kept, revision 2")).to_be_visible()
        page.get_by_role("button", name="Put both ends into the chain").click()
        page.get_by_role("button", name="Sensing").click()
        expect(page.get_by_label("Counts, empty")).to_have_value("21150")
        expect(page.get_by_label("Counts, full")).to_have_value("41161")
        expect(rung(page, "Sensing")).to_contain_text(re.compile(r"\d{5}"))
        page.get_by_role("button", name="Discard changes").click()

    def test_on_a_phone_the_readings_come_first(self) -> None:
        page = self.phone()
        open_tank(page, "Quay diesel south", "Scale")
        page.get_by_role("link", name="Find where it parts").tap()
        says = page.locator(".parting-says")
        expect(says).to_be_in_viewport()
        box = page.get_by_label("Level, readings 1").bounding_box()
        assert box is not None
        self.assertGreaterEqual(box["height"], 44)
