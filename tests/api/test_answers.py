"""What the demo's tanks answer, line by line: a change of any number, verdict or word has to be meant.

The lines were looked at, and the numbers among them that matter are held elsewhere against what is outside; here
they are kept from moving unseen. After a change that is meant: ``python -m tests.api.test_answers`` writes them
anew, and the difference belongs into the commit that made it.
"""

from __future__ import annotations

import os
import sys
import tempfile
from pathlib import Path
from typing import ClassVar
from unittest import TestCase

from tests.answers import moved
from tests.prepared import copy_of
from tests.tags import slow
from tests.warm import begin, module

KEPT = Path(__file__).parent / "data" / "answers"


def told() -> dict[str, str]:
    """What the server answers on the demo's data, by the name of each tank's file."""
    with tempfile.TemporaryDirectory() as data, tempfile.TemporaryDirectory() as found:
        copy_of("demo", data)
        process = begin(module, ["tests.api.asker", found], {**os.environ, "RASANTE_DATA": data, "TZ": "UTC"})
        process.join()
        assert process.exitcode == 0, "not everything was answered: python -m tests.api.asker says why"
        return {file.name: file.read_text("utf-8") for file in Path(found).iterdir()}


@slow
class Answers(TestCase):
    maxDiff = 4000
    found: ClassVar[dict[str, str]]

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.found = told()

    def test_every_tank_answers_as_it_did(self) -> None:
        self.assertEqual(set(self.found), {kept.name for kept in KEPT.glob("*.txt")})
        for name, found in self.found.items():
            with self.subTest(name):
                self.assertEqual(moved((KEPT / name).read_text("utf-8").splitlines(), found.splitlines()), [])

    def test_the_answers_are_about_something(self) -> None:
        whole = "".join(self.found.values())
        for weight in ("weight=stop", "weight=watch", "weight=good"):
            self.assertGreater(whole.count(weight), 20, weight)
        self.assertEqual(whole.count("→ 500"), 0)


def main() -> None:
    """Write the answers of today's code."""
    found = told()
    KEPT.mkdir(exist_ok=True)
    for old in KEPT.glob("*.txt"):
        old.unlink()
    for name, text in found.items():
        (KEPT / name).write_text(text, "utf-8")
    print(f"written to {KEPT}", file=sys.stderr)


if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "tests.settings")
    main()
