"""How numbers are written for the API and for files: no digit is made up and none is lost."""

from __future__ import annotations

import csv
import io
from unittest import TestCase

import numpy as np

from rasante.core.quantities.units import UNITS
from rasante.core.tanks.table import make_table
from rasante.core.tanks.tank_file import check_document
from rasante.scaling.present import curve, signal_marks
from rasante.tanks.columns import rounded, table_columns, table_csv
from rasante.tanks.present import drawing, facts

from .samples import EXAMPLE, two_to_one
from .test_first_hops import scaled

FILE = check_document(EXAMPLE)


class Numbers(TestCase):
    def test_binary_dust_is_gone_and_digits_stay(self) -> None:
        self.assertEqual(rounded([0.07, 0.3, -0.0], UNITS["mm"]).tolist(), [70.0, 300.0, 0.0])
        self.assertEqual(str(rounded([-0.0], UNITS["mm"])[0]), "0.0")
        self.assertAlmostEqual(float(rounded([1 / 3], UNITS["l"])[0]), 1000 / 3, places=8)

    def test_columns_are_one_table_in_any_unit(self) -> None:
        table = make_table(FILE, 0.1)
        metric = table_columns(table, UNITS["mm"], UNITS["l"])
        # NIST SP 811: 25.4 mm an inch, 3.785 411 784 L a US gallon.
        american = table_columns(table, UNITS["in"], UNITS["usgal"])
        np.testing.assert_allclose(american["innage_in"] * 25.4, metric["innage_mm"], atol=1e-6)
        np.testing.assert_allclose(american["volume_usgal"] * 3.785411784, metric["volume_l"], atol=1e-6)
        np.testing.assert_array_equal(american["volume_pct"], metric["volume_pct"])

    def test_csv_reads_back_as_the_table(self) -> None:
        table = make_table(FILE, 0.05)
        rows = list(csv.DictReader(io.StringIO(table_csv(table, UNITS["mm"], UNITS["l"]))))
        read = np.array([[float(row["innage_mm"]), float(row["volume_l"]), float(row["u95_l"])] for row in rows])
        written = np.column_stack([table.innage_m, table.volume_m3, table.u95_m3]) * 1000
        np.testing.assert_allclose(read, written, atol=1e-8)


class Drawings(TestCase):
    def test_the_section_spans_the_tank(self) -> None:
        drawn = drawing(FILE.tank, dict(FILE.document))
        points = np.array(drawn.along_mm)
        self.assertAlmostEqual(points[:, 1].max(), 2400, places=3)
        self.assertAlmostEqual(points[:, 1].min(), 0, places=3)
        self.assertAlmostEqual(points[:, 0].min(), -600, places=3)
        self.assertEqual(drawn.seams_mm, [[[0, 0], [0, 2400]], [[6000, 0], [6000, 2400]]])
        self.assertEqual(drawn.gauge_position_mm, 1500)

    def test_facts_name_the_product_and_its_pattern(self) -> None:
        told = facts(FILE)
        self.assertEqual((told.product, told.pattern), ("diesel", "fuel"))
        self.assertAlmostEqual(told.capacity_l, FILE.tank.capacity * 1000)
        self.assertIn("vapour", {caution.code for caution in told.cautions})


class Curves(TestCase):
    def test_currents_run_along_the_nodes(self) -> None:
        told = curve(FILE, scaled("level", 0, 2400), "metric")
        sent = next(station for station in told.stations if station.key == "sent")
        self.assertEqual((sent.unit, sent.decimals), ("mA", 3))
        self.assertAlmostEqual(sent.values[0], 4)
        self.assertAlmostEqual(sent.values[-1], 20)
        self.assertEqual(curve(two_to_one(), None, "metric").stations, [])
        self.assertIsNone(curve(two_to_one(), None, "metric").u95_l)

    def test_the_slope_is_in_litres_a_millimetre(self) -> None:
        told = curve(two_to_one(), None, "metric")
        steps = np.diff(told.volume_l) / np.diff(told.innage_mm)
        middles = (told.slope_l_per_mm[1:] + told.slope_l_per_mm[:-1]) / 2
        np.testing.assert_allclose(steps[50:-50], middles[50:-50], rtol=1e-3)

    def test_marks_may_lie_outside_the_tank(self) -> None:
        levels = [mark.innage_mm for mark in signal_marks(scaled("level", -1000, 3000))]
        np.testing.assert_allclose(levels, [-1000, 0, 1000, 2000, 3000], atol=1e-9)
