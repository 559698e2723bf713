"""``manage.py load_demo``: load the demo scenario into an empty database."""

from django.conf import settings
from django.core.management.base import BaseCommand

from rasante.demo.scenario import load, read_scenario


class Command(BaseCommand):
    """Load the demo scenario and say who may sign in."""

    help = "Loads the demo scenario into an empty database; a database with people in it is left as it is."

    def handle(self, *args, **options):
        """Load it."""
        self.stdout.write(
            "Loading the demo data." if load(settings.DATA) else "This database has people already: left as it is."
        )
        self.stdout.write("Who may sign in to the demo:")
        for person in read_scenario()["people"]:
            self.stdout.write(f"  {person['username']:8} {person['password']:16} {person['name']}, {person['role']}")
