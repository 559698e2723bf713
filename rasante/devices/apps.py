"""What the devices of a chain are told: rescalings and device sheets."""

from django.apps import AppConfig


class DevicesConfig(AppConfig):
    """What the devices of a chain are told: rescalings and device sheets."""

    name = "rasante.devices"
