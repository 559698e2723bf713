"""Seals over what never changes."""

from django.apps import AppConfig


class SealsConfig(AppConfig):
    """Seals over what never changes."""

    name = "rasante.seals"
