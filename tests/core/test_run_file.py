"""Runs as files: other people's CSV in whatever dialect, our own document, and the table for a device."""

from __future__ import annotations

import json
from unittest import TestCase

import numpy as np

from rasante.core.pouring.pour_form import read_run
from rasante.core.pouring.run_file import device_rows, read_csv, run_document
from rasante.core.quantities.errors import InputError

from .test_pour_form import run, vessel


class OtherPeoples(TestCase):
    def pours(self, text: str, columns: dict[str, int] | None = None) -> list[tuple[str, str, str]]:
        """Direction, amount and reading of each pour that was read."""
        _, _, entries = read_csv(text, columns)
        rows = sum(key.endswith(".amount") for key in entries)
        return [
            (entries.get(f"pours[{at}].does", "in"), entries[f"pours[{at}].amount"], entries[f"pours[{at}].reading"])
            for at in range(rows)
        ]

    def refused(self, text: str, columns: dict[str, int] | None = None) -> dict[str, str]:
        with self.assertRaises(InputError) as refused:
            read_csv(text, columns)
        return {one.where: one.what for one in refused.exception.problems}

    def test_every_dialect_says_the_same(self) -> None:
        wanted = [("in", "50.5", "100"), ("in", "49.5", "200")]
        for text in (
            "dip,poured\n0,0\n100,50.5\n200,49.5\n",
            "dip;poured\n0;0\n100;50,5\n200;49,5\n",
            "dip\tpoured\r\n0\t0\r\n100\t50.5\r\n200\t49.5\r\n",
            "dip (mm)|poured (L)\n0 mm|0 L\n100 mm|50.5 L\n200 mm|49.5 L\n",
            "0,0\n50.5,100\n49.5,200\n",
            "\n\nLevel,Amount\n0,0\n\n100,50.5\n200,49.5\n\n",
        ):
            self.assertEqual(self.pours(text), wanted, text)

    def test_totals_are_taken_apart(self) -> None:
        columns, headings, entries = read_csv("Reading,Total in tank\n40,20\n100,70\n200,120\n60,35\n")
        self.assertEqual((columns, headings), ({"total": 1, "reading": 0}, ["Reading", "Total in tank"]))
        self.assertEqual((entries["start.volume"], entries["start.reading"]), ("20", "40"))
        self.assertEqual(entries["pours[2].amount"], "85")
        self.assertEqual(entries["pours[2].does"], "out")

    def test_what_was_drawn_off_is_less_than_nothing(self) -> None:
        self.assertEqual(self.pours("dip,poured\n0,0\n200,100\n100,-50\n")[1], ("out", "50", "100"))
        self.assertEqual(self.pours("dip,poured\n0,0\n200,100\n100,−50\n")[1], ("out", "50", "100"))

    def test_columns_that_are_chosen_go_before_those_guessed(self) -> None:
        text = "when,dip,litres,total\n08:00,0,0,0\n08:10,100,50,50\n"
        self.assertEqual(read_csv(text)[0], {"total": 3, "amount": 2, "reading": 1})
        chosen = self.pours(text, {"amount": 2, "reading": 1})
        self.assertEqual(chosen, [("in", "50", "100")])

    def test_what_cannot_be_read_is_told_by_its_line(self) -> None:
        problems = self.refused("dip,poured\n0,0\n100,half a can\nhigh,50\n")
        self.assertEqual(set(problems), {"line 3", "line 4"})
        self.assertIn("amount", problems["line 3"])
        self.assertIn("reading", problems["line 4"])
        # A column that is not there is no number either.
        self.assertIn("line 1", self.refused("1,2\n2,3\n", {"amount": 0, "reading": 9}))

    def test_what_is_no_run_at_all(self) -> None:
        self.assertIn("file", self.refused(""))
        self.assertIn("file", self.refused(" \n\t\n"))
        self.assertIn("columns", self.refused("a,b\n1,2\n"))
        self.assertIn("columns", self.refused("12\n13\n"))
        self.assertIn("at most 120", self.refused("dip,poured\n" + "1,1\n" * 200)["file"])
        self.assertIn("no CSV", self.refused('dip,poured\n0,"' + "1" * 150_000)["file"])


class OurOwn(TestCase):
    def test_a_run_is_written_and_read_back(self) -> None:
        entries = run() | {"pours[3].spilled": "yes", "pours[5].sure": "yes"}
        found = read_run(entries, vessel(), "metric")
        document = run_document(found, entries)
        self.assertEqual(
            (document["format"], document["way"], document["reads"]), ("rasante.pours/1", "fill", "level")
        )
        self.assertEqual([one["reading"] for one in document["pours"]][:2], [100.0, 200.0])
        typed = [entries[f"pours[{at}].amount"] for at in range(len(document["pours"]))]
        self.assertEqual([f"{one['amount_l']:g}" for one in document["pours"]], [text.split()[0] for text in typed])
        held = run_document(read_run(entries | {"start.volume": "12.5 L"}, vessel(), "metric"), entries)
        self.assertAlmostEqual(held["start"]["volume_l"], 12.5)
        self.assertTrue(document["pours"][3]["spilled"] and document["pours"][5]["sure"])
        self.assertEqual(len(document["curve"]["reading"]), 9)
        assert found.poured is not None and found.poured.curve is not None
        half = found.poured.curve.half(found.poured.curve.reading) * 1000
        self.assertTrue((half[1:] > 0).all())
        np.testing.assert_allclose(document["curve"]["half_width_l"], half)
        np.testing.assert_allclose(document["curve"]["volume_l"], found.poured.curve.volume * 1000)
        _, _, again = read_csv(json.dumps(document))
        self.assertEqual(again, entries)

    def test_what_is_none_of_ours_is_refused(self) -> None:
        for text in (
            "{}",
            '{"format": "rasante.pours/1"}',
            '{"format": "rasante.tank/1", "entries": {}}',
            '{"format": "rasante.pours/1", "entries": {"way": 3}}',
            '{"format": "rasante.pours/1", "entries": [1]}',
            '{"format": ' + "[" * 5000,
            '{"format": "rasante.pours/1", "entries": {' + ",".join(f'"k{at}": "v"' for at in range(1200)) + "}}",
        ):
            with self.assertRaises(InputError, msg=text[:60]) as refused:
                read_csv(text)
            self.assertEqual(refused.exception.problems[0].where, "file", text[:60])


class ForTheDevice(TestCase):
    def test_straight_walls_need_two_points(self) -> None:
        rows = device_rows([0, 100, 400, 900], [0, 100, 400, 900], 2)
        self.assertEqual(rows, [(0.0, 0.0), (900.0, 900.0)])

    def test_its_straight_lines_lie_nearer_than_equal_steps(self) -> None:
        """A level cylinder of 1 m, by its circle's segment: the device's twelve points against twelve equal steps."""
        level = np.linspace(0, 1000, 41)
        turn = np.arccos(1 - level / 500)
        volume = 250 * (turn - np.sin(turn) * np.cos(turn)) / (np.pi / 4)
        rows = np.array(device_rows(level.tolist(), volume.tolist(), 12))
        self.assertEqual(len(rows), 12)

        def worst(x: np.ndarray, v: np.ndarray) -> float:
            return float(np.abs(np.interp(level, x, v) - volume).max())

        even = np.linspace(0, 1000, 12)
        self.assertLess(worst(rows[:, 0], rows[:, 1]), 0.5 * worst(even, np.interp(even, level, volume)))

    def test_one_point_is_no_table(self) -> None:
        for count in (0, 1, 201):
            with self.assertRaises(InputError):
                device_rows([0, 1], [0, 1], count)
