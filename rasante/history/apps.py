"""What was changed on a tank."""

from django.apps import AppConfig


class HistoryConfig(AppConfig):
    """What was changed on a tank."""

    name = "rasante.history"
