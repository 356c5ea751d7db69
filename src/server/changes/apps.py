"""What was changed last, to be taken back."""

from django.apps import AppConfig


class ChangesConfig(AppConfig):
    """What was changed last of plans and of what they are made of."""

    name = "server.changes"
