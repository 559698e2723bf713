"""The stations by the ways people use them besides the straight road."""

from __future__ import annotations

import re

from .expecting import expect
from .harness import BrowserTest, go
from .screenshots import open_tank
from .test_main_job import go_to, reading


class Line(BrowserTest):
    def test_each_reading_can_be_typed(self) -> None:
        page = self.page
        open_tank(page, "Process water", "Scale")
        # An upright tank of 3.6 m: a metre holds π 3.6² / 4 = 10.1788 m³.
        for name, label, typed, innage in (
            ("innage", "Innage", "1 m", 1000.0),
            ("ullage", "Ullage", "4,35 m", 1000.0),
            ("volume", "Volume", "20,3576 m3", 2000.0),
            ("volume_pct", "True per cent", "25 %", 1300.0),
            ("linear_pct", "A linear float shows", "75", 3900.0),
            ("arriving", "Arriving", "12 mA", 2600.0),
            ("sensed", "At the sensor", "3000 mm", 2600.0),
        ):
            page.locator(f'[data-reading="{name}"] button').click()
            page.get_by_label(f"{label}: go to").fill(typed)
            page.keyboard.press("Enter")
            expect(page.locator(f'[data-reading="{name}"] button')).to_be_visible()
            self.assertAlmostEqual(reading(page, "innage"), innage, delta=0.1, msg=name)

    def test_a_level_the_tank_has_not_is_refused_and_left(self) -> None:
        page = self.page
        open_tank(page, "Header tank", "Table")
        before = reading(page, "innage")
        page.locator('[data-reading="volume"] button').click()
        page.get_by_label("Volume: go to").fill("90 m3")
        page.keyboard.press("Enter")
        expect(page.get_by_role("alert")).to_contain_text("it holds 0 to")
        page.keyboard.press("Escape")
        self.assertEqual(reading(page, "innage"), before)

    def test_the_table_the_curve_and_the_section_move_one_line(self) -> None:
        page = self.page
        open_tank(page, "Quay diesel south", "Table")
        page.get_by_role("row").nth(3).click()
        chosen = page.locator('[role="row"][aria-selected="true"] span').first.inner_text().replace("\u202f", "")
        self.assertAlmostEqual(reading(page, "innage"), float(chosen), places=6)
        chart = page.get_by_role("img", name=re.compile("Volume over innage")).bounding_box()
        assert chart is not None
        page.mouse.click(chart["x"] + chart["width"] * 0.75, chart["y"] + 60)
        moved = reading(page, "innage")
        self.assertGreater(moved, float(chosen))
        # It is where it was when the page is opened again.
        page.reload()
        self.assertAlmostEqual(reading(page, "innage"), moved, delta=0.06)

    def test_outside_the_range_the_signal_stands_still(self) -> None:
        page = self.page
        open_tank(page, "Quay diesel south", "Scale")
        page.locator('[data-reading="innage"] button').click()
        page.get_by_label("Innage: go to").fill("2000 mm")
        page.keyboard.press("Enter")
        # 60 mm offset, 1800 mm span: brim is 21.24 mA on the straight line; NAMUR NE 43 holds it at 20.5 mA.
        expect(page.get_by_text("The signal stands at 20.5 mA")).to_be_visible()
        self.assertAlmostEqual(reading(page, "arriving"), 20.5, delta=0.001)


class Tables(BrowserTest):
    def test_any_step_may_be_typed(self) -> None:
        page = self.page
        open_tank(page, "Slip petrol", "Table")
        page.get_by_label("Step", exact=True).select_option("other…")
        page.get_by_label("Step, a number").fill("25")
        expect(page.get_by_text("61 rows in steps of 25 mm")).to_be_visible()
        page.get_by_label("Step, a number").fill("none")
        expect(page.get_by_role("alert")).to_contain_text("is not a step")
        page.get_by_label("Step, a number").fill("3/16")
        page.get_by_label("Unit of the step").select_option("in")
        expect(page.get_by_text("steps of 3/16 in")).to_be_visible()

    def test_thousands_of_rows_draw_only_those_in_sight(self) -> None:
        page = self.page
        open_tank(page, "Process water", "Table")
        page.get_by_label("Step", exact=True).select_option("1 mm")
        expect(page.get_by_text("5\u202f201 rows")).to_be_visible()
        self.assertLess(page.get_by_role("row").count(), 60)
        page.locator(".rows").evaluate("box => { box.scrollTop = box.scrollHeight; }")
        expect(page.get_by_role("gridcell", name="5\u202f200", exact=True)).to_be_visible()


