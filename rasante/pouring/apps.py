"""Volume tables by pouring."""

from django.apps import AppConfig


class PouringConfig(AppConfig):
    """Volume tables by pouring: the run under way, and the records of those of which a table was issued."""

    name = "rasante.pouring"
