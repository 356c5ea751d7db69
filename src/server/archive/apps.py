"""Everything a grower keeps, taken out as one file and brought back."""

from django.apps import AppConfig


class ArchiveConfig(AppConfig):
    """Archives of accounts; it keeps no rows of its own."""

    name = "server.archive"

    def ready(self) -> None:
        """Let what a grower was sending go with the account."""
        from server.accounts.services import deleted  # noqa: PLC0415 - needs the apps
        from server.archive.services.arriving import forget  # noqa: PLC0415 - needs the apps

        deleted.connect(forget, dispatch_uid="archives arriving for an account")
