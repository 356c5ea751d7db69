"""The shared app."""

from django.apps import AppConfig


class CommonConfig(AppConfig):
    """Shared pieces: problem documents, the page, commands."""

    name = "server.common"
