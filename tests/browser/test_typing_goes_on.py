"""What is typed while the server is still keeping what was typed before: it stays, and is kept after it."""

from __future__ import annotations

import contextlib
import re

from playwright.sync_api import Error, Locator, Page

from .expecting import expect
from .harness import PHONE, BrowserTest, Traffic, go
from .holding import Held
from .screenshots import open_tank

PROOFS = re.compile(r"/api/tanks/\d+/proofs/")


#: Makes what stands at the top of a page longer, as an answer does.
PUSH_DOWN = """document.querySelector('main').before(
    Object.assign(document.createElement('p'), {style: 'height: 90px'}))"""
#: Puts a button of its own where something else stood, which counts how often it is clicked.
ANOTHER_COMES = """([x, y]) => {
    const other = document.createElement("button");
    other.style = `position: fixed; left: ${x - 30}px; top: ${y - 30}px; width: 60px; height: 60px; z-index: 9`;
    other.ariaLabel = "Clicked instead";
    other.textContent = "0";
    other.addEventListener("click", () => (other.textContent = String(Number(other.textContent) + 1)));
    document.body.append(other);
}"""

#: Types into one field and leaves it; then into another as soon as anything of the page changes once it stood still.
AS_SOON_AS_IT_SHOWS = """([field, text, other, more]) => new Promise((done) => {
    const type = (into, value) => {
        const kind = into instanceof HTMLTextAreaElement ? HTMLTextAreaElement : HTMLInputElement;
        Object.getOwnPropertyDescriptor(kind.prototype, "value").set.call(into, value);
        into.dispatchEvent(new Event("input", { bubbles: true }));
    };
    type(field, text);
    field.dispatchEvent(new FocusEvent("focusout", { bubbles: true }));
    const watch = new MutationObserver(() => {
        watch.disconnect();
        type(other, more);
        done();
    });
    setTimeout(() => watch.observe(document.body,
        { subtree: true, childList: true, characterData: true, attributes: true }), 40);
})"""

#: Types into a field in the very moment in which the frame says that all is kept, before anything else on a page is
#: shown; it tells what another field shows then.
IN_THAT_MOMENT = """([field, text, other]) => {
    window.then = new Promise((done) => {
        const watch = new MutationObserver(() => {
            if (!/all kept/.test(document.querySelector("header").textContent)) return;
            watch.disconnect();
            const there = other.value;
            Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value").set.call(field, text);
            field.dispatchEvent(new Event("input", { bubbles: true }));
            done(there);
        });
        watch.observe(document.body, { subtree: true, childList: true, characterData: true });
    });
}"""


def middle(of: Locator) -> tuple[float, float]:
    """The middle of something on a page [px]."""
    box = of.bounding_box()
    assert box is not None
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


