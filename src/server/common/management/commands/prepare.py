"""Bring the database to this version, with a backup before."""

from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError
from django.db import DEFAULT_DB_ALIAS, connections
from django.db.migrations.executor import MigrationExecutor

from server.common.backups import back_up
from server.common.problems import CanopyError


class Command(BaseCommand):
    """`manage.py prepare`."""

    help = "Make or upgrade the database; one that is upgraded is backed up first."

    def handle(self, *args: Any, **options: Any) -> None:
        """Say where the data lies, back up what is to be changed, and change it."""
        database = Path(str(settings.DATABASES["default"]["NAME"]))
        new = not database.exists()
        if new:
            self.stdout.write(f"Your data lies in {database.parent}; nothing of it goes elsewhere.")
        connection = connections[DEFAULT_DB_ALIAS]
        executor = MigrationExecutor(connection)
        if executor.migration_plan(executor.loader.graph.leaf_nodes()):
            if not new and executor.loader.applied_migrations:
                try:
                    made = back_up(database, "before-upgrade")
                except CanopyError as error:
                    raise CommandError(f"Not upgraded. {error.sentence}") from error
                self.stdout.write(f"Backed up before the upgrade: {made}")
            call_command("migrate", verbosity=0)
