"""What is typed and kept: through servers that refuse, fail or are away, and other people."""

from __future__ import annotations

import re

from playwright.sync_api import Request, Route

from .expecting import expect
from .harness import go, sign_in
from .on_a_wire import BOILER, CHAPEL, OnAWire, ask, keeping, tank_number
from .screenshots import open_tank


class ServerAway(OnAWire):
    def test_what_was_asked_to_be_kept_goes_when_the_server_is_back_in_the_order_of_asking(self) -> None:
        page = self.page
        sent: list[str] = []
        page.on("request", lambda request: sent.append(request.url) if request.method == "PUT" else None)
        open_tank(page, BOILER, "Wiring")
        tank = tank_number(page)
        before = self.kept(tank, "wiring/")["revision"]
        page.get_by_label("Supply", exact=True).fill("26 V")
        keeping(page, "1 draft here")
        self.wire.cut()
        self.assertTrue(page.evaluate("navigator.onLine"))
        page.get_by_role("button", name="Keep this wiring").click()
        keeping(page, "1 waiting, no connection")
        expect(page.get_by_text(re.compile("^The server does not answer since"))).to_be_visible()
        # Typing goes on meanwhile; what was asked for stays what it was.
        page.get_by_label("Input's resistance").fill("130 Ω")
        page.get_by_role("link", name="Survey", exact=False).first.click()
        page.get_by_label("Reference height").fill("6300 mm")
        page.get_by_role("button", name="Keep this survey").click()
        keeping(page, "2 waiting, no connection")
        sent.clear()
        self.wire.mend()
        keeping(page, "1 draft here")
        expect(page.get_by_text(re.compile("^The server does not answer since"))).to_have_count(0)
        arrived = list(dict.fromkeys(sent))
        self.assertEqual([url.endswith("/wiring/") for url in arrived], [True, False], arrived)
        wiring = self.kept(tank, "wiring/")
        self.assertEqual(wiring["revision"], before + 1)
        self.assertEqual(wiring["entries"]["supply.nominal"], "26 V")
        self.assertNotIn("130 Ω", wiring["entries"].values())
        self.assertEqual(self.kept(tank)["entries"]["reference_height_mm"], "6300 mm")
        open_tank(page, BOILER, "Wiring")
        expect(page.get_by_label("Input's resistance")).to_have_value("130 Ω")

    def test_what_stands_on_the_screen_stays_and_the_words_go_by_themselves(self) -> None:
        page = self.page
        open_tank(page, CHAPEL, "Survey")
        self.wire.cut()
        # A question that cannot be answered: the words stand beside what is there, not in its place.
        page.get_by_role("combobox", name="Product").fill("butane")
        expect(page.get_by_text(re.compile("^The server does not answer since"))).to_be_visible()
        expect(page.get_by_role("heading", name=CHAPEL)).to_be_visible()
        page.get_by_role("navigation", name="Stations").get_by_role("link", name="Scale").click()
        expect(page.get_by_text("it is asked for again until the server answers")).to_be_visible()
        page.get_by_role("button", name="Try again").click()
        expect(page.get_by_role("heading", name=CHAPEL)).to_be_visible()
        self.wire.mend()
        expect(page.get_by_role("group", name="Sensor")).to_be_visible()
        expect(page.get_by_text(re.compile("^The server does not answer since"))).to_have_count(0)
        page.get_by_role("navigation", name="Stations").get_by_role("link", name="Survey").click()
        expect(page.get_by_role("combobox", name="Product")).to_have_value("butane")
        page.get_by_role("button", name="Discard changes").click()

    def test_a_server_that_fails_is_asked_again(self) -> None:
        page = self.page
        open_tank(page, "Smokehouse bullet", "Wiring")
        tank = tank_number(page)
        page.get_by_label("Supply", exact=True).fill("23 V")
        self.wire.fail()
        page.get_by_role("button", name="Keep this wiring").click()
        expect(page.get_by_text(re.compile("^The server fails since"))).to_be_visible()
        keeping(page, "1 waiting, no connection")
        self.wire.fail(False)
        keeping(page, "all kept")
        self.assertEqual(self.kept(tank, "wiring/")["entries"]["supply.nominal"], "23 V")

    def test_what_fails_by_itself_holds_nothing_else_up(self) -> None:
        page = self.page
        # The server fails at this one thing alone, again and again.
        page.route(re.compile(r"/wiring/$"), lambda route: (
            route.fulfill(status=500) if route.request.method == "PUT" else route.continue_()
        ))  # fmt: skip
        open_tank(page, "Net store sphere", "Wiring")
        page.get_by_label("Supply", exact=True).fill("17 V")
        page.get_by_role("button", name="Keep this wiring").click()
        keeping(page, "1 waiting, no connection")
        page.get_by_role("navigation", name="Stations").get_by_role("link", name="Survey").click()
        page.get_by_label("Notes").fill("kept meanwhile")
        page.get_by_role("button", name="Keep this survey").click()
        expect(page.get_by_text(re.compile("^Revision 2, kept"))).to_be_visible()
        page.unroute(re.compile(r"/wiring/$"))
        keeping(page, "all kept")
        self.assertEqual(self.kept(tank_number(page), "wiring/")["entries"]["supply.nominal"], "17 V")

    def test_signing_out_of_a_server_that_is_away_says_so(self) -> None:
        page = self.page
        go(page, "/")
        page.locator("#person").click()
        self.wire.cut()
        page.get_by_role("button", name="Sign out").click()
        expect(page.get_by_role("alert")).to_contain_text("Not signed out: The server cannot be reached")

    def test_a_draft_keeps_the_units_it_was_typed_in(self) -> None:
        page = self.page
        go(page, "/")
        page.get_by_role("button", name="US", exact=True).click()
        open_tank(page, CHAPEL, "Survey")
        tank = tank_number(page)
        self.wire.cut()
        page.get_by_label("Reference height").fill("63")
        page.get_by_role("button", name="Metric").click()
        expect(page.get_by_text("Bare numbers in it are US units.")).to_be_visible()
        self.wire.mend()
        # Once the server has read it, the number has the unit that it was typed in, and the page goes on in metric.
        expect(page.get_by_label("Reference height")).to_have_value("63 in")
        expect(page.get_by_text("Bare numbers in it are US units.")).to_have_count(0)
        page.get_by_role("button", name="Keep this survey").click()
        keeping(page, "all kept")
        self.assertEqual(self.kept(tank)["entries"]["reference_height_mm"], "63 in")
        self.assertEqual(self.kept(tank)["facts"]["drawing"]["reference_height_mm"], 1600.2)


