"""What rows of every area are made of."""

from collections.abc import Iterable

from django.db import models

WALLS = ("left", "right", "front", "back")


class Versioned(models.Model):
    """A row that can be edited: each change counts, so that two hands at once are noticed."""

    version = models.PositiveIntegerField(default=1, editable=False)

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
