"""Two writers at once on the real database: they take turns, and neither loses what the other kept."""

from __future__ import annotations

import json
import os
import tempfile
from multiprocessing.process import BaseProcess
from pathlib import Path
from unittest import TestCase

from tests.prepared import copy_of
from tests.tags import slow
from tests.warm import begin


def write(arguments: list[str]) -> None:
    """Add a sign to a draft's remarks so many times."""
    import django

    django.setup()
    from rasante.conflict import Conflict
    from rasante.proving.models import Proof
    from rasante.proving.services import keep_draft

    name, count = arguments[0], int(arguments[1])
    kept = 0
    while kept < count:
        proof = Proof.objects.get()
        entries = proof.entries
        entries["remarks"] += name
        try:
            keep_draft(proof, entries, proof.kept)
            kept += 1
        except Conflict:
            continue


def set_up(_: list[str]) -> None:
    """Begin a draft that has remarks."""
    import django

    django.setup()
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


def read(arguments: list[str]) -> None:
    """Write the draft's remarks, and how often it was kept, into a file."""
    import django

    django.setup()
    from rasante.proving.models import Proof

    proof = Proof.objects.get()
    Path(arguments[0]).write_text(json.dumps([proof.entries["remarks"], proof.kept]))


@slow
class Writers(TestCase):
    def test_they_take_turns(self) -> None:
        with tempfile.TemporaryDirectory() as data:
            environment = {**os.environ, "RASANTE_DATA": data, "DJANGO_SETTINGS_MODULE": "rasante.settings"}
            copy_of("migrated", data)

            def done(process: BaseProcess) -> None:
                process.join(120)
                self.assertEqual(process.exitcode, 0)

            done(begin(set_up, [], environment))
            for writer in [begin(write, [name, "40"], environment) for name in "ab"]:
                done(writer)
            found = Path(data) / "found.json"
            done(begin(read, [str(found)], environment))
            remarks, kept = json.loads(found.read_text())
            # Every keeping counted, none was lost or done twice.
            self.assertEqual((remarks.count("a"), remarks.count("b"), kept), (40, 40, 81))
