"""The Wiring station in the browser: the circuit chosen and wired wrong, budgeted, probed, rung out, printed."""

from __future__ import annotations

import json
import re

from playwright.sync_api import Page

from .expecting import expect
from .harness import BrowserTest
from .screenshots import open_tank, pane
from .test_gauges import keep
from .test_main_job import content, pdf_words


def wiring(page: Page, tank: str, name: str = "") -> None:
    if name:
        pane(page, tank, name, "Wiring")
    else:
        open_tank(page, tank, "Wiring")


class Circuits(BrowserTest):
    def test_from_the_gauge_to_the_printed_sheet(self) -> None:
        page = self.page
        wiring(page, "Slip petrol")
        expect(page.get_by_text("Not kept yet: as it follows from the gauge.")).to_be_visible()
        drawing = page.get_by_role("group", name="Wiring drawing")
        expect(drawing).to_contain_text("two-wire, from 9 V")
        expect(drawing).to_contain_text("Barrier")
        page.get_by_label("Run 1, length").fill("120 m")
        page.get_by_label("Wire size").fill("18 AWG")
        expect(drawing).to_contain_text("18 AWG, 120 m")
        page.get_by_role("button", name="Add a run behind a junction box").click()
        page.get_by_label("Run 2, length").fill("15 ft")
        expect(drawing).to_contain_text("Box 1")
        page.get_by_label("Core 1, rung out as").fill("violet")
        keep(page, "wiring")
        with page.expect_download() as got:
            page.get_by_role("link", name="Wiring sheet to print").click()
        words = pdf_words(got.value)
        for word in ("Terminal by terminal", "violet", "Box 1", "Loop budget", "proven dead"):
            self.assertIn(word, words)
        with page.expect_download() as got:
            page.get_by_role("link", name="Circuit as a file").click()
        circuit = json.loads(content(got.value))
        self.assertEqual(circuit["format"], "rasante.circuit/1")
        self.assertEqual(sum(part["kind"] == "cable" for part in circuit["parts"]), 2)

    def test_wired_wrong_it_says_so(self) -> None:
        page = self.page
        wiring(page, "Quay diesel north")
        expect(page.get_by_text("The circuit is closed, with one supply the right way round.")).to_be_visible()
        page.get_by_label("Move ends").check()
        # The two cores at the transmitter change places.
        rows = page.locator(".terminal-list tbody tr")
        at = [
            i for i in range(rows.count()) if rows.nth(i).locator("select").nth(1).input_value().startswith("sensor.")
        ]
        for row, terminal in zip(at, ("Transmitter −", "Transmitter +"), strict=True):
            rows.nth(row).locator("select").nth(1).select_option(terminal)
        expect(page.get_by_text("Transmitter is the wrong way round: swap its plus and minus.")).to_be_visible()
        self.assertEqual(page.locator(".wire.moved").count(), 2)
        page.get_by_role("tab", name="Meter").click()
        shows = page.get_by_role("status", name="The meter shows")
        expect(shows).to_contain_text(re.compile(r"-2\d\.\d{3} V"))
        page.get_by_role("button", name="Discard changes").click()
        expect(shows).to_contain_text(re.compile(r"\d\d\.\d{3} V"))
        page.get_by_role("tab", name="Circuit").click()
        page.get_by_label("Input is").select_option("active, and a supply in the loop as well")
        expect(page.get_by_text(re.compile("both drive this loop"))).to_be_visible()
        page.get_by_label("Shield earthed").select_option("at both ends")
        expect(page.get_by_text("The shield is earthed at both ends")).to_be_visible()
        page.get_by_role("button", name="Discard changes").click()

    def test_will_it_carry(self) -> None:
        page = self.page
        wiring(page, "Quay diesel south", "Will it carry")
        expect(page.get_by_text(re.compile("are left for the transmitter and it needs 9 V"))).to_be_visible()
        page.get_by_role("tab", name="Circuit").click()
        page.get_by_label("Supply", exact=True).fill("28 V")
        page.get_by_role("tab", name="Will it carry").click()
        expect(page.get_by_text(re.compile(r"Margin \d\.\d V at 22.5 mA"))).to_be_visible()
        page.get_by_label("Run 1, length").fill("9 km")
        expect(
            page.get_by_text("no size here carries it").or_(page.get_by_text(re.compile("mm² carries it")))
        ).to_be_visible()
        page.get_by_label("Added burden").fill("250")
        expect(page.get_by_text(re.compile("it stops following above|it never starts"))).to_be_visible()
        page.get_by_role("button", name="Discard changes").click()
        # A three-wire link says what its shared minus costs, as levels of this tank.
        wiring(page, "Workboat fuel", "Will it carry")
        expect(page.get_by_text(re.compile("the shared minus lifts its ground"))).to_be_visible()
        expect(page.get_by_role("columnheader", name="Ground lifted")).to_be_visible()


