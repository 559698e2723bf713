"""Readings that arrive."""

from django.apps import AppConfig


class ReadingsConfig(AppConfig):
    """Readings that arrive: their sources, the readings themselves, what they come to, and what they tell of."""

    name = "rasante.readings"
