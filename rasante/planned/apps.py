"""What several rooms keep alike: a plan of a tank that is typed, judged and kept."""

from django.apps import AppConfig


class PlannedConfig(AppConfig):
    """What several rooms keep alike: a plan of a tank that is typed, judged and kept."""

    name = "rasante.planned"
