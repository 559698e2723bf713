"""Find the fault, from the symptom to restored control: two cases, answered by an installation with that fault."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any

from playwright.sync_api import Locator, Page

from rasante.core.faults.case_words import reading_text
from rasante.core.faults.fault import fault_kinds, faults_of_kind
from rasante.core.faults.fault_test import fault_tests
from rasante.core.faults.installation import Installation
from rasante.core.faults.predict import Wrong
from rasante.core.scaling.chain_form import Ground, read_chain
from rasante.core.tanks.tank_file import check_document
from rasante.core.wiring.circuit import check_circuit
from tests.core.fault_cases import Bench, Case

from .expecting import expect
from .harness import PHONE, BrowserTest, go

LOOP = {"kind": "two_wire", "cable[0].length": "40 m", "cable[1].length": "15 m"}
CHAIN = {
    "sensor.quantity": "pressure", "liquid.density": "745 kg/m3", "sensor.low": "0 bar", "sensor.high": "0.2 bar",
    "sensor.zero": "0 mm", "sensor.step": "0.5 mm",
}  # fmt: skip
#: What the page says of what to do, by the test.
TESTS = {test.do: test for test in fault_tests().values()}


class Trouble(BrowserTest):
    def prepare(self, page: Page) -> tuple[int, Installation]:
        """A loop with a box and a chain to a far screen, kept for the tank at the slip."""
        asks = page.request
        found = asks.get("/api/tanks/", params={"search": "Slip petrol"}).json()["results"]
        tank = next(int(one["id"]) for one in found if one["facts"]["name"] == "Slip petrol")
        token = next(one["value"] for one in page.context.cookies() if one["name"] == "csrftoken")
        for plan, entries in (("wiring", LOOP), ("chain", CHAIN)):
            revision = asks.get(f"/api/tanks/{tank}/{plan}/").json()["revision"]
            body: dict[str, Any] = {"entries": entries, "system": "metric", "revision": revision}
            kept = asks.put(f"/api/tanks/{tank}/{plan}/", data=body, headers={"X-CSRFToken": token})
            self.assertEqual(kept.status, 200, kept.text())
        file = check_document(asks.get(f"/api/tanks/{tank}/file/").json())
        # The circuit as it is kept: with the barrier that petrol asks for, and the sensor's own figures.
        circuit = check_circuit(asks.get(f"/api/tanks/{tank}/wiring/circuit.json").json())
        chain = read_chain(CHAIN, Ground(file, file.tank, circuit, {}), "metric").chain
        assert chain is not None
        return tank, Installation(chain, circuit, "hydrostatic", 3.0, hazardous=True)

    def wrong(self, at: Installation, key: str, value: float, level: float) -> Bench:
        """The installation with something wrong, whose readings nobody writes down wrongly."""
        fault = faults_of_kind(at, fault_kinds()[key], (value,))[0]
        return Bench(Case(at, Wrong(at, fault), level * at.sound.top_m, 8, frozenset()), mistakes=0.0)

    def tick(self, here: Locator) -> None:
        """Tick every gate of the test that is under way."""
        for gate in here.get_by_role("checkbox").all():
            gate.check()

    def enter(self, page: Page, bench: Bench, say: str) -> None:
        """Do a test as the page says, and enter what it reads."""
        test, here = TESTS[say], page.get_by_role("region", name="Do this next")
        self.tick(here)
        if test.reads.get("inject") == "same":
            # What the page says the sensor gave is turned to at the calibrator.
            said = re.search(r"if not ([0-9.]+) mA", here.inner_text())
            assert said is not None
            test = test.with_input(float(said[1]) / 1000)
        found = bench.do(test)
        if test.outcomes:
            here.get_by_role("button", name=found.outcome.replace("-", " "), exact=True).click()
            return
        text = "nothing" if found.value is None else reading_text(bench.case.at, test, found.value, "metric")
        here.get_by_label("Reading", exact=True).fill("OL" if text == "open" else text)
        here.get_by_role("button", name="Enter reading").click()

    def follow(self, page: Page, bench: Bench, symptom: str) -> int:
        """Enter the symptom, then whatever is advised, until it is found; returns how many findings that took."""
        here = page.get_by_role("region", name="Do this next")
        trail = page.get_by_role("region", name="Findings").get_by_role("listitem")
        page.get_by_label("Any other test or reading").select_option(symptom)
        self.enter(page, bench, fault_tests()[symptom].do)
        for count in range(1, 20):
            expect(trail).to_have_count(count)
            said = here.locator(".next-what").first
            expect(here.locator(".next-what")).not_to_have_count(0)
            if said.inner_text().startswith("●"):
                return count
            self.enter(page, bench, said.inner_text())
        self.fail("it was not found within twenty tests")

    def test_jumping_wildly_and_a_steady_input_are_the_sensor(self) -> None:
        page = self.page
        tank, at = self.prepare(page)
        go(page, f"/tanks/{tank}/survey")
        page.get_by_role("link", name="Find the fault").click()
        expect(page.get_by_text("A simulated signal moves real pumps and valves")).to_be_visible()
        self.assertLess(self.follow(page, self.wrong(at, "sensor-noisy", 0.25, 0.5), "look"), 12)
        here = page.get_by_role("region", name="Do this next")
        expect(here.locator(".next-what").first).to_contain_text("It is the sensor: the sensor jumps wildly")
        # The transmitter is shaded and labelled on this circuit's own drawing.
        drawn = page.get_by_role("group", name="Wiring drawing").locator("g.part.two_wire .suspect-share")
        self.assertGreater(int((drawn.text_content() or "").split()[0]), 95)
        page.get_by_role("button", name="Keep this case").click()
        expect(page.get_by_text(re.compile("^Kept, revision 1"))).to_be_visible()
        close = page.get_by_role("region", name="Close the case")
        close.get_by_label("What was done").fill("New sensor of the same range, 0.2 bar")
        close.get_by_role("button", name="Close the case").click()
        # Neither proven nor, where it was injected, restored: it is refused, and what was typed stands.
        expect(close.get_by_text(re.compile("prove it again|restore it"))).to_be_visible()
        expect(close.get_by_label("What was done")).to_have_value("New sensor of the same range, 0.2 bar")
        restored = close.get_by_label(re.compile("control restored"))
        if restored.count():
            restored.check()
        close.get_by_label(re.compile("^Proven again")).check()
        close.get_by_role("button", name="Close the case").click()
        before = page.get_by_role("region", name="Closed cases")
        expect(before.get_by_role("listitem")).to_contain_text("the sensor jumps wildly. New sensor of the same")
        expect(page.get_by_text("Nothing yet. Begin with what the screen shows")).to_be_visible()

    def test_too_low_with_a_sound_sensor_is_the_input_channel(self) -> None:
        page = self.phone()
        tank, at = self.prepare(page)
        go(page, f"/tanks/{tank}/trouble")
        page.get_by_role("region", name="Suspects").wait_for()
        bench = self.wrong(at, "channel-floor", 0.6, 0.45)
        self.follow(page, bench, "shown")
        here = page.get_by_role("region", name="Do this next")
        expect(here.locator(".next-what").first).to_contain_text("It is the input channel")
        # The wires and the mapping.
        expect(here).to_contain_text("Move the wires to a spare channel and the program's mapping with them")
        self.assertEqual(page.evaluate("document.documentElement.scrollWidth"), PHONE["width"])
        page.get_by_role("button", name="Keep this case").click()
        expect(page.get_by_text(re.compile(r"^Kept, revision \d"))).to_be_visible()
        close = page.get_by_role("region", name="Close the case")
        close.get_by_label("What was done").fill("Moved to channel 6, mapping too; far end shows it")
        restored = close.get_by_label(re.compile("control restored"))
        if restored.count():
            restored.check()
        close.get_by_label(re.compile("^Proven again")).check()
        close.get_by_role("button", name="Close the case").click()
        before = page.get_by_role("region", name="Closed cases").get_by_role("listitem")
        expect(before.filter(has_text="Moved to channel 6")).to_have_count(1)

    def test_where_nothing_fits_it_is_said_where_it_sits(self) -> None:
        page = self.page
        tank, at = self.prepare(page)
        sound = at.sound.at(0.4 * at.sound.top_m, exact=False)
        off = f"{0.6 * at.ends['shown'][1] + 0.4 * sound['shown']:.0f} mm"
        go(page, f"/tanks/{tank}/trouble")
        trail = page.get_by_role("region", name="Findings").get_by_role("listitem")
        here = page.get_by_role("region", name="Do this next")
        for count, (test, reads) in enumerate(
            {
                "shown": off, "far": off, "counts": f"{sound['counts']:.0f}", "number": f"{sound['number']:.0f} mm",
                "register": f"{sound['words']:.0f}", "dip": f"{0.4 * at.sound.top_m * 1000:.0f} mm",
                "look": "live", "age": "fresh", "map": "same", "screen": "same",
            }.items(), 1,
        ):  # fmt: skip
            page.get_by_label("Any other test or reading").select_option(test)
            expect(here).to_contain_text(fault_tests()[test].do)
            self.tick(here)
            if fault_tests()[test].outcomes:
                here.get_by_role("button", name=reads, exact=True).click()
            else:
                here.get_by_label("Reading", exact=True).fill(reads)
                here.get_by_role("button", name="Enter reading").click()
            expect(trail).to_have_count(count)
        expect(here).to_contain_text("Nothing that is known here fits")
        expect(here).to_contain_text("it lies between “Read from it” and “Shown”")
        # In the chain its share stands at that hop.
        shown = page.get_by_role("list", name="Along the chain").get_by_role("listitem").last
        self.assertGreater(int(re.sub(r"\D", "", shown.inner_text())), 70)

    def test_a_server_that_is_gone_loses_no_finding(self) -> None:
        page = self.page
        tank, _ = self.prepare(page)
        go(page, f"/tanks/{tank}/trouble")
        page.get_by_role("region", name="Suspects").wait_for()
        page.get_by_text("The next three tests, for where there is no network").click()
        expect(page.locator(".ahead > li").first).to_be_visible()
        page.get_by_label("Any other test or reading").select_option("counts")
        self.server.kill()
        page.get_by_label("Reading", exact=True).fill("12000")
        page.get_by_role("button", name="Enter reading").click()
        # What was worked out stays on the screen, with what to do for whatever the next tests find.
        expect(page.locator(".ahead > li").first).to_be_visible()
        self.server.start()
        expect(page.get_by_role("region", name="Findings").get_by_role("listitem")).to_contain_text("12000")
        page.reload()
        expect(page.get_by_role("region", name="Findings").get_by_role("listitem")).to_contain_text("12000")

    def until(self, page: Page, so: Callable[[], bool]) -> None:
        """Let a page's stopped clock creep on until something is so: by well under a second in all."""
        for _ in range(300):
            if so():
                return
            page.clock.run_for(2)
            page.wait_for_timeout(50)
        self.fail("it did not come to be so")

    def test_findings_entered_one_after_another_are_looked_ahead_of_once(self) -> None:
        page = self.window()
        tank, _ = self.prepare(page)
        page.clock.install()
        asked: list[str] = []
        page.on("request", lambda one: asked.append(one.post_data or "") if "/ahead/" in one.url else None)
        go(page, f"/tanks/{tank}/trouble")
        page.get_by_text("The next three tests, for where there is no network").click()
        ahead = page.locator(".ahead > li").first
        expect(ahead).to_be_visible()
        self.assertEqual(len(asked), 1)
        page.clock.pause_at(page.evaluate("Date.now() + 1000"))
        trail = page.get_by_role("region", name="Findings").get_by_role("listitem")
        here = page.get_by_role("region", name="Do this next")
        before = page.get_by_text("(as it stood before the last finding)")
        for count, (test, outcome) in enumerate((("look", "live"), ("age", "fresh")), 1):
            page.get_by_label("Any other test or reading").select_option(test)
            button = here.get_by_role("button", name=outcome, exact=True)
            self.until(page, button.is_visible)
            button.click()
            self.until(page, lambda so=count: trail.count() == so)
            # What stands there until then is said to be of before.
            self.until(page, before.is_visible)
        self.assertEqual(len(asked), 1)
        page.clock.resume()
        expect(before).to_have_count(0)
        self.assertEqual(len(asked), 2)
        self.assertIn("age", asked[1])

    def test_a_finding_that_cannot_be_read_is_shown_to_be_put_right(self) -> None:
        page = self.page
        tank, _ = self.prepare(page)
        go(page, f"/tanks/{tank}/trouble")
        page.get_by_label("Any other test or reading").select_option("counts")
        page.get_by_role("region", name="Do this next").get_by_label("Reading", exact=True).fill("12000")
        page.get_by_role("button", name="Enter reading").click()
        trail = page.get_by_role("region", name="Findings").get_by_role("listitem")
        expect(trail).to_have_count(1)
        # The same installation turns out to have another kind of sensor: a test of the first kind is left.
        page.get_by_label("Any other test or reading").select_option("breather")
        here = page.get_by_role("region", name="Do this next")
        expect(here).to_contain_text(fault_tests()["breather"].do)
        self.tick(here)
        here.get_by_role("button", name="blocked").click()
        expect(trail).to_have_count(2)
        page.get_by_text("Where you stand, what is at hand").click()
        page.get_by_label("The sensor is").select_option("radar")
        left = page.get_by_role("group", name="Finding 2, not read")
        expect(left).to_contain_text("does not count yet")
        expect(trail).to_have_count(1)
        left.get_by_role("button", name="Take it out").click()
        expect(left).to_have_count(0)

    def test_any_reading_and_readings_that_are_pasted(self) -> None:
        page = self.page
        tank, _ = self.prepare(page)
        go(page, f"/tanks/{tank}/trouble")
        trail = page.get_by_role("region", name="Findings").get_by_role("listitem")
        page.get_by_label("Any other test or reading").select_option("volts")
        page.get_by_label("Red on").select_option("fuse.1")
        page.get_by_label("Black on").select_option("fuse.2")
        other = page.get_by_role("region", name="Another test")
        other.get_by_label("Reading", exact=True).fill("24 V")
        # Nothing is entered before its gates are ticked.
        enter = other.get_by_role("button", name="Enter reading")
        expect(enter).to_be_disabled()
        self.tick(other)
        enter.click()
        expect(trail).to_have_count(1)
        expect(trail.first).to_contain_text("For the fuse")
        page.get_by_role("button", name="Take it out").click()
        expect(trail).to_have_count(0)
        page.get_by_text("Paste some minutes of readings").click()
        page.get_by_label("Raw counts or values, one a line").fill("12000\n" * 30)
        expect(page.get_by_text(re.compile("They look frozen: the very same value 30 times"))).to_be_visible()
        page.get_by_role("button", name="Enter it as found").click()
        expect(trail.first).to_contain_text("frozen")
        page.get_by_label("Raw counts or values, one a line").fill("12000\nmany\n12000")
        pasted = page.get_by_role("region", name="Another test")
        expect(pasted.get_by_text(re.compile("line 2: .*many"))).to_be_visible()