class Ends(BrowserTest):
    def test_distance_falls_and_is_said_to(self) -> None:
        page = self.page
        open_tank(page, "Slip petrol", "Scale")
        page.get_by_label("Senses").select_option("distance")
        page.get_by_label("Range, low end").fill("110 mm")
        page.get_by_label("Range, high end").fill("1610 mm")
        expect(page.get_by_text("senses level and is scaled as distance")).to_be_visible()
        page.get_by_label("Range, high end").fill("110 mm")
        expect(page.get_by_text("such a range measures nothing").first).to_be_visible()
        expect(page.get_by_role("button", name="Keep this chain")).to_be_disabled()
        # Left and come back to: still there, still not kept.
        go_to(page, "Table")
        go_to(page, "Scale")
        expect(page.get_by_label("Range, low end")).to_have_value("110 mm")
        page.get_by_role("button", name="Discard changes").click()
        expect(page.get_by_label("Range, low end")).to_have_value("")
        page.get_by_role("button", name="Undo").click()
        expect(page.get_by_label("Range, low end")).to_have_value("110 mm")

    def test_proving_waits_for_a_chain(self) -> None:
        open_tank(self.page, "Smokehouse bullet", "Prove")
        expect(self.page.get_by_text("No chain is kept of this tank yet")).to_be_visible()


class Proofs(BrowserTest):
    unread = True

    def test_five_levels_against_a_volume(self) -> None:
        page = self.page
        open_tank(page, "Header tank", "Prove")
        page.get_by_role("button", name="Begin a proof").click()
        page.get_by_label("Applied", exact=True).select_option("Level in the tank")
        page.get_by_label("Read", exact=True).select_option("Volume on another display")
        page.get_by_label("Tolerance").fill("5 mm")
        for number, level in enumerate((200, 500, 750, 1000, 1300), start=1):
            page.get_by_label(f"Point {number}: applied").fill(f"{level} mm")
        point = page.get_by_role("group", name="Point 3")
        # Half of the tank: what the line says of 750 mm.
        expect(point.get_by_text("2153.4 L")).to_be_visible()
        page.get_by_label("Point 3, as found, rising").fill("2190 L")
        expect(point.get_by_text(re.compile(r"▲ \+1\d\.\d mm"))).to_be_visible()
        page.get_by_label("Point 3, as found, rising").fill("lots")
        expect(point.get_by_text("cannot be read")).to_be_visible()
        # A level that is only simulated moves pumps as a current does: control is asked about whatever is applied.
        expect(page.get_by_text("Control is in manual")).to_be_visible()

    def test_a_name_that_is_not_ones_own_does_not_sign(self) -> None:
        page = self.page
        open_tank(page, "Process water", "Prove")
        for number, read in ((3, "2602 mm"), (4, "3901 mm"), (5, "5201 mm")):
            page.get_by_label(f"Point {number}, as found, rising").fill(read)
        expect(page.get_by_role("button", name="Sign", exact=True)).to_be_disabled()
        page.get_by_label("Control is restored").check()
        page.get_by_label("Your name").fill("Somebody")
        page.get_by_label("Your password").fill("skerrow-tech")
        page.get_by_role("button", name="Sign", exact=True).click()
        expect(page.get_by_role("alert")).to_contain_text("Isla Brand")

    def test_a_lost_connection_loses_nothing(self) -> None:
        page = self.page
        open_tank(page, "Quay diesel north", "Prove")
        page.get_by_role("button", name="Begin a proof").click()
        expect(page.get_by_label("Point 1, as found, rising")).to_have_value("")
        page.context.set_offline(True)
        page.get_by_label("Point 1, as found, rising").fill("4 mm")
        page.get_by_label("Remarks").fill("typed on the ladder")
        expect(page.get_by_text("not saved yet, retrying")).to_be_visible()
        page.context.set_offline(False)
        expect(page.locator(".save-state", has_text=re.compile(r"^saved"))).to_be_visible()
        page.reload()
        expect(page.get_by_label("Remarks")).to_have_value("typed on the ladder")


