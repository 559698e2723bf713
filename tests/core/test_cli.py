"""The command line: tables and levels from tank files, and what it says of bad ones."""

from __future__ import annotations

import csv
import io
import json
import os
import sqlite3
import subprocess
import sys
import tempfile
from contextlib import closing, redirect_stderr, redirect_stdout
from dataclasses import dataclass
from pathlib import Path
from unittest import TestCase

from rasante.cli import main
from rasante.core.tanks.tank_file import check_document
from rasante.tank_commands import Progress
from tests.prepared import copy_of
from tests.warm import call as in_process

from .samples import EXAMPLE, example, text

ROOT = Path(__file__).resolve().parents[2]


@dataclass(frozen=True)
class Done:
    returncode: int
    stdout: str
    stderr: str


def call(*arguments: str) -> Done:
    """The console script, in this process."""
    out, err = io.StringIO(), io.StringIO()
    with redirect_stdout(out), redirect_stderr(err):
        try:
            main(list(arguments))
        except SystemExit as end:
            return Done(int(end.code or 0), out.getvalue(), err.getvalue())
    return Done(0, out.getvalue(), err.getvalue())


def run(*arguments: str, content: str | None = None) -> Done:
    with tempfile.NamedTemporaryFile("w", suffix=".json", encoding="utf-8") as file:
        file.write(text(EXAMPLE) if content is None else content)
        file.flush()
        return call(arguments[0], file.name, *arguments[1:])


class Smoke(TestCase):
    def test_the_script_runs_in_a_process_of_its_own(self) -> None:
        with tempfile.NamedTemporaryFile("w", suffix=".json", encoding="utf-8") as file:
            file.write(text(EXAMPLE))
            file.flush()
            command = [sys.executable, "-m", "rasante.cli", "level", file.name, "--volume", "3500L"]
            done = subprocess.run(command, check=False, cwd=ROOT, capture_output=True, text=True)
        self.assertEqual((done.returncode, done.stdout), (0, run("level", "--volume", "3500L").stdout))


class Table(TestCase):
    def test_csv(self) -> None:
        done = run("table", "--step", "10mm")
        rows = list(csv.DictReader(io.StringIO(done.stdout)))
        self.assertEqual(done.returncode, 0, done.stderr)
        self.assertEqual(done.stdout.splitlines()[0], "innage_mm,volume_l,u95_l,ullage_mm,volume_pct,linear_pct")
        self.assertEqual((rows[0]["innage_mm"], rows[-1]["innage_mm"], len(rows)), ("0.0", "2400.0", 241))
        tank = check_document(EXAMPLE).tank
        self.assertAlmostEqual(float(rows[120]["volume_l"]), float(tank.volume(1.2)) * 1000, places=6)
        self.assertEqual(float(rows[120]["ullage_mm"]), 1350.0)
        self.assertEqual(float(rows[-1]["volume_pct"]), 100.0)
        self.assertGreater(float(rows[-1]["u95_l"]), 50)

    def test_no_uncertainty_leaves_its_column_empty(self) -> None:
        done = run("table", "--step", "1 ft", content=text(example(uncertainty=None)))
        self.assertEqual({row["u95_l"] for row in csv.DictReader(io.StringIO(done.stdout))}, {""})

    def test_json_and_points(self) -> None:
        done = run("table", "--step", "1cm", "--format", "json", "--points", "12")
        rows = json.loads(done.stdout)
        self.assertEqual((len(rows), rows[0]["innage_mm"], rows[-1]["innage_mm"]), (12, 0.0, 2400.0))

    def test_steps_in_each_unit(self) -> None:
        for step, second in (("2mm", 2.0), ("1cm", 10.0), ("0.1m", 100.0), ("1in", 25.4), ("1ft", 304.8)):
            rows = run("table", "--step", step).stdout.splitlines()
            self.assertEqual(float(rows[2].split(",")[0]), second)


