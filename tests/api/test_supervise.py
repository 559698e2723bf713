"""Processes beside the server: begun anew when they fall over, ended with it."""

from __future__ import annotations

import os
import time
from collections.abc import Callable

from django.test import SimpleTestCase

from rasante.supervise import Supervised


class Beside(SimpleTestCase):
    def until(self, there: Callable[[], bool]) -> None:
        end = time.monotonic() + 60
        while not there():
            self.assertLess(time.monotonic(), end, "it took a minute")
            time.sleep(0.05)

    def test_one_that_falls_over_is_begun_anew_and_ended_in_the_end(self) -> None:
        # Waits on its standard input, as all that hangs on the server does.
        one = Supervised(["fileinput", "-"], os.environ)
        one.start()
        first = one.process
        assert first is not None
        first.kill()
        self.until(lambda: one.process is not first and one.process is not None)
        second = one.process
        assert second is not None
        self.assertIsNone(second.poll())
        one.stop()
        self.assertIsNotNone(second.poll())
        one.thread.join(60)
        self.assertIs(one.process, second)

    def test_one_that_ends_at_once_is_tried_until_told_to_stop(self) -> None:
        one = Supervised(["unittest.main_is_not_here"], os.environ)
        one.start()
        first = one.process
        self.until(lambda: one.process is not first)
        one.stop()
        one.thread.join(60)
        self.assertFalse(one.thread.is_alive())
