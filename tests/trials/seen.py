"""A test runner that keeps for every class of tests which lines it runs through (with ``coverage``)."""

from __future__ import annotations

import functools
import gc
import unittest

from coverage import Coverage
from django.test.runner import DiscoverRunner


class _BySeen(unittest.TestSuite):
    """Says to the measurement whose class begins."""

    def _handleClassSetUp(self, test, result):
        kind, measured = type(test), Coverage.current()
        if kind is not getattr(result, "_previousTestClass", None) and measured is not None:
            measured.switch_context(f"{kind.__module__}.{kind.__qualname__}")
            _forget()
        super()._handleClassSetUp(test, result)


def _forget() -> None:
    """Empty what the rules remember: every class runs through all that it needs."""
    for one in gc.get_objects():
        if type(one) is functools._lru_cache_wrapper and one.__module__.startswith("rasante."):
            one.cache_clear()


class Seeing(DiscoverRunner):
    """Django's runner, with the measurement told of every class."""

    test_suite = _BySeen
