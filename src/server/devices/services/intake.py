"""Taking in what devices send: each message once, in whichever order it comes."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from hashlib import blake2b
from typing import Any

from django.db import connection, transaction
from django.db.models import F

from server.devices.adapters.messages import SETTABLE, Parcel, Reading, Refused, schedule_body
from server.devices.models import Command, Device, Series
from server.devices.selectors import FIVE_MIN_MS

HOUR_MS = 3_600_000

MOST_REFUSALS = 16
MOST_LAGS = 12

SERIES = (
    'SELECT "id", "quantity", "channel", "raw_from" FROM "devices_series" WHERE "device_id" = %s'
)
KEEP_NEW = (
    'INSERT INTO "devices_reading" ("series_id", "at", "value") VALUES (%s, %s, %s) '
    'ON CONFLICT ("series_id", "at") DO UPDATE SET "value" = max("value", excluded."value")'
)
NOTE_ID = 'INSERT OR IGNORE INTO "devices_messageid" ("device_id", "key", "at") VALUES (%s, %s, %s)'
NOTE_UNSUMMED = 'INSERT OR IGNORE INTO "devices_unsummed" ("series_id", "at") VALUES (%s, %s)'
NEWEST = (
    'UPDATE "devices_series" SET "last_at" = %s, "last_value" = %s WHERE "id" = %s AND '
    '("last_at" IS NULL OR ("last_at", "last_value") < (%s, %s))'
)


@dataclass
class Taken:
    """What became of messages sent together."""

    taken: int = 0
    doubled: int = 0
    refused: list[Refused] = field(default_factory=list)
    ignored: list[str] = field(default_factory=list)


HEARD_FIELDS = ("paused", "removed", "refusals", "lags")
"""What of a device is asked for when it speaks; the rest is not its matter."""


def ms_of(at: datetime) -> int:
    """Return a moment as milliseconds since 1970."""
    return (at - datetime(1970, 1, 1, tzinfo=UTC)) // timedelta(milliseconds=1)


def moment_of(ms: int) -> datetime:
    """Return milliseconds since 1970 as a moment."""
    return datetime(1970, 1, 1, tzinfo=UTC) + timedelta(milliseconds=ms)


def key_of_id(known: str) -> int:
    """Return what a message's id is known by: 8 bytes of a digest, as a signed number."""
    return int.from_bytes(blake2b(known.encode(), digest_size=8).digest(), "big", signed=True)


def take_in(device: Device, parcel: Parcel, now: datetime) -> Taken:
    """Keep what a device sent, in one transaction."""
    return take_in_all([(device.pk, parcel)], now)[0]


def take_in_all(parcels: Sequence[tuple[int, Parcel]], now: datetime) -> list[Taken]:
    """Keep what several devices sent, in one transaction.

    A device that is paused, put away or revoked meanwhile has all of it refused.
    """
    wanted = {pk for pk, _ in parcels}
    with transaction.atomic():
        rows = Device.objects.filter(pk__in=wanted).only(*HEARD_FIELDS).order_by()
        devices = {row.pk: row for row in rows}
        return [_keep(devices.get(pk), parcel, now) for pk, parcel in parcels]


def _keep(device: Device | None, parcel: Parcel, now: datetime) -> Taken:
    found = Taken(refused=list(parcel.refused), ignored=parcel.ignored)
    if device is None or device.paused or device.removed:
        sentence = "this device is paused on Idle Canopy; nothing of it is kept."
        found.refused = [Refused(k, "paused", sentence) for k in range(parcel.count)]
    else:
        kept, found.doubled = _new_ones(device, parcel.readings)
        kept, late = _keep_readings(device, kept)
        found.refused += late
        found.taken = len(kept)
        if parcel.schedule is not None:
            found.taken += 1
            _note_schedule(device, schedule_body(parcel.schedule), now)
        _note_set(device, [reading for _, reading in kept], now)
    if device is not None:
        _note_heard(device, parcel, found, now)
    return found


Numbered = list[tuple[int, Reading]]


def _new_ones(device: Device, readings: Numbered) -> tuple[Numbered, int]:
    """Return the readings whose ids were not sent before, and how many were."""
    keys = {index: key_of_id(reading.id) for index, reading in readings}
    known: set[int] = set()
    with connection.cursor() as cursor:
        if keys:
            places = ",".join(["%s"] * len(keys))
            cursor.execute(
                f'SELECT "key" FROM "devices_messageid" WHERE "device_id" = %s AND "key" IN ({places})',  # noqa: E501, S608 - places only
                [device.pk, *keys.values()],
            )
            known = {row[0] for row in cursor.fetchall()}
        fresh: Numbered = []
        for index, reading in readings:
            if keys[index] not in known:
                known.add(keys[index])
                fresh.append((index, reading))
    return fresh, len(readings) - len(fresh)