class WhileItIsBeingKept(BrowserTest):
    def test_a_survey(self) -> None:
        page = self.page
        open_tank(page, "Village vessel, chapel", "Survey")
        page.get_by_label("Reference height").fill("1300 mm")
        held = Held(page, re.compile(r"/api/tanks/\d+/$"))
        page.get_by_role("button", name="Keep this survey").click()
        page.get_by_label("Floor heel").fill("3 L")
        held.let_go()
        # The first is kept; the second is there still, and follows it.
        expect(page.get_by_text("on this device only")).to_be_visible()
        expect(page.get_by_label("Floor heel")).to_have_value("3 L")
        expect(page.get_by_label("Reference height")).to_have_value("1300 mm")
        page.get_by_role("button", name="Keep this survey").click()
        expect(page.get_by_text(re.compile(r"Revision \d+, kept"))).to_be_visible()
        page.reload()
        expect(page.get_by_label("Floor heel")).to_have_value("3 L")

    def test_a_field_left_before_it_was_read(self) -> None:
        page = self.page
        open_tank(page, "Village vessel, manse", "Survey")
        heel = page.get_by_label("Floor heel")
        with page.expect_response(re.compile("/api/tanks/survey/")):
            heel.fill("3 L")
        page.route(re.compile("/api/tanks/survey/"), lambda route: None)
        heel.fill("4 L")
        # What stood there before was read; this is not, and leaving the field takes nothing back.
        page.get_by_label("Reference height").focus()
        expect(heel).to_have_value("4 L")
        page.get_by_role("button", name="Keep this survey").click()
        expect(heel).to_have_value("4 L")

    def test_what_is_typed_in_the_moment_in_which_a_unit_is_written_elsewhere(self) -> None:
        page = self.page
        open_tank(page, "Village vessel, manse", "Survey")
        heel, notes = page.get_by_label("Floor heel"), page.get_by_label("Notes")
        for text in ("5 L", "6"):
            with page.expect_response(re.compile("/api/tanks/survey/")):
                heel.fill(text)
            expect(page.locator("#content").get_by_text("on this device only")).to_be_visible()
        with page.expect_response(re.compile("/api/tanks/survey/")):
            heel.fill("7")
        # Typed and left again, it is read from what was answered before; what follows is typed as soon as that shows.
        page.evaluate(AS_SOON_AS_IT_SHOWS, [heel.element_handle(), "6", notes.element_handle(), "ladder at the east"])
        expect(heel).to_have_value("6 L")
        expect(notes).to_have_value("ladder at the east")
        page.get_by_role("button", name="Discard changes").click()

    def test_typed_back_to_what_is_kept_leaves_no_draft(self) -> None:
        page = self.page
        open_tank(page, "Header tank", "Wiring")
        state = page.get_by_role("banner")
        page.get_by_label("Supply", exact=True).fill("24 V")
        page.get_by_label("Cable gets as hot as").fill("40 °C")
        page.get_by_role("button", name="Keep this wiring").click()
        expect(state.get_by_role("button", name="all kept")).to_be_visible()
        page.get_by_label("Supply", exact=True).fill("")
        expect(state.get_by_role("button", name="1 draft here")).to_be_visible()
        # It stands behind the others now; what is typed is what is kept all the same.
        page.get_by_label("Supply", exact=True).fill("24 V")
        expect(state.get_by_role("button", name="all kept")).to_be_visible()

    def test_a_plan(self) -> None:
        page = self.page
        open_tank(page, "Boiler oil", "Wiring")
        page.get_by_label("Supply", exact=True).fill("24 V")
        held = Held(page, re.compile(r"/api/tanks/\d+/wiring/$"))
        page.get_by_role("button", name="Keep this wiring").click()
        page.get_by_label("Input's resistance").fill("120 Ω")
        held.let_go()
        expect(page.get_by_text("on this device only")).to_be_visible()
        expect(page.get_by_label("Input's resistance")).to_have_value("120 Ω")
        page.get_by_role("button", name="Keep this wiring").click()
        expect(page.get_by_text("Kept, revision 2")).to_be_visible()

    def test_a_button_that_an_answer_moves_away_while_it_is_pressed_is_clicked(self) -> None:
        page = self.page
        add = self.at_the_spot(page)
        vent = page.get_by_text("Vent is the only vent: never block it.")
        third = page.get_by_label("Thing 3", exact=True)
        # The answer makes what stands above the button shorter by a line, and comes between down and up.
        held = Held(page, re.compile(r"/api/tanks/\d+/gauge/"), "POST")
        page.get_by_label("Opening", exact=True).select_option("Vent")
        held.wait_for(1)
        page.mouse.move(*middle(add))
        page.mouse.down()
        held.let_go()
        expect(vent).to_be_visible()
        page.mouse.up()
        expect(third).to_be_visible()
        # Moved farther than it is high, by whatever way: it is clicked all the same, and once.
        page.get_by_role("button", name="Remove thing 3").click()
        expect(third).to_have_count(0)
        page.mouse.move(*middle(add))
        page.mouse.down()
        page.evaluate(PUSH_DOWN)
        page.mouse.up()
        expect(third).to_be_visible()
        expect(page.get_by_label("Thing 4", exact=True)).to_have_count(0)
        # Let go beside where it stood, nothing is: that is how a press is taken back.
        x, y = middle(add)
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x, y - 200, steps=4)
        page.mouse.up()
        self.painted()
        expect(page.get_by_label("Thing 4", exact=True)).to_have_count(0)
        page.get_by_role("button", name="Discard changes").click()

    def test_a_thumb_clicks_what_it_was_put_on_not_what_comes_under_it(self) -> None:
        page = self.window(size=PHONE, has_touch=True)
        add = self.at_the_spot(page)
        touch = page.context.new_cdp_session(page)

        def put(kind: str, *points: dict[str, float]) -> None:
            touch.send("Input.dispatchTouchEvent", {"type": kind, "touchPoints": list(points)})

        x, y = middle(add)
        clicked = page.get_by_label("Clicked instead")
        put("touchStart", {"x": x, "y": y})
        page.evaluate(ANOTHER_COMES, [x, y])
        put("touchEnd")
        expect(page.get_by_label("Thing 3", exact=True)).to_be_visible()
        expect(clicked).to_have_text("0")
        page.get_by_role("button", name="Remove thing 3").tap()
        expect(page.get_by_label("Thing 3", exact=True)).to_have_count(0)
        clicked.tap()
        expect(clicked).to_have_text("1")

    def at_the_spot(self, page: Page) -> Locator:
        open_tank(page, "Quay diesel north", "Gauge")
        page.get_by_role("tab", name="Spot").click()
        expect(page.get_by_text("Sensor is free for it; the vent stays open.")).to_be_visible()
        add = page.get_by_role("button", name="Add a float")
        add.scroll_into_view_if_needed()
        return add

    def test_an_answer_from_before_does_not_come_back(self) -> None:
        page = self.page
        tank = self.begin_proof("Process water")
        before = page.context.request.get(f"{self.server.url}/api/tanks/{tank}/proofs/").json()
        stations = page.get_by_role("navigation", name="Stations")
        stations.get_by_role("link", name="Survey").click()
        # A survey that is kept makes all that is known of the tank be asked for anew.
        page.get_by_label("Notes").fill("ladder at the east side")
        page.get_by_role("button", name="Keep this survey").click()
        expect(page.get_by_role("banner").get_by_role("button", name="all kept")).to_be_visible()
        traffic = Traffic(page)
        held = Held(page, PROOFS, "GET")
        stations.get_by_role("link", name="Prove").click()
        held.wait_for(1)
        page.get_by_label("Remarks").fill("read at dusk")
        expect(page.get_by_text(re.compile(r"^saved \d"))).to_be_visible()
        held.answer(before)
        traffic.rest()
        expect(page.get_by_label("Remarks")).to_have_value("read at dusk")

    def test_a_first_answer_that_comes_after_a_keeping_is_asked_for_anew(self) -> None:
        page = self.page
        self.begin_proof("Header tank")
        kept = Held(page, re.compile(r"/api/proofs/\d+/$"), "PUT", most=2)
        page.get_by_label("Remarks").fill("read at dawn")
        kept.wait_for(1)
        held = Held(page, PROOFS, "GET")
        page.reload()
        kept.wait_for(2)
        held.wait_for(1)
        # What waited is kept before the list of proofs is answered: the list is asked for again.
        kept.let_go()
        expect(page.get_by_label("Remarks")).to_have_value("read at dawn")

    def test_a_keeping_that_is_answered_late_does_not_bring_back_what_was_deleted_meanwhile(self) -> None:
        page = self.page
        self.begin_proof("Quay diesel south")
        kept = Held(page, re.compile(r"/api/proofs/\d+/$"))
        page.get_by_label("Remarks").fill("begun by mistake")
        kept.wait_for(1)
        answer = kept.waiting[0].fetch()
        held = Held(page, PROOFS, "GET")
        page.get_by_role("button", name="Delete this draft").click()
        page.get_by_role("dialog").get_by_role("button", name=re.compile("^Delete the draft")).click()
        held.wait_for(1)
        # The server kept the remark, then deleted the draft; its answers come the other way round.
        with page.expect_event("requestfinished", lambda request: request.method == "PUT"):
            kept.waiting[0].fulfill(response=answer)
        self.painted()
        with contextlib.suppress(Error):
            held.let_go()
        expect(page.get_by_role("dialog")).to_have_count(0)
        expect(page.get_by_label("Remarks")).to_have_count(0)

    def painted(self) -> None:
        """Two frames further on: what was answered is on the screen."""
        frames = "new Promise(done => requestAnimationFrame(() => requestAnimationFrame(done)))"
        self.page.evaluate(frames)

    def begin_proof(self, name: str) -> int:
        page = self.page
        open_tank(page, name, "Prove")
        begin = page.get_by_role("button", name="Begin a proof")
        begin.wait_for()
        drafts = page.get_by_role("list", name="Proofs").get_by_role("button")
        before = drafts.count()
        begin.click()
        # Another draft may stand there already: it is begun once the list has one more, and that is shown.
        expect(drafts).to_have_count(before + 1)
        expect(drafts.first).to_have_attribute("aria-current", "true")
        page.get_by_label("Remarks").wait_for()
        return int(page.url.split("/tanks/")[1].split("/")[0])

    def test_what_is_typed_in_the_moment_in_which_what_was_typed_before_is_kept(self) -> None:
        page = self.page
        self.begin_proof("Process water")
        first, second = (page.get_by_label(f"Point {number}, as found, rising") for number in (1, 2))
        kept = Held(page, re.compile(r"/api/proofs/\d+/$"))
        first.fill("1 mm")
        kept.wait_for(1)
        page.evaluate(IN_THAT_MOMENT, [second.element_handle(), "601 mm", first.element_handle()])
        kept.let_go()
        # Nothing of before is shown meanwhile, and nobody is told of a newer one: it is one's own.
        self.assertEqual(page.evaluate("window.then"), "1 mm")
        expect(page.locator(".save-state", has_text=re.compile("^saved "))).to_be_visible()
        page.reload()
        expect(first).to_have_value("1 mm")
        expect(second).to_have_value("601 mm")

    def test_what_is_typed_while_another_proof_begins_does_not_go_into_the_one_that_was_open(self) -> None:
        page = self.page
        self.begin_proof("Quay diesel south")
        first = page.get_by_label("Point 1, as found, rising")
        sent = Held(page, PROOFS, "POST", most=2)
        page.get_by_role("button", name="Begin a proof").click()
        sent.wait_for(1)
        expect(page.get_by_role("button", name="Beginning…")).to_be_disabled()
        expect(first).to_have_count(0)
        # Refused, the one that was open is there again.
        sent.waiting[0].fulfill(status=503, json={})
        first.fill("1 mm")
        page.get_by_role("button", name="Begin a proof").click()
        sent.wait_for(2)
        sent.let_go()
        expect(first).to_have_value("")

    def test_what_is_kept_from_one_window_is_gone_on_with_in_another_at_once(self) -> None:
        page = self.page
        self.begin_proof("Process water")
        other = self._watched(page.context.new_page())
        other.goto(page.url)
        found = [one.get_by_label("Point 1, as found, rising") for one in (page, other)]
        remarks = [one.get_by_label("Remarks") for one in (page, other)]
        saved = other.locator(".save-state", has_text=re.compile("^saved "))
        found[1].wait_for()
        found[0].fill("1 mm")
        expect(page.locator(".save-state", has_text=re.compile("^saved "))).to_be_visible()
        # It stands there too, and so does what it comes to; and what is typed on it follows it.
        expect(found[1]).to_have_value("1 mm")
        expect(saved).to_be_visible()
        remarks[1].fill("read at noon")
        expect(saved).to_be_visible()
        expect(remarks[0]).to_have_value("read at noon")
        for one in (page, other):
            expect(one.get_by_text("Changed by somebody else")).to_have_count(0)
        page.reload()
        expect(found[0]).to_have_value("1 mm")
        expect(remarks[0]).to_have_value("read at noon")

    def test_what_is_typed_on_in_a_form_while_it_is_sent_stays_and_follows_what_is_kept(self) -> None:
        page = self.window("lead")
        go(page, "/visits/steps")
        text = page.get_by_label("The file")
        keep = page.get_by_role("button", name="Keep them")
        steps = """{"format": "rasante.procedures/1", "steps": [%s]}"""
        text.fill(steps % "")
        address = re.compile("/api/own-steps/")
        sent, asked = Held(page, address), Held(page, address, "GET")
        keep.click()
        sent.wait_for(1)
        text.fill(steps % " ")
        sent.let_go()
        # Kept, and not read again yet: neither what stood there before is shown, nor is what was typed since gone.
        asked.wait_for(1)
        expect(text).to_have_value(steps % " ")
        asked.let_go()
        # It follows one's own, not somebody else's.
        keep.click()
        expect(page.get_by_role("banner").get_by_role("button", name="all kept")).to_be_visible()
        expect(page.get_by_text("Changed by somebody else")).to_have_count(0)

    def test_the_next_dip_that_is_typed_while_one_is_sent_stays(self) -> None:
        page = self.page
        open_tank(page, "Header tank", "Watch")
        dip = page.get_by_label("Innage, mm")
        sent = Held(page, re.compile(r"/api/tanks/\d+/typed/"), "POST")
        dip.fill("1020")
        page.get_by_role("button", name="Keep it").click()
        sent.wait_for(1)
        dip.fill("1030")
        with page.expect_response(re.compile("/typed/")):
            sent.let_go()
        self.painted()
        expect(page.get_by_role("button", name="Keep it")).to_be_enabled()
        expect(dip).to_have_value("1030")
        # What nothing was typed on is used up.
        page.get_by_role("button", name="Keep it").click()
        expect(dip).to_have_value("")

    def test_readings_of_a_proof_are_there_on_coming_back(self) -> None:
        page = self.page
        open_tank(page, "Quay diesel north", "Prove")
        page.get_by_role("button", name="Begin a proof").click()
        page.get_by_label("Remarks").fill("read at dusk")
        expect(page.get_by_text(re.compile(r"^saved \d"))).to_be_visible()
        stations = page.get_by_role("navigation", name="Stations")
        stations.get_by_role("link", name="Table").click()
        page.get_by_role("region", name="Table", exact=True).wait_for()
        # With the list not asked for again: what comes back is what the last keeping answered.
        page.route(re.compile(r"/api/tanks/\d+/proofs/$"), lambda route: None)
        stations.get_by_role("link", name="Prove").click()
        expect(page.get_by_label("Remarks")).to_have_value("read at dusk")
        expect(page.get_by_text("changed on another device")).to_have_count(0)
