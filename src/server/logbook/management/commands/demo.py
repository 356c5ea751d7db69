"""Make the demo grower and their data."""

from typing import Any

from django.core.management.base import BaseCommand

from server.logbook.demo import live_demo
from server.runs.demo import make_demo


class Command(BaseCommand):
    """`manage.py demo`: a second call changes nothing."""

    help = "Make the demo grower with spaces, lamps, crops, two plans and a run under way."

    def handle(self, *args: Any, **options: Any) -> None:
        """Run the command."""
        grower = make_demo()
        live_demo(grower)
        self.stdout.write(f"Demo data ready for {grower.name}.")
