"""Spaces to grow in."""

from django.db import models

from server.accounts.models import Owned


class Space(Owned):
    """A tent, cupboard, shelf or room corner, with the timer and the power it has."""

    name = models.CharField(max_length=80)
    width_cm = models.FloatField()
    depth_cm = models.FloatField()
    height_cm = models.FloatField()
    lining = models.CharField(max_length=20)
    # a wall's own lining; empty where it is that of the rest
    lining_left = models.CharField(max_length=20, blank=True, default="")
    lining_right = models.CharField(max_length=20, blank=True, default="")
    lining_front = models.CharField(max_length=20, blank=True, default="")
    lining_back = models.CharField(max_length=20, blank=True, default="")
    # steps that lift plants: x, y, width, depth and raise in cm
    stands = models.JSONField(default=list)
    # where plants stand: x, y, width and depth in cm; the whole floor without any
    plots = models.JSONField(default=list)
    pot_cm = models.FloatField()
    hangers_cm = models.FloatField()
    co2_enriched = models.BooleanField(default=False)
    timer_step_min = models.PositiveSmallIntegerField()
    currency = models.CharField(max_length=8)
    tariff_per_kwh = models.FloatField()
    # hours with a price of their own: from, to (minutes after midnight) and price
    tariff_bands = models.JSONField(default=list)
    # sunrise and sunset of the lamp, each
    ramp_min = models.PositiveSmallIntegerField(default=0)
    # what daylight there is, and a controller that switches off in the heat; null without
    daylight = models.JSONField(null=True)
    heat = models.JSONField(null=True)

    class Meta:
        ordering = ["id"]
