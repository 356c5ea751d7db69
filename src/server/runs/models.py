"""Runs: one crop under one lamp in one space."""

from datetime import date

from django.db import models
from django.utils import timezone

from server.accounts.models import Owned
from server.crops.models import Crop, Stage
from server.fixtures.models import Fixture
from server.spaces.models import Space


def today() -> date:
    """Return the day a new run starts on."""
    return timezone.localdate()


class Run(Owned):
    """A crop under a lamp in a space."""

    space = models.ForeignKey(Space, on_delete=models.CASCADE, related_name="+")
    fixture = models.ForeignKey(Fixture, on_delete=models.CASCADE, related_name="+")
    crop = models.ForeignKey(Crop, on_delete=models.CASCADE, related_name="+")
    stage = models.ForeignKey(Stage, null=True, on_delete=models.SET_NULL, related_name="+")
    over_cap = models.BooleanField(default=False)
    aim = models.CharField(max_length=10, default="middle")
    started_on = models.DateField(default=today)
    on_wish = models.CharField(max_length=6, default="fixed")
    on_minute = models.PositiveSmallIntegerField(default=360)
    rise_pct = models.FloatField(default=15.0)
    shift_days = models.PositiveSmallIntegerField(default=1)

    class Meta:
        ordering = ["-changed_at"]


class StageSetting(models.Model):
    """The levers as the grower left them for one stage of a run."""

    run = models.ForeignKey(Run, on_delete=models.CASCADE, related_name="settings")
    stage = models.ForeignKey(Stage, on_delete=models.CASCADE, related_name="+")
    height_cm = models.FloatField()
    dial_pct = models.FloatField()
    hours = models.FloatField()
    on_minute = models.PositiveSmallIntegerField()
    # levers that stay where they are when the plan is made anew
    locked = models.JSONField(default=list)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["run", "stage"], name="one_setting_a_stage")]


class Arrangement(models.Model):
    """Where a run's lamps hang with one fixture as its lamp in one space.

    Kept when another lamp or space is chosen, so that it is there again with the first. One
    without lamps has the fixture once, in the middle.
    """

    run = models.ForeignKey(Run, on_delete=models.CASCADE, related_name="arrangements")
    space = models.ForeignKey(Space, on_delete=models.CASCADE, related_name="+")
    fixture = models.ForeignKey(Fixture, on_delete=models.CASCADE, related_name="+")

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["run", "space", "fixture"], name="one_arrangement_a_space_and_lamp"
            )
        ]


class RunLamp(models.Model):
    """One lamp of a run where the grower hung it.

    ``own_dial_pct`` holds a lamp at its own dial; without it it follows the rail's.
    """

    arrangement = models.ForeignKey(Arrangement, on_delete=models.CASCADE, related_name="lamps")
    fixture = models.ForeignKey(Fixture, on_delete=models.CASCADE, related_name="+")
    position = models.PositiveSmallIntegerField()
    x_cm = models.FloatField()
    y_cm = models.FloatField()
    turn_deg = models.FloatField(default=0.0)
    tilt_deg = models.FloatField(default=0.0)
    raise_cm = models.FloatField(default=0.0)
    bars_off = models.JSONField(default=list)
    own_dial_pct = models.FloatField(null=True)

    class Meta:
        ordering = ["position"]
        constraints = [
            models.UniqueConstraint(fields=["arrangement", "position"], name="one_lamp_a_place")
        ]
