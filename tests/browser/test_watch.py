"""Readings that arrive, as people meet them: the yard fills a tank, and Watch, board and line go along."""

from __future__ import annotations

import json
import re
import time
import urllib.parse
import urllib.request
from collections.abc import Callable
from datetime import datetime

from .expecting import PATIENCE, expect
from .harness import BrowserTest, go
from .holding import Held
from .screenshots import open_tank


def _age(asked: str) -> float:
    """How far back what an address asks for ends [s]."""
    (to,) = urllib.parse.parse_qs(urllib.parse.urlsplit(asked).query)["to"]
    return time.time() - datetime.fromisoformat(to).timestamp()


class Yard(BrowserTest):
    live = True

    def until(self, there: Callable[[], bool], what: str) -> None:
        end = time.monotonic() + PATIENCE / 1000 * 2
        while time.monotonic() < end:
            if there():
                return
            self.page.wait_for_timeout(200)
        self.fail(what)

    def setUp(self) -> None:
        super().setUp()
        # The yard opens a moment after the server: what it measures has arrived before anything is asked of it.
        self.ask_every_second()
        number = self.tank("Quay diesel north")
        self.until(lambda: bool((self.now(number) or {}).get("live")), "the yard does not send")

    def ask_every_second(self) -> None:
        """Have the controller asked more often than in the demo, so that nothing takes long."""
        asks = self.page.context.request
        every = asks.get("/api/sources/").json()["sources"]
        source = next(one for one in every if one["name"] == "Harbour controller")
        if source["entries"]["period"] == "1 s":
            return
        token = next(one["value"] for one in self.page.context.cookies() if one["name"] == "csrftoken")
        body = {"entries": {**source["entries"], "period": "1 s"}, "revision": source["revision"]}
        kept = asks.put(f"/api/sources/{source['id']}/", data=body, headers={"X-CSRFToken": token})
        self.assertEqual(kept.status, 200, kept.text())

    def tank(self, name: str) -> int:
        found = self.page.context.request.get("/api/tanks/", params={"search": name}).json()["results"]
        return next(one["id"] for one in found if one["facts"]["name"] == name)

    def now(self, tank: int) -> dict | None:
        return self.page.context.request.get(f"/api/tanks/{tank}/now/").json()["now"]

    def test_a_filling_is_followed_by_watch_line_and_board(self) -> None:
        page, number = self.page, self.tank("Quay diesel north")
        open_tank(page, "Quay diesel north", "Watch")
        expect(page.get_by_role("img", name="Volume of Quay diesel north over time")).to_be_visible()
        page.get_by_role("button", name="Follow the reading").click()
        expect(page.get_by_role("button", name="Follows the reading")).to_be_visible()
        before = self.now(number)
        assert before is not None
        self.assertIn("open", self.play("hand", name="Tanker to quay north", to="open"))
        self.play("speed", times="12")
        self.until(
            lambda: (self.now(number) or before)["volume_l"] > before["volume_l"] + 500, "the reading does not rise"
        )
        slider = page.get_by_role("slider", name="The line")
        risen = before["level_mm"] + 25
        self.until(lambda: float(slider.get_attribute("aria-valuenow") or 0) > risen, "the line does not follow")
        expect(page.get_by_role("group", name="Now")).to_contain_text("filling")
        self.play("hand", name="Tanker to quay north", to="shut")
        self.play("speed", times="1")
        # Moved by hand, it lets go.
        slider.focus()
        page.keyboard.press("ArrowDown")
        expect(page.get_by_role("button", name="Follow the reading")).to_be_visible()
        page.get_by_role("link", name="Board", exact=True).click()
        expect(page.locator(".card-tank").filter(has_text="Quay diesel north")).to_contain_text(re.compile("now|ago"))

    def test_a_proof_is_taken_by_take(self) -> None:
        page = self.page
        open_tank(page, "Quay diesel north", "Prove")
        page.get_by_role("button", name="Begin a proof").click()
        page.get_by_label("Read", exact=True).select_option("counts")
        page.get_by_label("Applied", exact=True).select_option("level")
        page.get_by_label("Point 1: applied").fill("1480 mm")
        take = page.get_by_role("button", name=re.compile("point 1, as found, rising"))
        expect(take).to_be_enabled(timeout=3 * PATIENCE)
        text = (take.text_content() or "").removeprefix("Take ").strip()
        take.click()
        expect(page.get_by_label("Point 1, as found, rising", exact=True)).to_have_value(text)
        expect(page.get_by_role("textbox", name="Remarks")).to_have_value(
            re.compile("Point 1, as found, rising: taken from Harbour controller, north counts, 20")
        )

    def test_a_broken_sensor_is_told_and_acknowledged(self) -> None:
        page, number = self.page, self.tank("Quay diesel south")
        self.play("edit", tank="Quay diesel south", kind="Stick", a="sent", b="0.0036", c="")
        self.addCleanup(self.play, "mend", tank="Quay diesel south")
        self.until(lambda: (self.now(number) or {}).get("condition") == "fault", "the fault is not told")
        open_tank(page, "Quay diesel south", "Watch")
        expect(page.get_by_role("group", name="Now")).to_contain_text("the sensor tells of a fault")
        event = page.get_by_role("region", name="Events").get_by_role("listitem").first
        expect(event).to_contain_text("fault signalled")
        event.get_by_label("A word on it").fill("sensor sent back")
        event.get_by_role("button", name="Acknowledge").click()
        expect(event).to_contain_text("Isla Brand: sensor sent back")
        self.play("mend", tank="Quay diesel south")
        expect(event).to_contain_text(re.compile("over"))

    def test_the_sonar_wakes_by_its_button(self) -> None:
        page, number = self.page, self.tank("Smokehouse bullet")
        before = self.now(number)
        self.assertIn("button pressed", self.play("press", unit="Bullet sonar"))
        self.play("speed", times="30")
        self.addCleanup(self.play, "speed", times="1")
        self.until(lambda: self.now(number)["at"] != (before or {}).get("at"), "the sonar does not send")
        # Slid off the middle of the bottom it has no echo, and says so.
        self.play("move", unit="Bullet sonar", x="0.4", y="0.2", slide="400")
        self.play("press", unit="Bullet sonar")
        self.until(lambda: self.now(number)["condition"] == "fault", "the lost echo is not told")
        open_tank(page, "Smokehouse bullet", "Watch")
        expect(page.get_by_role("region", name="Beside the level")).to_contain_text("Echo quality")

    def test_a_dip_stands_beside_what_arrives(self) -> None:
        page = self.page
        open_tank(page, "Header tank", "Watch")
        form = page.get_by_role("region", name="By hand")
        form.get_by_label("Innage, mm").fill("9 m")
        form.get_by_role("button", name="Keep it").click()
        expect(form.get_by_role("alert")).to_contain_text("is no level of this tank")
        expect(form.get_by_label("Innage, mm")).to_have_value("9 m")
        form.get_by_label("Innage, mm").fill("1020")
        form.get_by_role("button", name="Keep it").click()
        expect(form.get_by_role("status")).to_contain_text("Kept")
        expect(page.locator(".watch-key .key-dip")).to_be_visible()

    def test_the_chart_goes_back_and_comes_again(self) -> None:
        page = self.page
        open_tank(page, "Process water", "Watch")
        page.get_by_role("button", name="Day", exact=True).click()
        over = page.locator(".watch-chart .u-over")
        box = over.bounding_box()
        assert box is not None
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        page.mouse.move(x, y)
        page.mouse.down()
        asked: list[str] = []
        page.on("request", lambda request: asked.append(request.url) if "/watch/?" in request.url else None)
        # The chart is drawn anew on the way, and goes all the way along.
        for step in range(1, 21):
            page.mouse.move(x + 10 * step, y)
            page.evaluate("new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)))")
        page.mouse.up()
        page.get_by_role("button", name="Back to now").wait_for()
        back = 200 * 86_400 / box["width"]
        self.until(
            lambda: bool(asked) and abs(_age(asked[-1]) - back) < 0.1 * back, f"it is not {back} s back: {asked[-3:]}"
        )
        page.get_by_role("button", name="Back to now").click()
        expect(page.get_by_role("button", name="Back to now")).to_have_count(0)
        page.mouse.move(x, y)
        page.mouse.wheel(0, 400)
        expect(page.get_by_role("button", name="Day", exact=True, pressed=False)).to_be_visible()
        expect(page.get_by_role("region", name="Came and went")).to_contain_text("delivery")


