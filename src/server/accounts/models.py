"""Growers, and the base of every row they own."""

from datetime import date
from typing import Any, Self
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from django.conf import settings
from django.contrib.auth.models import AbstractBaseUser, BaseUserManager
from django.db import models
from django.utils import timezone
from django.utils.crypto import salted_hmac

from server.accounts.names import compared_name
from server.common.models import Versioned, one_of


class Growers(BaseUserManager["Grower"]):
    """Accounts, found by how their names are read."""

    def get_by_natural_key(self, username: str | None) -> "Grower":
        """Return who is called so, however it is written."""
        return self.get(name_key=compared_name(username or ""))


class Grower(AbstractBaseUser, Versioned):
    """An account. Everything a grower enters belongs to one."""

    class LengthUnit(models.TextChoices):
        CM = "cm"
        INCH = "in"

    name = models.CharField(max_length=80)
    # what the name is known by: read alike is one
    name_key = models.CharField(max_length=320, unique=True)
    # sessions of earlier rounds are over
    session_round = models.PositiveIntegerField(default=0)
    is_demo = models.BooleanField(default=False)
    length_unit = models.CharField(max_length=2, choices=LengthUnit.choices, default=LengthUnit.CM)
    # of temperatures; empty: with inches °F, with centimetres °C
    temperature_unit = models.CharField(max_length=1, blank=True, default="")
    # what prices are in that say nothing else, and by whose clock a day begins
    currency = models.CharField(max_length=8, default="€")
    # what one of another money is in that, as the grower says: by these prices are compared
    rates = models.JSONField(default=dict)
    time_zone = models.CharField(max_length=64, default="UTC")
    is_active = models.BooleanField(default=True)
    created_at = models.DateTimeField(auto_now_add=True)

    objects = Growers()

    USERNAME_FIELD = "name_key"

    class Meta:
        constraints = [
            one_of("length_unit", ("cm", "in")),
            one_of("temperature_unit", ("", "C", "F")),
        ]

    def __str__(self) -> str:
        return self.name

    def save(self, *args: Any, **kwargs: Any) -> None:
        """Keep the row; its name is known by what it is compared by."""
        fields = kwargs.get("update_fields")
        if fields is None or "name" in fields:
            self.name_key = compared_name(self.name)
            if fields is not None:
                kwargs["update_fields"] = [*fields, "name_key"]
        super().save(*args, **kwargs)

    def _get_session_auth_hash(self, secret: Any = None) -> str:
        """Return what a session of the present round is known by: of password and round."""
        if not self.session_round:
            return super()._get_session_auth_hash(secret)  # type: ignore[misc,no-any-return]
        salt = "server.accounts.models.Grower.session"
        value = f"{self.password}:{self.session_round}"
        return salted_hmac(salt, value, secret=secret, algorithm="sha256").hexdigest()

    @property
    def zone(self) -> ZoneInfo:
        """The grower's time zone; UTC where this machine does not know it."""
        try:
            return ZoneInfo(self.time_zone)
        except (ZoneInfoNotFoundError, ValueError):
            return ZoneInfo("UTC")

    def exchanged(self, amount: float, money: str, into: str) -> float | None:
        """Return an amount of one money in another by the grower's rates; none without them."""
        known = {**self.rates, self.currency: 1.0}
        if money == into:
            return amount
        if money not in known or into not in known:
            return None
        return amount * float(known[money]) / float(known[into])

    def today(self) -> date:
        """Return the day it is where the grower lives."""
        return timezone.localdate(timezone=self.zone)


class OwnedQuerySet(models.QuerySet[Any]):
    """Rows that belong to growers."""

    def of(self, grower: Grower) -> Self:
        """Return only what this grower owns."""
        return self.filter(owner=grower)


class Owned(Versioned):
    """A row that belongs to one grower."""

    owner = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+", editable=False
    )
    created_at = models.DateTimeField(auto_now_add=True)
    changed_at = models.DateTimeField(auto_now=True)

    objects = OwnedQuerySet.as_manager()

    class Meta:
        abstract = True
