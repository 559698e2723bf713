"""The application that finds faults."""

from django.apps import AppConfig


class FaultsConfig(AppConfig):
    """Finding faults: the case that is open at a tank, and those that are closed."""

    name = "rasante.faults"
