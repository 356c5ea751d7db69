"""Tents, shelves and rooms."""

from django.apps import AppConfig


class SpacesConfig(AppConfig):
    """Tents, shelves and rooms."""

    name = "server.spaces"
