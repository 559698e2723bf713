"""The printed sheets: what a customer keeps must say what the screen said."""

from __future__ import annotations

import io

from pypdf import PdfReader

from rasante.core.quantities.units import UNITS
from rasante.devices.models import DeviceSheet
from rasante.devices.services import write_sheet
from rasante.devices.sheets import sheet_pdf
from rasante.proving import services as proving
from rasante.proving.sheets import proof_sheet
from rasante.scaling.chains import keep_chain
from rasante.tanks.models import Tank
from rasante.tanks.services import TableOrder, read_step, resurvey_tank, table_of
from rasante.tanks.sheets import describe, printed_multiple
from tests.core.samples import example

from .base import SENSOR, ApiTest


def pages(pdf: bytes) -> list[str]:
    return [page.extract_text() for page in PdfReader(io.BytesIO(pdf)).pages]


class TableSheets(ApiTest):
    def sheet(self, number: str, unit: str, volume: str = "l") -> list[str]:
        query = {"step": number, "step_unit": unit, "volume_unit": volume}
        return pages(self.client.get(f"/api/tanks/{self.tank.pk}/table.pdf/", query).content)

    def test_a_step_that_fits_is_printed_as_it_is(self) -> None:
        words = "\n".join(self.sheet("10", "mm"))
        self.assertNotIn("Printed at", words)
        table = table_of(self.tank.file, TableOrder(read_step("10", "mm")))
        for row in (1, 77, 120, 239):
            volume = f"{table.volume_m3[row] * 1000:,.1f}".replace(",", " ")
            self.assertIn(f"{row * 10}\n{volume}\n", words)

    def test_a_finer_step_is_widened_and_said_so(self) -> None:
        for number, unit, multiple in (("1", "mm", 10), ("1/8", "in", 2), ("1/16", "in", 4)):
            step = read_step(number, unit)
            self.assertEqual(printed_multiple(2.4 / step.metres, UNITS[unit]), multiple)
            sheet = self.sheet(number, unit)
            self.assertLessEqual(len(sheet), 2)
            self.assertIn(f"Printed at {multiple} × {number} {unit} to fit two pages", sheet[0])

    def test_the_largest_and_the_smallest_tank_fit_too(self) -> None:
        for height in (100_000.0, 12.0):
            shape = {"kind": "box", "length_mm": 2000, "width_mm": 2000, "height_mm": height}
            self.tank = Tank(site=self.site, document=example(
                name="Extreme", shape=shape, deadwood=None, uncertainty=None, reference_height_mm=None,
                gauge_position_mm=None))  # fmt: skip
            self.tank.save()
            sheet = self.sheet("1", "mm")
            self.assertLessEqual(len(sheet), 2)
            self.assertIn("% of capacity", sheet[0])

    def test_names_with_accents_and_without_a_product(self) -> None:
        self.tank.document = example(name="Ærø brændstof ¾", product=None)
        self.tank.save()
        words = self.sheet("1", "in", "usgal")[0]
        self.assertIn("Ærø brændstof ¾", words)
        self.assertIn("not stated", words)

    def test_each_dimension_is_on_it(self) -> None:
        lines = dict(describe(example(), UNITS["mm"]))
        self.assertEqual(lines["Inside diameter"], "2400 mm")
        self.assertEqual(lines["Left head"], "Ellipsoidal, depth 600 mm")
        self.assertEqual(lines["Right head"], "Torispherical (dished), dish radius 2400 mm, knuckle radius 144 mm")


class ProofSheets(ApiTest):
    def sign(self, **changes) -> list[str]:
        proof = proving.begin_proof(self.scaled(), "metric", self.technician)
        entries = self.whole_entries() | changes
        proof = proving.keep_draft(proof, entries, proof.kept)
        return pages(
            proof_sheet(
                proving.sign_proof(proof, "Tess Till", proof.kept, self.technician, proving.basis_of(proof.tank))
            )
        )

    def test_a_failed_proof_says_so_and_where(self) -> None:
        entries = self.whole_entries()
        entries["points"][3]["found_up"] = "1850 mm"
        words = "\n".join(self.sign(points=entries["points"]))
        self.assertIn("DOES NOT PASS", words)
        self.assertIn("50 mm !", words)
        self.assertIn("Worst error 50 mm (2.08 % of span) at point 4, rising", words)
        self.assertNotIn("\nPASSES", words)

    def test_the_dip_and_its_tolerance(self) -> None:
        words = "\n".join(self.sign())
        self.assertIn("Dip 1200 mm of innage, indicated 1204 mm: difference 4 mm", words)
        self.assertIn("within its tolerance of ± 10 mm", words)

    def test_long_remarks_run_on_and_keep_their_head(self) -> None:
        sheet = self.sign(remarks="The float stuck at two thirds. " * 60)
        self.assertIn("Remarks", "\n".join(sheet))
        self.assertTrue(all("Net loft diesel" in page and "Record of proof" in page for page in sheet))
        self.assertIn("Tess Till", sheet[-1])

    def test_every_page_defers_to_codes_and_licensed_practice(self) -> None:
        for page in self.sign():
            self.assertIn("local codes", page)


