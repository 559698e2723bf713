"""The slope of a tank's sensor over HTTP: every school, one chosen, all kept."""

from __future__ import annotations

from rasante.scaling.models import SlopeStudy

from .base import ApiTest

READINGS = {
    "readings[0].signal": "5.6 mA", "readings[0].level": "350 mm",
    "readings[1].signal": "10.4", "readings[1].level": "1100",
    "readings[2].signal": "16,8 mA", "readings[2].level": "2,1 m",
}  # fmt: skip


class SlopesTest(ApiTest):
    def send_slopes(self, method: str, entries: dict[str, str], **more):
        return self.send(method, f"tanks/{self.tank.pk}/slopes/", {"entries": entries, **more})

    def test_every_school_answers(self) -> None:
        found = self.send_slopes("post", READINGS).json()
        self.assertEqual([s["school"] for s in found["slopes"]], ["one", "two", "fit", "ratio", "averaged"])
        fit = next(slope for slope in found["slopes"] if slope["school"] == "fit")
        # 156.25 mm a milliampere, 100 mm off the floor.
        self.assertAlmostEqual(fit["zero_mm"], 100, 6)
        self.assertAlmostEqual(fit["per_unit_mm"], 156.25, 6)
        self.assertEqual([judgement["code"] for judgement in found["judgements"]], ["offset"])
        self.scaled()
        scaled = self.send_slopes("post", READINGS).json()
        sheet = scaled["slopes"][0]
        self.assertEqual((sheet["school"], round(sheet["full_mm"], 6)), ("sheet", 2400))

    def test_one_is_chosen_and_the_rest_are_kept(self) -> None:
        kept = self.send_slopes("put", {**READINGS, "choice": "fit"}, revision=0).json()
        self.assertEqual((kept["revision"], kept["entries"]["readings[1].level"]), (1, "1100 mm"))
        study = SlopeStudy.objects.get()
        self.assertEqual(study.document["choice"], "fit")
        self.assertEqual(len(study.document["slopes"]), 5)
        self.assertIn("Least squares: 100 mm to 2600 mm", study.summary)
        self.assertEqual(self.send_slopes("put", READINGS, revision=0).status_code, 409)
        again = self.client.get(f"/api/tanks/{self.tank.pk}/slopes/").json()
        self.assertEqual(again["entries"], kept["entries"])
        self.assertEqual(SlopeStudy.history.count(), 1)

    def test_what_is_wrong_is_refused_at_its_field(self) -> None:
        spoiled = {**READINGS, "readings[2].signal": "much", "choice": "guess"}
        problems = self.refused(self.send_slopes("put", spoiled, revision=0))
        self.assertEqual(set(problems), {"readings[2].signal", "choice"})
        lacking = self.send_slopes("put", {"choice": "fit"}, revision=0)
        self.assertIn("lacks readings", self.refused(lacking)["choice"])
        self.assertFalse(SlopeStudy.objects.exists())