class Refused(OnAWire):
    def test_what_is_refused_is_told_once_and_stays_typed(self) -> None:
        page = self.page
        puts: list[Request] = []
        page.on("request", lambda request: puts.append(request) if request.method == "PUT" else None)
        open_tank(page, "Village vessel, manse", "Survey")
        # The name is another's; this the server alone can say.
        page.get_by_label("Name", exact=True).fill(CHAPEL)
        page.get_by_role("button", name="Keep this survey").click()
        expect(page.get_by_role("alert").filter(has_text="has a tank of this name already")).to_be_visible()
        keeping(page, "1 refused: look")
        page.get_by_role("navigation", name="Stations").get_by_role("link", name="Table").click()
        page.get_by_role("banner").get_by_role("button", name="1 refused: look").click()
        page.get_by_role("banner").get_by_role("link", name=re.compile("^Survey")).click()
        expect(page.get_by_label("Name", exact=True)).to_have_value(CHAPEL)
        self.assertEqual(len(puts), 1)
        page.get_by_label("Name", exact=True).fill("Village vessel, manse")
        keeping(page, "all kept")

    def typed_for_one_that_goes(self) -> None:
        """Type the supply of a tank that a lead deletes then."""
        page = self.page
        open_tank(page, "Header tank", "Survey")
        sites = ask(page.context, f"{self.server.url}/api/sites/")["results"]
        entries = {**self.kept(tank_number(page))["entries"], "name": "Short-lived"}
        body = {"entries": entries, "system": "metric", "site": sites[0]["id"], "ports": [], "notes": ""}
        made = ask(page.context, f"{self.server.url}/api/tanks/", "POST", body)
        open_tank(page, "Short-lived", "Wiring")
        # It has been read before the tank goes: it could be kept.
        with page.expect_response(lambda one: "16 V" in (one.request.post_data or "")):
            page.get_by_label("Supply", exact=True).fill("16 V")
        expect(page.get_by_role("button", name="Keep this wiring")).to_be_enabled()
        lead = self.window("lead")
        token = next(one["value"] for one in lead.context.cookies() if one["name"] == "csrftoken")
        gone = lead.context.request.delete(
            f"{self.server.url}/api/tanks/{made['id']}/", headers={"X-CSRFToken": token}
        )
        self.assertEqual(gone.status, 204)

    def put_away(self, words: str) -> None:
        """Put it away where the frame says how keeping stands: its own page is gone."""
        page = self.page
        keeping(page, words)
        go(page, "/")
        page.get_by_role("banner").get_by_role("button", name=words).click()
        page.get_by_role("button", name="Discard it…").click()
        # The keys are with what loses nothing.
        page.keyboard.press("Enter")
        keeping(page, words)
        page.get_by_role("button", name="Discard it…").click()
        page.get_by_role("button", name="Discard Wiring, Short-lived").click()
        keeping(page, "all kept")

    def test_what_was_asked_to_be_kept_of_a_tank_that_is_gone_can_be_put_away(self) -> None:
        self.typed_for_one_that_goes()
        self.page.get_by_role("button", name="Keep this wiring").click()
        self.put_away("1 refused: look")

    def test_what_was_only_typed_of_a_tank_that_is_gone_can_be_put_away(self) -> None:
        self.typed_for_one_that_goes()
        self.put_away("1 draft here")

    def test_a_new_tank_is_a_draft_until_it_is_kept(self) -> None:
        page = self.page
        go(page, "/tanks/new")
        page.get_by_label("Name", exact=True).fill("Half typed")
        keeping(page, "1 draft here")
        page.get_by_role("button", name="Start over").click()
        keeping(page, "all kept")


