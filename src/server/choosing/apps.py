"""Which lamp to choose: the shelf ranked, and a few side by side."""

from django.apps import AppConfig


class ChoosingConfig(AppConfig):
    """Which lamp to choose; it keeps no rows of its own."""

    name = "server.choosing"
