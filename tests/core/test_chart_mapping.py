"""A chart's units and decimal mark: read where the file says them, asked where it does not, never guessed."""

from __future__ import annotations

import io
from dataclasses import replace
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from rasante.core.quantities.errors import InputError
from rasante.core.quantities.units import UNITS
from rasante.core.tanks.chart import read_chart, read_grid
from rasante.core.tanks.chart_mapping import (
    LENGTH_UNITS,
    VOLUME_UNITS,
    Figure,
    cell_of,
    guess_mapping,
    number_in,
    unit_in,
)


def asked(text: str) -> set[str]:
    return set(guess_mapping(read_grid(text)).asked)


def chart(text: str, **said: str):
    grid = read_grid(text)
    return read_chart(grid, replace(guess_mapping(grid), **said)).points_m


class Headings(TestCase):
    def test_units_of_level(self) -> None:
        for heading, unit in (
            ("innage", ""), ("Innage", ""), ("innage_in", "in"), ("innage_ft", "ft"), ("innage_mm", "mm"),
            ("innage_m", "m"), ("Level in mm", "mm"), ("Level in cm", "cm"), ("Level (in)", "in"), ("Dip [cm]", "cm"),
            ("Height, inches", "in"), ("Inches", "in"), ("Depth feet", "ft"), ("Height (m)", "m"), ("Main dip", ""),
            ("minimum", ""), ("level", ""), ("", ""), ("Millimetres", "mm"), ("mm or cm", ""),
        ):  # fmt: skip
            with self.subTest(heading):
                self.assertEqual(unit_in(heading, LENGTH_UNITS), unit)

    def test_units_of_volume(self) -> None:
        for heading, unit in (
            ("volume", ""), ("volume_l", "l"), ("Content (litre)", "l"), ("Volume [m³]", "m3"), ("volume_m3", "m3"),
            ("Cubic metres", "m3"), ("volume_usgal", "usgal"), ("US gal", "usgal"), ("Gallons (US)", "usgal"),
            ("imp gal", "impgal"), ("Imperial gallons", "impgal"), ("volume_impgal", "impgal"),
            # Which gallon it is nobody knows.
            ("Gallons", ""), ("gal", ""), ("level", ""), ("total", ""),
        ):  # fmt: skip
            with self.subTest(heading):
                self.assertEqual(unit_in(heading, VOLUME_UNITS), unit)

    def test_what_is_not_said_is_asked(self) -> None:
        self.assertEqual(asked("innage,volume\n0,0\n10,40\n"), {"level_unit", "volume_unit"})
        self.assertEqual(asked("innage_mm,volume\n0,0\n10,40\n"), {"volume_unit"})
        self.assertEqual(asked("0,0\n10,40\n"), {"level_unit", "volume_unit"})
        self.assertEqual(asked("innage_in,gallons\n0,0\n10,40\n"), {"volume_unit"})
        with self.assertRaises(InputError) as refused:
            chart("innage,volume\n0,0\n10,40\n")
        self.assertEqual([p.where for p in refused.exception.problems], ["level_unit", "volume_unit"])
        said = chart("innage,volume\n0,0\n10,40\n", level_unit="in", volume_unit="usgal")
        self.assertAlmostEqual(said[1][0], 0.254)


