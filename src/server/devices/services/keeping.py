"""Summing readings up, and letting go of what is old."""

from collections.abc import Iterable
from datetime import datetime, timedelta

from django.db import connection, transaction

from server.devices.models import FiveMinutes, MessageId, Reading, Series
from server.devices.selectors import FIVE_MIN_MS
from server.devices.services.intake import HOUR_MS, ms_of

RAW = timedelta(days=31)
"""A day more than a message may be late: what comes last still finds its neighbours."""
FIVE_MINUTES = timedelta(days=400)
MOST_RAW = 1_000_000
"""Raw readings of one series; of one that reports more often the oldest go sooner."""

AT_ONCE = 2000
"""So many stretches are summed in one transaction: others may write in between."""

STRETCHES = 'SELECT "series_id", "at" FROM "devices_unsummed" LIMIT %s'
OF_SOME = 'SELECT "series_id", "at" FROM "devices_unsummed" WHERE "series_id" IN ({}) LIMIT %s'
SUM_FIVE = (
    'INSERT OR REPLACE INTO "devices_fiveminutes" '
    '("series_id", "at", "n", "low", "high", "total") '
    'SELECT %s, %s, count(*), min("value"), max("value"), sum("value") FROM "devices_reading" '
    'WHERE "series_id" = %s AND "at" >= %s AND "at" < %s HAVING count(*) > 0'
)
SUM_HOUR = (
    'INSERT OR REPLACE INTO "devices_hour" ("series_id", "at", "n", "low", "high", "total") '
    'SELECT %s, %s, sum("n"), min("low"), max("high"), sum("total") FROM "devices_fiveminutes" '
    'WHERE "series_id" = %s AND "at" >= %s AND "at" < %s HAVING count(*) > 0'
)
SUMMED = 'DELETE FROM "devices_unsummed" WHERE "series_id" = %s AND "at" = %s'


def sum_up(series_ids: Iterable[int] | None = None) -> int:
    """Make the summaries of stretches whose readings are newer; return how many were.

    A summary is always made of all readings of its stretch, so that their order is no matter.
    """
    ids = None if series_ids is None else list(series_ids)
    count = 0
    while ids is None or ids:
        with transaction.atomic(), connection.cursor() as cursor:
            if ids is None:
                cursor.execute(STRETCHES, [AT_ONCE])
            else:
                cursor.execute(OF_SOME.format(",".join(["%s"] * len(ids))), [*ids, AT_ONCE])
            found = cursor.fetchall()
            cursor.executemany(SUM_FIVE, [(s, at, s, at, at + FIVE_MIN_MS) for s, at in found])
            hours = {(s, at - at % HOUR_MS) for s, at in found}
            cursor.executemany(SUM_HOUR, [(s, at, s, at, at + HOUR_MS) for s, at in hours])
            cursor.executemany(SUMMED, found)
        count += len(found)
        if len(found) < AT_ONCE:
            break
    return count


def tidy(now: datetime) -> None:
    """Let go of raw readings, summaries and message ids that are older than they are kept."""
    sum_up()
    raw_before = ms_of(now - RAW)
    raw_before -= raw_before % HOUR_MS
    five_before = ms_of(now - FIVE_MINUTES)
    for series in Series.objects.all():
        before = max(raw_before, _too_many_before(series))
        with transaction.atomic():
            gone, _ = Reading.objects.filter(series=series, at__lt=before).delete()
            if gone:
                Series.objects.filter(pk=series.pk).update(raw_from=max(before, series.raw_from))
            FiveMinutes.objects.filter(series=series, at__lt=five_before).delete()
    for device_id in Series.objects.values_list("device_id", flat=True).distinct().order_by():
        MessageId.objects.filter(device_id=device_id, at__lt=raw_before).delete()


def _too_many_before(series: Series) -> int:
    """Return the hour before which a series has more readings than are kept raw; 0 if none."""
    rows = Reading.objects.filter(series=series)
    if rows.count() <= MOST_RAW:
        return 0
    at: int = rows.order_by("-at").values_list("at", flat=True)[MOST_RAW]
    return at - at % HOUR_MS + HOUR_MS
