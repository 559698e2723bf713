"""Gauge models, the gauge that a tank is planned with, and the wet ends of its probe."""

from django.apps import AppConfig


class GaugesConfig(AppConfig):
    """Gauge models, the gauge that a tank is planned with, and the wet ends of its probe."""

    name = "rasante.gauges"