def _keep_readings(device: Device, fresh: Numbered) -> tuple[Numbered, list[Refused]]:
    """Keep readings in their series; return those kept, and those from before raw ones are."""
    if not fresh:
        return [], []
    wanted = {(reading.quantity, reading.channel) for _, reading in fresh}
    with connection.cursor() as cursor:
        cursor.execute(SERIES, [device.pk])
        series: dict[tuple[str, int], tuple[int, int]] = {
            (quantity, channel): (pk, raw_from)
            for pk, quantity, channel, raw_from in cursor.fetchall()
        }
    for quantity, channel in sorted(wanted - series.keys()):
        made = Series.objects.create(device=device, quantity=quantity, channel=channel)
        series[quantity, channel] = made.pk, made.raw_from
    kept: Numbered = []
    late: list[Refused] = []
    rows: list[tuple[int, int, float]] = []
    for index, reading in fresh:
        (pk, raw_from), at = series[reading.quantity, reading.channel], ms_of(reading.at)
        if at < raw_from:
            late.append(Refused(index, "late", "what is so old is only kept in sums by now."))
            continue
        kept.append((index, reading))
        rows.append((pk, at, reading.value))
    newest: dict[int, tuple[int, float]] = {}
    for pk, at, value in rows:
        newest[pk] = max(newest.get(pk, (at, value)), (at, value))
    ids = [(device.pk, key_of_id(reading.id), ms_of(reading.at)) for _, reading in kept]
    with connection.cursor() as cursor:
        cursor.executemany(NOTE_ID, ids)
        cursor.executemany(KEEP_NEW, rows)
        cursor.executemany(NOTE_UNSUMMED, list({(pk, at - at % FIVE_MIN_MS) for pk, at, _ in rows}))
        cursor.executemany(
            NEWEST, [(at, value, pk, at, value) for pk, (at, value) in newest.items()]
        )
    return kept, late


def _note_schedule(device: Device, body: dict[str, Any], now: datetime) -> None:
    Device.objects.filter(pk=device.pk).update(schedule=body, schedule_at=now)
    waiting = Command.objects.filter(device=device, done_at=None, body__command="schedule")
    latest = waiting.order_by("id").last()
    if latest is not None and latest.body == body:
        waiting.update(done_at=now)


SET_AGREES = 2.0
"""A controller that shows an output so near has done as it was told."""


def _note_set(device: Device, readings: Iterable[Reading], now: datetime) -> None:
    shown_now = [reading for reading in readings if reading.quantity in SETTABLE]
    if not shown_now:
        return
    for command in Command.objects.filter(device=device, done_at=None, body__command="set"):
        body, made_at = command.body, command.made_at
        place = (body["quantity"], body.get("channel", 1))
        shown = any(
            (reading.quantity, reading.channel) == place
            and reading.at >= made_at - timedelta(seconds=60)
            and abs(reading.value - body["value"]) < (SET_AGREES if place[0] == "output" else 0.5)
            for reading in shown_now
        )
        if shown:
            Command.objects.filter(pk=command.pk).update(done_at=now)


def _note_heard(device: Device, parcel: Parcel, found: Taken, now: datetime) -> None:
    heard: dict[str, Any] = {
        "taken": F("taken") + found.taken,
        "doubled": F("doubled") + found.doubled,
        "refused": F("refused") + len(found.refused),
    }
    if found.taken or found.doubled:
        heard["heard_at"] = now
    if found.refused:
        heard["refusals"] = _refusals(device.refusals, found.refused, now)
    if found.taken and parcel.readings:
        newest = max(reading.at for _, reading in parcel.readings)
        lag = round((now - newest).total_seconds(), 1)
        heard["lags"] = [*device.lags, lag][-MOST_LAGS:]
    Device.objects.filter(pk=device.pk).update(**heard)
    # a device may stand twice in one batch
    device.refusals = heard.get("refusals", device.refusals)
    device.lags = heard.get("lags", device.lags)


def _refusals(
    known: list[dict[str, Any]], refused: Iterable[Refused], now: datetime
) -> list[dict[str, Any]]:
    """Return the latest refusals with some more, one row a day and reason, the newest last."""
    day = now.date().isoformat()
    rows = {(row["day"], row["reason"]): dict(row) for row in known}
    for each in refused:
        row = rows.pop((day, each.reason), {"day": day, "reason": each.reason, "count": 0})
        rows[day, each.reason] = {**row, "count": row["count"] + 1, "sentence": each.sentence}
    return list(rows.values())[-MOST_REFUSALS:]


def refuse_unread(device_id: int, sentence: str, now: datetime) -> None:
    """Count something a device sent that is no message at all."""
    with transaction.atomic():
        row = Device.objects.filter(pk=device_id).first()
        if row is not None:
            refused = [Refused(0, "unreadable", sentence)]
            Device.objects.filter(pk=row.pk).update(
                refused=F("refused") + 1, refusals=_refusals(row.refusals, refused, now)
            )
