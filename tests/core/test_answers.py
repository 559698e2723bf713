"""What the rules make of many things typed, line by line: a change of any number, verdict or word has to be meant.

What is typed was chosen out of many that were drawn at random: each case runs through something that those before it
do not. The answers are those of the day they were written, and say nothing of what is right: that is held elsewhere,
against what is outside. After a change that is meant, ``python -m tests.core.draw_answers`` writes them anew, and the
difference belongs into the commit that made it.
"""

from __future__ import annotations

import json
from pathlib import Path
from typing import Literal
from unittest import TestCase

from tests.answers import lines, moved
from tests.tags import slow

from .answers_of import READERS, answers

KEPT = Path(__file__).parent / "data" / "answers"
System = Literal["metric", "us"]
Typed = tuple[str, str, dict[str, str]]


def kept(name: str) -> list[tuple[Typed, list[str]]]:
    """The cases of a reader: what is typed, and what was answered."""
    file = KEPT / f"{name}.txt"
    if not file.exists():
        return []
    found: list[tuple[Typed, list[str]]] = []
    for line in file.read_text("utf-8").splitlines():
        if line.startswith("## "):
            case, system, typed = json.loads(line[3:])
            found.append(((case, system, typed), []))
        else:
            found[-1][1].append(line)
    return found


def told(name: str, typed: Typed) -> list[str]:
    """The lines that a reader answers to a case now."""
    case, system, entries = typed
    # A word may hold a line's end; a line of what is kept is one line.
    return [line.replace("\n", "⏎") for line in lines(answers(name, case, entries, system))]  # type: ignore[arg-type]


class Answers(TestCase):
    maxDiff = 4000

    @slow
    def test_every_reader_answers_as_it_did(self) -> None:
        for name in READERS:
            cases = kept(name)
            self.assertGreater(len(cases), 0, name)
            for typed, was in cases:
                with self.subTest(f"{name} {json.dumps(typed, ensure_ascii=False)}"):
                    self.assertEqual(moved(was, told(name, typed)), [])

    def test_they_are_about_something(self) -> None:
        whole = "\n".join(line for name in READERS for _, found in kept(name) for line in found)
        for word in ("stop ", "watch ", "good ", "wrong | "):
            self.assertGreater(whole.count(word), 100, word)
