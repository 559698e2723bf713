"""How a gauge is wired: its circuit, the meter on it, what arrived for it."""

from django.apps import AppConfig


class WiringConfig(AppConfig):
    """How a gauge is wired: its circuit, the meter on it, what arrived for it."""

    name = "rasante.wiring"
