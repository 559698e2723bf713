"""How much the tests notice: one small thing of the rules is changed at a time, and the tests are run.

Each change is made in a process of its own that begins with all tests read: the changed function takes the place of
the one that is there. The classes of tests that run through the changed line are run, the quickest first, until one
fails. ``CHANGES=`` says how many are tried, ``WHERE=`` in which folder (below ``rasante/``), ``FLOORS=core`` leaves
the API's tests out, and ``SEEN=`` names a folder in which it stays who runs through what, for another trial of the
same tests. What no test noticed is listed.
"""

from __future__ import annotations

import ast
import json
import os
import random
import signal
import subprocess
import sys
import tempfile
import traceback
import unittest
import warnings
from collections.abc import Callable, Mapping
from contextlib import suppress
from itertools import count
from pathlib import Path
from types import CodeType

from coverage import CoverageData

from tests.browser.harness import ROOT

from .seen import functions_of, named, remembering
from .small_changes import change, places

#: How long tests may run over one change before it counts as noticed [s].
PATIENCE_S = 400
#: How many changes are tried at a time.
BESIDE = 2
#: Said where a change cannot be put in place of what is there: what holds it was made before.
NOWHERE = "nowhere"


class Seen:
    """Which classes of tests run through which line, and how long each takes; measured once."""

    def __init__(self, folder: Path, floors: tuple[str, ...]) -> None:
        folder.mkdir(parents=True, exist_ok=True)
        begun = [self._measure(folder, floor) for floor in floors if not (folder / f"{floor}.json").exists()]
        for process in begun:
            if process.wait():
                raise RuntimeError(f"the tests fail before anything is changed: {' '.join(map(str, process.args))}")
        self.data = []
        self.seconds: dict[str, float] = {}
        for floor in floors:
            data = CoverageData(str(folder / floor))
            data.read()
            self.data.append(data)
            self.seconds |= json.loads((folder / f"{floor}.json").read_text())

    @staticmethod
    def _measure(folder: Path, floor: str) -> subprocess.Popen[bytes]:
        command = [sys.executable, "-m", "coverage", "run", f"--data-file={folder / floor}", "--source=rasante"]
        command += ["manage.py", "test", "--settings", "tests.settings", "--testrunner", "tests.trials.seen.Seeing"]
        command += ["--exclude-tag", "slow"] * (floor == "api")
        environment = {**os.environ, "SECONDS": str(folder / f"{floor}.json"), "RASANTE_DATA": str(folder / "var")}
        return subprocess.Popen(
            [*command, f"tests.{floor}"], cwd=ROOT, env=environment,
            stdout=subprocess.DEVNULL, stderr=(folder / f"{floor}.said").open("wb"),
        )  # fmt: skip

    def by(self, source: Path, line: int) -> list[str]:
        """The classes of tests that run through a line, the quickest first."""
        found: set[str] = set()
        for data in self.data:
            lines = data.contexts_by_lineno(str(source))
            # A statement over several lines is known by its first.
            known = max((at for at in lines if at <= line), default=0)
            found |= {one for one in lines.get(known, ()) if one.startswith("tests.")}
        return sorted(found, key=lambda one: self.seconds.get(one, 0.0))


def _tests(floors: tuple[str, ...]) -> Mapping[str, list[unittest.TestCase]]:
    """All tests but the slow of the API, by their class, ready to run: with Django set up and a database."""
    os.environ["DJANGO_SETTINGS_MODULE"] = "tests.settings"
    import django

    django.setup()
    from django.test.runner import DiscoverRunner

    runner = DiscoverRunner(verbosity=0, interactive=False)
    runner.setup_test_environment()
    classes: dict[str, list[unittest.TestCase]] = {}
    for floor in floors:
        only = DiscoverRunner(verbosity=0, interactive=False, exclude_tags=["slow"] * (floor == "api"))
        for test in only.build_suite([f"tests.{floor}"]):
            classes.setdefault(named(type(test)), []).append(test)
    # As in every run of the tests: what NumPy warns of is wrong.
    warnings.simplefilter("error", RuntimeWarning)
    # In memory, so that every process that begins here has one of its own.
    runner.setup_databases()
    return classes


def codes(code: CodeType) -> Mapping[tuple[str, int], CodeType]:
    """All pieces of a compiled program by their name and first line."""
    found = {(code.co_qualname, code.co_firstlineno): code}
    for one in code.co_consts:
        if isinstance(one, CodeType):
            found |= codes(one)
    return found


