"""What the web app computes by itself, called in Chromium with vectors that the core writes."""

from __future__ import annotations

import random
import subprocess
import tempfile
from itertools import pairwise
from pathlib import Path
from typing import Any, ClassVar
from unittest import TestCase

import numpy as np
import orjson
from playwright.sync_api import Page

from rasante.core.gauges.rods import Relays, run_levels, state_at, truth_table
from rasante.core.quantities.words import Words
from rasante.core.scaling.chain import Chain
from rasante.core.scaling.chain_form import read_chain
from rasante.core.tanks.tank_file import check_document
from rasante.gauges.present import relay_state
from rasante.scaling.present import curve
from tests.core.chain_cases import ground
from tests.core.samples import example

from .harness import ROOT, browser

FILE = check_document(example())


class WebLogic(TestCase):
    page: ClassVar[Page]
    curve: ClassVar[dict[str, Any]]
    chain: ClassVar[Chain]

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        folder = tempfile.TemporaryDirectory()
        cls.addClassCleanup(folder.cleanup)
        build = ["npx", "--no-install", "vite", "build", "--config", "../tests/browser/web_logic.config.js"]
        subprocess.run([*build, "--outDir", folder.name, "--logLevel", "error"], cwd=ROOT / "web", check=True)
        cls.page = browser().new_page()
        cls.addClassCleanup(cls.page.close)
        cls.page.add_script_tag(path=Path(folder.name) / "logic.js")
        made = read_chain({"sensor.high": "2000 mm", "sensor.low": "100 mm"}, ground(FILE), "metric").chain
        assert made is not None
        cls.chain = made
        cls.curve = orjson.loads(orjson.dumps(curve(FILE, made, "metric"), option=orjson.OPT_SERIALIZE_NUMPY))

    def call(self, name: str, *arguments: Any) -> Any:
        return self.page.evaluate("([name, given]) => logic[name](...given)", [name, list(arguments)])

    def test_the_curve_is_the_tank_between_its_nodes(self) -> None:
        for level in np.linspace(0, FILE.tank.inside_height, 101):
            line = self.call("readCurve", self.curve, float(level) * 1000)
            true = float(FILE.tank.volume(level)) * 1000
            self.assertAlmostEqual(line["volume_l"], true, delta=1e-6 * self.curve["capacity_l"])
            self.assertAlmostEqual(line["ullage_mm"], (FILE.tank.reference_height_m - level) * 1000, places=6)

    def test_beyond_the_tank_it_stands_at_its_ends(self) -> None:
        top = self.curve["inside_height_mm"]
        self.assertEqual(self.call("readCurve", self.curve, -50)["innage_mm"], 0)
        self.assertEqual(self.call("readCurve", self.curve, top + 50)["innage_mm"], top)

    def test_stations_read_as_the_chain_has_them(self) -> None:
        for level in (0.3, 1.05, 1.9):
            line = self.call("readCurve", self.curve, level * 1000)
            texts = {one["key"]: one["text"] for one in line["stations"]}
            sent = float(self.chain.at(level)["sent"]) * 1000
            number, unit = texts["sent"].split()
            self.assertEqual(unit, "mA")
            self.assertAlmostEqual(float(number), sent, delta=6e-4)

    def test_what_the_signal_cannot_say(self) -> None:
        for level, beyond in ((99, True), (101, False), (1999, False), (2001, True)):
            self.assertEqual(self.call("beyondSignal", self.curve, level), beyond, level)
        self.assertFalse(self.call("beyondSignal", {**self.curve, "signal_marks": []}, 99))

    def test_a_number_is_written_to_what_its_half_width_bears_as_the_core_writes_it(self) -> None:
        draw = random.Random(7)
        for _ in range(200):
            volume, half = draw.uniform(0, 60), 10 ** draw.uniform(-5, 1)
            place = self.call("placesBy", half * 1000, 1)
            shown = f"{self.call('toPlace', volume * 1000, place)} ± {self.call('toPlace', half * 1000, place)} L"
            self.assertEqual(shown.replace("\u202f", ""), Words("metric").worth(volume, half))
        # By hand: 99.7 is 100 to two digits, and so is borne in tens; nothing stated says nothing.
        for half, place in ((99.7, -1), (94.0, 0), (0.96, 2), (0.0004, 2), (0, 1)):
            self.assertEqual(self.call("placesBy", half, 1), place, half)
        self.assertEqual(self.call("toPlace", 26464.8, -1), "26\u202f460")

    def test_a_level_for_a_volume_is_close_enough_for_a_tick(self) -> None:
        for share in (0.01, 0.3, 0.77, 0.999):
            volume = share * FILE.tank.capacity
            level = self.call("levelOf", self.curve, volume * 1000)
            self.assertAlmostEqual(level, FILE.tank.level(volume) * 1000, delta=2.0)

    def test_relays_follow_the_level_as_the_core_has_them(self) -> None:
        draw = random.Random(5)
        tips = {"common": 0.1, "cutout": 1.2, "start": 0.9, "stop": 1.6}
        for relays in (Relays(), Relays(pump_on="nc", order=("cutout", "common", "stop", "start"))):
            bands = [
                {
                    "from_mm": band.from_m * 1000,
                    "to_mm": band.to_m * 1000,
                    **{
                        name: vars(relay_state(getattr(band, name)))
                        for name in ("rising", "falling", "filling", "resting")
                    },
                }
                for band in truth_table(tips, relays, 2.0)
            ]
            levels = [draw.uniform(0, 2) for _ in range(60)]
            # The app walks through every band between two levels; the core is given a fine walk between them.
            first = state_at(levels[0], tips, relays, filling=False)
            state, filling = vars(relay_state(first)), first.fill
            for start, end in pairwise(levels):
                walk = run_levels(np.linspace(start, end, 400), tips, relays, filling)
                filling = walk[-1].fill
                state = self.call("follow", bands, start * 1000, end * 1000, state)
                self.assertEqual(state, vars(relay_state(walk[-1])), (start, end))

    def test_a_unit_is_written_behind_a_number_of_its_own_reading_alone(self) -> None:
        for typed, kept, written in (
            ("1600", "1600 mm", "1600 mm"),
            (" 63 ", "63 in", "63 in"),
            ("4", "3 L", None),
            ("4", "40 L", None),
            ("5", "5 1/4 in", None),
            ("", "3 L", None),
            ("3 L", "3 L", None),
        ):
            self.assertEqual(self.call("withUnit", typed, kept), written, typed)

    def test_a_row_taken_out_moves_the_others_up(self) -> None:
        entries = {"rows[0].a": "1", "rows[1].a": "2", "rows[1].b": "x", "rows[2].a": "3", "other": "y"}
        self.assertEqual(self.call("rowNumbers", entries, "rows"), [0, 1, 2])
        changes = self.call("withoutRow", entries, "rows", 1)
        left = {path: text for path, text in {**entries, **changes}.items() if text}
        self.assertEqual(left, {"rows[0].a": "1", "rows[1].a": "3", "other": "y"})

    def test_two_peoples_changes_come_together_place_by_place(self) -> None:
        draw = random.Random(11)
        names = ["name", "shape.kind", "head.left.depth_mm", "readings[0].level", "notes"]

        def changed(entries: dict[str, str], which: list[str], to: str) -> dict[str, str]:
            kept = {**entries, **dict.fromkeys(which, to)}
            return {name: text for name, text in kept.items() if text}

        for _ in range(60):
            before = {name: draw.choice(["", "1 mm", "2 mm"]) for name in names if draw.random() < 0.8}
            before = {name: text for name, text in before.items() if text}
            mine_at = [name for name in names if draw.random() < 0.4]
            theirs_at = [name for name in names if draw.random() < 0.4]
            mine = changed(before, mine_at, draw.choice(["", "7 mm"]))
            theirs = changed(before, theirs_at, draw.choice(["", "8 mm"]))
            form = [{"entries": entries, "ports": [{"name": "a"}]} for entries in (before, mine, theirs)]
            rows = self.call("differences", *form)
            expected = {name for name in names if mine.get(name, "") != theirs.get(name, "")}
            self.assertEqual({row["place"][-1] for row in rows}, expected)
            for row in rows:
                name = row["place"][-1]
                was, ours, other = (entries.get(name, "") for entries in (before, mine, theirs))
                usual = "theirs" if ours == was else "mine" if other == was else None
                self.assertEqual(row["usual"], usual)
            # All of one side gives that side; what is nothing comes through the wire as null.
            taken = self.call("merged", form[2], rows)["entries"]
            self.assertEqual({name: text for name, text in taken.items() if text is not None}, mine)
            self.assertEqual(self.call("merged", form[2], [])["entries"], theirs)

    def test_what_is_one_whatever_the_order_and_what_is_not(self) -> None:
        for one, other, expected in (
            ({"a": "1", "b": "2"}, {"b": "2", "a": "1"}, True),
            ({"a": "1"}, {"a": "1", "b": ""}, False),
            ({"a": None}, {"b": None}, False),
            ({"rows": [{"x": "1"}, {"x": ""}]}, {"rows": [{"x": "1"}, {"x": ""}]}, True),
            ({"rows": [{"x": "1"}]}, {"rows": [{"x": "1"}, {"x": ""}]}, False),
            ([1, 2], [2, 1], False),
            ("1", 1, False),
        ):
            self.assertEqual(self.call("alike", one, other), expected, (one, other))
            self.assertEqual(self.call("alike", other, one), expected, (one, other))

    def test_rows_of_other_counts_are_compared_as_a_whole(self) -> None:
        two = {"ports": [{"name": "fill"}, {"name": "vent"}]}
        one = {"ports": [{"name": "fill"}]}
        (row,) = self.call("differences", one, two, one)
        self.assertEqual((row["place"], row["usual"]), (["ports"], "mine"))
        self.assertEqual(self.call("merged", one, [row]), two)
        self.assertEqual(self.call("placeWords", ["entries", "readings[2].level_mm"]), "readings 3, level")
        self.assertEqual(self.call("valueWords", two["ports"]), "fill; vent")
