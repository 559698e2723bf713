"""A start of the server: what it reads in, and that waste is looked for again afterwards."""

from __future__ import annotations

import gc
import subprocess
import sys

from django.test import SimpleTestCase

from rasante import cli

#: What takes long to read, and is read when it is first asked for.
LATER = ("scipy.optimize", "scipy.interpolate", "scipy.stats", "scipy.special", "jsonschema", "drf_spectacular.views")


class Start(SimpleTestCase):
    def test_it_reads_nothing_in_that_can_wait(self) -> None:
        there = f"print([name for name in {LATER} if name in sys.modules])"
        reads = f"import django, sys; django.setup(); import rasante.urls; {there}"
        done = subprocess.run([sys.executable, "-c", reads], check=False, capture_output=True, text=True)
        self.assertEqual((done.returncode, done.stdout.strip()), (0, "[]"), done.stderr)
        # They are what they are called: misspelt, they would never be there.
        for name in LATER:
            __import__(name)

    def test_waste_is_looked_for_again_whatever_became_of_it(self) -> None:
        self.assertTrue(gc.isenabled())
        self.addCleanup(gc.unfreeze)
        with self.assertRaises(ZeroDivisionError), cli._reading_in():
            self.assertFalse(gc.isenabled())
            _ = 1 / 0
        self.assertTrue(gc.isenabled())
