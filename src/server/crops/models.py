"""Crops and their stages."""

from django.db import models

from server.accounts.models import Owned
from server.common.models import Known, Shelved, known_within, one_of


class Crop(Owned, Shelved, Known):
    """A crop as one grower grows it."""

    name = models.CharField(max_length=80)
    habit = models.CharField(max_length=10)

    class Meta:
        ordering = ["id"]
        constraints = [known_within("owner"), one_of("habit", ("carpet", "pots"))]

    @property
    def stages(self) -> list["Stage"]:
        """Its stages in their order, without those that were left out."""
        return [stage for stage in self.every_stage.all() if not stage.removed]


class Stage(Shelved, Known):
    """One stage of a crop and what it asks of the light.

    One left out of its crop stays as a row: settings of runs stand on it.
    """

    crop = models.ForeignKey(Crop, on_delete=models.CASCADE, related_name="every_stage")
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
        ordering = ["position", "id"]
        constraints = [
            known_within("crop"),
            models.UniqueConstraint(
                fields=["crop", "position"],
                condition=models.Q(removed=False),
                name="one_stage_a_position",
            ),
            one_of("response", ("short-day", "long-day", "neutral")),
        ]
