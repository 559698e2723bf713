"""The demo scenario."""

from django.apps import AppConfig


class DemoConfig(AppConfig):
    """The demo scenario."""

    name = "rasante.demo"
