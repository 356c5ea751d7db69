"""Noting what a row was before it was changed, so that it can be again."""

from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from typing import Any

from django.db.models import Model, Q, QuerySet

from server.accounts.models import Grower, Owned
from server.changes.models import Change
from server.common.rows import keep

MOST_CHANGES = 20
"""So many changes of one row can be taken back."""

_noting: ContextVar[bool] = ContextVar("noting", default=True)

Subject = tuple[str, int]
"""A row that is changed: its kind and id."""


def subject_of(row: Model) -> Subject:
    """Return how a row is named where its changes are noted."""
    return row._meta.model_name or "", int(row.pk)


@contextmanager
def unnoted() -> Iterator[None]:
    """Change rows without noting it: what is taken back is not one more change."""
    token = _noting.set(False)
    try:
        yield
    finally:
        _noting.reset(token)


def note(row: Owned, what: str, before: Any, after: Any, **place: Any) -> None:
    """Note a change of a row, in the transaction that makes it; the oldest are forgotten."""
    if not _noting.get() or before == after:
        return
    kind, pk = subject_of(row)
    known = Change.objects.filter(kind=kind, row=pk)
    known.filter(undone=True).delete()
    Change.objects.create(
        owner_id=row.owner_id,
        kind=kind,
        row=pk,
        what=what,
        place=place,
        before=before,
        after=after,
    )
    forgotten = list(known.order_by("-id").values_list("id", flat=True)[MOST_CHANGES:])
    if forgotten:
        known.filter(pk__in=forgotten).delete()


def changed(row: Owned, values: dict[str, Any]) -> tuple[dict[str, Any], dict[str, Any]]:
    """Return those of some fields of a row that become others: as they are, and as they will be."""
    before = {name: getattr(row, name) for name in values}
    others = [name for name, value in values.items() if before[name] != value]
    return {name: before[name] for name in others}, {name: values[name] for name in others}


def keep_noted(row: Owned, what: str, **values: Any) -> None:
    """Write fields of a row, by their columns' names, and note those that become others."""
    before, after = changed(row, values)
    keep(row, **values)
    note(row, what, before, after)


def put_back(row: Owned, values: dict[str, Any]) -> None:
    """Write fields of a row as they were noted."""
    fields = {field.attname: field for field in row._meta.concrete_fields}
    keep(row, **{name: fields[name].to_python(value) for name, value in values.items()})


def changes_of(
    grower: Grower, subjects: Iterable[Subject], whats: Iterable[str] | None = None
) -> QuerySet[Change]:
    """Return what was noted of some rows of a grower's, the oldest first."""
    which = Q()
    for kind, pk in subjects:
        which |= Q(kind=kind, row=pk)
    rows: QuerySet[Change] = Change.objects.of(grower).filter(which)
    return rows if whats is None else rows.filter(what__in=list(whats))


def last_done(rows: QuerySet[Change]) -> Change | None:
    """Return the change to take back next."""
    return rows.filter(undone=False).last()


def next_undone(rows: QuerySet[Change]) -> Change | None:
    """Return the change to make again next: none once something else was changed since."""
    done = last_done(rows)
    undone = rows.filter(undone=True)
    return (undone if done is None else undone.filter(pk__gt=done.pk)).first()


def forget(row: Owned, whats: Iterable[str]) -> None:
    """Forget such changes of a row: they can no longer be taken back."""
    kind, pk = subject_of(row)
    Change.objects.filter(kind=kind, row=pk, what__in=list(whats)).delete()
