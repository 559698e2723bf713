"""Sites and tanks: their surveys and tables."""

from django.apps import AppConfig


class TanksConfig(AppConfig):
    """Sites and tanks: their surveys and tables."""

    name = "rasante.tanks"
