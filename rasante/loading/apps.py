"""Loading vessels under pressure."""

from django.apps import AppConfig


class LoadingConfig(AppConfig):
    """Loading vessels under pressure: the load that is planned, and the records of those that are closed."""

    name = "rasante.loading"
