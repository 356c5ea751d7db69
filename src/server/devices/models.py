"""Devices, the series they report, and their readings: raw, by five minutes, by the hour.

Readings are kept by (series, time) and nothing else, in tables without row numbers: a year of
10-second watts has three million rows. Times are milliseconds since 1970 (UTC).
"""

from django.db import models

from server.accounts.models import Owned
from server.common.models import Known, Shelved, known_within, one_of
from server.fixtures.models import Fixture, OwnedLamp
from server.spaces.models import Circuit, Space

KINDS = ("meter", "controller", "thermometer", "light", "prices", "other")


class Device(Owned, Shelved, Known):
    """Something that reports: it belongs to a space, a lamp or a circuit of its grower.

    Its token is kept as a hash; without one (``token_hash`` null) nobody can speak for it over
    HTTP. ``topic`` is where it speaks over MQTT. What was heard of it stands beside.
    """

    name = models.CharField(max_length=80)
    kind = models.CharField(max_length=12)
    space = models.ForeignKey(Space, null=True, on_delete=models.RESTRICT, related_name="devices")
    fixture = models.ForeignKey(
        Fixture, null=True, on_delete=models.RESTRICT, related_name="devices"
    )
    # which of the lamps of that kind, where it is known
    piece = models.ForeignKey(
        OwnedLamp, null=True, on_delete=models.RESTRICT, related_name="devices"
    )
    circuit = models.ForeignKey(
        Circuit, null=True, on_delete=models.RESTRICT, related_name="devices"
    )
    # of a controller: where it switches the lamp off in the heat, if it does
    off_above_c = models.FloatField(null=True)
    paused = models.BooleanField(default=False)
    # ships with the app and runs by itself in the demo
    simulated = models.BooleanField(default=False)
    token_hash = models.CharField(max_length=64, null=True, unique=True)
    token_made_at = models.DateTimeField(null=True)
    topic = models.CharField(max_length=200, null=True, unique=True)

    heard_at = models.DateTimeField(null=True)
    taken = models.PositiveBigIntegerField(default=0)
    doubled = models.PositiveBigIntegerField(default=0)
    refused = models.PositiveBigIntegerField(default=0)
    # the latest refusals: day, reason, count, sentence
    refusals = models.JSONField(default=list)
    # how late its latest messages came, in seconds
    lags = models.JSONField(default=list)
    # the schedule it has read back
    schedule = models.JSONField(null=True)
    schedule_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["id"]
        constraints = [
            known_within("owner"),
            one_of("kind", KINDS),
            models.CheckConstraint(
                condition=models.Q(space__isnull=False, fixture=None, circuit=None)
                | models.Q(space=None, fixture__isnull=False, circuit=None)
                | models.Q(space=None, fixture=None, circuit__isnull=False),
                name="a_device_belongs_to_one_thing",
            ),
        ]


class Series(Known):
    """One quantity of one channel of a device, and the newest reading of it.

    Raw readings from before ``raw_from`` are no longer kept, so that none can come late.
    """

    device = models.ForeignKey(Device, on_delete=models.CASCADE, related_name="series")
    quantity = models.CharField(max_length=12)
    channel = models.PositiveSmallIntegerField(default=1)
    last_at = models.BigIntegerField(null=True)
    last_value = models.FloatField(null=True)
    raw_from = models.BigIntegerField(default=0)

    class Meta:
        ordering = ["id"]
        constraints = [
            known_within("device"),
            models.UniqueConstraint(
                fields=["device", "quantity", "channel"], name="one_series_a_quantity"
            ),
        ]


class Reading(models.Model):
    """A reading as it came."""

    pk = models.CompositePrimaryKey("series_id", "at")
    series = models.ForeignKey(Series, on_delete=models.DO_NOTHING, db_index=False)
    at = models.BigIntegerField()
    value = models.FloatField()


class _Summary(models.Model):
    """What the readings of a stretch of time were, from ``at`` on."""

    pk = models.CompositePrimaryKey("series_id", "at")
    series = models.ForeignKey(
        Series, on_delete=models.DO_NOTHING, db_index=False, related_name="+"
    )
    at = models.BigIntegerField()
    n = models.PositiveIntegerField()
    low = models.FloatField()
    high = models.FloatField()
    total = models.FloatField()

    class Meta:
        abstract = True


class FiveMinutes(_Summary):
    """Five minutes of a series."""


class Hour(_Summary):
    """An hour of a series."""


class Unsummed(models.Model):
    """Five minutes whose summary is older than their readings."""

    pk = models.CompositePrimaryKey("series_id", "at")
    series = models.ForeignKey(
        Series, on_delete=models.DO_NOTHING, db_index=False, related_name="+"
    )
    at = models.BigIntegerField()


class MessageId(models.Model):
    """A message that was taken: sent again it is known. ``key`` is a digest of its id."""

    pk = models.CompositePrimaryKey("device_id", "key")
    device = models.ForeignKey(
        Device, on_delete=models.DO_NOTHING, db_index=False, related_name="+"
    )
    key = models.BigIntegerField()
    at = models.BigIntegerField()


class Command(Known):
    """Something a device was told to do; never changed but for when it was given and done."""

    device = models.ForeignKey(Device, on_delete=models.CASCADE, related_name="commands")
    body = models.JSONField()
    made_at = models.DateTimeField(auto_now_add=True)
    given_at = models.DateTimeField(null=True)
    done_at = models.DateTimeField(null=True)
    # given by whoever sent it, so that sent twice it is kept once
    key = models.UUIDField(null=True)

    class Meta:
        ordering = ["id"]
        constraints = [
            known_within("device"),
            models.UniqueConstraint(fields=["device", "key"], name="one_command_a_key"),
        ]
