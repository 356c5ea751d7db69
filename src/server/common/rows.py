"""Changing a row without undoing what somebody else has changed meanwhile."""

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any, TypeVar, cast
from uuid import uuid4

from django.db import models, transaction
from django.shortcuts import get_object_or_404

Row = TypeVar("Row", bound=models.Model)

Expected = frozenset[int] | None
"""Versions of a row that may be changed; none: whichever there is."""


class Stale(Exception):  # noqa: N818 - it is no mistake of ours
    """The row is no longer the one that was edited; ``row`` is as it now stands."""

    def __init__(self, row: models.Model) -> None:
        super().__init__(f"{row._meta.label} {row.pk} has changed")
        self.row = row


@contextmanager
def held(row: Row, expected: Expected = None) -> Iterator[Row]:
    """Yield a row as it now stands, in a transaction beside which nobody else writes.

    Read and check everything that takes time before: others wait for the end of it. Answers 404
    when the row has gone, 412 when it is none of the versions expected.
    """
    with transaction.atomic():
        model = cast(type[Row], row._meta.model)
        now = get_object_or_404(model, pk=row.pk)
        if expected is not None and getattr(now, "version", None) not in expected:
            raise Stale(now)
        yield now


def copy_of(row: Row, **other: Any) -> Row:
    """Turn a row that was read into a new one like it but for what is given; not kept yet."""
    row.pk = None
    row._state.adding = True
    if hasattr(row, "uuid"):
        row.uuid = uuid4()
    for name, value in other.items():
        setattr(row, name, value)
    return row


def touch(row: models.Model) -> None:
    """Note that a row was worked with, though nothing of its own has changed."""
    stamp = [field.name for field in row._meta.fields if getattr(field, "auto_now", False)]
    row.save(update_fields=stamp)


def keep(row: models.Model, **values: Any) -> None:
    """Write these fields of a row and no others, when it was changed, and that it was."""
    for name, value in values.items():
        setattr(row, name, value)
    stamp = [field.name for field in row._meta.fields if getattr(field, "auto_now", False)]
    if hasattr(row, "version"):
        row.version += 1
        stamp.append("version")
    row.save(update_fields=[*values, *stamp])
