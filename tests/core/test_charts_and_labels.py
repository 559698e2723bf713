"""Charts read from files, comparisons, and labels: what goes in comes out, and what cannot is refused by its row."""

from __future__ import annotations

from dataclasses import replace
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from rasante.core.quantities.errors import InputError
from rasante.core.tanks.chart import points_of, read_chart, read_grid
from rasante.core.tanks.chart_mapping import guess_mapping
from rasante.core.tanks.compare import Side, compare
from rasante.core.tanks.label import LONGEST, PREFIX, read_label, write_label
from rasante.core.tanks.tank_file import check_document

from .samples import EXAMPLE, example, random_level_tank, tank_file, two_to_one

RAISED = "level_mm,volume_l\n0,0\n100,40\n200,110\n"


def read(text: str, **changes):
    """Read a chart as a person would who says millimetres and litres where the file does not."""
    grid = read_grid(text)
    mapping = guess_mapping(grid)
    said = {"level_unit": mapping.level_unit or "mm", "volume_unit": mapping.volume_unit or "l"}
    return read_chart(grid, replace(mapping, **{**said, **changes}))


class Charts(TestCase):
    def test_a_chart_of_every_half_millimetre_keeps_every_other_row_and_its_last(self) -> None:
        for rows, kept in ((2000, 2000), (2001, 1001), (2500, 1251), (4000, 1334)):
            found = read("level_mm,volume_l\n" + "".join(f"{at / 2},{at}\n" for at in range(rows)))
            self.assertEqual(len(found.points_m), kept, rows)
            self.assertAlmostEqual(found.points_m[-1][0], (rows - 1) / 2000)
            self.assertAlmostEqual(found.points_m[1][0], (1, 2, 2, 3)[(2000, 2001, 2500, 4000).index(rows)] / 2000)

    def test_as_people_hand_them_on(self) -> None:
        wanted = ((0.0, 0.0), (0.1, 0.04), (0.2, 0.11))
        for text in (
            RAISED,
            "0;0\n10;40\n20;110\n".replace("10;", "100;").replace("20;", "200;"),
            "Dip (cm);Content (litre)\n0;0,0\n10;40,0\n20;110,0\n",
            "Volume [m³]\tLevel [mm]\n0\t0\n0,04\t100\n0,110\t200\n",
            "0 0\n100 40\n200 110\n",
            '[{"level_mm": 0, "volume_l": 0}, {"level_mm": 100, "volume_l": 40}, {"level_mm": 200, "volume_l": 110}]',
            '{"points": [{"level_mm": 0, "volume_l": 0}, {"level_mm": 100, "volume_l": 40.0},'
            ' {"level_mm": 200, "volume_l": 110}]}',
            '{"columns": {"innage_mm": [0, 100, 200], "volume_l": [0, 40, 110], "u95_l": null}}',
            "Height mm,remark,Volume L\n200,full,110\n0,empty,0\n100,half,40\n",
        ):
            with self.subTest(text):
                self.assertEqual(read(text).points_m, wanted)

    def test_inches_and_gallons(self) -> None:
        # NIST SP 811: 25.4 mm an inch, 3.785 411 784 L a US gallon.
        chart = read("Inches,Gallons\n0,0\n10,100\n20,260\n", level_unit="in", volume_unit="usgal")
        self.assertAlmostEqual(chart.points_m[1][0], 0.254)
        self.assertAlmostEqual(chart.points_m[1][1], 0.3785411784)

    def test_thousands_and_decimals(self) -> None:
        comma = read("cm;l\n0;0\n10;1.180,5\n20;2.050,75\n", level_unit="cm")
        self.assertAlmostEqual(comma.points_m[1][1], 1.1805)
        point = read("cm;l\n0;0\n10;1,180.5\n20;2,050.75\n", level_unit="cm")
        self.assertEqual(point.points_m, comma.points_m)

    def test_ullage_counts_down_from_the_reference_point(self) -> None:
        grid = read_grid("ullage_mm,volume_l\n250,110\n350,40\n450,0\n")
        mapping = guess_mapping(grid)
        self.assertEqual(mapping.measured, "ullage")
        np.testing.assert_allclose(read_chart(grid, mapping, 0.45).points_m, [(0, 0), (0.1, 0.04), (0.2, 0.11)])
        with self.assertRaisesRegex(InputError, "type its height"):
            read_chart(grid, mapping)

    def test_what_cannot_be_read_is_named_by_its_row(self) -> None:
        for text, where, words in (
            ("level_mm,volume_l\n0,0\n100,x\n200,110\n", "row 3", "not a number"),
            ("level_mm,volume_l\n0,0\n100,\n200,110\n", "row 3", "is empty"),
            ("level_mm,volume_l\n0,0\n100,40\n100,41\n", "row 4", "same level"),
            ("level_mm,volume_l\n0,0\n100,40\n200,30\n", "row 4", "holds less"),
        ):
            with self.subTest(text), self.assertRaises(InputError) as caught:
                read(text, header=True, level_column=0, volume_column=1)
            self.assertEqual(caught.exception.problems[0].where, where)
            self.assertIn(words, caught.exception.problems[0].what)
        for text in ("", "\n\n", "one line\n", "{", "[]", '{"points": 3}', "[1, 2]"):
            with self.assertRaises(InputError):
                read(text)

    def test_a_table_of_ours_reads_back_as_itself(self) -> None:
        from rasante.core.quantities.units import UNITS
        from rasante.core.tanks.table import make_table
        from rasante.tanks.columns import table_csv

        table = make_table(two_to_one(), 0.01)
        shape = points_of(read(table_csv(table, UNITS["mm"], UNITS["l"])))
        np.testing.assert_allclose(shape.volume(table.innage_m), table.volume_m3, atol=1e-9)

    @settings(max_examples=150, deadline=None)
    @given(st.text(alphabet="0123456789.,;\t\n -xm\"'", max_size=120))
    def test_anything_else_is_refused_by_the_same_error(self, text: str) -> None:
        try:
            chart = read(text)
        except InputError:
            return
        self.assertGreaterEqual(len(chart.points_m), 2)


