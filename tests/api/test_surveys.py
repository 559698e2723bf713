"""Surveys over HTTP: helpers, the data plate, dips, tolerances and limits, as the screen gets them."""

from __future__ import annotations

from math import pi

from rasante.tanks.models import Tank

from .base import ApiTest

TYPED = {
    "name": "Old bunker",
    "product": "diesel",
    "shape.kind": "horizontal_cylinder",
    "how.shape.diameter_mm": "circumference",
    "how.shape.diameter_mm.around": "6,32 m",
    "how.shape.diameter_mm.plate": "6 mm",
    "how.shape.shell_length_mm": "capacity",
    "how.shape.shell_length_mm.capacity": "12 m3",
    "shape.left_head.kind": "flat",
    "shape.right_head.kind": "flat",
    "slope_mm_per_m": "1:100",
    "gauge_position_mm": "300 mm",
    "measured.all": "tape_outside",
    "outlet_height_mm": "80 mm",
    "safe_fill_pct": "95",
    "dip.product": "900",
    "dip.water": "25 mm",
}
DIAMETER = 6320 / pi - 12


class Readings(ApiTest):
    def read(self, **changes: str) -> dict:
        answer = self.send("post", "tanks/survey/", {"entries": TYPED | changes, "system": "metric"})
        self.assertEqual(answer.status_code, 200, answer.content)
        return answer.json()

    def field(self, reading: dict, path: str) -> dict:
        return next(field for field in reading["fields_read"] if field["path"] == path)

    def test_all_of_it_at_once(self) -> None:
        reading = self.read()
        self.assertTrue(reading["complete"])
        self.assertAlmostEqual(self.field(reading, "shape.diameter_mm")["value_mm"], DIAMETER, places=4)
        length = 12e9 / (pi / 4 * DIAMETER**2)
        self.assertAlmostEqual(reading["solution"]["value_mm"], length, places=3)
        self.assertEqual(reading["solution"]["movements"][0]["label"], "Nominal capacity")
        self.assertAlmostEqual(reading["facts"]["capacity_l"], 12_000, places=3)
        # A sloped tank: the gauge near the low end sees nearly all there is below, and misses some above.
        limits = reading["facts"]["limits"]
        self.assertGreater(limits["above_gauge_l"], limits["below_gauge_l"])
        self.assertAlmostEqual(limits["safe_l"], 11_400, places=3)
        self.assertEqual((reading["dip"]["level_mm"], reading["dip"]["water_mm"]), (900, 25))
        self.assertAlmostEqual(
            reading["dip"]["product_l"] + reading["dip"]["water_l"], reading["dip"]["total_l"], places=6
        )
        self.assertEqual(reading["facts"]["drawing"]["slope_mm_per_m"], 10)
        self.assertLess(min(z for _, z in reading["facts"]["drawing"]["along_mm"]), 0)

    def test_tolerances_come_from_the_way_of_measuring_and_from_the_solution(self) -> None:
        found = {one["key"]: one for one in self.read()["tolerances"]}
        self.assertEqual(found["diameter_mm"]["method"], "tape_outside")
        self.assertFalse(found["diameter_mm"]["stated"])
        self.assertTrue(found["shell_length_mm"]["stated"])
        self.assertGreater(found["shell_length_mm"]["half_width"], 30)
        unsaid = {one["key"]: one for one in self.read(**{"measured.all": ""})["tolerances"]}
        self.assertIsNone(unsaid["slope_mm_per_m"]["half_width"])

    def test_what_is_wrong_stands_at_its_field(self) -> None:
        for changes, path, words in (
            ({"how.shape.diameter_mm.plate": "3 m"}, "shape.diameter_mm", "nothing is left"),
            ({"how.shape.shell_length_mm.capacity": ""}, "shape.shell_length_mm", "nothing is typed here yet"),
            ({"slope_mm_per_m": "45°"}, "slope_mm_per_m", "steeper than 30°"),
            ({"slope_mm_per_m": "steep"}, "slope_mm_per_m", "is no slope"),
            ({"sump.depth_mm": "300 mm"}, "sump.volume_l", "type both"),
            ({"safe_fill_pct": "140 %"}, "safe_fill_pct", "outside 0 to 100"),
            ({"outlet_height_mm": "1990 mm"}, "outlet_height_mm", "nothing could be drawn"),
            ({"gauge_position_mm": "90 m"}, "gauge_position_mm", "past the end"),
        ):
            with self.subTest(changes):
                reading = self.read(**changes)
                self.assertFalse(reading["complete"])
                self.assertIn(words, self.field(reading, path)["problem"])

    def test_a_bad_dip_does_not_keep_the_tank_from_being_kept(self) -> None:
        reading = self.read(**{"dip.water": "1 m"})
        self.assertIn("swap them?", self.field(reading, "dip.water")["problem"])
        self.assertTrue(reading["complete"])
        self.assertIsNone(reading["dip"])

    def test_a_section_that_crosses_itself(self) -> None:
        corners = ((0, 0), (1000, 0), (0, 500), (1000, 500))
        typed = {"shape.kind": "prism", "shape.length_mm": "1 m", "shape.section.kind": "polygon"}
        for index, (x, z) in enumerate(corners):
            typed[f"shape.section.points_mm[{index}].x_mm"] = str(x)
            typed[f"shape.section.points_mm[{index}].z_mm"] = str(z)
        reading = self.send("post", "tanks/survey/", {"entries": typed, "system": "metric"}).json()
        self.assertEqual(reading["crossing_mm"], [500, 250])
        self.assertIn("crosses", self.field(reading, "shape.section.points_mm[3]")["problem"])
        self.assertIsNone(self.read()["crossing_mm"])

    def test_us_units_read_the_same_tank(self) -> None:
        inches = {
            "how.shape.diameter_mm.around": f"{6320 / 25.4:.6f}",
            "how.shape.diameter_mm.plate": f"{6 / 25.4:.6f}",
            "how.shape.shell_length_mm.capacity": f"{12_000 / 3.785411784:.6f} gal",
            "gauge_position_mm": f"{300 / 25.4:.6f}",
            "slope_mm_per_m": "0.12 in/ft",
        }
        body = {
            "entries": TYPED | inches | {"outlet_height_mm": "", "dip.product": "", "dip.water": ""},
            "system": "us",
        }
        american = self.send("post", "tanks/survey/", body).json()
        self.assertTrue(american["complete"])
        self.assertAlmostEqual(american["solution"]["value_mm"], self.read()["solution"]["value_mm"], places=2)
        self.assertAlmostEqual(american["facts"]["drawing"]["slope_mm_per_m"], 10, places=6)


