"""Two people at one visit or one tank, and what comes by a picture: nothing is written over, lost or typed twice."""

from __future__ import annotations

import io
import re

import segno
from playwright.sync_api import Route

from .expecting import expect
from .harness import go
from .visiting import Visiting


class Together(Visiting):
    def test_a_label_gives_serial_part_and_address_at_once(self) -> None:
        page = self.phone()
        number = self.begin(page, "Workboat", You_come_to="Install", Tank="Vehicle or genset tank")
        go(page, f"/visits/{number}?step=identity")
        card = page.get_by_role("article")
        scanned = card.get_by_label("Scan its label")
        scanned.set_input_files({"name": "dark.png", "mimeType": "image/png", "buffer": self.picture("")})
        expect(card.get_by_role("alert")).to_contain_text("no code can be made out in it")
        label = self.picture("PN:CP-700;SN:SK-7001;ADDR:17")
        scanned.set_input_files({"name": "label.png", "mimeType": "image/png", "buffer": label})
        for field, value in (("Serial", "SK-7001"), ("Part", "CP-700"), ("Device address", "17")):
            expect(self.field(card, field)).to_have_value(value)
        page.reload()
        expect(self.field(card, "Part")).to_have_value("CP-700")
        card.get_by_role("button", name="Done", exact=True).click()
        expect(page.get_by_role("heading", name="Take down the device")).to_have_count(0)
        page.get_by_text(re.compile("to be sent: kept here")).wait_for(state="detached")
        go(page, "/register?pane=devices")
        device = page.get_by_role("article", name="CP-700 SK-7001")
        expect(device).to_contain_text("Workboat")
        expect(device).to_contain_text(f"visit {self.visit(page, number)['number']}")

    @staticmethod
    def picture(text: str) -> bytes:
        """A code as a picture; without a text, a picture of nothing."""
        out = io.BytesIO()
        if text:
            segno.make(text).save(out, kind="png", scale=6)
        else:
            segno.make("x").save(out, kind="png", scale=6, dark="white")
        return out.getvalue()

    def test_a_step_that_a_colleague_has_done_meanwhile_is_not_entered_over_theirs(self) -> None:
        mine = self.phone(service_workers="allow")
        number = self.begin(mine, "Workboat", You_come_to="Routine check")
        dip = f"/visits/{number}?step=dip"
        go(mine, dip)
        mine.evaluate("navigator.serviceWorker.ready.then(() => true)")
        mine.reload()
        self.field(mine.get_by_role("article"), "Dip, innage").wait_for()
        # One of the two is in the dead spot behind the tank; both dip.
        mine.context.set_offline(True)
        self.field(mine.get_by_role("article"), "Dip, innage").fill("402 mm")
        mine.get_by_role("button", name="Done", exact=True).click()
        expect(mine.get_by_text("1 to be sent: kept here")).to_be_visible()
        theirs = self.phone("lead")
        go(theirs, dip)
        self.field(theirs.get_by_role("article"), "Dip, innage").fill("398 mm")
        theirs.get_by_role("button", name="Done", exact=True).click()
        theirs.get_by_text(re.compile("to be sent: kept here")).wait_for(state="detached")
        mine.context.set_offline(False)
        refused = mine.get_by_role("alert").filter(has_text="Dip the tank: not entered")
        expect(refused).to_contain_text("Marit Voe has done it meanwhile")
        refused.get_by_role("button", name="Go back to it").click()
        expect(mine.get_by_text(re.compile("done by Marit Voe"))).to_be_visible()
        expect(self.field(mine.get_by_role("article"), "Dip, innage")).to_have_value(re.compile("^398"))
        # Theirs is taken back: what was typed here stands there again.
        mine.get_by_role("button", name="Take back").click()
        expect(self.field(mine.get_by_role("article"), "Dip, innage")).to_have_value("402 mm")
        mine.get_by_text(re.compile("to be sent: kept here")).wait_for(state="detached")
        done = next(step for step in self.visit(theirs, number)["steps"] if step["key"] == "dip")
        self.assertEqual(done["state"], "open")

    def test_the_record_is_not_signed_over_something_that_the_signer_did_not_see(self) -> None:
        page = self.phone("lead")
        number = self.begin(page, "Quay diesel north", You_come_to="Routine check")
        self.walk(page, number)
        go(page, f"/visits/{number}/record")
        page.get_by_label("Your name").fill("Marit Voe")
        page.get_by_label("Your password").fill("skerrow-lead")
        self.dip_again(number, "391 mm")
        page.get_by_role("button", name="Sign the record").click()
        expect(page.get_by_role("alert")).to_contain_text("something is other than in the record that you looked at")
        # What is new stands there now; the name is kept, the password is not.
        expect(page.get_by_role("row", name=re.compile("Dip the tank"))).to_contain_text("391 mm")
        expect(page.get_by_label("Your name")).to_have_value("Marit Voe")
        expect(page.get_by_label("Your password")).to_have_value("")
        page.get_by_label("Your password").fill("skerrow-lead")
        page.get_by_role("button", name="Sign the record").click()
        expect(page.get_by_role("link", name="Sheet (PDF)")).to_be_visible()

    def test_the_record_is_not_signed_while_what_was_entered_last_is_still_being_read(self) -> None:
        page = self.phone("lead")
        number = self.begin(page, "Quay diesel north", You_come_to="Routine check")
        self.walk(page, number)
        page.get_by_text(re.compile("to be sent: kept here")).wait_for(state="detached")
        page.clock.install()
        go(page, f"/visits/{number}/record")
        page.get_by_label("Your name").fill("Marit Voe")
        page.get_by_label("Your password").fill("skerrow-lead")
        self.dip_again(number, "391 mm")
        # The page looks at the visit every half minute; the record of what it finds takes its time.
        reading: list[Route] = []

        def hold(route: Route) -> None:
            reading.append(route)

        page.route("**/api/visits/*/record/", hold)
        page.clock.fast_forward(31_000)
        expect(page.get_by_role("status").filter(has_text="what was entered last is being read")).to_be_visible()
        expect(page.get_by_role("button", name="Sign the record")).to_be_disabled()
        for held in reading:
            held.continue_()
        page.unroute("**/api/visits/*/record/")
        expect(page.get_by_role("row", name=re.compile("Dip the tank"))).to_contain_text("391 mm")
        page.get_by_role("button", name="Sign the record").click()
        expect(page.get_by_role("link", name="Sheet (PDF)")).to_be_visible()

    def dip_again(self, number: int, dip: str) -> None:
        """A colleague takes the dip of a visit back and dips anew."""
        colleague = self.phone()
        go(colleague, f"/visits/{number}?step=dip")
        colleague.get_by_role("button", name="Take back").click()
        colleague.get_by_text(re.compile("to be sent: kept here")).wait_for(state="detached")
        self.field(colleague.get_by_role("article"), "Dip, innage").fill(dip)
        colleague.get_by_role("button", name="Done", exact=True).click()
        colleague.get_by_text(re.compile("to be sent: kept here")).wait_for(state="detached")

    def test_what_is_noted_of_a_tank_is_put_together_from_both(self) -> None:
        mine, theirs = self.page, self.window("lead")
        tank = mine.request.get("/api/tanks/?search=Workboat").json()["results"][0]["id"]
        for page in (mine, theirs):
            go(page, f"/tanks/{tank}/register")
            page.get_by_label("Painted on it").wait_for()
        mine.get_by_label("Painted on it").fill("W 7")
        mine.get_by_label("Contact there").fill("Ann Sund")
        theirs.get_by_label("Painted on it").fill("W 8")
        theirs.get_by_label("Telephone").fill("0555 01")
        theirs.get_by_role("button", name="Own stock").click()
        theirs.get_by_role("button", name="Keep", exact=True).click()
        theirs.wait_for_url(re.compile("/survey"))
        mine.get_by_role("button", name="Own stock").click()
        mine.get_by_role("button", name="Keep", exact=True).click()
        both = mine.get_by_role("alert").filter(has_text="Changed by somebody else since you began")
        expect(both).to_contain_text("0555 01")
        both.get_by_role("radio", name=re.compile("painted: as kept now", re.IGNORECASE)).check()
        both.get_by_role("button", name="Go on with these").click()
        mine.get_by_role("button", name="Keep", exact=True).click()
        mine.wait_for_url(re.compile("/survey"))
        now = mine.request.get(f"/api/tanks/{tank}/register/").json()
        self.assertEqual((now["painted"], now["contact"], now["telephone"]), ("W 8", "Ann Sund", "0555 01"))
        # A place that cannot be read is said at its field, not dropped.
        go(mine, f"/tanks/{tank}/register")
        mine.get_by_label("Latitude").fill("north of the pier")
        mine.get_by_role("button", name="Keep", exact=True).click()
        expect(mine.get_by_text(re.compile("write degrees"))).to_be_visible()
        expect(mine.get_by_label("Latitude")).to_have_value("north of the pier")

    def test_a_bare_number_means_what_it_meant_when_it_was_typed(self) -> None:
        page = self.phone()
        number = self.begin(page, "Workboat", You_come_to="Routine check")
        go(page, f"/visits/{number}?step=dip")
        card = page.get_by_role("article")
        self.field(card, "Dip, innage").fill("412")
        expect(card.get_by_label("Dip, innage, mm")).to_have_value("412")
        page.evaluate("localStorage.setItem('rasante:system', 'us')")
        page.reload()
        expect(card.get_by_label("Dip, innage, mm")).to_have_value("412")
        card.get_by_role("button", name="Done", exact=True).click()
        page.get_by_text(re.compile("to be sent: kept here")).wait_for(state="detached")
        done = next(step for step in self.visit(page, number)["steps"] if step["key"] == "dip")
        self.assertEqual((done["state"], done["values"]["visit:dip"]), ("done", "412 mm"))
