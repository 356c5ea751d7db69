"""Readings: the grower's sensors and walks. Fits are rows of `runs`, which plans by them."""

from django.db import models

from server.accounts.models import Owned
from server.common.models import Known, Shelved, known_within, one_of
from server.runs.models import Fit, Run
from server.spaces.models import Space

SENSOR_KINDS = ("quantum", "cheap", "phone", "lux")
ENTRY_STATES = ("read", "left_out", "taken_back", "daylight")


class Sensor(Owned, Shelved, Known):
    """A light sensor: what it is, and what is known of its calibration.

    ``pairs`` is a list of its reading and a trusted one of the same light.
    """

    name = models.CharField(max_length=80)
    kind = models.CharField(max_length=10)
    factor = models.FloatField(null=True)
    calibrated_on = models.DateField(null=True)
    pairs = models.JSONField(default=list)
    # of its light-sensing face above what it stands on
    height_cm = models.FloatField(default=0.0)

    class Meta:
        ordering = ["id"]
        constraints = [known_within("owner"), one_of("kind", SENSOR_KINDS)]


class Walk(Owned, Shelved):
    """A walk over a canopy with a sensor; what was read are its entries.

    The device names it (``key``), so that it can begin where there is no signal. ``fit`` is what
    was planned by it, if anything.
    """

    key = models.UUIDField()
    run = models.ForeignKey(Run, on_delete=models.RESTRICT, related_name="+")
    space = models.ForeignKey(Space, on_delete=models.RESTRICT, related_name="+")
    fit = models.ForeignKey(Fit, null=True, on_delete=models.RESTRICT, related_name="+")

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["owner", "key"], name="one_walk_a_key")]


class WalkEntry(models.Model):
    """One thing that was done on a walk: a spot read, left out or taken back. Never changed.

    Of several at a spot (``number``) the latest counts. ``shown`` is what the sensor showed with
    the lamp on, ``unlit`` with it off; "daylight" is a look with the lamp off, wherever the sensor
    was left. ``asked`` is what was asked once, where it has changed since the entry before.
    """

    walk = models.ForeignKey(Walk, on_delete=models.CASCADE, related_name="entries")
    # given by whoever sent it, so that sent twice it is kept once
    key = models.UUIDField()
    number = models.PositiveSmallIntegerField()
    state = models.CharField(max_length=10)
    x_cm = models.FloatField()
    y_cm = models.FloatField()
    height_cm = models.FloatField()
    dial_pct = models.FloatField(null=True)
    shown = models.FloatField(null=True)
    unlit = models.FloatField(null=True)
    # half of what a sensor that reports moved by while it was kept, as a share
    spread = models.FloatField(null=True)
    at = models.DateTimeField()
    asked = models.JSONField(null=True)
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["walk", "key"], name="one_entry_a_key"),
            one_of("state", ENTRY_STATES),
            models.CheckConstraint(
                condition=models.Q(state__in=["left_out", "taken_back"])
                | models.Q(shown__isnull=False),
                name="what_is_read_has_a_figure",
            ),
        ]
