"""Runs: one crop under one lamp in one space."""

from django.db import models

from server.accounts.models import Owned
from server.crops.models import Crop, Stage
from server.fixtures.models import Fixture
from server.spaces.models import Space


class Run(Owned):
    """A crop under a lamp in a space."""

    space = models.ForeignKey(Space, on_delete=models.CASCADE, related_name="+")
    fixture = models.ForeignKey(Fixture, on_delete=models.CASCADE, related_name="+")
    crop = models.ForeignKey(Crop, on_delete=models.CASCADE, related_name="+")
    stage = models.ForeignKey(Stage, null=True, on_delete=models.SET_NULL, related_name="+")
    over_cap = models.BooleanField(default=False)

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

    class Meta:
        constraints = [models.UniqueConstraint(fields=["run", "stage"], name="one_setting_a_stage")]