class Sources(BrowserTest):
    def test_a_unit_is_made_given_its_token_and_heard(self) -> None:
        page = self.page
        go(page, "/sources")
        page.get_by_role("button", name="New source").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_label("It is", exact=True).select_option("push")
        dialog.get_by_label("Name").fill("Village gauge")
        dialog.get_by_role("button", name="Add a channel").click()
        row = dialog.get_by_role("group", name="Channel value")
        row.get_by_label("Of tank").select_option(label="Skerrow smokehouse: Village vessel, manse")
        row.get_by_label("It is").select_option("counts")
        expect(row.get_by_text("this tank has no chain yet")).to_be_visible()
        expect(dialog.get_by_role("button", name="Keep this source")).to_be_disabled()
        row.get_by_label("It is").select_option("level")
        expect(row.get_by_label("Unit")).to_have_value("mm")
        dialog.get_by_role("button", name="Keep this source").click()
        made = page.get_by_role("article", name="Village gauge")
        expect(made).to_contain_text("nothing has come from it yet")
        made.get_by_role("button", name="Give it a token").click()
        token = made.get_by_role("status").locator("code").first.text_content() or ""
        self.assertGreater(len(token), 30)
        reading = {"channel": "value", "value": 421.5}
        request = urllib.request.Request(
            f"{self.server.url}/api/push/",
            json.dumps({"readings": [reading]}).encode(),
            {"Authorization": f"Bearer {token}", "Content-Type": "application/json"},
        )
        with urllib.request.urlopen(request, timeout=20) as answer:
            self.assertEqual(json.load(answer)["new"], 1)
        page.reload()
        expect(made).to_contain_text(re.compile("heard"))
        # The token is not there any more, only its end.
        self.assertNotIn(token, page.content())
        made.get_by_role("button", name="Try it").click()
        expect(made.get_by_role("region", name="Read once")).to_contain_text("421.5")
        made.get_by_role("link", name="Village vessel, manse").click()
        expect(page.get_by_role("group", name="Now")).to_contain_text("422 mm")

    def test_what_is_typed_of_a_source_stays_and_overwrites_nobody(self) -> None:
        page = self.page
        go(page, "/sources")
        source = page.get_by_role("article", name="Office screen")
        source.get_by_role("button", name="Change").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_label("Asked every, s").fill("45 s")
        page.keyboard.press("Escape")
        expect(dialog).to_have_count(0)
        page.reload()
        # A colleague changes the same source meanwhile.
        asks = page.context.request
        there = next(one for one in asks.get("/api/sources/").json()["sources"] if one["name"] == "Office screen")
        token = next(one["value"] for one in page.context.cookies() if one["name"] == "csrftoken")
        body = {"entries": {**there["entries"], "timeout": "7 s"}, "revision": there["revision"]}
        kept = asks.put(f"/api/sources/{there['id']}/", data=body, headers={"X-CSRFToken": token})
        self.assertEqual(kept.status, 200, kept.text())
        page.reload()
        source.get_by_role("button", name="Change").click()
        expect(dialog.get_by_label("Asked every, s")).to_have_value("45 s")
        expect(dialog.get_by_role("button", name="Keep this source")).to_be_disabled()
        dialog.get_by_role("button", name="Go on with these").click()
        expect(dialog.get_by_label("Must answer within, s")).to_have_value("7 s")
        # The server cannot be reached: that is said, and what was typed is there.
        page.route("**/api/sources/*/", lambda route: route.abort())
        dialog.get_by_role("button", name="Keep this source").click()
        expect(dialog.get_by_role("alert")).to_contain_text("cannot be reached")
        page.unroute_all()
        dialog.get_by_role("button", name="Keep this source").click()
        expect(dialog).to_have_count(0)
        now = next(one for one in asks.get("/api/sources/").json()["sources"] if one["name"] == "Office screen")
        self.assertEqual((now["entries"]["period"], now["entries"]["timeout"]), ("45 s", "7 s"))
        source.get_by_role("button", name="Change").click()
        expect(dialog.get_by_role("button", name="Start over")).to_have_count(0)

    def test_a_channel_taken_out_is_gone_and_those_after_it_move_up(self) -> None:
        page = self.page
        go(page, "/sources")
        page.get_by_role("button", name="New source").click()
        dialog = page.get_by_role("dialog")
        for name in ("first", "second"):
            dialog.get_by_role("button", name="Add a channel").click()
            dialog.get_by_role("group", name=re.compile("Channel value")).get_by_role("textbox", name="Channel").fill(
                name
            )
        dialog.get_by_role("button", name="Remove channel first").click()
        expect(dialog.get_by_role("group")).to_have_count(1)
        expect(dialog.get_by_role("group", name="Channel second")).to_be_visible()
        dialog.get_by_role("button", name="Start over").click()
        expect(dialog.get_by_role("group")).to_have_count(0)
        dialog.get_by_role("button", name="Undo").click()
        expect(dialog.get_by_role("group", name="Channel second")).to_be_visible()

    def test_a_dip_typed_without_a_server_is_kept_until_there_is_one(self) -> None:
        page = self.page
        open_tank(page, "Boiler oil, strapped", "Watch")
        form = page.get_by_role("region", name="By hand")
        page.route("**/api/tanks/*/typed/", lambda route: route.abort())
        form.get_by_label(re.compile("Innage")).fill("812 mm")
        form.get_by_role("button", name="Keep it").click()
        expect(form.get_by_role("alert")).to_contain_text("cannot be reached")
        page.unroute_all()
        page.reload()
        expect(form.get_by_label(re.compile("Innage"))).to_have_value("812 mm")
        form.get_by_role("button", name="Keep it").click()
        expect(form.get_by_role("status")).to_contain_text("Kept")
        expect(form.get_by_label(re.compile("Innage"))).to_have_value("")
        # Nothing sends this one, and that is what is said of it.
        expect(page.get_by_role("group", name="Now")).to_contain_text("typed, or from a file")

    def test_a_dip_can_be_typed_where_the_readings_do_not_come(self) -> None:
        page = self.page
        page.route(re.compile(r"/watch/\?"), lambda route: (
            route.continue_(url=re.sub("from=[^&]*", "from=yesterday", route.request.url))
        ))  # fmt: skip
        open_tank(page, "Header tank", "Watch")
        expect(page.get_by_text("must be ISO 8601 with a zone")).to_be_visible()
        form = page.get_by_role("region", name="By hand")
        form.get_by_label(re.compile("Innage")).fill("640 mm")
        form.get_by_role("button", name="Keep it").click()
        expect(form.get_by_role("status")).to_contain_text("Kept")

    def test_a_refusal_is_told_beside_what_is_there_and_while_it_is_asked_again(self) -> None:
        page, asking = self.window(), re.compile(r"/watch/\?")
        page.clock.install()
        open_tank(page, "Header tank", "Watch")
        chart = page.get_by_role("img", name="Volume of Header tank over time")
        expect(chart).to_be_visible()
        page.route(asking, lambda route: (
            route.continue_(url=re.sub("from=[^&]*", "from=yesterday", route.request.url))
        ))  # fmt: skip
        page.clock.fast_forward(16_000)
        refused = page.get_by_text("must be ISO 8601 with a zone")
        expect(refused).to_be_visible()
        self.assertTrue(chart.is_visible())
        # Of the last hour nothing but a refusal was ever there.
        page.get_by_role("button", name="Hour", exact=True).click()
        expect(chart).to_have_count(0)
        self.assertTrue(refused.is_visible())
        held = Held(page, asking, "GET")
        page.clock.fast_forward(16_000)
        held.wait_for(1)
        # While it is asked again, what was there before stands for it.
        expect(chart).to_be_visible()
        self.assertTrue(refused.is_visible())
        held.let_go()
        expect(refused).to_have_count(0)

    def test_board_and_sources_tell_a_refusal_beside_what_they_show(self) -> None:
        refusal = {"problems": [{"where": "", "what": "nothing is answered today: ask tomorrow"}]}
        for address, asking in (("/", "/api/board/"), ("/sources", "/api/sources/")):
            with self.subTest(address):
                page = self.window()
                page.clock.install()
                go(page, address)
                shown = page.get_by_text("Harbour controller").or_(page.get_by_text("Quay diesel north")).first
                expect(shown).to_be_visible()
                page.route(re.compile(asking), lambda route: route.fulfill(status=400, json=refusal))
                page.clock.fast_forward(11_000)
                expect(page.get_by_text("nothing is answered today")).to_be_visible()
                self.assertTrue(shown.is_visible())
                page.unroute_all()
                page.clock.fast_forward(11_000)
                expect(page.get_by_text("nothing is answered today")).to_have_count(0)

    def test_a_loggers_file(self) -> None:
        page = self.page
        go(page, "/sources")
        page.get_by_role("button", name="New source").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_label("It is", exact=True).select_option("csv")
        dialog.get_by_label("Name").fill("Boiler logger")
        dialog.get_by_role("button", name="Add a channel").click()
        row = dialog.get_by_role("group", name="Channel value")
        row.get_by_label("Of tank").select_option(label="Skerrow ice plant: Boiler oil, strapped")
        row.get_by_label("It is").select_option("level")
        dialog.get_by_role("button", name="Keep this source").click()
        made = page.get_by_role("article", name="Boiler logger")
        made.get_by_role("button", name="Take a file in").click()
        lines = [f"0{day}/0{day}/2026 10:00;3.{day}00,5" for day in range(1, 9)]
        made.locator("input[type=file]").set_input_files(
            {"name": "log.csv", "mimeType": "text/csv", "buffer": "\n".join(["Zeit;mm", *lines]).encode()}
        )
        expect(made).to_contain_text("its dates can be read with day or month first: choose which")
        made.get_by_label("Dates are").select_option("dmy")
        expect(made).to_contain_text("8 readings, from")
        made.get_by_role("button", name="Keep these readings").click()
        expect(made.get_by_role("status")).to_contain_text("8 kept, 0 were there already")


class OnAPhone(BrowserTest):
    def test_watch_is_whole_on_a_phone(self) -> None:
        page = self.phone()
        open_tank(page, "Quay diesel north", "Watch")
        expect(page.get_by_role("group", name="Now")).to_contain_text("old")
        self.assertEqual(page.evaluate("document.documentElement.scrollWidth - window.innerWidth"), 0)
