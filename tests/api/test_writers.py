"""Two writers at once on the real database: they take turns, and neither loses what the other kept."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import tempfile
import textwrap
from pathlib import Path
from unittest import TestCase

from tests.tags import slow

ROOT = Path(__file__).resolve().parents[2]
WRITER = """
import sys
import django
django.setup()
from django.contrib.auth.models import User
from rasante.conflict import Conflict
from rasante.proving.models import Proof
from rasante.proving.services import keep_draft
name, count = sys.argv[1], int(sys.argv[2])
kept = conflicts = 0
while kept < count:
    proof = Proof.objects.get()
    entries = proof.entries
    entries["remarks"] += name
    try:
        keep_draft(proof, entries, proof.kept)
        kept += 1
    except Conflict:
        conflicts += 1
print(kept, conflicts)
"""
SETUP = """
import django
django.setup()
from django.core.management import call_command
call_command("migrate", verbosity=0)
from rasante.accounts.services import make_person
from rasante.proving.services import begin_proof
from rasante.scaling.chains import keep_chain
from rasante.tanks.models import Site
from rasante.tanks.services import import_tank
from tests.core.samples import example, text
person = make_person("ann", "Ann Ash", "a-long-secret", "technician")
tank = import_tank(Site.objects.create(name="Yard"), text(example()), person)
keep_chain(tank, {"sensor.high": "2400 mm"}, "metric", person, 0)
begin_proof(tank, "metric", person)
"""
READ = """
import json
import django
django.setup()
from rasante.proving.models import Proof
proof = Proof.objects.get()
print(json.dumps([proof.entries["remarks"], proof.kept]))
"""


@slow
class Writers(TestCase):
    def test_they_take_turns(self) -> None:
        with tempfile.TemporaryDirectory() as data:
            environment = {
                **os.environ,
                "RASANTE_DATA": data,
                "DJANGO_SETTINGS_MODULE": "rasante.settings",
                "PYTHONPATH": str(ROOT),
            }

            def start(code: str, *arguments: str) -> subprocess.Popen[str]:
                return subprocess.Popen(
                    [sys.executable, "-c", textwrap.dedent(code), *arguments],
                    env=environment,
                    stdout=subprocess.PIPE,
                    text=True,
                )

            self.assertEqual(start(SETUP).wait(60), 0)
            writers = [start(WRITER, name, "40") for name in "ab"]
            for writer in writers:
                self.assertEqual(writer.wait(120), 0)
                assert writer.stdout is not None
                self.assertTrue(writer.stdout.read().startswith("40 "))
            reader = start(READ)
            out, _ = reader.communicate(timeout=60)
            remarks, kept = json.loads(out)
            # Every keeping counted, none was lost or done twice.
            self.assertEqual((remarks.count("a"), remarks.count("b"), kept), (40, 40, 81))
