"""Every table that is exported is taken in again as a chart, with nothing asked, to the same numbers."""

from __future__ import annotations

import base64
from itertools import product

import numpy as np

from rasante.core.quantities.units import UNITS
from rasante.tanks.services import STEP_UNITS, VOLUME_UNITS

from .base import ApiTest


class Exports(ApiTest):
    def preview(self, **file: str):
        answer = self.send("post", "charts/preview/", file)
        self.assertEqual(answer.status_code, 200, answer.content[:300])
        return answer.json()

    def test_every_format_in_every_unit(self) -> None:
        tank = self.tank.file.tank
        for ending, (step_unit, volume_unit) in product(("csv", "json", "xlsx"), product(STEP_UNITS, VOLUME_UNITS)):
            step = {"mm": "75", "cm": "7.5", "m": "0.075", "in": "3", "ft": "0.25"}[step_unit]
            query = {"step": step, "step_unit": step_unit, "volume_unit": volume_unit}
            file = self.client.get(f"/api/tanks/{self.tank.pk}/table.{ending}/", query)
            self.assertEqual(file.status_code, 200, file.content[:200])
            kind = {"workbook": base64.b64encode(file.content).decode()} if ending == "xlsx" else {
                "text": file.content.decode()
            }  # fmt: skip
            with self.subTest(ending=ending, length=step_unit, volume=volume_unit):
                found = self.preview(**kind)
                self.assertEqual(found["problems"], [])
                self.assertEqual(found["mapping"]["volume_unit"], volume_unit)
                levels, volumes = np.array(found["points"]).T / 1000
                self.assertAlmostEqual(levels[1], float(step) * UNITS[step_unit].si, places=9)
                self.assertAlmostEqual(levels[-1], tank.inside_height, places=8)
                np.testing.assert_allclose(volumes, tank.volume(levels), atol=2e-8)

    def test_ullage_and_the_device_s_points(self) -> None:
        file = self.client.get(f"/api/tanks/{self.tank.pk}/table.csv/", {"step": "100", "by": "ullage"})
        text = file.content.decode()
        self.assertEqual(self.preview(text=text)["problems"], [])
        for ending in ("csv", "json"):
            file = self.client.get(f"/api/tanks/{self.tank.pk}/points.{ending}/", {"count": "9"})
            found = self.preview(text=file.content.decode())
            self.assertEqual((found["problems"], len(found["points"])), ([], 9))
            self.assertAlmostEqual(found["points"][-1][0], 2400.0)

    def test_what_the_file_does_not_say_is_asked_and_then_taken(self) -> None:
        text = "innage,volume\n0,0\n10,40\n20,90\n"
        found = self.preview(text=text)
        self.assertEqual((found["mapping"]["level_unit"], found["mapping"]["volume_unit"]), ("", ""))
        self.assertEqual({p["where"] for p in found["problems"]}, {"level_unit", "volume_unit"})
        self.assertIsNone(found["points"])
        body = {"text": text, "mapping": found["mapping"], "site": self.site.pk, "name": "Wall chart"}
        self.assertEqual(set(self.refused(self.send("post", "charts/tank/", body))), {"level_unit", "volume_unit"})
        body["mapping"] |= {"level_unit": "in", "volume_unit": "usgal"}
        made = self.send("post", "charts/tank/", body)
        self.assertEqual(made.status_code, 201, made.content[:300])
        self.assertAlmostEqual(made.json()["facts"]["inside_height_mm"], 508.0)
