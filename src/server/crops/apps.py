"""Crops and what their stages ask for."""

from django.apps import AppConfig


class CropsConfig(AppConfig):
    """Crops and what their stages ask for."""

    name = "server.crops"

    def ready(self) -> None:
        """Give every new account its starter rows."""
        from server.crops import services  # noqa: PLC0415 - models are not ready before

        services.stock_new_accounts()