class Kept(ApiTest):
    def test_what_was_measured_stays_with_what_came_of_it(self) -> None:
        body = {"site": self.site.pk, "entries": TYPED, "system": "metric", "ports": [], "notes": ""}
        made = self.send("post", "tanks/", body).json()
        self.assertEqual(made["entries"]["how.shape.diameter_mm.around"], "6,32 m")
        self.assertEqual(made["entries"]["how.shape.shell_length_mm.capacity"], "12 m3")
        self.assertEqual(made["entries"]["dip.product"], "900 mm")
        tank = Tank.objects.get(pk=made["id"])
        self.assertAlmostEqual(tank.document["shape"]["diameter_mm"], DIAMETER, places=4)
        # Surveyed again in the other system, with nothing changed: the same revision.
        again = {"entries": made["entries"], "system": "us", "ports": [], "notes": "", "revision": 1}
        self.assertEqual(self.send("put", f"tanks/{tank.pk}/", again).json()["revision"], 1)
        # Another plate: the diameter follows, and the length that the capacity leaves.
        thicker = made["entries"] | {"how.shape.diameter_mm.plate": "10 mm"}
        changed = self.send("put", f"tanks/{tank.pk}/", again | {"entries": thicker}).json()
        self.assertEqual(changed["revision"], 2)
        tank = Tank.objects.get(pk=tank.pk)
        self.assertAlmostEqual(tank.document["shape"]["diameter_mm"], DIAMETER - 8, places=4)
        self.assertAlmostEqual(tank.file.tank.capacity, 12.0, places=6)
        self.assertEqual(tank.history.count(), 3)

    def test_the_line_on_a_sloped_tank(self) -> None:
        body = {"site": self.site.pk, "entries": TYPED, "system": "metric", "ports": [], "notes": ""}
        pk = self.send("post", "tanks/", body).json()["id"]
        tank = Tank.objects.get(pk=pk).file.tank

        def line(by: str, text: str):
            return self.client.get(f"/api/tanks/{pk}/line/", {"by": by, "text": text})

        there = line("volume", "7000 L").json()
        self.assertAlmostEqual(there["volume_l"], 7000, places=5)
        self.assertAlmostEqual(float(tank.volume(there["innage_mm"] / 1000)), 7.0, places=8)
        self.assertIsNotNone(there["u95_l"])
        self.assertIn("its gauge tells", self.refused(line("volume", "12 m3"))["text"])
        self.assertIn("outside", self.refused(line("volume_pct", "100 %"))["text"])
        curve = self.client.get(f"/api/tanks/{pk}/curve/").json()
        self.assertEqual(len(curve["innage_mm"]), len(curve["u95_l"]))
        self.assertAlmostEqual(curve["volume_l"][-1], float(tank.volume(tank.inside_height)) * 1000, places=6)
