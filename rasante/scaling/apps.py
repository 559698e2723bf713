"""Transmitters, what is read at the line, and proofs."""

from django.apps import AppConfig


class ScalingConfig(AppConfig):
    """Transmitters, what is read at the line, and proofs."""

    name = "rasante.scaling"