class Meters(BrowserTest):
    def test_volts_milliamperes_and_ohms(self) -> None:
        page = self.page
        wiring(page, "Quay diesel north", "Meter")
        shows = page.get_by_role("status", name="The meter shows")
        expect(shows).to_contain_text(re.compile(r"\d\d\.\d{3} V"))
        page.get_by_label("Red lead on").select_option("Input +")
        page.get_by_label("Black lead on").select_option("Input −")
        # 12 mA at the line through 100 Ω.
        expect(shows).to_contain_text("1.200 V")
        page.get_by_label("Current that the sensor means to send").fill("20")
        expect(shows).to_contain_text("2.000 V")
        page.get_by_role("button", name="as at the line").click()
        expect(shows).to_contain_text("1.200 V")
        # Never ohms on a live circuit; with the power off the input's own.
        dial = page.get_by_role("group", name="Dial")
        dial.get_by_role("button", name="Ω").click()
        expect(shows).to_contain_text("Never on a live circuit")
        page.get_by_role("button", name="Off", exact=True).click()
        expect(shows).to_contain_text("100.0 Ω")
        # Milliamperes in series, with a wire lifted.
        page.get_by_role("button", name="Power on").click()
        dial.get_by_role("button", name="mA").click()
        expect(shows).to_contain_text("not the loop's current")
        lift = page.get_by_label("Lift a wire off its first terminal")
        lift.select_option(lift.locator("option", has_text="to Transmitter +").inner_text())
        expect(shows).to_contain_text("12.000 mA")
        # Leads by touching the drawing.
        lift.select_option("none lifted")
        dial.get_by_role("button", name="V", exact=True).click()
        touch = page.locator(".terminal-touch")
        touch.first.click()
        touch.nth(1).click()
        expect(page.get_by_label("Red lead on")).to_have_value("supply.+")
        expect(shows).to_contain_text("23.99")

    def test_ringing_out_and_writing_it_on_the_cores(self) -> None:
        page = self.page
        wiring(page, "Quay diesel south", "Ring out")
        for number, name in ((1, "pink"), (2, "green")):
            page.get_by_label(f"Conductor {number}, name").fill(name)
        for cell, ohms in (("1 to pink", "OL"), ("1 to green", "1,2"), ("2 to pink", "0.9 Ω"), ("2 to green", "OL")):
            page.get_by_label(f"Pin {cell}").fill(ohms)
        expect(page.get_by_text("green, 1.2 Ω")).to_be_visible()
        page.get_by_label("Pin 1, should be").select_option("pink")
        page.get_by_label("Pin 2, should be").select_option("green")
        expect(page.get_by_text("Pins 1 and 2 are swapped against the drawing.")).to_be_visible()
        page.reload()
        expect(page.get_by_label("Pin 1 to green")).to_have_value("1,2")
        page.get_by_role("button", name="Write these on the cores").click()
        page.get_by_role("tab", name="Circuit").click()
        expect(page.get_by_label("Core 1, rung out as")).to_have_value("green, pin 1")
        expect(page.get_by_role("cell", name="green, pin 1").first).to_be_visible()
        page.get_by_role("button", name="Discard changes").click()
        page.get_by_role("tab", name="Ring out").click()
        page.get_by_label("Pin 1 to pink").fill("0.4")
        expect(page.get_by_text("they are shorted to one another")).to_be_visible()

    def test_what_arrived(self) -> None:
        page = self.page
        wiring(page, "Quay diesel south", "Arrived, kit")
        page.get_by_label("Measured at the terminals").fill("48 V")
        expect(page.get_by_text("do not connect it")).to_be_visible()
        page.get_by_label("Measured at the terminals").fill("24,1")
        expect(page.get_by_text("right to connect")).to_be_visible()
        page.get_by_label("Range on the label").fill("5 m")
        expect(page.get_by_text("That is the cable's length").or_(page.get_by_text("2.00 times off"))).to_be_visible()
        page.get_by_label("Wires that come out").fill("3")
        expect(page.get_by_text("takes 2 wires")).to_be_visible()
        expect(page.get_by_role("listitem").filter(has_text="Desiccant breather")).to_be_visible()
        page.get_by_role("button", name="Discard changes").click()


class Links(BrowserTest):
    def test_every_link_is_drawn_and_a_plug_is_wired_by_its_pins(self) -> None:
        page = self.page
        wiring(page, "Boiler oil")
        drawing = page.get_by_role("group", name="Wiring drawing")
        for link, word in (
            ("Voltage, three-wire", "out"),
            ("4–20 mA, four-wire active", "out+"),
            ("Contact or pulse", "Level switch"),
            ("Digital, RS-485", "Port"),
            ("4–20 mA, two-wire", "Transmitter"),
        ):
            page.get_by_label("Link", exact=True).select_option(link)
            expect(drawing).to_contain_text(word)
            expect(page.get_by_text("The circuit is closed, with one supply the right way round.")).to_be_visible()
        page.get_by_label("Four-pin plug at the sensor").check()
        expect(drawing).to_contain_text("M12")
        page.get_by_label("Sensor − on").select_option("pin 1")
        expect(page.get_by_text("pin 1 cannot carry two signals").first).to_be_visible()
        page.get_by_label("Sensor − on").select_option("pin 3")
        expect(page.get_by_role("cell", name="M12 pin 3").first).to_be_visible()
        page.get_by_label("Core 2, rung out as").fill("grey")
        expect(drawing).to_contain_text("2 grey")
        with page.expect_download() as got:
            page.get_by_role("link", name="Circuit as a file").click()
        self.assertEqual(json.loads(content(got.value))["kind"], "two_wire")
        page.get_by_role("button", name="Discard changes").click()
