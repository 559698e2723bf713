"""``make screenshots``: one current picture of each main view, from the demo data, into docs/screenshots/."""

from __future__ import annotations

import re
import sys
import time
from itertools import pairwise
from pathlib import Path

import numpy as np
from playwright.sync_api import Page, sync_playwright

from .harness import DESK, PHONE, ROOT, Server, Traffic, go, launch, open_page, sign_in

OUT = ROOT / "docs" / "screenshots"


def open_tank(page: Page, name: str, station: str) -> None:
    """Open a station of the tank that is called so, or begins so."""
    found = page.context.request.get("/api/tanks/", params={"search": name, "page_size": 200}).json()["results"]
    number = next(one["id"] for one in found if one["facts"]["name"].startswith(name))
    go(page, f"/tanks/{number}/{station.lower()}")
    page.get_by_role("region", name=station, exact=True).wait_for()


def trace(page: Page) -> None:
    open_tank(page, "Workboat fuel", "Survey")
    page.get_by_label("Kind").scroll_into_view_if_needed()
    page.get_by_role("group", name="Traced by").evaluate("e => e.scrollIntoView({block: 'center'})")


def solve(page: Page) -> None:
    go(page, "/tanks/new")
    for label, typed in (("Name", "Buried at the mill"), ("Inside diameter", "2000 mm")):
        page.get_by_label(label, exact=True).fill(typed)
    for head in ("Left head", "Right head"):
        page.get_by_label(head, exact=True).select_option("Flat")
    page.get_by_label("Shell length: how it was measured").click()
    page.get_by_label("Shell length: comes from").select_option("The capacity on the data plate")
    page.get_by_label("Nominal capacity").fill("10 m3")
    page.locator(".solved").wait_for()
    page.get_by_label("Inside diameter", exact=True).evaluate("e => e.scrollIntoView({block: 'start'})")
    page.mouse.wheel(0, -60)


def pane(page: Page, tank: str, name: str, station: str = "Table") -> None:
    open_tank(page, tank, station)
    page.get_by_role("tab", name=name).click()


def tilt(page: Page) -> None:
    pane(page, "Workboat fuel", "Tilt", "Gauge")
    page.get_by_role("group", name="Map of the error").wait_for()
    page.get_by_label("Pitches either way").evaluate("e => e.scrollIntoView({block: 'start'})")


def slopes(page: Page) -> None:
    pane(page, "Header tank", "Slope", "Scale")
    page.get_by_role("region", name="Slopes by school").evaluate("e => e.scrollIntoView({block: 'center'})")


def new_rescale(page: Page) -> None:
    pane(page, "Quay diesel south", "Change a part", "Scale")
    page.get_by_label("Range, high end").fill("0.25 bar")
    page.get_by_role("region", name="What must change").wait_for()


def chain(page: Page) -> None:
    pane(page, "Quay diesel north", "Chain", "Scale")
    page.get_by_text("19660").wait_for()
    page.locator(".ladder").evaluate("e => e.scrollIntoView({block: 'start'})")


def parting(page: Page, tank: str = "Quay diesel south") -> None:
    pane(page, tank, "Chain", "Scale")
    page.get_by_role("link", name="Find where it parts").click()
    page.get_by_role("tab", name="Where it parts", selected=True).wait_for()
    page.locator(".parting-says").wait_for()


def models(page: Page) -> None:
    go(page, "/gauge-models")
    page.get_by_role("button", name="Copy Laser, 4 m").wait_for()


def compare(page: Page) -> None:
    pane(page, "Quay diesel north", "Issue and compare")
    page.get_by_label("From", exact=True).select_option(index=3)
    page.wait_for_timeout(700)
    page.locator(".compare-words").evaluate("e => e.scrollIntoView({block: 'center'})")


def chart(page: Page) -> None:
    go(page, "/tanks")
    page.get_by_role("button", name="From a chart").click()
    rows = "Dip (cm);Content (litre)\n0;0\n10;412,5\n20;1.180,0\n30;2.050,5\n40;2.985,0\n50;3.900,0\n"
    page.get_by_label("Or paste its rows").fill(rows)
    page.get_by_role("dialog").get_by_text("6 points").wait_for()


def label(page: Page) -> None:
    open_tank(page, "Workboat fuel", "Table")
    page.get_by_role("button", name="QR label").click()
    page.get_by_role("img", name="QR code").wait_for()


def line(page: Page) -> None:
    go(page, "/line")
    page.get_by_label("Sent", exact=True).fill("10.4 mA")
    page.locator(".line-says").wait_for()


