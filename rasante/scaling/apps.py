"""The scaling chain, what is read at the line, slopes and marks."""

from django.apps import AppConfig


class ScalingConfig(AppConfig):
    """The scaling chain, what is read at the line, slopes and marks."""

    name = "rasante.scaling"