class EveryKind(TestCase):
    """`rasante table` and `rasante level` for every kind of tank, sloped ones too."""

    SHAPES = {
        "sloped": ({"kind": "box", "length_mm": 3000, "width_mm": 900, "height_mm": 800}, {"slope_mm_per_m": 20}),
        "sphere": ({"kind": "sphere", "diameter_mm": 2000}, {}),
        "upright": (
            {
                "kind": "vertical_cylinder",
                "diameter_mm": 2000,
                "shell_height_mm": 1500,
                "bottom": {"kind": "torispherical", "dish_radius_mm": 2000, "knuckle_radius_mm": 200},
                "top": {"kind": "conical", "depth_mm": 300},
            },
            {"uncertainty": {"bottom.dish_radius_mm": 10}},
        ),
        "prism": (
            {
                "kind": "prism",
                "length_mm": 1500,
                "section": {"kind": "obround", "width_mm": 900, "height_mm": 1200},
            },
            {"measured": {"all": "tape_inside"}},
        ),
        "courses": (
            {"kind": "courses", "courses": [{"circumference_mm": 9000, "plate_mm": 5, "height_mm": 1100}]},
            {"uncertainty": {"circumference_mm": 5}},
        ),
        "points": (
            {"kind": "points", "points": [[0, 0], [100, 52], [200, 180]]},
            {"uncertainty": {"volume_pct": 1}},
        ),
    }

    def test_tables_and_levels(self) -> None:
        for name, (shape, keys) in self.SHAPES.items():
            content = text({"format": "rasante.tank/1", "name": name, "shape": shape, **keys})
            with self.subTest(name):
                done = run("table", "--step", "5cm", content=content)
                self.assertEqual(done.returncode, 0, done.stderr)
                rows = list(csv.DictReader(io.StringIO(done.stdout)))
                volumes = [float(row["volume_l"]) for row in rows]
                self.assertEqual(volumes, sorted(volumes))
                middle = rows[len(rows) // 2]
                back = run("level", "--volume", f"{middle['volume_l']}L", content=content)
                self.assertAlmostEqual(float(back.stdout.split()[0]), float(middle["innage_mm"]), places=2)
                self.assertEqual(bool(middle["u95_l"]), "uncertainty" in keys or "measured" in keys)

    def test_long_work_says_how_far_it_is_on_a_terminal_only(self) -> None:
        shown, silent = io.StringIO(), io.StringIO()
        shown.isatty = lambda: True  # type: ignore[method-assign]
        for stream in (shown, silent):
            progress = Progress("rows", 40_000, stream)
            for _ in range(4):
                progress.add(10_000)
            progress.end()
        self.assertIn("rows 30,000 of 40,000", shown.getvalue())
        self.assertEqual(silent.getvalue(), "")


class Person(TestCase):
    """The first person of a new installation, and the database that is made for it."""

    def test_a_person_is_made_once_and_with_a_good_password(self) -> None:
        with tempfile.TemporaryDirectory() as data:

            def make(password: str) -> subprocess.CompletedProcess[str]:
                arguments = ["person", "ann", "--name", "Ann Ash", "--role", "lead"]
                return in_process(arguments, {**os.environ, "RASANTE_DATA": data}, f"{password}\n")

            self.assertEqual(make("short").returncode, 2)
            made = make("a-good-long-secret")
            self.assertEqual(made.returncode, 0, made.stderr)
            self.assertIn("already", make("a-good-long-secret").stderr)
            with closing(sqlite3.connect(Path(data) / "rasante.sqlite3")) as database:
                people = database.execute("SELECT username, password FROM auth_user").fetchall()
                self.assertEqual(len(people), 1)
                self.assertNotIn("secret", people[0][1])
                self.assertEqual(database.execute("PRAGMA journal_mode").fetchone(), ("wal",))


class Level(TestCase):
    def test_the_innage_for_a_volume(self) -> None:
        done = run("level", "--volume", "3500L")
        level = float(done.stdout.removesuffix(" mm\n"))
        self.assertAlmostEqual(float(check_document(EXAMPLE).tank.volume(level / 1000)), 3.5, places=7)


EXAMPLE_TEXT = text(EXAMPLE)


class Bad(TestCase):
    def test_one_line_and_status_2(self) -> None:
        bad = {
            "{": "not JSON",
            text(example(format="x")): "format:",
            text(example(colour=1)): "colour:",
            text(EXAMPLE).replace('"shell_length_mm": 6000,', ""): "shape.shell_length_mm: this key is missing",
            EXAMPLE_TEXT.replace('"diameter_mm": 2400', '"diameter_mm": "2400"', 1): "diameter_mm: must be a number",
            EXAMPLE_TEXT.replace('"diameter_mm": 2400', '"diameter_mm": 1e308', 1): "diameter_mm: must be a finite",
            EXAMPLE_TEXT.replace('"diameter_mm": 2400', '"diameter_mm": NaN', 1): "NaN",
            "junk " * 1_000_000: "at most 1 MB",
            '{"name": 1, "name": 2}': "name: this key is written twice",
        }  # fmt: skip
        for content, words in bad.items():
            with self.subTest(words):
                done = run("table", content=content)
                self.assertEqual((done.returncode, done.stdout), (2, ""))
                self.assertEqual(len(done.stderr.splitlines()), 1)
                self.assertIn(words, done.stderr)

    def test_bad_options(self) -> None:
        for arguments in (("table", "--step", "0mm"), ("table", "--step", "ten"), ("table", "--points", "1"),
                          ("level", "--volume", "99999 L"), ("level", "--volume", "lots")):  # fmt: skip
            with self.subTest(arguments):
                done = run(*arguments)
                self.assertEqual(done.returncode, 2)
                self.assertEqual(len(done.stderr.splitlines()), 1)
        missing = call("table", "nowhere.json")
        self.assertEqual(missing.returncode, 2)
        self.assertIn("no such file", missing.stderr)


class Checked(TestCase):
    """Looking through a database for what cannot be shown, in a process and a folder of its own."""

    def test_a_bad_row_is_found_and_mended(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            environment = {**os.environ, "RASANTE_DATA": folder}

            def script(*arguments: str) -> subprocess.CompletedProcess[str]:
                return in_process(list(arguments), environment)

            copy_of("migrated", folder)
            whole = script("check")
            self.assertEqual(whole.returncode, 0, whole.stderr)
            self.assertIn("0 records are sealed", whole.stdout)
            self.assertIn("Every row can be read and shown, and every sealed record is as it was.", whole.stdout)
            with closing(sqlite3.connect(Path(folder) / "rasante.sqlite3")) as database:
                database.execute("INSERT INTO tanks_site (name, notes, revision) VALUES (?, '', 1)", ("Quay \x1b",))
                database.commit()
            found = script("check")
            self.assertEqual(found.returncode, 2, found.stderr)
            self.assertIn("tanks.Site 1, name: a sign that cannot be kept", found.stdout)
            self.assertIn("rasante check --mend", found.stderr)
            mended = script("check", "--mend")
            self.assertEqual(mended.returncode, 0, mended.stderr)
            self.assertIn("1 of 1 mended", mended.stdout)
            self.assertEqual(script("check").returncode, 0)


class Diagnose(TestCase):
    """``rasante diagnose``: a case from a file."""

    CASE = {
        "format": "rasante.case/1", "tank": example(), "technology": "hydrostatic", "float_gauge": True,
        "chain": {"sensor.quantity": "pressure", "liquid.density": "840 kg/m3", "sensor.high": "0.25 bar"},
        "symptom": "jumps since the storm",
        "findings": [{"test": "look", "finds": "noisy"}, {"test": "inject-still", "finds": "steady"}],
    }  # fmt: skip

    def told(self, *arguments: str, **changes) -> Done:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "case.json"
            path.write_text(json.dumps({**self.CASE, **changes}), "utf-8")
            return call("diagnose", str(path), *arguments)

    def test_it_says_what_is_likely_and_what_to_do_next(self) -> None:
        done = self.told()
        self.assertEqual((done.returncode, done.stderr), (0, ""))
        lines = done.stdout.splitlines()
        self.assertRegex(lines[0], r"^ +\d\d %  the sensor$")
        self.assertIn("Inject steadily for some minutes, and see whether the counts stand still: steady", lines)
        self.assertTrue(any(line.startswith("Do this next: ") for line in lines))

    def test_json_has_the_same_with_its_numbers(self) -> None:
        advice = json.loads(self.told("--format", "json").stdout)
        self.assertEqual((advice["format"], advice["verdict"]), ("rasante.advice/1", "go-on"))
        self.assertAlmostEqual(sum(part["share"] for part in advice["parts"]), 1, delta=0.01)
        self.assertEqual([step["read"] for step in advice["trail"]], ["noisy", "steady"])
        first = advice["next"][0]
        self.assertGreater(first["bits"], 0)
        self.assertAlmostEqual(sum(one["share"] for one in first["outcomes"]), 1, delta=0.05)

    def test_it_stops_when_it_is_found(self) -> None:
        more = [
            *self.CASE["findings"],
            {"test": "alone-still", "finds": "restless"},
            {"test": "counts", "reads": 9000},
            {"test": "inject-50", "reads": 19662, "put_in": "12 mA"},
            {"test": "inject-25", "reads": 13108},
            {"test": "alone-sensor", "reads": "6 mA"},
            {"test": "in-air", "reads": "4.1 mA"},
        ]
        done = self.told(findings=more)
        self.assertIn("It is the sensor: the sensor jumps wildly, ", done.stdout)
        self.assertNotIn("Do this next", done.stdout)

    def test_bad_files_say_where_in_one_line(self) -> None:
        for changes, where in (
            ({"format": "rasante.case/2"}, "format"),
            ({"colour": "red"}, "colour"),
            ({"tank": {**example(), "shape": {"kind": "cube"}}}, "tank.shape.kind"),
            ({"chain": {"sensor.high": "loud"}}, "chain.sensor.high"),
            ({"circuit": {"format": "rasante.circuit/1", "parts": [], "wires": []}}, "circuit.parts"),
            ({"findings": [{"test": "divination"}]}, "findings[0].test"),
            ({"findings": [{"test": "dip", "reads": "deep"}]}, "findings[0].reads"),
            ({"findings": [{"test": "look", "finds": "purple"}]}, "findings[0].finds"),
        ):
            done = self.told(**changes)
            self.assertEqual(done.returncode, 2, changes)
            self.assertIn(where, done.stderr)
            self.assertEqual(done.stderr.count("\n"), 1, done.stderr)

    def test_what_is_no_file_or_no_json(self) -> None:
        self.assertIn("no such file", call("diagnose", "/nowhere/case.json").stderr)
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "case.json"
            for content, says in ((b"{", "no JSON"), (b"[" * 100_000, "no JSON"), (b"\xff\xfe", "UTF-8")):
                path.write_bytes(content)
                done = call("diagnose", str(path))
                self.assertEqual(done.returncode, 2)
                self.assertIn(says, done.stderr)
