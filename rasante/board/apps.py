"""The board: what needs a person now."""

from django.apps import AppConfig


class BoardConfig(AppConfig):
    """The board: what needs a person now."""

    name = "rasante.board"

    def ready(self) -> None:
        """Forget how a tank stands as soon as something that it rests on is kept or deleted."""
        from .keeping import watch

        watch()
