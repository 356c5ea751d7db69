"""What was done and seen at the tent."""

from django.apps import AppConfig


class LogbookConfig(AppConfig):
    """Entries of runs."""

    name = "server.logbook"

    def ready(self) -> None:
        """Let a grower's photographs go with the account."""
        from server.accounts.services import deleted  # noqa: PLC0415 - needs the apps
        from server.logbook.services.photos import let_go  # noqa: PLC0415 - needs the apps

        deleted.connect(let_go, dispatch_uid="photographs of an account")