class DeviceSheets(ApiTest):
    def written(self, **entries: str) -> DeviceSheet:
        keep_chain(self.tank, {**SENSOR, **entries}, "metric", self.technician, 0)
        return write_sheet(self.tank, "metric", "Commissioning", self.technician)

    def test_it_fits_two_pages_with_the_points_as_pairs(self) -> None:
        sheet = self.written(**{"shown.as": "volume", "shown.unit": "l", "shown.points": "24"})
        found = pages(sheet_pdf(sheet))
        self.assertEqual(len(found), 2)
        words = "\n".join(found)
        points = [item for item in sheet.document["items"] if item["key"].startswith("points[")]
        self.assertEqual(len(points), 48)
        for level, volume in zip(points[::2], points[1::2], strict=True):
            self.assertIn(f"{level['value']} {level['unit']}:\n{volume['value']} {volume['unit']}", words)
        # Keys are in the files, not on paper.
        self.assertNotIn("counts.low", words)
        self.assertIn("Check: what every station reads at five levels", words)

    def test_it_prints_the_tank_that_it_was_written_for(self) -> None:
        sheet = self.written()
        before = pages(sheet_pdf(sheet))
        self.assertIn("brim 2400 mm", before[0])
        entries = {**self.tank.entries, "shape.diameter_mm": "2000 mm", "outlet_height_mm": ""}
        resurvey_tank(self.tank, entries, "metric", self.technician, {"notes": "", "ports": []}, self.tank.revision)
        self.assertAlmostEqual(Tank.objects.get(pk=self.tank.pk).file.tank.inside_height, 2.0)
        self.assertEqual(pages(sheet_pdf(DeviceSheet.objects.get(pk=sheet.pk))), before)

    def test_one_of_before_that_holds_no_tank_is_printed_without_a_drawing(self) -> None:
        sheet = self.written()
        sheet.document = {key: value for key, value in sheet.document.items() if key != "tank_file"}
        words = "\n".join(pages(sheet_pdf(sheet)))
        self.assertNotIn("brim", words)
        self.assertIn("T-1", words)


class Brims(ApiTest):
    def test_the_brim_is_the_overflow_where_there_is_one(self) -> None:
        self.tank.document = example(overflow_height_mm=1950)
        self.tank.save()
        words = pages(self.client.get(f"/api/tanks/{self.tank.pk}/table.pdf/", {"step": "10"}).content)
        self.assertIn("brim 1950 mm", words[0])
        # The record of a proof says the same; the cut sheet too.
        self.tank.refresh_from_db()
        self.assertIn("brim 1950 mm", pages(proof_sheet(self.signed()))[0])
        probe = {"choice.model": "generic-capacitance-probe-joined-to-3-m", "choice.reason": "A trial"}
        kept = self.send("put", f"tanks/{self.tank.pk}/gauge/", {"entries": probe, "system": "metric", "revision": 0})
        self.assertEqual(kept.status_code, 200, kept.content[:300])
        cut = self.client.get(f"/api/tanks/{self.tank.pk}/gauge/cut-sheet.pdf")
        self.assertIn("brim 1950 mm", pages(cut.content)[0])


class ErrorCharts(ApiTest):
    def test_a_signed_proof_carries_its_error_chart(self) -> None:
        words = "\n".join(pages(proof_sheet(self.signed())))
        self.assertIn("Errors at the five points, the tolerance as a band", words)
        # ± 0.5 % of 2.4 m, written at the band's two edges.
        self.assertIn("+12 mm", words)
        self.assertIn("-12 mm", words)
