"""``manage.py run_yard``: run the demo's outside devices, until whoever started it is gone."""

import json

from django.conf import settings
from django.core.management.base import BaseCommand

from rasante.demo.yard import folder_of, read_yard, true_tanks
from rasante.simulator.run import run


class Command(BaseCommand):
    """Run the yard."""

    help = "Runs the demo's controller, units and yard page on loopback; `rasante demo` starts and ends it."

    def add_arguments(self, parser):
        """Say where it is reached, and where its units send to."""
        parser.add_argument("--modbus", type=int, required=True)
        parser.add_argument("--page", type=int, required=True)
        parser.add_argument("--push", required=True)

    def handle(self, *args, **options):
        """Run it."""
        folder, spec = folder_of(settings.DATA), read_yard()
        place = {
            "host": "127.0.0.1",
            "modbus": options["modbus"],
            "page": options["page"],
            "push": options["push"],
            "tokens": json.loads((folder / "tokens.json").read_text("utf-8")),
        }
        span = json.loads((folder / "yard-span.json").read_text("utf-8"))
        run(spec, true_tanks(spec), folder / "yard-state.json", span["begin_s"], span["end_s"], place)