def kept_by_another(page: Page, name: str) -> None:
    """Type into a survey, while somebody else keeps another."""
    open_tank(page, name, "Survey")
    page.get_by_label("Reference height").fill("1310 mm")
    page.get_by_label("Floor heel").fill("2 L")
    number = page.url.split("/tanks/")[1].split("/")[0]
    api = f"{page.url.split('/tanks/')[0]}/api/tanks/{number}/"
    kept = page.context.request.get(api).json()
    theirs = {"reference_height_mm": f"{1320 + kept['revision']} mm", "product": "butane"}
    entries = {**kept["entries"], **theirs}
    token = next(one["value"] for one in page.context.cookies() if one["name"] == "csrftoken")
    body = {key: kept[key] for key in ("ports", "notes", "revision")} | {"entries": entries, "system": "metric"}
    page.context.request.put(api, data=body, headers={"X-CSRFToken": token})


def conflict(page: Page) -> None:
    kept_by_another(page, "Village vessel, manse")
    page.get_by_role("button", name="Keep this survey").click()
    page.get_by_role("alert", name="Changed by somebody else since you began").wait_for()
    page.evaluate("window.scrollTo(0, 0)")


def history(page: Page) -> None:
    open_tank(page, "Village vessel, chapel", "Survey")
    for heel in ("3 L", "4 L"):
        page.get_by_label("Floor heel").fill(heel)
        page.get_by_role("button", name="Keep this survey").click()
        page.get_by_role("banner").get_by_role("button", name="all kept").wait_for()
        page.get_by_text(re.compile("^Revision .* kept ")).wait_for()
    page.get_by_role("link", name="History").click()
    page.get_by_role("heading", name="History of Village vessel, chapel").wait_for()


def watch(page: Page) -> None:
    open_tank(page, "Quay diesel north", "Watch")
    page.get_by_role("img", name="Volume of Quay diesel north over time").wait_for()


def loading(page: Page) -> None:
    open_tank(page, "Smokehouse bullet", "Watch")
    page.get_by_role("tab", name="Load").click()
    page.get_by_role("textbox", name="In it before").fill("4100 L")
    page.get_by_label("Contents may weigh").fill("4200 kg")
    page.get_by_role("region", name="Which limit rules").wait_for()
    page.wait_for_timeout(1500)
    page.evaluate("window.scrollTo(0, 0)")


def trouble(page: Page) -> None:
    """A tank whose readings jump, its input standing still."""
    open_tank(page, "Quay diesel south", "Wiring")
    page.get_by_role("link", name="Find the fault").click()
    page.get_by_role("region", name="Suspects").wait_for()
    found = page.get_by_role("region", name="Findings").get_by_role("listitem")
    # Once a browser: what was entered is a draft on its device.
    if not found.count():
        for test, outcome in (("look", "noisy"), ("inject-still", "steady")):
            page.get_by_label("Any other test or reading").select_option(test)
            here = page.get_by_role("region", name="Do this next")
            here.get_by_role("button", name=outcome, exact=True).wait_for()
            for gate in here.get_by_role("checkbox").all():
                gate.check()
            here.get_by_role("button", name=outcome, exact=True).click()
            found.filter(has_text=outcome).first.wait_for()
    page.evaluate("window.scrollTo(0, 0)")


def pouring(page: Page) -> None:
    """Somebody else's pours into the workboat's tank, one can of them not written down."""
    open_tank(page, "Workboat fuel", "Table")
    number = page.url.split("/tanks/")[1].split("/")[0]
    curve = page.context.request.get(f"/api/tanks/{number}/curve/").json()
    inside = (0, 80, 160, 240, 320, 400, 480, 560, 640, 720)
    levels = np.interp(inside, curve["volume_l"], curve["innage_mm"])
    came = [0, *(after - before for before, after in pairwise(inside))]
    came[5] = 60
    lines = "\n".join(f"{level:.0f},{litres}" for level, litres in zip(levels, came, strict=True))
    page.get_by_role("tab", name="Pour").click()
    page.get_by_text("Read other people's pours from a file").click()
    file = {"name": "pours.csv", "mimeType": "text/csv", "buffer": f"dip,poured\n{lines}\n".encode()}
    page.get_by_label(re.compile("^Choose a CSV")).set_input_files(file)
    page.get_by_role("button", name=re.compile("^Take these")).click()
    page.get_by_label("One can holds").fill("20 L")
    page.get_by_text("Put pour 5 right first").wait_for()
    page.evaluate("window.scrollTo(0, 0)")


def visit(page: Page, tank: str, step: str = "", record: bool = False) -> None:
    """Open the newest visit to a tank: its runner, one step of it, or its record."""
    found = page.context.request.get("/api/visits/").json()["results"]
    number = next(one["id"] for one in found if one["tank_name"].startswith(tank))
    go(page, f"/visits/{number}/record" if record else f"/visits/{number}?step={step}")
    page.get_by_role("heading", level=1).wait_for()


def new_visit(page: Page) -> None:
    found = page.context.request.get("/api/tanks/", params={"search": "Workboat"}).json()["results"]
    go(page, f"/visits/new?tank={found[0]['id']}")
    page.get_by_text("steps, about").wait_for()


def register_of(page: Page) -> None:
    found = page.context.request.get("/api/tanks/", params={"search": "Slip petrol"}).json()["results"]
    go(page, f"/tanks/{found[0]['id']}/register")
    page.get_by_role("heading", level=1).wait_for()


