"""A table by pouring, end to end: the workboat's tank in the yard, as advised, with one can left out and caught."""

from __future__ import annotations

import re
import statistics

from playwright.sync_api import Locator, Page

from .expecting import expect
from .harness import PHONE, BrowserTest, go

TANK = "Workboat fuel, port side"


class Pouring(BrowserTest):
    live = True

    def dip(self) -> float:
        """A careful dip [mm]: the middle of some; in a storm it waits until the water is calm."""
        for _ in range(40):
            dips = [float(re.findall(r"reads (\d+) mm", self.play("dip", tank=TANK))[0]) for _ in range(7)]
            if max(dips) - min(dips) <= 6:
                return statistics.median(dips)
            self.play("speed", times="3600")
            self.page.wait_for_timeout(500)
            self.play("speed", times="1")
        self.fail("it never is calm")

    def put(self, litres: float) -> None:
        self.play("put", tank=TANK, litres=f"{litres:g}")

    def last(self) -> Locator:
        return self.page.get_by_role("listitem", name=re.compile("^Pour ")).last

    def inside(self) -> float:
        """What is entered of the last pour [L], less than 0 for what was drawn off."""
        row = self.last()
        out = "drawn off" in row.get_by_label("It was").locator(":checked").inner_text()
        return -self.entered(row) if out else self.entered(row)

    @staticmethod
    def entered(row: Locator) -> float:
        return float(row.get_by_label("Amount, by the meter").input_value().split()[0])

    def mislead(self, was: str, now: str) -> int:
        """Have the survey say another length than the yard's tank has; returns the tank's number."""
        asks = self.page.request
        tank = asks.get("/api/tanks/", params={"search": "Workboat"}).json()["results"][0]["id"]
        kept = asks.get(f"/api/tanks/{tank}/").json()
        self.assertEqual(kept["entries"]["shape.length_mm"], was)
        body = {key: kept[key] for key in ("ports", "notes", "revision")} | {
            "entries": {**kept["entries"], "shape.length_mm": now}, "system": "metric"
        }  # fmt: skip
        token = next(one["value"] for one in self.page.context.cookies() if one["name"] == "csrftoken")
        answer = asks.put(f"/api/tanks/{tank}/", data=body, headers={"X-CSRFToken": token})
        self.assertEqual(answer.status, 200, answer.text())
        return int(tank)

    def prepare(self) -> int:
        """Drained to 20 L, read, and the meter held against a container; returns the tank's number."""
        page = self.page
        for flow in ("Workboat engine", "Quay hose to workboat"):
            self.play("hand", name=flow, to="shut")
        self.put(20)
        number = self.mislead("1480 mm", "1180 mm")
        go(page, f"/tanks/{number}/table?pane=pour")
        page.get_by_label("It reads now", exact=True).fill(f"{self.dip():g}")
        for label, text in (
            ("In it now", "20"), ("Never above", "780 L"), ("Good enough is ±", "6 L"), ("One can holds", "20 L")
        ):  # fmt: skip
            page.get_by_label(label, exact=True).fill(text)
        for draw, (said, stood) in enumerate(((20, 20.01), (20, 19.99), (20, 20))):
            if draw:
                page.get_by_role("button", name="Another draw").click()
            page.get_by_label(f"Draw {draw + 1}, by the meter").fill(f"{said} L")
            page.get_by_label("In the container", exact=True).last.fill(f"{stood} L")
        expect(page.get_by_text(re.compile(r"Factor 1\.0000"))).to_be_visible()
        return number

    def follow(self, forget: int) -> int:
        """Pour as advised until it is good enough; one can is left out of what is written. Returns how many pours."""
        page, inside, steps, found = self.page, 20.0, 0, False
        live, misfit = page.locator(".next-pour"), page.get_by_text(re.compile("does not fit the others"))
        while True:
            expect(live).to_contain_text(re.compile("Pour in|Draw off|Good enough|Nothing more"))
            if re.search("Good enough|Nothing more", live.inner_text()):
                break
            self.assertLess(steps, 24, "it never is good enough")
            page.get_by_role("button", name=re.compile("^(Pour it|Draw it off)$")).click()
            inside += self.inside() + (20 if steps == forget else 0)
            self.put(inside)
            self.last().get_by_label("Reading, once still", exact=True).fill(f"{self.dip():g}")
            expect(self.last()).to_contain_text(" in it")
            steps += 1
            if misfit.count():
                self.assertRegex(misfit.first.inner_text(), "looks like one can (left out|written down twice)")
                row = page.get_by_role("listitem", name=re.compile("^Pour ")).filter(has_text="Does not fit")
                # A wrong amount to a level where nothing else was read cannot be told from that after it.
                self.assertIn(row.get_attribute("aria-label"), [f"Pour {forget + at}" for at in (0, 1, 2)])
                row.get_by_role("button", name="Take what fits").click()
                expect(misfit).to_have_count(0)
                found = True
        self.assertTrue(found, "the can that was left out was never found")
        return steps

    def test_as_advised_with_one_can_left_out(self) -> None:
        page = self.page
        number = self.prepare()
        steps = self.follow(forget=3)
        # The survey was 20 % short: that is the pattern that is named, and no shape near it is offered unseen.
        beside = page.get_by_role("region", name="Beside the survey")
        expect(
            beside.get_by_role("listitem").filter(has_text=re.compile("as if (length|meter, or all)"))
        ).not_to_have_count(0)
        page.get_by_role("button", name="Keep this run").click()
        expect(page.get_by_text(re.compile("^Kept, revision 1"))).to_be_visible()
        page.get_by_role("button", name="Issue the pours as the table").click()
        expect(page.get_by_text("say why it is issued")).to_be_visible()
        page.get_by_label("Why it is issued").fill("First table, poured")
        page.get_by_role("button", name="Issue the pours as the table").click()
        expect(page.get_by_text(re.compile(r"^Table \d+ is issued"))).to_be_visible()
        expect(page.get_by_text(re.compile(f"{steps} pours, off by at most"))).to_be_visible()
        # What the yard truly holds is what the new table says, within what was asked for and a dip is good for.
        for litres in (150.0, 430.0):
            self.put(litres)
            level = self.dip()
            curve = page.request.get(f"/api/tanks/{number}/curve/").json()
            below = max(at for at, mm in enumerate(curve["innage_mm"]) if mm <= level)
            (x0, x1), (y0, y1) = (curve[key][below : below + 2] for key in ("innage_mm", "volume_l"))
            self.assertLess(abs(y0 + (level - x0) / (x1 - x0) * (y1 - y0) - litres), 9)


