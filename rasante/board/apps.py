"""The board: what needs a person now."""

from django.apps import AppConfig


class BoardConfig(AppConfig):
    """The board: what needs a person now."""

    name = "rasante.board"
