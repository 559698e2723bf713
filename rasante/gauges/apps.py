"""Gauge models, the gauge that a tank is planned with, and how it is wired."""

from django.apps import AppConfig


class GaugesConfig(AppConfig):
    """Gauge models, the gauge that a tank is planned with, and how it is wired."""

    name = "rasante.gauges"
