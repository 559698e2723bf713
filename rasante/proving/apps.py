"""Proofs: what was applied against what was read, signed and kept."""

from django.apps import AppConfig


class ProvingConfig(AppConfig):
    """Proofs: what was applied against what was read, signed and kept."""

    name = "rasante.proving"