class Kept(BrowserTest):
    """What is typed of a run: with two people at it, and with a server that is gone."""

    unread = True

    ROWS = b"dip,poured\n0,0\n100,50\n200,50\n300,80\n400,80\n"

    def opened(self, page: Page, tank: str) -> int:
        found = page.request.get("/api/tanks/", params={"search": tank}).json()["results"]
        number = next(int(one["id"]) for one in found if one["facts"]["name"] == tank)
        go(page, f"/tanks/{number}/table?pane=pour")
        page.get_by_role("region", name="Pours").wait_for()
        return number

    def take_in(self, page: Page) -> None:
        page.get_by_text("Read other people's pours from a file").click()
        file = {"name": "p.csv", "mimeType": "text/csv", "buffer": self.ROWS}
        page.get_by_label(re.compile("^Choose a CSV")).set_input_files(file)
        page.get_by_role("button", name="Take these 4 pours").click()
        expect(page.get_by_role("listitem", name="Pour 4")).to_contain_text("then 260 L in it")

    def test_two_people_at_one_run(self) -> None:
        mine, theirs = self.page, self.window("lead")
        for page in (mine, theirs):
            self.opened(page, "Slip petrol")
        self.take_in(mine)
        mine.get_by_role("button", name="Keep this run").click()
        expect(mine.get_by_text(re.compile("^Kept, revision 1"))).to_be_visible()
        # The other one has the page as it was before, and types on it.
        theirs.get_by_label("It reads now", exact=True).fill("0 mm")
        theirs.get_by_label("One can holds").fill("25 L")
        theirs.get_by_role("button", name="Keep this run").click()
        both = theirs.get_by_role("alert").filter(has_text="Changed by somebody else since you began")
        expect(both).to_contain_text("Isla Brand has kept revision 1")
        both.get_by_role("button", name="Go on with these").click()
        expect(theirs.get_by_role("listitem", name="Pour 4")).to_contain_text("then 260 L in it")
        theirs.get_by_role("button", name="Keep this run").click()
        expect(theirs.get_by_text(re.compile("^Kept, revision 2"))).to_be_visible()
        mine.reload()
        mine.locator("summary", has_text="Before the first").click()
        expect(mine.get_by_label("One can holds")).to_have_value("25 L")

    def test_a_server_that_is_gone_loses_no_pour(self) -> None:
        page = self.phone()
        number = self.opened(page, "Header tank")
        before = page.request.get(f"/api/tanks/{number}/pours/").json()["revision"]
        page.get_by_role("button", name="Another amount").click()
        row = page.get_by_role("listitem", name=re.compile("^Pour ")).last
        self.server.kill()
        row.get_by_label("Amount, by the meter").fill("33 L")
        row.get_by_label("Reading, once still", exact=True).fill("450 mm")
        page.get_by_role("button", name="Keep this run").click()
        expect(page.get_by_role("button", name="1 waiting, no connection")).to_be_visible()
        self.server.start()
        expect(page.get_by_text(re.compile(f"^Kept, revision {before + 1}"))).to_be_visible()
        page.reload()
        row = page.get_by_role("listitem", name=re.compile("^Pour ")).last
        expect(row.get_by_label("Amount, by the meter")).to_have_value("33 L")
        expect(row.get_by_label("Reading, once still", exact=True)).to_have_value("450 mm")

    def test_begun_anew_keeps_the_meter_and_can_be_discarded(self) -> None:
        page = self.page
        self.opened(page, "Process water")
        self.take_in(page)
        page.get_by_label("Draw 1, by the meter").fill("20 L")
        page.get_by_label("In the container", exact=True).fill("20.1 L")
        expect(page.get_by_text(re.compile("Factor 1.0050"))).to_be_visible()
        page.get_by_role("button", name="Begin anew").click()
        expect(page.get_by_role("listitem", name=re.compile("^Pour "))).to_have_count(0)
        expect(page.get_by_label("Draw 1, by the meter")).to_have_value("20 L")
        expect(page.get_by_role("button", name="Issue the pours as the table")).to_be_disabled()

    def test_under_pressure_there_is_no_such_pane(self) -> None:
        page = self.page
        number = page.request.get("/api/tanks/", params={"search": "Smokehouse"}).json()["results"][0]["id"]
        go(page, f"/tanks/{number}/table")
        expect(page.get_by_role("tab", name="Few points")).to_be_visible()
        expect(page.get_by_role("tab", name="Pour")).to_have_count(0)
        go(page, f"/tanks/{number}/table?pane=pour")
        expect(page.get_by_text("it is loaded at Watch, never poured")).to_be_visible()