class Marks(TestCase):
    def test_numbers_by_their_mark(self) -> None:
        for cell, point, comma in (
            ("30.5", 30.5, None), ("30,5", None, 30.5), ("1.23.4", None, None), ("1,23,4", None, None),
            ("1,234", 1234.0, 1.234), ("1.234", 1.234, 1234.0), ("0.328", 0.328, None), ("0,328", None, 0.328),
            ("1,234.5", 1234.5, None), ("1.234,5", None, 1234.5), ("1,234,567", 1_234_567.0, None),
            ("1 234,5", None, 1234.5), ("1'234.5", 1234.5, None), ("12", 12.0, 12.0), ("-4.5", -4.5, None),
            ("1,2345", None, 1.2345), ("12,34.5", None, None), ("", None, None), (".", None, None), ("x", None, None),
            ("1e3", 1000.0, 1000.0), ("1e99", None, None),
        ):  # fmt: skip
            with self.subTest(cell):
                self.assertEqual((number_in(cell, "."), number_in(cell, ",")), (point, comma))

    def test_a_workbook_s_number_has_no_mark(self) -> None:
        for value in (30.5, 305, 1.2340, 1234567.25):
            cell = cell_of(value)
            self.assertIsInstance(cell, Figure)
            for decimal in (".", ","):
                self.assertEqual(number_in(cell, decimal), float(value))
        self.assertEqual((cell_of(None), cell_of(" a "), cell_of(True)), ("", "a", "True"))
        # Beside a column of text with commas the figures stay what they are.
        grid = [["Level mm", "Volume L"], *[[cell_of(10.5 * i), f"{i * 40},5"] for i in range(1, 5)]]
        self.assertEqual(guess_mapping(grid).decimal, ",")
        self.assertAlmostEqual(read_chart(grid, guess_mapping(grid)).points_m[0][0], 0.0105)

    def test_the_mark_is_what_all_numbers_can_be_read_by(self) -> None:
        for rows, mark in (
            ("0;0\n10;412,5\n20;1.180,0\n", ","), ("0;0\n10;412.5\n20;1,180.0\n", "."),
            ("0;0\n10;400\n20;800\n", "."),
            # 1.600 after 950 would fall with a point; with the point parting thousands it rises.
            ("0;0\n10;950\n20;1.600\n", ","), ("0;0\n10;950\n20;1,600\n", "."),
            # 1,234 and 2,345: both rise, so nobody knows.
            ("0;0\n10;1,234\n20;2,345\n", ""), ("0;0\n10;1.234\n20;2.345\n", ""),
            # A leading 0 is no group of thousands.
            ("0;0\n0.328;1.234\n0.656;2.345\n", "."),
        ):  # fmt: skip
            with self.subTest(rows):
                self.assertEqual(guess_mapping(read_grid("level_mm;volume_l\n" + rows)).decimal, mark)
        doubtful = "level_mm;volume_l\n0;0\n10;1,234\n20;2,345\n"
        self.assertEqual(asked(doubtful), {"decimal"})
        self.assertAlmostEqual(chart(doubtful, decimal=",")[1][1], 1.234e-3)
        self.assertAlmostEqual(chart(doubtful, decimal=".")[1][1], 1.234)

    def test_a_point_among_commas_is_told_by_its_row(self) -> None:
        with self.assertRaises(InputError) as refused:
            chart("level_mm;volume_l\n0;0,0\n10;30.5\n20;61,0\n30;92,5\n40;123,5\n")
        self.assertEqual([p.where for p in refused.exception.problems], ["row 3"])
        self.assertIn("comma", refused.exception.problems[0].what)


def written(values: list[tuple[float, float]], names: tuple[str, str], mark: str, parted: str, thousands: str) -> str:
    """A chart as a program writes it: its decimal mark, what parts columns, and what parts thousands."""
    out = io.StringIO()
    out.write(parted.join(names) + "\n")
    for row in values:
        cells = []
        for value in row:
            text = f"{value:,.2f}".replace(",", "\x00").replace(".", mark).replace("\x00", thousands)
            cells.append(f'"{text}"' if parted in text else text)
        out.write(parted.join(cells) + "\n")
    return out.getvalue()


class AsAnyProgramWritesIt(TestCase):
    @given(
        st.integers(4, 30),
        st.floats(0.5, 400),
        st.floats(1.0, 9000),
        st.sampled_from([(".", ",", ""), (".", ";", ""), (",", ";", ""), (".", ";", ","), (",", ";", "."),
                         (".", "\t", ","), (",", "\t", " "), (".", "|", "'"), (".", ",", ",")]),
        st.sampled_from(LENGTH_UNITS),
        st.sampled_from(VOLUME_UNITS),
    )  # fmt: skip
    def test_it_comes_back_to_the_same_numbers(
        self, rows: int, step: float, more: float, marks: tuple[str, str, str], length: str, volume: str
    ) -> None:
        mark, parted, thousands = marks
        step, more = round(step, 2), round(more, 2)
        values = [(round(i * step, 2), round(i * more, 2)) for i in range(rows)]
        text = written(values, (f"innage_{length}", f"volume_{volume}"), mark, parted, thousands)
        sizes = np.array([UNITS[length].si, UNITS[volume].si])
        np.testing.assert_allclose(chart(text), np.array(values) * sizes, rtol=1e-9, atol=1e-9)
