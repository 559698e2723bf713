"""A test runner that keeps for every class of tests which lines it runs through (with ``coverage``), and how long."""

from __future__ import annotations

import functools
import gc
import json
import os
import time
import unittest
from collections import Counter
from collections.abc import Callable
from pathlib import Path
from types import FunctionType
from typing import Any

from coverage import Coverage
from django.test.runner import DiscoverRunner

from rasante.core.quantities.once import Once


def named(kind: type) -> str:
    """How a class of tests is called in what is kept."""
    return f"{kind.__module__}.{kind.__qualname__}"


def remembering() -> list[Callable[[], None]]:
    """What empties the rules' memories, one for each function that remembers."""
    return [
        one.cache_clear
        for one in gc.get_objects()
        if type(one) in (functools._lru_cache_wrapper, Once) and one.__module__.startswith("rasante.")
    ]


def functions_of(file: str) -> list[FunctionType]:
    """Every function of a source file that the process has."""
    return [one for one in gc.get_objects() if type(one) is FunctionType and one.__code__.co_filename == file]


class _Timed(unittest.TextTestResult):
    """Adds up how long the tests of a class take."""

    def __init__(self, *arguments: Any, **named: Any) -> None:
        super().__init__(*arguments, **named)
        self.seconds: Counter[str] = Counter()
        self.began = time.monotonic()

    def stopTest(self, test: unittest.TestCase) -> None:
        # What a class sets up before its first test counts for it too.
        now = time.monotonic()
        self.seconds[named(type(test))] += now - self.began
        self.began = now
        super().stopTest(test)

    def stopTestRun(self) -> None:
        Path(os.environ["SECONDS"]).write_text(json.dumps(self.seconds))
        super().stopTestRun()


class _BySeen(unittest.TestSuite):
    """Says to the measurement whose class begins."""

    def _handleClassSetUp(self, test, result):
        kind, measured = type(test), Coverage.current()
        if kind is not getattr(result, "_previousTestClass", None) and measured is not None:
            measured.switch_context(named(kind))
            # Every class runs through all that it needs.
            for forget in remembering():
                forget()
        super()._handleClassSetUp(test, result)


class Seeing(DiscoverRunner):
    """Django's runner, with the measurement told of every class; ``SECONDS`` names a file for how long each took."""

    test_suite = _BySeen

    def get_resultclass(self) -> type[unittest.TextTestResult]:
        return _Timed
