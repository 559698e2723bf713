"""The line without a tank over HTTP: answered as it is typed, made into a tank, kept as a finding."""

from __future__ import annotations

from typing import ClassVar

from rasante.scaling.chains import chain_of, readings_of
from rasante.tanks.models import Tank

from .base import ApiTest


class BareLine(ApiTest):
    LINE: ClassVar[dict[str, str]] = {
        "sensor.high": "10 psi", "tank.rings": "3", "tank.course": "5 ft", "tank.diameter": "8 ft",
        "tank.product": "water", "signal.kind": "ma4", "value.sent": "10.4", "value.shown": "9.2 ft", "at": "sent",
    }  # fmt: skip

    def ask(self, entries: dict[str, str], system: str = "us"):
        answer = self.send("post", "line/", {"entries": entries, "system": system})
        self.assertEqual(answer.status_code, 200, answer.content[:300])
        return answer.json()

    def test_one_value_gives_the_others(self) -> None:
        found = self.ask({"value.sent": "10.4"})
        stops = {stop["key"]: stop["text"] for stop in found["stops"]}
        self.assertEqual((stops["sensed"], stops["level"], stops["span_pct"]), ("6 psi", "13.9 ft", "40 %"))
        self.assertNotIn("volume", stops)
        self.assertEqual([stop["key"] for stop in found["stops"] if stop["taken"]], ["sent"])
        self.assertIn({"unless": "it is 0–10 psi", "level": "9.2 ft"}, found["meanings"])
        self.assertIsNone(found["parting"])
        self.assertEqual(self.ask({})["stops"][0]["text"], "")

    def test_with_all_that_is_known(self) -> None:
        found = self.ask(self.LINE)
        stops = {stop["key"]: stop["text"] for stop in found["stops"]}
        self.assertEqual((stops["level"], found["meanings"]), ("9.2 ft", []))
        # π/4 × 8² ft² × 9.235 ft are 464.2 cubic feet, 7.4805 US gallons each.
        self.assertAlmostEqual(float(stops["volume"].split()[0]), 3472.5, delta=3)
        self.assertAlmostEqual(found["height_mm"], 15 * 304.8)
        self.assertIn("Nothing parts", found["parting"]["says"])

    def test_it_becomes_a_tank_with_everything_that_was_typed(self) -> None:
        body = {"entries": self.LINE, "system": "us", "site": self.site.pk, "name": "Well tank"}
        made = self.send("post", "line/tank/", body)
        self.assertEqual(made.status_code, 201, made.content[:300])
        tank = Tank.objects.get(pk=made.json()["id"])
        self.assertAlmostEqual(tank.file.tank.inside_height, 15 * 0.3048)
        self.assertEqual((tank.product, tank.entries["how.shape.shell_height_mm"]), ("water", "rings"))
        chain, readings = chain_of(tank), readings_of(tank)
        assert chain is not None and readings is not None
        self.assertEqual((chain.entries["sensor.quantity"], chain.entries["sensor.high"]), ("pressure", "10 psi"))
        self.assertEqual(readings.entries["rows[0].sent"], "10.4")

    def test_what_it_lacks_is_told_at_its_own_fields_and_nothing_is_kept(self) -> None:
        before = Tank.objects.count()
        body = {"entries": {"value.sent": "10.4"}, "system": "us", "site": self.site.pk, "name": ""}
        refused = self.refused(self.send("post", "line/tank/", body))
        self.assertLessEqual({"tank.diameter", "tank.height", "name"}, set(refused))
        # A chain that is wrong takes the tank with it.
        wrong = {**self.LINE, "sensor.high": "wide"}
        self.refused(self.send("post", "line/tank/", {**body, "entries": wrong, "name": "Well tank"}))
        self.assertEqual(Tank.objects.count(), before)

    def test_it_becomes_a_finding_beside_those_before(self) -> None:
        tank = self.scaled()
        for row, sent in enumerate(("8 mA", "12 mA")):
            body = {"entries": {"value.sent": sent, "value.level": "1.2 m"}, "system": "metric", "tank": tank.pk}
            kept = self.send("post", "line/finding/", body)
            self.assertEqual(kept.status_code, 200, kept.content[:300])
            self.assertEqual(kept.json()["entries"][f"rows[{row}].sent"], sent)
        self.assertEqual(kept.json()["revision"], 2)
        self.refused(self.send("post", "line/finding/", {"entries": {}, "system": "metric", "tank": tank.pk}))
        for _ in range(8):
            self.send("post", "line/finding/", body)
        self.assertIn("full", self.refused(self.send("post", "line/finding/", body))["tank"])

    def test_no_finding_without_a_chain(self) -> None:
        body = {"entries": {"value.sent": "8"}, "system": "metric", "tank": self.tank.pk}
        self.assertIn("no chain is kept", self.refused(self.send("post", "line/finding/", body))["tank"])
        self.assertIsNone(readings_of(self.tank))
