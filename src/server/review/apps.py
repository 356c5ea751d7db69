"""What a run delivered and cost, what it taught, and the next one from it."""

from django.apps import AppConfig


class ReviewConfig(AppConfig):
    """Reviews of runs; it keeps no rows of its own."""

    name = "server.review"
