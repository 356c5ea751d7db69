"""What rows of every area are made of."""

from collections.abc import Iterable
from uuid import UUID, uuid4, uuid5

from django.db import models

WALLS = ("left", "right", "front", "back")


class Versioned(models.Model):
    """A row that can be edited: each change counts, so that two hands at once are noticed."""

    version = models.PositiveIntegerField(default=1, editable=False)

    class Meta:
        abstract = True


class Known(models.Model):
    """A row that is known by one name wherever it is taken: an archive brings it back as itself."""

    uuid = models.UUIDField(default=uuid4, editable=False)

    class Meta:
        abstract = True


class Shelved(models.Model):
    """A row that is put away instead of deleted, and can be brought back."""

    removed = models.BooleanField(default=False)

    class Meta:
        abstract = True


class Surroundings(models.Model):
    """What stands round a floor: the lining, and each wall's own, empty where as the rest."""

    lining = models.CharField(max_length=20)
    lining_left = models.CharField(max_length=20, blank=True, default="")
    lining_right = models.CharField(max_length=20, blank=True, default="")
    lining_front = models.CharField(max_length=20, blank=True, default="")
    lining_back = models.CharField(max_length=20, blank=True, default="")

    class Meta:
        abstract = True

    def wall_linings(self) -> tuple[str, ...]:
        """Return the four walls' own linings: left, right, front, back."""
        return tuple(getattr(self, f"lining_{wall}") for wall in WALLS)

    def lined_like(self, other: "Surroundings") -> bool:
        """Return whether all linings are the same."""
        return (self.lining, *self.wall_linings()) == (other.lining, *other.wall_linings())


SHIPPED = UUID("5a2fd7c4-6a0c-4d3e-9c55-1de1f0a6c1b7")
"""Drawn once."""


def shipped(*names: object) -> UUID:
    """Return the name of a row that every account begins with: in all of them the same."""
    return uuid5(SHIPPED, "/".join(str(name) for name in names))


def known_within(*parent: str) -> models.UniqueConstraint:
    """Return the constraint that of the rows of one parent no two are known by one name."""
    return models.UniqueConstraint(fields=[*parent, "uuid"], name="%(app_label)s_%(class)s_known")


LININGS = ("silver", "white-paint", "white-film", "white-board", "bare-room", "black", "open")
"""Keys of the core's table of linings; a test holds them together."""


def one_of(field: str, words: Iterable[str]) -> models.CheckConstraint:
    """Return the constraint that a text column holds one of these words."""
    return models.CheckConstraint(
        condition=models.Q(**{f"{field}__in": list(words)}), name=f"%(app_label)s_%(class)s_{field}"
    )


def lined() -> list[models.BaseConstraint]:
    """Return the constraints of the surroundings' columns."""
    own: list[models.BaseConstraint] = [one_of(f"lining_{wall}", ("", *LININGS)) for wall in WALLS]
    return [one_of("lining", LININGS), *own]
