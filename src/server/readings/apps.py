"""Readings: what was measured at the canopy, and what it teaches."""

from django.apps import AppConfig


class ReadingsConfig(AppConfig):
    """Sensors, fits, and changes seen by readings."""

    name = "server.readings"
