"""The line and the board over HTTP."""

from __future__ import annotations

from rasante.tanks.models import Tank
from tests.core.samples import example

from .base import SENSOR, ApiTest


class Lines(ApiTest):
    def line(self, **query):
        return self.client.get(f"/api/tanks/{self.tank.pk}/line/", query)

    def test_from_any_reading(self) -> None:
        self.scaled()
        for by, text in (("innage", "1200 mm"), ("volume_pct", "50 %"), ("arriving", "12 mA"), ("ullage", "1350")):
            line = self.line(by=by, text=text).json()
            self.assertAlmostEqual(line["innage_mm"], 1200, delta=2)
            self.assertAlmostEqual(line["volume_pct"], 50, delta=0.1)
        self.assertAlmostEqual(self.line(by="innage", text="4 ft", system="us").json()["innage_mm"], 1219.2)

    def test_refusals(self) -> None:
        self.assertIn("no chain is kept", self.refused(self.line(by="arriving", text="12 mA"))["text"])
        self.assertIn("text", self.refused(self.line(by="innage", text="9 m")))
        self.assertIn("by", self.refused(self.line(by="smell", text="9 m")))
        self.assertIn("system", self.refused(self.line(by="innage", text="1 m", system="roman")))

    def test_the_curve_before_and_after_scaling(self) -> None:
        path = f"tanks/{self.tank.pk}/curve/"
        self.assertEqual(self.send("get", path).json()["stations"], [])
        self.scaled()
        curve = self.send("get", path).json()
        sent = next(station for station in curve["stations"] if station["key"] == "sent")
        self.assertAlmostEqual(sent["values"][-1], 20)
        for mark, level in zip(curve["signal_marks"], (0, 600, 1200, 1800, 2400), strict=True):
            self.assertAlmostEqual(mark["innage_mm"], level)
        self.assertEqual(len(curve["innage_mm"]), len(curve["volume_l"]))


class Boards(ApiTest):
    def test_what_needs_a_person(self) -> None:
        card = self.send("get", "board/").json()["tanks"][0]
        self.assertEqual({s["key"]: s["state"] for s in card["stations"]}["scale"], "not started")
        self.signed()
        board = self.send("get", "board/").json()
        states = {s["key"]: s["state"] for s in board["tanks"][0]["stations"]}
        self.assertEqual((states["scale"], states["prove"]), ("done", "done"))
        self.assertAlmostEqual(board["tanks"][0]["level"]["innage_mm"], 1200)
        self.tank.refresh_from_db()
        self.tank.document["shape"]["shell_length_mm"] = 6100
        self.tank.save()
        needs = {entry["station"]: entry["words"] for entry in self.send("get", "board/").json()["attention"]}
        self.assertIn("changed since", needs["prove"])

    def test_a_range_that_does_not_fit_needs_a_person(self) -> None:
        path = f"tanks/{self.tank.pk}/chain/"
        body = {"entries": SENSOR | {"sensor.high": "2 m"}, "system": "metric", "revision": 0}
        self.send("put", path, body)
        needs = [(entry["station"], entry["state"]) for entry in self.send("get", "board/").json()["attention"]]
        self.assertEqual(needs[0], ("scale", "needs you"))

    def test_a_full_board_shows_who_needs_a_person_first(self) -> None:
        self.scaled()
        for number in range(70):
            document = example(name=f"Copy {number:02}")
            ports = [{"name": "Vent", "uses": ["vent"]}]
            Tank.objects.create(site=self.site, document=document, ports=ports)
        board = self.send("get", "board/").json()
        self.assertEqual((len(board["tanks"]), board["tank_count"]), (30, 71))
        # The one tank whose openings are not noted is in hand.
        self.assertEqual(board["tanks"][0]["id"], self.tank.pk)
