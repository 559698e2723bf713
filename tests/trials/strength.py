"""How much the tests notice: one small thing of the rules is changed at a time, and the tests are run.

Each change is made in a copy of the tree; there the core's tests that run through the changed line run until one
fails; where none does, what the demo's tanks answer, and then all of the API's tests but the slow. ``CHANGES=`` says
how many are tried, ``WHERE=`` in which folder (below ``rasante/``), ``FLOORS=core`` leaves the API's out, and
``SEEN=`` names a file in which it stays who runs through what, for another trial of the same tree. What no test
noticed is listed.
"""

from __future__ import annotations

import ast
import os
import random
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

from coverage import CoverageData

from tests.browser.harness import ROOT

from .small_changes import change, places

#: How long tests may run over one change before it counts as noticed [s].
PATIENCE_S = 900
MANAGE = ["-W", "error::RuntimeWarning", "manage.py", "test", "--settings", "tests.settings"]
MANY = ["--parallel", "2", "--exclude-tag", "slow"]


class Seen:
    """Which of the core's tests run through which line of a tree; measured once."""

    def __init__(self, copy: Path) -> None:
        self.copy, kept = copy, copy / "var" / "seen"
        kept.parent.mkdir(exist_ok=True)
        given = os.environ.get("SEEN")
        if given and Path(given).exists():
            shutil.copy(given, kept)
        else:
            measure = ["-m", "coverage", "run", f"--data-file={kept}", "--source=rasante", *MANAGE[2:]]
            measure += ["--testrunner", "tests.trials.seen.Seeing", "tests.core"]
            self.run(*measure, check=True)
            if given:
                shutil.copy(kept, given)
        self.data = CoverageData(str(kept))
        self.data.read()
        self.files = {Path(name).as_posix().rpartition("/rasante/")[2]: name for name in self.data.measured_files()}

    def run(self, *command: str, check: bool = False) -> bool:
        """Whether a command of Python's ends well in the copy."""
        environment = {**os.environ, "RASANTE_DATA": str(self.copy / "var"), "PYTHONDONTWRITEBYTECODE": "1"}
        try:
            run = subprocess.run(
                [sys.executable, *command], cwd=self.copy, env=environment, capture_output=True,
                timeout=None if check else PATIENCE_S, check=False,
            )  # fmt: skip
        except subprocess.TimeoutExpired:
            return False
        if check and run.returncode:
            raise RuntimeError(run.stderr.decode()[-2000:])
        return run.returncode == 0

    def by(self, source: Path, line: int) -> list[str]:
        """The classes of tests that run through a line."""
        name = self.files.get(source.relative_to(self.copy / "rasante").as_posix())
        lines = self.data.contexts_by_lineno(name) if name else {}
        # A statement over several lines is known by its first.
        known = max((at for at in lines if at <= line), default=0)
        return sorted({one for one in lines.get(known, ()) if one.startswith("tests.")})


def strength() -> str:
    """Change small things one by one; at least 85 of 100 must be noticed."""
    left, tried = [], 0
    with tempfile.TemporaryDirectory(prefix="rasante-strength-") as folder:
        copy = Path(folder) / "tree"
        shutil.copytree(ROOT, copy, ignore=shutil.ignore_patterns(".*", "node_modules", "var"))
        sources = sorted((copy / "rasante" / os.environ.get("WHERE", "core")).rglob("*.py"))
        sources = [one for one in sources if "migrations" not in one.parts and not one.name.startswith("__")]
        every = [(source, at) for source in sources for at, _ in enumerate(places(ast.parse(source.read_text())))]
        picked = random.sample(every, min(int(os.environ.get("CHANGES", "60")), len(every)))
        beyond = [] if os.environ.get("FLOORS") == "core" else [["tests.api.test_answers"], ["tests.api", *MANY]]
        seen = Seen(copy)
        for source, at in picked:
            text = source.read_text()
            new, line, words = change(text, at)
            tests = seen.by(source, line)
            source.write_text(new)
            noticed = any(not seen.run(*MANAGE, "--failfast", *some) for some in (tests, *beyond) if some)
            source.write_text(text)
            says = f"{source.relative_to(copy)}:{line}: {words}" + ("" if tests else " (no test comes here)")
            print(f"  {'noticed' if noticed else 'NOT    '}  {says}", flush=True)
            tried += 1
            left += [] if noticed else [says]
    share = 1 - len(left) / max(tried, 1)
    assert share >= 0.85, f"only {share:.0%} of {tried} changes were noticed; not: " + "; ".join(left)
    return f"{share:.0%} of {tried} changes were noticed"
