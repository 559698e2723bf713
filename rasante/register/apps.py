"""The register."""

from django.apps import AppConfig


class RegisterConfig(AppConfig):
    """Who owns what: customers, places of sites, whose a tank is, and devices with where they were."""

    name = "rasante.register"