class People(BrowserTest):
    def test_two_people_surveying_one_tank(self) -> None:
        page = self.page
        open_tank(page, "Slip petrol", "Survey")
        page.get_by_label("Shell length", exact=True).fill("2610 mm")
        expect(page.get_by_text("on this device only")).to_be_visible()
        other = self.window("tech2")
        go(other, page.url)
        other.get_by_label("Notes").fill("Seen by another")
        other.get_by_role("button", name="Keep this survey").click()
        expect(other.get_by_text("Revision 2, kept")).to_be_visible()
        page.get_by_role("button", name="Keep this survey").click()
        shown = page.get_by_role("alert", name="Changed by somebody else since you began")
        expect(shown).to_contain_text("You typed on revision 1; Ruan Holm has kept revision 2")
        page.reload()
        expect(page.get_by_label("Shell length", exact=True)).to_have_value("2610 mm")
        # Each changed another field: nothing is to be chosen, and both changes stand.
        expect(shown.get_by_role("radio", name="notes: as kept now")).to_be_checked()
        shown.get_by_role("button", name="Go on with these").click()
        page.get_by_role("button", name="Keep this survey").click()
        expect(page.get_by_text("Revision 3, kept")).to_be_visible()

    def test_the_door(self) -> None:
        page = self.window(None)
        go(page, "/tanks?search=quay")
        expect(page).to_have_url(re.compile("/sign-in"))
        page.get_by_label("Name").fill("tech")
        page.get_by_label("Password").fill("wrong")
        page.get_by_role("button", name="Sign in").click()
        expect(page.get_by_role("alert")).to_contain_text("do not go together")
        page.get_by_label("Password").fill("skerrow-tech")
        page.get_by_role("button", name="Sign in").click()
        # Where one wanted to go, with nothing of it lost.
        expect(page).to_have_url(re.compile(r"/tanks\?search=quay$"))
        expect(page.get_by_role("row")).to_have_count(3)
        page.get_by_role("button", name="Isla Brand").click()
        expect(page.get_by_role("button", name="Delete this tank")).to_have_count(0)
        page.get_by_role("button", name="Sign out").click()
        expect(page).to_have_url(re.compile("/sign-in"))

    def test_lists_sort_and_find(self) -> None:
        page = self.page
        go(page, "/tanks")
        page.get_by_role("button", name="Tank", exact=True).click()
        expect(page.get_by_role("row").nth(1)).to_contain_text("Boiler oil, strapped")
        page.get_by_role("button", name=re.compile("^Tank")).click()
        expect(page.get_by_role("row").nth(1)).to_contain_text("Workboat fuel")
        page.get_by_label("Search tanks, products and sites").fill("petrol")
        expect(page.get_by_role("row")).to_have_count(2)
        page.get_by_label("Search tanks, products and sites").fill("nothing such")
        expect(page.get_by_text("No tank goes by these letters")).to_be_visible()

    def test_theme_and_units_stay(self) -> None:
        page = self.page
        go(page, "/")
        page.get_by_role("button", name="Isla Brand").click()
        page.get_by_role("button", name="Dusk theme").click()
        page.get_by_role("button", name="US", exact=True).click()
        page.reload()
        expect(page.locator("html")).to_have_attribute("data-bs-theme", "dark")
        expect(page.get_by_role("button", name="US", exact=True)).to_have_attribute("aria-pressed", "true")
        expect(page.get_by_text("US gal").first).to_be_visible()