class FromAFile(BrowserTest):
    def test_other_peoples_pours_are_looked_at_first(self) -> None:
        page = self.phone()
        number = page.request.get("/api/tanks/", params={"search": "Slip"}).json()["results"][0]["id"]
        go(page, f"/tanks/{number}/table?pane=pour")
        page.get_by_text("Read other people's pours from a file").click()
        chooser = page.get_by_label(re.compile("^Choose a CSV"))
        chooser.set_input_files({"name": "p.csv", "mimeType": "text/csv", "buffer": b"dip,poured\n0,0\n100,about\n"})
        expect(page.get_by_role("alert").filter(has_text="amount")).to_be_visible()
        lines = b"dip,came,total\n0,0,0\n100,50,50\n200,50,100\n300,80,180\n400,80,260\n"
        chooser.set_input_files({"name": "p.csv", "mimeType": "text/csv", "buffer": lines})
        expect(page.get_by_label("Total in it")).to_have_value("2")
        page.get_by_label("Amount", exact=True).select_option(label="came")
        expect(page.get_by_label("Total in it")).to_have_value("")
        page.get_by_role("button", name="Take these 4 pours").click()
        expect(page.get_by_role("listitem", name="Pour 4")).to_contain_text("then 260 L in it")
        # A forgotten one goes in between, and out again; nothing typed is lost by a reload.
        fourth = page.get_by_role("listitem", name="Pour 4")
        fourth.get_by_role("button", name="One forgotten before it").click()
        page.get_by_role("listitem", name="Pour 4").get_by_label("Amount, by the meter").fill("5 L")
        page.reload()
        expect(page.get_by_role("listitem", name="Pour 5")).to_contain_text("then 265 L in it")
        page.get_by_role("listitem", name="Pour 4").get_by_text("Change it…").click()
        page.get_by_role("listitem", name="Pour 4").get_by_role("button", name="Take it out").click()
        expect(page.get_by_role("listitem", name="Pour 4")).to_contain_text("then 260 L in it")
        self.assertEqual(page.evaluate("document.documentElement.scrollWidth"), PHONE["width"])