class OtherPeople(OnAWire):
    def setUp(self) -> None:
        super().setUp()
        # Whoever signs out here has come in by the door: the other tests' technician stays in.
        self.page.context.clear_cookies()
        sign_in(self.page)

    def test_the_next_person_neither_sees_nor_sends_it(self) -> None:
        page = self.page
        open_tank(page, CHAPEL, "Wiring")
        tank = tank_number(page)
        before = self.kept(tank, "wiring/")
        page.get_by_label("Supply", exact=True).fill("21 V")
        self.wire.cut()
        page.get_by_role("button", name="Keep this wiring").click()
        keeping(page, "1 waiting, no connection")
        # Another signs in on this device while the first one's window still waits.
        token = next(one for one in page.context.cookies() if one["name"] == "csrftoken")["value"]
        page.context.request.post(
            f"{self.server.url}/api/session/",
            data={"username": "lead", "password": "skerrow-lead"},
            headers={"X-CSRFToken": token},
        )
        self.wire.mend()
        page.wait_for_url("**/tanks/**")
        expect(page.get_by_role("button", name=re.compile("Marit Voe|Ruan Holm")).first).to_be_visible()
        keeping(page, "all kept")
        expect(page.get_by_label("Supply", exact=True)).not_to_have_value("21 V")
        self.assertEqual(self.kept(tank, "wiring/"), before)
        page.locator("#person").click()
        page.get_by_role("button", name="Sign out").click()
        page.get_by_label("Password").wait_for()
        sign_in(page)
        keeping(page, "all kept")
        self.assertEqual(self.kept(tank, "wiring/")["entries"]["supply.nominal"], "21 V")

    def test_what_was_typed_on_stays_with_whoever_signed_out_meanwhile(self) -> None:
        page = self.page
        open_tank(page, "Slip petrol", "Wiring")
        tank = tank_number(page)
        page.get_by_label("Supply", exact=True).fill("15 V")
        held: list[Route] = []
        page.route(re.compile(r"/wiring/$"), lambda route: (
            held.append(route) if route.request.method == "PUT" and not held else route.continue_()
        ))  # fmt: skip
        page.get_by_role("button", name="Keep this wiring").click()
        page.get_by_label("Input's resistance").fill("110 Ω")
        held[0].continue_()
        page.locator("#person").click()
        page.get_by_role("button", name="Sign out").click()
        page.get_by_label("Password").wait_for()
        sign_in(page)
        open_tank(page, "Slip petrol", "Wiring")
        expect(page.get_by_label("Input's resistance")).to_have_value("110 Ω")
        self.assertEqual(self.kept(tank, "wiring/")["entries"]["supply.nominal"], "15 V")

    def test_a_colleagues_change_is_shown_field_by_field(self) -> None:
        page = self.page
        open_tank(page, "Village vessel, manse", "Survey")
        tank = tank_number(page)
        page.get_by_label("Reference height").fill("1310 mm")
        page.get_by_label("Floor heel").fill("2 L")
        # A colleague keeps another height and a product meanwhile.
        kept = self.kept(tank)
        entries = {**kept["entries"], "reference_height_mm": "1320 mm", "product": "butane"}
        body = {key: kept[key] for key in ("ports", "notes", "revision")} | {"entries": entries, "system": "metric"}
        ask(page.context, f"{self.server.url}/api/tanks/{tank}/", "PUT", body)
        page.get_by_role("button", name="Keep this survey").click()
        shown = page.get_by_role("alert", name="Changed by somebody else since you began")
        expect(shown).to_be_visible()
        keeping(page, "1 refused: look")
        height = shown.get_by_role("row", name=re.compile("^reference height"))
        expect(height).to_contain_text("1310 mm")
        expect(height).to_contain_text("1320 mm")
        # Only one of the two changed these: they stand as they were meant; the height is to be chosen.
        product = shown.get_by_role("radio", name="product: as kept now")
        expect(product).to_be_checked()
        expect(shown.get_by_role("radio", name=re.compile("heel.*: as typed here"))).to_be_checked()
        go_on = shown.get_by_role("button", name="Go on with these")
        expect(go_on).to_be_disabled()
        expect(page.get_by_role("button", name="Keep this survey")).to_be_disabled()
        shown.get_by_role("radio", name="reference height: as typed here").check()
        go_on.click()
        expect(shown).to_have_count(0)
        page.get_by_role("button", name="Keep this survey").click()
        keeping(page, "all kept")
        now = self.kept(tank)
        self.assertEqual(now["revision"], kept["revision"] + 2)
        self.assertEqual(now["entries"]["reference_height_mm"], "1310 mm")
        self.assertEqual(now["entries"]["product"], "butane")
        self.assertIn("2 L", now["entries"].values())

    def test_a_draft_of_yesterday_meets_what_was_kept_since(self) -> None:
        page = self.page
        open_tank(page, CHAPEL, "Wiring")
        tank = tank_number(page)
        page.get_by_label("Supply", exact=True).fill("20 V")
        keeping(page, "1 draft here")
        go(page, "/")
        body = {
            "entries": {"supply.nominal": "28 V"},
            "system": "metric",
            "revision": self.kept(tank, "wiring/")["revision"],
        }
        ask(page.context, f"{self.server.url}/api/tanks/{tank}/wiring/", "PUT", body)
        page.reload()
        open_tank(page, CHAPEL, "Wiring")
        # Seen on opening, before anything is sent; what is kept stands until something is chosen.
        shown = page.get_by_role("alert", name="Changed by somebody else since you began")
        expect(shown.get_by_role("row", name=re.compile("^supply, nominal"))).to_contain_text("28 V")
        shown.get_by_role("button", name="All as kept now").click()
        shown.get_by_role("button", name="Go on with these").click()
        expect(page.get_by_label("Supply", exact=True)).to_have_value("28 V")
        keeping(page, "all kept")

    def test_a_draft_of_the_version_before_is_taken_over(self) -> None:
        page = self.page
        open_tank(page, "Header tank", "Wiring")
        draft = '{"value": {"supply.nominal": "19 V"}, "at": 1760000000000}'
        page.evaluate(
            "([key, text]) => localStorage.setItem(key, text)", [f"rasante:wiring:{tank_number(page)}", draft]
        )
        page.reload()
        # What it began from is not known: both are shown.
        shown = page.get_by_role("alert", name="Changed by somebody else since you began")
        shown.get_by_role("button", name="All as typed here").click()
        shown.get_by_role("button", name="Go on with these").click()
        expect(page.get_by_label("Supply", exact=True)).to_have_value("19 V")
