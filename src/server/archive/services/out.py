"""Taking an account out."""

from collections.abc import Iterator
from contextlib import contextmanager
from datetime import datetime, timedelta
from typing import IO

from django.db import connection

from server.accounts.models import Grower
from server.archive.adapters import outward
from server.archive.adapters.kinds import KINDS
from server.archive.services import alone
from server.devices.models import Series
from server.devices.services.intake import ms_of
from server.devices.services.keeping import sum_up
from server.logbook.models import Photo
from server.logbook.services.photos import file_of

RAW = timedelta(days=30)
"""Readings of devices are taken along for so long, older ones as summaries."""


@contextmanager
def _as_of_now() -> Iterator[None]:
    """Let all that is read be of one moment, while others go on writing."""
    if connection.in_atomic_block:
        yield
        return
    with connection.cursor() as cursor:
        cursor.execute("BEGIN DEFERRED")
        try:
            yield
        finally:
            cursor.execute("ROLLBACK")


def write_archive(grower: Grower, target: IO[bytes], now: datetime) -> None:
    """Write everything a grower keeps to a file.

    Raises
    ------
    BusyError
        When others are being made for too long.
    """
    with alone():
        sum_up(Series.objects.filter(device__owner=grower).values_list("pk", flat=True))
        with _as_of_now():
            _write(grower, target, now)


def _write(grower: Grower, target: IO[bytes], now: datetime) -> None:
    writer = outward.ArchiveWriter(target)
    names = outward.names_of(grower)
    for kind in KINDS:
        writer.rows(kind.name, outward.rows_of(kind, grower, names))
        writer.schema(kind.name, outward.schema_of(kind))
    since = ms_of(now - RAW)
    writer.rows("readings", outward.reading_rows(grower, names, since))
    for name in outward.SUMS:
        writer.rows(name, outward.sum_rows(name, names))
    for name in ("readings", *outward.SUMS):
        writer.schema(name, outward.points_schema(name))
    for name, text in outward.tables(grower):
        writer.table(name, text)
    for photo in Photo.objects.of(grower).order_by("id").iterator():
        path = file_of(photo, small=False)
        # a file that is gone from the folder leaves its row
        if path.is_file():
            writer.photo(photo.key, path.read_bytes())
    made_at = now.isoformat(timespec="seconds").replace("+00:00", "Z")
    writer.close(made_at, outward.account_of(grower))
