"""Put a backup in the database's place."""

from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import connection

from server.common.backups import put_back
from server.common.problems import CanopyError


class Command(BaseCommand):
    """`manage.py restore FILE`."""

    help = "Put a backup in the database's place; what is there is backed up first."

    def add_arguments(self, parser: CommandParser) -> None:
        """Take the file."""
        parser.add_argument("file", nargs="?", default="")

    def handle(self, *args: Any, **options: Any) -> None:
        """Put it back, bring it to today's version, and say what became of the other."""
        if not options["file"]:
            raise CommandError("Say which backup: make restore FILE=var/backups/….sqlite3")
        connection.close()
        try:
            before = put_back(
                Path(str(settings.DATABASES["default"]["NAME"])), Path(options["file"]).resolve()
            )
        except CanopyError as error:
            raise CommandError(error.sentence) from error
        call_command("migrate", verbosity=0)
        self.stdout.write(f"Put back: {options['file']}")
        if before is not None:
            self.stdout.write(f"What was there before: {before}")
        self.stdout.write("Start the server anew if it runs.")
