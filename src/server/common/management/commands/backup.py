"""Back up the database."""

from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError

from server.common.backups import back_up
from server.common.problems import CanopyError


class Command(BaseCommand):
    """`manage.py backup`."""

    help = "Back up the database while it is in use, and look the copy over."

    def handle(self, *args: Any, **options: Any) -> None:
        """Make one, and say where."""
        try:
            made = back_up(Path(str(settings.DATABASES["default"]["NAME"])))
        except CanopyError as error:
            raise CommandError(error.sentence) from error
        self.stdout.write(f"Backed up and looked over: {made}")
