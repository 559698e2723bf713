"""The printed sheets: what a customer keeps must say what the screen said."""

from __future__ import annotations

import io

from pypdf import PdfReader

from rasante.core.quantities.units import UNITS
from rasante.proving import services as proving
from rasante.proving.sheets import proof_sheet
from rasante.tanks.models import Tank
from rasante.tanks.services import TableOrder, read_step, table_of
from rasante.tanks.sheets import describe, printed_multiple
from tests.core.samples import example

from .base import ApiTest


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
        return pages(proof_sheet(proving.sign_proof(proof, "Tess Till", proof.kept, self.technician)))

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