class Compared(TestCase):
    def test_a_longer_tank_is_more_by_its_share(self) -> None:
        box = {"kind": "box", "length_mm": 2000, "width_mm": 1000, "height_mm": 1000}
        one, other = tank_file(box).tank, tank_file({**box, "length_mm": 2040}).tank
        found = compare(Side.of("a", one), Side.of("b", other))
        self.assertAlmostEqual(found.worst_level_m, 1.0)
        self.assertAlmostEqual(found.worst_m3, 0.04)
        self.assertAlmostEqual(found.worst_ratio, 0.02)
        self.assertAlmostEqual(found.mean_m3, 0.02)

    def test_rows_are_compared_where_they_stand(self) -> None:
        tank = two_to_one().tank
        levels = np.linspace(0, 2.4, 25)
        rows = Side.of_rows("rows", levels, tank.volume(levels), tank.capacity)
        for one, other in ((rows, Side.of("tank", tank)), (Side.of("tank", tank), rows)):
            self.assertAlmostEqual(compare(one, other).worst_m3, 0.0, places=12)

    def test_only_levels_that_both_have(self) -> None:
        low, high = (
            tank_file({"kind": "box", "length_mm": 1000, "width_mm": 1000, "height_mm": height}).tank
            for height in (600, 1000)
        )
        self.assertAlmostEqual(float(compare(Side.of("a", high), Side.of("b", low)).innage_m[-1]), 0.6)


class Labels(TestCase):
    def test_every_tank_comes_back_from_its_label(self) -> None:
        rng = np.random.default_rng(60)
        documents = [
            EXAMPLE,
            example(name="Ærø ¾ “old”"),
            *(dict(random_level_tank(rng).document) for _ in range(20)),
        ]
        for document in documents:
            text = write_label(document)
            self.assertRegex(text, r"^RASANTE1:[A-Z2-7]+$")
            self.assertEqual(read_label(text).document, document)
            # As it comes out of a message: wrapped and in small letters.
            wrapped = "\n".join(text[i : i + 40].lower() for i in range(0, len(text), 40))
            self.assertEqual(read_label(f"  {wrapped} \n").document, document)

    def test_a_damaged_label_is_refused(self) -> None:
        text = write_label(EXAMPLE)
        swapped = text[:60] + ("A" if text[60] != "A" else "B") + text[61:]
        for bad in (text[: len(text) // 2], swapped, text.replace(PREFIX, "OTHER:"), PREFIX, text + "!!", "", "12"):
            with self.subTest(bad[:30]), self.assertRaises(InputError):
                read_label(bad)

    def test_a_bomb_is_not_unpacked(self) -> None:
        import base64
        import zlib

        packed = base64.b32encode(zlib.compress(b"[" * 50_000_000, 9)).decode().rstrip("=")
        with self.assertRaisesRegex(InputError, "too large"):
            read_label(PREFIX + packed)

    def test_too_many_points_for_a_label(self) -> None:
        rng = np.random.default_rng(61)
        volumes = np.cumsum(rng.uniform(1, 9, 900)).round(3)
        points = [[10 * i, float(v)] for i, v in enumerate(volumes)]
        file = check_document({**EXAMPLE, "shape": {"kind": "points", "points": points}, "uncertainty": {},
                               "gauge_position_mm": 0, "deadwood": []})  # fmt: skip
        with self.assertRaisesRegex(InputError, f"a label holds {LONGEST}"):
            write_label(file.document)
