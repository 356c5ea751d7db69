"""What the light costs and draws, and hanging it safely."""

from django.apps import AppConfig


class PowerConfig(AppConfig):
    """Keeps which steps of an install are done."""

    name = "server.power"