def put(source: Path, new: ast.Module) -> int:
    """Let the functions of a changed program take the place of those that are there; returns how many differ."""
    changed = codes(compile(new, str(source), "exec", dont_inherit=True))
    differ = 0
    for one in functions_of(str(source)):
        code = changed.get((one.__code__.co_qualname, one.__code__.co_firstlineno))
        # One that holds fewer names of what surrounds it cannot take the place.
        if code is not None and code != one.__code__ and code.co_freevars == one.__code__.co_freevars:
            one.__code__ = code
            differ += 1
    return differ


def _notices(tests: list[unittest.TestCase]) -> str:
    """The first test that fails; empty where all hold."""
    result = unittest.TestResult()
    result.failfast = True
    unittest.TestSuite(tests).run(result)
    return next(
        (str(test) for test, _ in result.errors + result.failures), "unexpected" * bool(result.unexpectedSuccesses)
    )


class Trial:
    """Changes that are tried in processes of their own, some at a time."""

    def __init__(self) -> None:
        self.under_way: dict[int, tuple[str, Path]] = {}
        self.tried, self.numbers = 0, count()
        self.left: list[str] = []
        self.folder = Path(tempfile.mkdtemp(prefix="rasante-strength-"))

    def begin(self, says: str, tests: list[unittest.TestCase], changing: Callable[[], int]) -> None:
        """Begin one change, once there is room for it."""
        while len(self.under_way) >= BESIDE:
            self.end_one()
        told = self.folder / str(next(self.numbers))
        child = os.fork()
        if child:
            self.under_way[child] = (says, told)
            return
        # No way out of here but the last line.
        with suppress(BaseException):
            os.environ["RASANTE_DATA"] = tempfile.mkdtemp(dir=self.folder)
            for stream in (1, 2):
                os.dup2(os.open(os.devnull, os.O_WRONLY), stream)
            signal.alarm(PATIENCE_S)
            try:
                told.write_text(_notices(tests) if changing() else NOWHERE)
            except BaseException:
                told.write_text(traceback.format_exc())
        os._exit(0)

    def end_one(self) -> None:
        """Wait for one of those under way; one that was ended from outside had gone on for ever."""
        child, _ = os.wait()
        says, told = self.under_way.pop(child)
        noticed = told.read_text().strip() if told.exists() else f"no end within {PATIENCE_S} s"
        told.unlink(missing_ok=True)
        if noticed == NOWHERE:
            print(f"  not tried  {says}", flush=True)
            return
        self.tried += 1
        self.left += [] if noticed else [says]
        why = f"  [{noticed.splitlines()[-1]}]" if noticed else ""
        print(f"  {'noticed' if noticed else 'NOT    '}  {says}{why}", flush=True)

    def end(self) -> None:
        """Wait for all."""
        while self.under_way:
            self.end_one()


def strength() -> str:
    """Change small things one by one; at least 85 of 100 must be noticed."""
    floors = ("core",) if os.environ.get("FLOORS") == "core" else ("core", "api")
    seen = Seen(Path(os.environ.get("SEEN") or tempfile.mkdtemp(prefix="rasante-seen-")), floors)
    sources = sorted((ROOT / "rasante" / os.environ.get("WHERE", "core")).rglob("*.py"))
    sources = [one for one in sources if "migrations" not in one.parts and not one.name.startswith("__")]
    every = [(source, at) for source in sources for at, _ in enumerate(places(ast.parse(source.read_text())))]
    picked = random.sample(every, min(int(os.environ.get("CHANGES", "100")), len(every)))
    changes = [(source, *change(source.read_text(), at)) for source, at in picked]
    classes = _tests(floors)
    forgets = remembering()
    trial = Trial()
    for source, new, line, words in changes:

        def changing(source: Path = source, new: ast.Module = new) -> int:
            for forget in forgets:
                forget()
            return put(source, new)

        names = seen.by(source, line)
        tests = [test for name in names for test in classes.get(name, ())]
        says = f"{source.relative_to(ROOT)}:{line}: {words}" + ("" if tests else " (no test comes here)")
        trial.begin(says, tests, changing)
    trial.end()
    share = 1 - len(trial.left) / max(trial.tried, 1)
    assert share >= 0.85, f"only {share:.0%} of {trial.tried} changes were noticed; not: " + "; ".join(trial.left)
    return f"{share:.0%} of {trial.tried} changes were noticed"
