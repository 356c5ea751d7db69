"""Everything a grower keeps, taken out as one file and brought back."""

from django.apps import AppConfig


class ArchiveConfig(AppConfig):
    """Archives of accounts; it keeps no rows of its own."""

    name = "server.archive"
