"""The arithmetic growers do on paper, free of any plan."""

from django.apps import AppConfig


class SumsConfig(AppConfig):
    """The arithmetic growers do on paper; it keeps no rows."""

    name = "server.sums"
