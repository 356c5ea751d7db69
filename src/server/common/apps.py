"""The shared app."""

from pathlib import Path

from django.apps import AppConfig
from django.db.backends.base.base import BaseDatabaseWrapper
from django.db.backends.signals import connection_created

from server.common.private import own_file


class CommonConfig(AppConfig):
    """Shared pieces: problem documents, the page, commands."""

    name = "server.common"

    def ready(self) -> None:
        """Let every database that is opened be its owner's alone."""
        connection_created.connect(_private, dispatch_uid="private databases")


def _private(connection: BaseDatabaseWrapper, **_: object) -> None:
    name = str(connection.settings_dict["NAME"])
    if connection.vendor == "sqlite" and "memory" not in name:
        own_file(Path(name))
