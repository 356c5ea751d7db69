"""Crops and their stages."""

from django.db import models

from server.accounts.models import Owned


class Crop(Owned):
    """A crop as one grower grows it."""

    name = models.CharField(max_length=80)
    habit = models.CharField(max_length=10)

    class Meta:
        ordering = ["id"]


class Stage(models.Model):
    """One stage of a crop and what it asks of the light."""

    crop = models.ForeignKey(Crop, on_delete=models.CASCADE, related_name="stages")
    position = models.PositiveSmallIntegerField()
    name = models.CharField(max_length=80)
    days = models.PositiveSmallIntegerField()
    dli_low = models.FloatField()
    dli_high = models.FloatField()
    ppfd_low = models.FloatField(null=True)
    ppfd_high = models.FloatField(null=True)
    hot_spot_cap = models.FloatField()
    evenness_goal = models.FloatField(null=True)
    hours_low = models.FloatField()
    hours_high = models.FloatField()
    response = models.CharField(max_length=10)
    night_h = models.FloatField(default=0.0)
    unbroken_night = models.BooleanField(default=False)
    plant_start_cm = models.FloatField()
    plant_end_cm = models.FloatField()
    provenance = models.CharField(max_length=500, blank=True)

    class Meta:
        ordering = ["position"]
        constraints = [
            models.UniqueConstraint(fields=["crop", "position"], name="one_stage_a_position")
        ]
