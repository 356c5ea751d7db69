"""Readings: the grower's sensors. Fits are rows of `runs`, which plans by them."""

from django.db import models

from server.accounts.models import Owned
from server.common.models import Shelved, one_of

SENSOR_KINDS = ("quantum", "cheap", "phone", "lux")


class Sensor(Owned, Shelved):
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
        constraints = [one_of("kind", SENSOR_KINDS)]
