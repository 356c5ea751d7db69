"""A crop under a lamp in a space, with its settings."""

from django.apps import AppConfig


class RunsConfig(AppConfig):
    """A crop under a lamp in a space, with its settings."""

    name = "server.runs"
