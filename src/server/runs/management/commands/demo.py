"""Make the demo grower and their data."""

from typing import Any

from django.core.management.base import BaseCommand

from server.runs.demo import make_demo


class Command(BaseCommand):
    """`manage.py demo`: a second call changes nothing."""

    help = "Make the demo grower with two spaces, lamps, crops and runs."

    def handle(self, *args: Any, **options: Any) -> None:
        """Run the command."""
        self.stdout.write(f"Demo data ready for {make_demo().name}.")
