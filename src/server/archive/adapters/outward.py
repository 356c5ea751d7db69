"""A grower's rows as an archive has them."""

from base64 import b64decode
from collections.abc import Iterator
from typing import Any
from uuid import UUID

from django.db import models

from canopy.formats.archive import ArchiveWriter as ArchiveWriter
from server.accounts.models import Grower
from server.archive.adapters.columns import schema, written
from server.archive.adapters.kinds import KIND_OF, KINDS, NUMBERED, Kind
from server.devices.models import FiveMinutes, Hour, Reading, Series
from server.fixtures.adapters.record import table_file
from server.fixtures.selectors import shelf_of
from server.logbook.adapters.line import log_file
from server.logbook.selectors import entries_of
from server.readings.adapters.walks import walk_file
from server.readings.models import Walk
from server.runs.models import Run

AT_ONCE = 2000
POINTS = 5000
"""Of a series in one row."""

Names = dict[type[models.Model], dict[int, UUID]]
Row = dict[str, Any]

SUMS = {"five_minutes": FiveMinutes, "hours": Hour}
SUM_COLUMNS = ("at", "n", "low", "high", "total")
POINT_COLUMNS = ("at", "value")

ACCOUNT = ("length_unit", "temperature_unit", "currency", "time_zone")


def names_of(grower: Grower) -> Names:
    """Return what each of a grower's rows is known by, by its number, of the kinds others name."""
    named = {model for kind in KINDS for _, model in kind.references}
    found: Names = {}
    for model in named | {KIND_OF[Series].model}:
        kind = KIND_OF[model]
        rows = model._default_manager.filter(**{kind.owned: grower})
        found[model] = dict(rows.order_by().values_list("pk", kind.key))
    return found


def rows_of(kind: Kind, grower: Grower, names: Names) -> Iterator[Row]:
    """Yield a grower's rows of a kind, the oldest first."""
    columns = kind.columns
    rows = kind.model._default_manager.filter(**{kind.owned: grower}).order_by("pk")
    fields = ["pk", kind.key, *(field.attname for field in columns)]
    for pk, key, *values in rows.values_list(*fields).iterator(chunk_size=AT_ONCE):
        found: Row = {kind.key: str(key)}
        if kind.name in NUMBERED:
            found["number"] = pk
        for field, value in zip(columns, values):
            if field.is_relation and value is not None:
                value = names[field.related_model][value]  # type: ignore[index]
            found[field.name] = written(value)
        yield found


def schema_of(kind: Kind) -> Row:
    """Return the JSON Schema of a kind's file."""
    row: Row = {kind.key: {"type": "string", "format": "uuid"}}
    if kind.name in NUMBERED:
        row["number"] = {"type": "integer", "minimum": 0}
    row |= {field.name: schema(field) for field in kind.columns}
    return file_schema(kind.name, row)


def file_schema(name: str, row: Row) -> Row:
    """Return the JSON Schema of a file of rows."""
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": f"idle-canopy/archive/{name}",
        "type": "object",
        "required": ["format", "version", "rows"],
        "properties": {
            "format": {"const": f"idle-canopy/archive/{name}"},
            "version": {"const": 1},
            "rows": {
                "type": "array",
                "items": {"type": "object", "required": list(row), "properties": row},
            },
        },
    }


def points_schema(name: str) -> Row:
    """Return the JSON Schema of the points of series."""
    columns = SUM_COLUMNS if name in SUMS else POINT_COLUMNS
    lists: Row = {
        column: {"type": "array", "maxItems": POINTS, "items": {"type": "number"}}
        for column in columns
    }
    return file_schema(name, {"series": {"type": "string", "format": "uuid"}, **lists})


def reading_rows(grower: Grower, names: Names, since_ms: int) -> Iterator[Row]:
    """Yield the raw readings of a grower's devices since a moment, so many of a series together."""
    for pk, key in names[Series].items():
        rows = Reading.objects.filter(series=pk, at__gte=since_ms).order_by("at")
        yield from _points(key, rows, POINT_COLUMNS)


def sum_rows(name: str, names: Names) -> Iterator[Row]:
    """Yield the summaries of a grower's devices, so many of a series together."""
    for pk, key in names[Series].items():
        rows = SUMS[name]._default_manager.filter(series=pk).order_by("at")
        yield from _points(key, rows, SUM_COLUMNS)


def _points(key: UUID, rows: "models.QuerySet[Any]", columns: tuple[str, ...]) -> Iterator[Row]:
    held: list[tuple[Any, ...]] = []
    for row in rows.values_list(*columns).iterator(chunk_size=POINTS):
        held.append(row)
        if len(held) == POINTS:
            yield _together(key, held, columns)
            held = []
    if held:
        yield _together(key, held, columns)


def _together(key: UUID, held: list[tuple[Any, ...]], columns: tuple[str, ...]) -> Row:
    return {"series": str(key), **{name: list(col) for name, col in zip(columns, zip(*held))}}


def tables(grower: Grower) -> Iterator[tuple[str, str]]:
    """Yield the tables people open: the shelf, each run's log, each walk; names and CSV."""
    yield "Shelf", b64decode(table_file(list(shelf_of(grower)), "csv")[1]).decode()
    for run in Run.objects.of(grower).filter(begun_on__isnull=False).select_related("owner"):
        entries = entries_of(run).order_by("at", "id")
        if entries.exists():
            name = f"Log {run.begun_on} {run.name or run.pk}"
            yield name, log_file(run, entries.iterator(), "csv").decode()
    walks = Walk.objects.of(grower).prefetch_related("entries").select_related("run__fixture")
    for walk in walks.order_by("id"):
        read = [entry for entry in walk.entries.all() if entry.state == "read"]
        if read:
            yield f"Walk {read[0].at:%Y-%m-%d %H%M}", walk_file(walk, "csv").decode()


def account_of(grower: Grower) -> Row:
    """Return a grower's own settings."""
    return {name: getattr(grower, name) for name in ACCOUNT}
