"""Growers and their sessions."""

from django.apps import AppConfig


class AccountsConfig(AppConfig):
    """Accounts."""

    name = "server.accounts"
