"""Changing a row without undoing what somebody else has changed meanwhile."""

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any, TypeVar

from django.db import models, transaction
from django.shortcuts import get_object_or_404

Row = TypeVar("Row", bound=models.Model)


@contextmanager
def held(row: Row) -> Iterator[Row]:
    """Yield a row as it now stands, in a transaction beside which nobody else writes.

    Read and check everything that takes time before: others wait for the end of it. Answers 404
    when the row has gone.
    """
    with transaction.atomic():
        yield get_object_or_404(type(row), pk=row.pk)


def keep(row: models.Model, **values: Any) -> None:
    """Write these fields of a row and no others, and when it was changed."""
    for name, value in values.items():
        setattr(row, name, value)
    stamp = [field.name for field in row._meta.fields if getattr(field, "auto_now", False)]
    row.save(update_fields=[*values, *stamp])
