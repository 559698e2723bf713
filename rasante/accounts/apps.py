"""The people who may sign in, and their roles."""

from django.apps import AppConfig


class AccountsConfig(AppConfig):
    """Accounts."""

    name = "rasante.accounts"