VIEWS = {
    "visits": lambda page: go(page, "/visits"),
    "visit-new": new_visit,
    "visit": lambda page: visit(page, "Net store sphere", "soft_install"),
    "visit-compare": lambda page: visit(page, "Net store sphere", "float_before"),
    "visit-record": lambda page: visit(page, "Boiler oil", record=True),
    "visit-to-sign": lambda page: visit(page, "Net store sphere", record=True),
    "mail": lambda page: go(page, "/mail"),
    "customers": lambda page: go(page, "/register"),
    "devices": lambda page: go(page, "/register?pane=devices"),
    "tank-register": register_of,
    "line": line,
    "board": lambda page: go(page, "/"),
    "tanks": lambda page: go(page, "/tanks"),
    "history": history,
    "conflict": conflict,
    "account": lambda page: go(page, "/account"),
    "survey": lambda page: open_tank(page, "Quay diesel south", "Survey"),
    "survey-strapped": lambda page: open_tank(page, "Boiler oil", "Survey"),
    "tracer": trace,
    "data-plate": solve,
    "profiles": lambda page: go(page, "/profiles"),
    "table": lambda page: pane(page, "Quay diesel south", "Rows"),
    "uncertainty": lambda page: pane(page, "Quay diesel north", "± where from"),
    "liquid": lambda page: pane(page, "Quay diesel north", "Liquid"),
    "few-points": lambda page: pane(page, "Quay diesel north", "Few points"),
    "compare": compare,
    "chart": chart,
    "label": label,
    "scale": lambda page: open_tank(page, "Header tank", "Scale"),
    "slopes": slopes,
    "chain": chain,
    "parting": parting,
    "rescale": lambda page: pane(page, "Process water", "Change a part", "Scale"),
    "rescale-new": new_rescale,
    "marks": lambda page: pane(page, "Quay diesel north", "Marks", "Scale"),
    "device-sheet": lambda page: pane(page, "Quay diesel north", "Devices", "Scale"),
    "prove-draft": lambda page: open_tank(page, "Process water", "Prove"),
    "prove-signed": lambda page: open_tank(page, "Quay diesel south", "Prove"),
    "gauge-method": lambda page: open_tank(page, "Process water", "Gauge"),
    "gauge-meets": lambda page: pane(page, "Process water", "What it meets", "Gauge"),
    "gauge-spot": lambda page: pane(page, "Quay diesel north", "Spot", "Gauge"),
    "gauge-tilt": tilt,
    "gauge-cut": lambda page: pane(page, "Workboat fuel", "Cut", "Gauge"),
    "gauge-rods": lambda page: pane(page, "Header tank", "Rods", "Gauge"),
    "gauge-models": models,
    "wiring": lambda page: open_tank(page, "Quay diesel north", "Wiring"),
    "wiring-budget": lambda page: pane(page, "Quay diesel south", "Will it carry", "Wiring"),
    "wiring-meter": lambda page: pane(page, "Quay diesel north", "Meter", "Wiring"),
    "wiring-ring-out": lambda page: pane(page, "Workboat fuel", "Ring out", "Wiring"),
    "watch": watch,
    "loading": loading,
    "pour": pouring,
    "trouble": trouble,
    "sources": lambda page: go(page, "/sources"),
    "wiring-arrived": lambda page: pane(page, "Slip petrol", "Arrived, kit", "Wiring"),
}
#: The pictures that are kept, under twenty: the others are looked at by the tests alone.
PICTURES = (
    "board", "line", "tracer", "table", "pour", "gauge-method", "wiring", "chain", "trouble",
    "watch", "loading", "visit", "visit-record", "devices", "conflict",
)  # fmt: skip
PHONE_PICTURES = ("prove-draft", "watch", "visit", "trouble")
#: What a lead sees alone; looked at by the tests.
LEADS_VIEWS = {
    "people": lambda page: go(page, "/people"),
    "own-steps": lambda page: go(page, "/visits/steps"),
}


def main(wanted: list[str], out: Path = OUT) -> None:
    out.mkdir(parents=True, exist_ok=True)
    server = Server(live=True)
    server.start()
    # What the devices send first is there before the pictures are taken.
    time.sleep(20)
    try:
        with sync_playwright() as playwright:
            browser = launch(playwright)
            tech = ("tech", "skerrow-tech")
            for size, suffix, names, person in (
                (DESK, "", PICTURES, tech),
                (PHONE, "-phone", PHONE_PICTURES, tech),
            ):
                page = open_page(browser, server.url, size)
                traffic = Traffic(page)
                sign_in(page, *person)
                for name in names:
                    if wanted and name + suffix not in wanted:
                        continue
                    VIEWS[name](page)
                    traffic.rest()
                    page.wait_for_timeout(300)
                    page.screenshot(path=out / f"{name}{suffix}.png", full_page=bool(suffix))
                page.context.close()
            browser.close()
    finally:
        server.stop()


if __name__ == "__main__":
    main(sys.argv[1:])
