"""What was done and seen at the tent."""

from django.apps import AppConfig


class LogbookConfig(AppConfig):
    """Entries of runs."""

    name = "server.logbook"
