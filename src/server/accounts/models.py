"""Growers, and the base of every row they own."""

from typing import Any, Self

from django.conf import settings
from django.contrib.auth.models import AbstractBaseUser, BaseUserManager
from django.db import models


class Grower(AbstractBaseUser):
    """An account. Everything a grower enters belongs to one."""

    class LengthUnit(models.TextChoices):
        CM = "cm"
        INCH = "in"

    name = models.CharField(max_length=80, unique=True)
    is_demo = models.BooleanField(default=False)
    length_unit = models.CharField(max_length=2, choices=LengthUnit.choices, default=LengthUnit.CM)
    is_active = models.BooleanField(default=True)
    created_at = models.DateTimeField(auto_now_add=True)

    objects = BaseUserManager()

    USERNAME_FIELD = "name"

    def __str__(self) -> str:
        return self.name


class OwnedQuerySet(models.QuerySet[Any]):
    """Rows that belong to growers."""

    def of(self, grower: Grower) -> Self:
        """Return only what this grower owns."""
        return self.filter(owner=grower)


class Owned(models.Model):
    """A row that belongs to one grower."""

    owner = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+", editable=False
    )
    created_at = models.DateTimeField(auto_now_add=True)
    changed_at = models.DateTimeField(auto_now=True)

    objects = OwnedQuerySet.as_manager()

    class Meta:
        abstract = True
