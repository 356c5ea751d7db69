"""Meters, timers and sensors."""

from django.apps import AppConfig


class DevicesConfig(AppConfig):
    """Keeps what devices read."""

    name = "server.devices"
