"""Visits."""

from django.apps import AppConfig


class VisitsConfig(AppConfig):
    """Visits: led step by step, and handed over as a record."""

    name = "rasante.visits"
